"""Rasters that are not drawn as they are: of complex numbers, or placed by ground control points. A plain one is made of them."""

import tempfile
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager
from pathlib import Path
from typing import Any

import numpy as np
import rasterio
from affine import Affine
from rasterio._err import CPLE_BaseError
from rasterio.control import GroundControlPoint
from rasterio.errors import CRSError, RasterioError
from rasterio.io import DatasetReader
from rasterio.shutil import copy as copy_raster
from rasterio.vrt import WarpedVRT

from greylatch.errors import BadFile

__all__ = ["looked_at", "make_usual", "unusual"]

SIZES = "Its complex numbers became two bands each: their size, and their angle in radians."
WARPED = "It is placed by {} ground control points: it was warped by them onto a grid."
UNREADABLE = (RasterioError, CRSError, CPLE_BaseError, ValueError)
"""What rasterio raises: of points that lie in a line, say, GDAL's own error, which its package has no other name for."""
LOOK = 1_200
"""Pixels of the longer side that are looked at before it is kept."""
LEAST_POINTS = 3
"""Of which a plane can be made."""


def unusual(path: str | Path) -> str:
    """What has to be done to a GeoTIFF before it is drawn, in words; '' for one that is as most are, or can't be read.

    Parameters
    ----------
    path : str | Path
        The file.

    Returns
    -------
    str
    """
    try:
        with rasterio.open(path, driver="GTiff", sharing=False) as source:
            words = [SIZES] if _is_complex(source) else []
            return " ".join([*words, *([WARPED.format(len(source.gcps[0]))] if _is_warped(source) else [])])
    except UNREADABLE:
        return ""


def make_usual(path: str | Path, out: str | Path) -> None:
    """Write the plain GeoTIFF that an unusual one stands for.

    Parameters
    ----------
    path : str | Path
        The file.
    out : str | Path
        Where to write it.

    Raises
    ------
    BadFile
        For one that breaks off, or whose control points can't place it.
    """
    target = Path(out)
    step = target.with_name(f"sizes-{target.name}")
    try:
        with rasterio.open(path, driver="GTiff", sharing=False) as source:
            complex_, warped = _is_complex(source), _is_warped(source)
            if complex_:
                _sizes_and_angles(source, step if warped else target)
        if warped:
            with ExitStack() as stack:
                source = stack.enter_context(rasterio.open(step if complex_ else path, driver="GTiff", sharing=False))
                # What the warped grid has at its edges is nothing: without a number that says so, another band does.
                bare = source.nodata is None and source.count <= 3
                grid = stack.enter_context(WarpedVRT(source, crs=source.gcps[1], add_alpha=bare))
                copy_raster(grid, target, driver="GTiff", bigtiff="IF_SAFER", tiled=True)
    except UNREADABLE as error:
        raise BadFile(f"{Path(path).name} cannot be read to its end, or not placed: {error}.") from error
    finally:
        step.unlink(missing_ok=True)


@contextmanager
def looked_at(path: str | Path, side: int = LOOK) -> Iterator[tuple[Path, tuple[int, int] | None]]:
    """A raster to be looked at: itself, or the plain one that an unusual one stands for, of every so many pixels of it, since to make all of it
    plain may take minutes.

    Parameters
    ----------
    path : str | Path
        The file.
    side : int
        Pixels of the longer side that are enough.

    Returns
    -------
    Iterator[tuple[Path, tuple[int, int] | None]]
        Where it lies for the time of a block, and the width and height that all of it would have; None where it is itself.

    Raises
    ------
    BadFile
        For one that breaks off, or whose control points can't place it.
    """
    if not unusual(path):
        yield Path(path), None
        return
    with tempfile.TemporaryDirectory(prefix="greylatch-") as folder:
        few, plain = Path(folder) / "few.tif", Path(folder) / Path(path).name
        try:
            with rasterio.open(path, driver="GTiff", sharing=False) as source:
                full = _full_size(source)
                scale = min(1.0, side / max(source.width, source.height))
                if scale < 1:
                    _every_so_many(source, scale, few)
        except UNREADABLE as error:
            raise BadFile(f"{Path(path).name} cannot be read to its end, or not placed: {error}.") from error
        make_usual(few if scale < 1 else path, plain)
        yield plain, full


def _full_size(source: DatasetReader) -> tuple[int, int]:
    if not _is_warped(source):
        return source.width, source.height
    with WarpedVRT(source, crs=source.gcps[1]) as grid:
        return grid.width, grid.height


def _every_so_many(source: DatasetReader, scale: float, out: Path) -> None:
    """The same raster with fewer pixels, placed as it is."""
    width, height = max(1, round(source.width * scale)), max(1, round(source.height * scale))
    across, down = source.width / width, source.height / height
    points, placed_in = source.gcps
    placed: dict[str, Any] = {"crs": source.crs, "transform": source.transform * Affine.scale(across, down)}
    if points:
        moved = [GroundControlPoint(each.row / down, each.col / across, each.x, each.y, each.z) for each in points]
        placed = {"gcps": moved, "crs": placed_in}
    kind = "complex64" if _is_complex(source) else source.dtypes[0]
    data = source.read(out_shape=(source.count, height, width))
    with rasterio.open(
        out,
        "w",
        driver="GTiff",
        width=width,
        height=height,
        count=source.count,
        dtype=kind,
        nodata=source.nodata,
        **placed,
    ) as target:
        target.write(data.astype(kind))


def _is_complex(source: DatasetReader) -> bool:
    return any(str(kind).startswith("complex") for kind in source.dtypes)


def _is_warped(source: DatasetReader) -> bool:
    points, crs = source.gcps
    return len(points) >= LEAST_POINTS and crs is not None and (source.crs is None or source.transform.is_identity)


def _sizes_and_angles(source: DatasetReader, out: Path) -> None:
    points, placed_in = source.gcps
    described = {
        "driver": "GTiff", "width": source.width, "height": source.height, "count": 2 * source.count, "dtype": "float32", "nodata": float("nan"),
        "tiled": True, "blockxsize": 256, "blockysize": 256, "bigtiff": "if_safer",
        **({"gcps": points, "crs": placed_in} if points else {"crs": source.crs, "transform": source.transform}),
    }  # fmt: skip
    with rasterio.open(out, "w", **described) as target:
        for band in range(source.count):
            name = source.descriptions[band] or f"band {band + 1}"
            target.set_band_description(2 * band + 1, f"{name}, size")
            target.set_band_description(2 * band + 2, f"{name}, angle")
        for _, window in source.block_windows(1):
            numbers = source.read(window=window, masked=True)
            there = np.ma.filled(numbers.astype(np.complex64), np.nan)
            parts = np.stack([np.abs(there), np.angle(there)], axis=1).reshape(2 * source.count, *there.shape[1:])
            target.write(parts.astype(np.float32), window=window)
