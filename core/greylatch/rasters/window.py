"""Reading just the part of a raster that a picture needs, no finer than it needs, and warping it onto the picture."""

import math
from dataclasses import dataclass
from typing import Any

import numpy as np
import rasterio
from affine import Affine
from numpy.typing import NDArray
from rasterio.enums import Resampling
from rasterio.errors import RasterioError
from rasterio.io import DatasetReader
from rasterio.warp import reproject, transform_bounds
from rasterio.windows import Window

from greylatch.errors import BadInput
from greylatch.places.crs import WEB_MERCATOR

Bounds = tuple[float, float, float, float]
MERCATOR_WKT = WEB_MERCATOR.to_wkt()
RESAMPLINGS = ("nearest", "bilinear", "cubic", "average", "lanczos")


@dataclass(frozen=True)
class Part:
    """A piece of a raster: `data` (bands, rows, columns), `mask` (rows, columns; 255 where there is data), its geotransform."""

    data: NDArray[Any]
    mask: NDArray[np.uint8]
    transform: Affine


def read_part(source: DatasetReader, bounds: Bounds, resolution: float, bands: list[int], rim: int = 2) -> Part | None:
    """The part of `source` under `bounds` (Web Mercator metres), reduced by a power of two no coarser than `resolution`.

    Windows lie on a fixed grid of the reduced pixels, so that neighbouring pictures read the same pixels and show no seam.
    `rim` pixels are added on every side for filters. None where the raster does not reach.
    """
    left, bottom, right, top = transform_bounds(MERCATOR_WKT, source.crs, *bounds, densify_pts=21)
    inverse = ~source.transform
    corners = [inverse * corner for corner in ((left, top), (right, top), (left, bottom), (right, bottom))]
    columns, rows = [c for c, _ in corners], [r for _, r in corners]
    wide = max(columns) - min(columns)
    shrink = 2 ** max(0, math.floor(math.log2(max(1.0, wide * resolution / (bounds[2] - bounds[0])) + 1e-6)))
    step = shrink
    col0 = max(0, math.floor(min(columns) / step - rim)) * step
    row0 = max(0, math.floor(min(rows) / step - rim)) * step
    col1 = min(math.ceil(source.width / step), math.ceil(max(columns) / step + rim)) * step
    row1 = min(math.ceil(source.height / step), math.ceil(max(rows) / step + rim)) * step
    if col1 <= col0 or row1 <= row0:
        return None
    col1, row1 = min(col1, source.width), min(row1, source.height)
    window = Window(col0, row0, col1 - col0, row1 - row0)
    shape = (math.ceil((row1 - row0) / step), math.ceil((col1 - col0) / step))
    reduce = Resampling.nearest if step == 1 or _is_palette(source) else Resampling.average
    try:
        data = source.read(bands, window=window, out_shape=(len(bands), *shape), resampling=reduce)
        mask = source.dataset_mask(window=window, out_shape=shape, resampling=Resampling.nearest)
    except RasterioError as error:
        raise BadInput("The raster breaks off: not all of its pixels can be read.") from error
    transform = source.window_transform(window) * Affine.scale((col1 - col0) / shape[1], (row1 - row0) / shape[0])
    return Part(data, mask, transform)


def warp(
    layer: NDArray[Any], transform: Affine, crs: object, bounds: Bounds, width: int, height: int,
    resampling: str = "bilinear", tolerance: float = 0.1,
) -> NDArray[Any]:  # fmt: skip
    """`layer` (bands, rows, columns) moved onto the Web Mercator grid of `bounds`, `width` × `height` pixels.

    Float layers carry NaN for no data and come back so. `tolerance` is the greatest error in pixels of the approximate
    transformation; 0 computes every pixel exactly.
    """
    target = rasterio.transform.from_bounds(*bounds, width, height)
    floating = np.issubdtype(layer.dtype, np.floating)
    out = np.full((layer.shape[0], height, width), np.nan if floating else 0, dtype=layer.dtype)
    reproject(
        layer, out, src_transform=transform, src_crs=crs, dst_transform=target, dst_crs=MERCATOR_WKT,
        src_nodata=np.nan if floating else None, dst_nodata=np.nan if floating else None,
        resampling=Resampling[resampling], tolerance=tolerance, num_threads=1, init_dest_nodata=False,
    )  # fmt: skip
    return out


def _is_palette(source: DatasetReader) -> bool:
    return source.colorinterp[0].name == "palette"


def ground_cell(transform: Affine, crs: object, row: float) -> tuple[float, float]:
    """Width and height in metres of a pixel; degrees are taken at the latitude of `row`."""
    wide, high = abs(transform.a), abs(transform.e)
    if getattr(crs, "is_geographic", False):
        latitude = transform.f + transform.e * row
        return wide * 111_320.0 * max(0.01, math.cos(math.radians(latitude))), high * 110_574.0
    unit = float(getattr(crs, "linear_units_factor", ("metre", 1.0))[1])
    return wide * unit, high * unit
