"""Reading just the part of a raster that a picture needs, no finer than it needs, and warping it onto the picture."""

import math
from dataclasses import dataclass
from typing import Any

import numpy as np
import pyproj
import rasterio
from affine import Affine
from numpy.typing import NDArray
from rasterio._err import CPLE_BaseError
from rasterio.enums import Resampling
from rasterio.errors import RasterioError
from rasterio.io import DatasetReader
from rasterio.warp import reproject, transform_bounds
from rasterio.windows import Window

from greylatch.errors import BadInput
from greylatch.places.crs import LONLAT, WEB_MERCATOR, transformer_between
from greylatch.places.domain import METRES_TO_A_DEGREE
from greylatch.rasters.resample import resample, source_positions, turn_in_pixels

Bounds = tuple[float, float, float, float]
MERCATOR_WKT = WEB_MERCATOR.to_wkt()
WORLD = 2 * 20037508.342789244
"""Width of the world in Web Mercator metres."""
MOST_PIXELS = 2**31


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
    left, bottom, right, top = _under(source, bounds)
    if not np.isfinite((left, bottom, right, top)).all():
        return None
    inverse = ~source.transform
    corners = [inverse @ corner for corner in ((left, top), (right, top), (left, bottom), (right, bottom))]
    columns, rows = [c for c, _ in corners], [r for _, r in corners]
    wide = min(max(columns) - min(columns), 2.0 * MOST_PIXELS)
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
    if data.dtype.kind == "f":
        mask = np.where(np.isfinite(data).all(axis=0), mask, np.uint8(0))
    elif data.dtype == np.int8:
        data = data.astype(np.float32)
    transform = source.window_transform(window) @ Affine.scale((col1 - col0) / shape[1], (row1 - row0) / shape[0])
    return Part(data, mask, transform)


def _under(source: DatasetReader, bounds: Bounds) -> Bounds:
    """The box of `bounds` in the raster's own coordinates. Degrees are counted as the raster counts them, from 0 to 360 say;
    over the seam where its longitudes begin anew it is the raster's whole width."""
    if not source.crs.is_geographic:
        try:
            return transform_bounds(MERCATOR_WKT, source.crs, *bounds, densify_pts=21)
        except (RasterioError, CPLE_BaseError):
            return (float("nan"),) * 4
    (west, _), (south, north) = transformer_between(WEB_MERCATOR, LONLAT).transform(bounds[::2], bounds[1::2])
    first = min(source.bounds.left, source.bounds.right)
    width = (bounds[2] - bounds[0]) / WORLD * 360
    west = first + (west - first) % 360
    if width >= 360 or west + width > first + 360:
        return first, south, first + 360, north
    return west, south, west + width, north


def warp(
    data: NDArray[Any], valid: NDArray[np.bool_], transform: Affine, crs: Any, bounds: Bounds, width: int, height: int,
    resampling: str = "bilinear",
) -> tuple[NDArray[Any], NDArray[np.bool_]]:  # fmt: skip
    """`data` (bands, rows, columns; uint8 or float32) moved onto the Web Mercator grid of `bounds`, `width` × `height` px,
    and where there is any data. Kinds of resampling other than nearest and bilinear are left to GDAL."""
    if data.dtype not in (np.uint8, np.float32):
        data = data.astype(np.float32)
    system = pyproj.CRS.from_wkt(crs.to_wkt())
    positions = source_positions(bounds, width, height, transform, system)
    turn = turn_in_pixels(transform, system)
    if (
        resampling == "nearest"
        or resampling == "bilinear"
        or (turn and transform.c + data.shape[2] * transform.a > 180.001)
    ):
        # A general warper knows longitudes from −180 to 180 only.
        return resample(np.ascontiguousarray(data), valid, positions, width, height, resampling == "nearest", turn)
    _, there = resample(data[:1], valid, positions, width, height, True, turn)
    filled = np.where(valid, data, np.float32(np.nan)).astype(np.float32)
    out = np.full((data.shape[0], height, width), np.nan, dtype=np.float32)
    reproject(
        filled, out, src_transform=transform, src_crs=crs, dst_transform=rasterio.transform.from_bounds(*bounds, width, height),
        dst_crs=MERCATOR_WKT, src_nodata=np.nan, dst_nodata=np.nan, resampling=Resampling[resampling], tolerance=0.1, init_dest_nodata=False,
    )  # fmt: skip
    there &= np.isfinite(out[0])
    whole = data.dtype == np.uint8
    return (np.nan_to_num(out).round().clip(0, 255).astype(np.uint8) if whole else np.nan_to_num(out)), there


def _is_palette(source: DatasetReader) -> bool:
    return source.colorinterp[0].name == "palette"


def ground_cell(transform: Affine, crs: object, row: float) -> tuple[float, float]:
    """Width and height in metres of a pixel; degrees are taken at the latitude of `row`."""
    wide, high = abs(transform.a), abs(transform.e)
    if getattr(crs, "is_geographic", False):
        latitude = transform.f + transform.e * row
        return wide * METRES_TO_A_DEGREE * max(0.01, math.cos(math.radians(latitude))), high * 110_574.0
    unit = float(getattr(crs, "linear_units_factor", ("metre", 1.0))[1])
    return wide * unit, high * unit
