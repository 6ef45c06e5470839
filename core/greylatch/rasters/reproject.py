"""A raster in another projection, as a GeoTIFF."""

import math
from collections.abc import Iterator
from pathlib import Path
from typing import Any, Literal

import numpy as np
import rasterio
import shapely
from affine import Affine
from numpy.typing import NDArray
from rasterio.enums import ColorInterp
from rasterio.errors import RasterioError
from rasterio.features import geometry_mask
from rasterio.windows import Window
from rasterio.windows import transform as window_transform

from greylatch.errors import BadInput
from greylatch.places.crs import transformer_between
from greylatch.places.frame import Frame
from greylatch.rasters.info import MAX_PIXELS, open_raster, raster_crs

__all__ = ["reproject_raster"]

BLOCK = 512
"""Pixels of a side that are warped at once."""
MOST_READ = 40_000_000
"""Pixels of the source that are held at once; where a block lies over more, as round a pole, it is cut in four."""


def reproject_raster(
    path: str | Path, frame: Frame, out: str | Path, resampling: Literal["nearest", "bilinear"] = "bilinear"
) -> tuple[int, int]:
    """Write the GeoTIFF at `path` warped into `frame` to `out`, whole or absent; returns width and height in pixels.

    As many pixels as the source has cover the ground that it covers. Each asks PROJ where it comes from: a warper
    that approximates goes through the world backwards where a line begins and ends beyond the projection's limits.
    What lies beyond them is without data: by the source's nodata value, NaN, or a mask. Palettes are always taken by
    nearest neighbour.

    Parameters
    ----------
    path : str | Path
        The file.
    frame : Frame
        Where the map lies.
    out : str | Path
        Where to write it.
    resampling : Literal['nearest', 'bilinear']
        'nearest' or 'bilinear'.

    Returns
    -------
    tuple[int, int]

    Raises
    ------
    BadInput
        For what is no raster, breaks off, or lies wholly beyond the limits.
    """
    target = Path(out)
    part = target.with_name(f".{target.name}.part")
    try:
        with open_raster(path) as source:
            size = _warp(source, frame, part, resampling == "nearest")
        part.replace(target)
    except RasterioError as error:
        raise BadInput(f"{Path(path).name} cannot be warped to its end: {error}.") from error
    finally:
        part.unlink(missing_ok=True)
    return size


def _warp(source: rasterio.DatasetReader, frame: Frame, part: Path, nearest: bool) -> tuple[int, int]:
    ground = frame.project(np.array([_ground(source)], dtype=object), raster_crs(source))[0]
    if ground.is_empty:
        raise BadInput(f"The raster lies wholly beyond the limits of {frame.name}.")
    west, south, east, north = ground.bounds
    cell = math.sqrt(ground.area / (source.width * source.height))
    width, height = (max(1, math.ceil(span / cell - 1e-6)) for span in (east - west, north - south))
    if width * height > MAX_PIXELS:
        raise BadInput(f"In {frame.name} the raster would have more than {MAX_PIXELS:,} pixels.")
    transform = Affine(cell, 0, west, 0, -cell, north)
    palette = source.colorinterp[0] == ColorInterp.palette
    floating = np.dtype(source.dtypes[0]).kind == "f"
    nodata = source.nodata if source.nodata is not None else math.nan if floating else None
    profile = {
        "driver": "GTiff", "width": width, "height": height, "count": source.count, "dtype": source.dtypes[0], "nodata": nodata,
        "crs": frame.crs.to_wkt(), "transform": transform, "tiled": True, "blockxsize": 256, "blockysize": 256, "compress": "deflate",
        "bigtiff": "if_safer",
    }  # fmt: skip
    with rasterio.Env(GDAL_TIFF_INTERNAL_MASK=True), rasterio.open(part, "w", **profile) as sink:
        sink.colorinterp = source.colorinterp
        if palette:
            sink.write_colormap(1, source.colormap(1))
        for window in _windows(width, height):
            here = window_transform(window, transform)
            shape = (window.height, window.width)
            # PROJ's way back goes on beyond the limits, where the world would stand a second time.
            wanted = ~geometry_mask([ground], shape, here, all_touched=True)
            data, there = _block(source, frame, here, wanted, nearest or palette)
            data[:, ~there] = 0 if nodata is None else nodata
            if nodata is None:
                sink.write_mask(np.where(there, 255, 0).astype(np.uint8), window=window)
            sink.write(data, window=window)
    return width, height


def _ground(source: rasterio.DatasetReader) -> shapely.Polygon:
    """The four corners in the raster's own coordinates; pixels in the middle of a pole reach beyond it."""
    wide, high = source.width, source.height
    corners = shapely.Polygon([source.transform @ corner for corner in ((0, 0), (wide, 0), (wide, high), (0, high))])
    if source.crs.is_geographic:
        corners = shapely.intersection(corners, shapely.box(-1000, -90, 1000, 90))
    return shapely.orient_polygons(corners)


