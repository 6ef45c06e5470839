"""Reading just the part of a raster that a picture needs, no finer than it needs, and warping it onto the picture."""

import math
from dataclasses import dataclass
from typing import Any

import numpy as np
import pyproj
import rasterio
from affine import Affine
from numpy.typing import NDArray
from rasterio.enums import MaskFlags, Resampling
from rasterio.errors import RasterioError
from rasterio.io import DatasetReader
from rasterio.warp import reproject
from rasterio.windows import Window

from greylatch.errors import BadInput
from greylatch.places.domain import METRES_TO_A_DEGREE
from greylatch.places.view import View
from greylatch.rasters.resample import Positions, resample, source_positions

__all__ = ["ground_cell", "read_part", "warp"]

MOST_PIXELS = 2**31


@dataclass(frozen=True)
class Part:
    """A piece of a raster: `data` (bands, rows, columns), `mask` (rows, columns; 255 where there is data), its geotransform, and
    where in it the pixels of the picture come from."""

    data: NDArray[Any]
    mask: NDArray[np.uint8]
    transform: Affine
    positions: Positions


def read_part(source: DatasetReader, view: View, bands: list[int], rim: int = 2, mixed: bool = True) -> Part | None:
    """The part of `source` under `view`, reduced by a power of two no coarser than the picture.

    Windows lie on a fixed grid of the reduced pixels, so that neighbouring pictures read the same pixels and show no
    seam. None where the raster does not reach.

    Parameters
    ----------
    source : DatasetReader
        The open raster.
    view : View
        What is shown, and how large.
    bands : list[int]
        Numbers of the bands to read, from 1.
    rim : int
        Pixels are added on every side for filters.
    mixed : bool
        Whether pixels that are reduced to one may be mixed to their mean.

    Returns
    -------
    Part | None
    """
    positions = source_positions(view, source.transform, pyproj.CRS.from_wkt(source.crs.to_wkt()))
    placed = np.isfinite(positions.columns)
    if not placed.any():
        return None
    columns, rows = positions.columns[placed], positions.rows[placed]
    shrink = 2 ** max(0, math.floor(math.log2(max(1.0, min(*positions.spans, 2.0 * MOST_PIXELS)) + 1e-6)))
    step = shrink
    first, last = float(columns.min()), float(columns.max())
    if (
        positions.turn
    ):  # degrees are counted as the raster counts them, from 0 to 360 say; over its seam, its whole width
        turns = math.floor(first / positions.turn) * positions.turn
        over = last - turns > positions.turn
        first, last = (0.0, float(source.width)) if over else (first - turns, last - turns)
    col0 = max(0, math.floor(first / step - rim)) * step
    row0 = max(0, math.floor(float(rows.min()) / step - rim)) * step
    col1 = min(math.ceil(source.width / step), math.ceil(last / step + rim)) * step
    row1 = min(math.ceil(source.height / step), math.ceil(float(rows.max()) / step + rim)) * step
    if col1 <= col0 or row1 <= row0:
        return None
    col1, row1 = min(col1, source.width), min(row1, source.height)
    window = Window(col0, row0, col1 - col0, row1 - row0)
    shape = (math.ceil((row1 - row0) / step), math.ceil((col1 - col0) / step))
    reduce = Resampling.nearest if step == 1 or not mixed or _is_palette(source) else Resampling.average
    try:
        data = source.read(bands, window=window, out_shape=(len(bands), *shape), resampling=reduce)
        mask = _mask(source, data, window, shape)
    except RasterioError as error:
        raise BadInput("The raster breaks off: not all of its pixels can be read.") from error
    if data.dtype.kind == "f":
        mask = np.where(np.isfinite(data).all(axis=0), mask, np.uint8(0))
    elif data.dtype == np.int8:
        data = data.astype(np.float32)
    wide, high = (col1 - col0) / shape[1], (row1 - row0) / shape[0]
    transform = source.window_transform(window) @ Affine.scale(wide, high)
    return Part(data, mask, transform, positions.within(col0, row0, wide, high))


def warp(
    data: NDArray[Any], valid: NDArray[np.bool_], part: Part, crs: Any, view: View, resampling: str = "bilinear"
) -> tuple[NDArray[Any], NDArray[np.bool_]]:
    """`data` (bands, rows, columns; uint8 or float32) of `part` moved onto `view`, and where there is any data. Kinds of
    resampling other than nearest and bilinear are left to GDAL.

    Parameters
    ----------
    data : NDArray[Any]
        (bands, rows, columns) uint8 or float32.
    valid : NDArray[np.bool_]
        (rows, columns) where there is any data.
    part : Part
        The rows and columns that were read, and where they lie.
    crs : Any
        The reference system of the coordinates.
    view : View
        What is shown, and how large.
    resampling : str
        'nearest' or 'bilinear'.

    Returns
    -------
    tuple[NDArray[Any], NDArray[np.bool_]]
    """
    if data.dtype not in (np.uint8, np.float32):
        data = data.astype(np.float32)
    size, transform = (view.width, view.height), part.transform
    beyond_180 = part.positions.turn and transform.c + data.shape[2] * transform.a > 180.001
    # A general warper knows longitudes from −180 to 180 only.
    if resampling in ("nearest", "bilinear") or beyond_180:
        return resample(np.ascontiguousarray(data), valid, part.positions, *size, resampling == "nearest")
    _, there = resample(data[:1], valid, part.positions, *size, True)
    filled = np.where(valid, data, np.float32(np.nan)).astype(np.float32)
    out = np.full((data.shape[0], view.height, view.width), np.nan, dtype=np.float32)
    reproject(
        filled, out, src_transform=transform, src_crs=crs, dst_transform=rasterio.transform.from_bounds(*view.bounds, *size),
        dst_crs=view.frame.crs.to_wkt(), src_nodata=np.nan, dst_nodata=np.nan, resampling=Resampling[resampling], tolerance=0.1,
        init_dest_nodata=False,
    )  # fmt: skip
    there &= np.isfinite(out[0])
    whole = data.dtype == np.uint8
    return (np.nan_to_num(out).round().clip(0, 255).astype(np.uint8) if whole else np.nan_to_num(out)), there


def _mask(source: DatasetReader, data: NDArray[Any], window: Window, shape: tuple[int, int]) -> NDArray[np.uint8]:
    """Where there are data. Marked by a value, a mean is missing only where all that it was made of was: with overviews, which
    hold such means, and without them it is the same."""
    if source.nodata is not None and MaskFlags.nodata in source.mask_flag_enums[0]:
        return np.where((data != source.nodata).any(axis=0), 255, 0).astype(np.uint8)
    return np.asarray(source.dataset_mask(window=window, out_shape=shape, resampling=Resampling.nearest))


def _is_palette(source: DatasetReader) -> bool:
    return source.colorinterp[0].name == "palette"


def ground_cell(transform: Affine, crs: object, row: float) -> tuple[float, float]:
    """Width and height in metres of a pixel; degrees are taken at the latitude of `row`.

    Parameters
    ----------
    transform : Affine
        From column and row to the raster's coordinates.
    crs : object
        The reference system of the coordinates.
    row : float
        The row of the raster.

    Returns
    -------
    tuple[float, float]
    """
    wide, high = abs(transform.a), abs(transform.e)
    if getattr(crs, "is_geographic", False):
        latitude = transform.f + transform.e * row
        return wide * METRES_TO_A_DEGREE * max(0.01, math.cos(math.radians(latitude))), high * 110_574.0
    unit = float(getattr(crs, "linear_units_factor", ("metre", 1.0))[1])
    return wide * unit, high * unit
