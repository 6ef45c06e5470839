"""The reference for warped rasters: rasterio's own warp with no tolerance, and how far another picture lies off it."""

from typing import Any

import numpy as np
from greylatch.places.bounds import Bounds
from numpy.typing import NDArray
from rasterio.transform import from_bounds
from rasterio.warp import Resampling, reproject


def exact_warp(
    data: NDArray[Any], transform: Any, crs: Any, bounds: Bounds, size: int, how: str = "bilinear", nodata: float = 0
) -> NDArray[Any]:
    """`data` ((h, w) or (bands, h, w)) over Web Mercator `bounds`, `size` px square, of the same kind of numbers."""
    out = np.full((*data.shape[:-2], size, size), nodata, dtype=data.dtype)
    reproject(
        data, out, src_transform=transform, src_crs=crs, dst_transform=from_bounds(*bounds, size, size), dst_crs="EPSG:3857",
        src_nodata=nodata if np.isnan(nodata) else None, dst_nodata=nodata, resampling=Resampling[how], tolerance=0,
    )  # fmt: skip
    return out


def offset(ours: NDArray[Any], exact: NDArray[np.float32], valid: NDArray[np.bool_]) -> float:
    """How many px `ours` lies off `exact`, from how their difference follows the slope; NaN where too little is valid."""
    gy, gx = np.gradient(exact)
    good = valid & np.isfinite(gx) & np.isfinite(gy)
    if good.sum() < 10_000:
        return float("nan")
    shift, *_ = np.linalg.lstsq(np.column_stack([gx[good], gy[good]]), (ours - exact)[good], rcond=None)
    return float(np.hypot(*shift))