def _block(
    source: rasterio.DatasetReader, frame: Frame, transform: Affine, wanted: NDArray[np.bool_], nearest: bool
) -> tuple[NDArray[Any], NDArray[np.bool_]]:
    """The bands under a grid of pixels, and where there are data: only where `wanted`, and where the nearest pixel has any."""
    high, wide = wanted.shape
    data = np.zeros((source.count, high, wide), dtype=source.dtypes[0])
    columns, rows = _positions(source, frame, transform, high, wide)
    there = wanted & (columns >= 0) & (columns < source.width) & (rows >= 0) & (rows < source.height)
    if not there.any():
        return data, there
    x, y = columns[there], rows[there]
    left, top = max(0, int(x.min()) - 1), max(0, int(y.min()) - 1)
    right, bottom = min(source.width, int(x.max()) + 2), min(source.height, int(y.max()) + 2)
    if (right - left) * (bottom - top) * source.count > MOST_READ and max(high, wide) > 16:
        for part in (slice(0, high // 2), slice(high // 2, high)):
            for half in (slice(0, wide // 2), slice(wide // 2, wide)):
                corner = transform @ Affine.translation(half.start, part.start)
                data[:, part, half], there[part, half] = _block(source, frame, corner, wanted[part, half], nearest)
        return data, there
    window = Window(left, top, right - left, bottom - top)
    pixels, valid = source.read(window=window), source.dataset_mask(window=window) != 0
    if pixels.dtype.kind == "f":
        valid &= np.isfinite(pixels).all(axis=0)
    # Once round the globe, the last column has the first one beside it.
    turn = source.width if _goes_round(source) and right - left == source.width else 0
    sampled, has = _sampled(pixels, valid, x - left, y - top, nearest, turn)
    there[there] = has
    data[:, there] = sampled[:, has]
    return data, there


def _positions(
    source: rasterio.DatasetReader, frame: Frame, transform: Affine, high: int, wide: int
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Column and row of the source (pixel edges at whole numbers) under the middle of every pixel of a grid; NaN for none."""
    column, row = np.meshgrid(np.arange(wide) + 0.5, np.arange(high) + 0.5)
    x, y = transform.a * column + transform.c, transform.e * row + transform.f
    x, y = transformer_between(frame.crs, raster_crs(source)).transform(x, y, errcheck=False)
    placed = np.isfinite(x) & np.isfinite(y)
    x, y = np.where(placed, x, np.nan), np.where(placed, y, np.nan)
    if source.crs.is_geographic:
        west = min(source.bounds.left, source.bounds.right)
        x = west + (x - west) % 360
    back = ~source.transform
    return back.a * x + back.b * y + back.c, back.d * x + back.e * y + back.f


def _sampled(
    pixels: NDArray[Any],
    valid: NDArray[np.bool_],
    x: NDArray[np.float64],
    y: NDArray[np.float64],
    nearest: bool,
    turn: int,
) -> tuple[NDArray[Any], NDArray[np.bool_]]:
    """`pixels` (bands, rows, columns) at places, by the nearest or by the four around weighted by distance, without those that
    are not `valid`; and where the nearest one is."""
    bands, high, wide = pixels.shape
    at = np.clip(y.astype(np.int64), 0, high - 1), np.clip(x.astype(np.int64), 0, wide - 1)
    has = valid[at]
    if nearest:
        return pixels[:, at[0], at[1]], has
    first_x, first_y = np.floor(x - 0.5).astype(np.int64), np.floor(y - 0.5).astype(np.int64)
    total, weight = np.zeros((bands, len(x))), np.zeros(len(x))
    for down in (0, 1):
        for across in (0, 1):
            share = (1 - np.abs(first_x + across + 0.5 - x)) * (1 - np.abs(first_y + down + 0.5 - y))
            c, r = first_x + across, np.clip(first_y + down, 0, high - 1)
            c = c % turn if turn else np.clip(c, 0, wide - 1)
            share = share * valid[r, c]
            total += share * np.where(valid[r, c], pixels[:, r, c], 0)
            weight += share
    with np.errstate(invalid="ignore", divide="ignore"):
        sampled = total / weight
    if pixels.dtype.kind in "iu":
        sampled = np.nan_to_num(sampled).round()
    return sampled.astype(pixels.dtype), has & (weight > 0)


def _goes_round(source: rasterio.DatasetReader) -> bool:
    return bool(source.crs.is_geographic) and abs(abs(source.transform.a) * source.width - 360) < 1e-6


def _windows(width: int, height: int) -> Iterator[Window]:
    for top in range(0, height, BLOCK):
        for left in range(0, width, BLOCK):
            yield Window(left, top, min(BLOCK, width - left), min(BLOCK, height - top))
