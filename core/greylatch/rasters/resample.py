"""Moving a raster onto the grid of a picture: nearest and bilinear, several times as fast as a general warper.

Positions come from pyproj at every eighth pixel and are interpolated between; across eight pixels the two grids bend apart
by less than 0.03 px at any level. Bilinear is that of GDAL's warper: where the picture is coarser than the raster the
kernel grows with it, so that nothing is skipped.
"""

import numpy as np
import pyproj
from affine import Affine
from numba import njit
from numpy.typing import NDArray

from greylatch.places.crs import WEB_MERCATOR, transformer_between

STEP = 8
GROWS_BELOW = 0.95
"""Below this ratio of pixel sizes GDAL lets its kernel grow."""

Bounds = tuple[float, float, float, float]
Positions = NDArray[np.float64]


def source_positions(
    bounds: Bounds, width: int, height: int, transform: Affine, crs: pyproj.CRS
) -> tuple[Positions, Positions]:
    """Columns and rows of the raster (pixel edges at whole numbers) under every eighth pixel corner of the picture, and one
    beyond: two arrays of (⌈height / 8⌉ + 1, ⌈width / 8⌉ + 1). Positions without a place are NaN."""
    across = bounds[0] + np.arange(0, -(-width // STEP) + 1) * STEP * (bounds[2] - bounds[0]) / width
    down = bounds[3] - np.arange(0, -(-height // STEP) + 1) * STEP * (bounds[3] - bounds[1]) / height
    x, y = np.meshgrid(across, down)
    x, y = transformer_between(WEB_MERCATOR, crs).transform(x, y)
    back = ~transform
    if crs.is_geographic:  # counted on, so that neighbours stay neighbours; see `turn_in_pixels`
        x = np.unwrap(x, period=360, axis=1) if np.isfinite(x).all() else x
    columns, rows = back.a * x + back.b * y + back.c, back.d * x + back.e * y + back.f
    placed = np.isfinite(columns) & np.isfinite(rows)
    return np.where(placed, columns, np.nan), np.where(placed, rows, np.nan)


def turn_in_pixels(transform: Affine, crs: pyproj.CRS) -> float:
    """After how many columns the longitudes of a raster begin anew; 0 where it is not in degrees."""
    return abs(360 / transform.a) if crs.is_geographic and transform.a else 0.0


def resample(
    data: NDArray[np.generic],
    valid: NDArray[np.bool_],
    positions: tuple[Positions, Positions],
    width: int,
    height: int,
    nearest: bool,
    turn: float = 0.0,
) -> tuple[NDArray[np.generic], NDArray[np.bool_]]:
    """`data` (bands, rows, columns; uint8 or float32) at `positions`, and where there is any: the nearest pixel must be valid.

    Columns are taken modulo `turn`, where that is not 0. Bilinear takes the valid pixels in reach, weighted by distance; whole numbers are rounded.
    """
    columns, rows = positions
    # Bands side by side, so that one fetch brings a whole pixel.
    pixels = np.ascontiguousarray(np.moveaxis(data, 0, -1))
    out = np.zeros((height, width, data.shape[0]), dtype=data.dtype)
    there = np.zeros((height, width), dtype=np.bool_)
    if nearest:
        _nearest(pixels, valid, columns, rows, out, there, turn)
    else:
        reach = np.float32(_reach(columns, 1)), np.float32(_reach(rows, 0))
        half = np.float32(0.5 if data.dtype == np.uint8 else 0)
        _bilinear(pixels, valid, bool(valid.all()), columns, rows, *reach, out, there, half, turn)
    return np.moveaxis(out, -1, 0), there


def _reach(positions: Positions, axis: int) -> float:
    """How far the kernel reaches in source pixels: one, or as many as a pixel of the picture spans."""
    steps = np.abs(np.diff(positions, axis=axis)) / STEP
    spans = float(np.nanmedian(steps)) if np.isfinite(steps).any() else 1.0
    return spans if 1 / max(spans, 1e-9) < GROWS_BELOW else 1.0


@njit(cache=True)
def _at(grid, i, j):  # type: ignore[no-untyped-def]
    """The position under the middle of pixel (row i, column j), between the four nodes around it."""
    v, u = (i + 0.5) / STEP, (j + 0.5) / STEP
    a, b = int(v), int(u)
    v, u = v - a, u - b
    upper = grid[a, b] * (1 - u) + grid[a, b + 1] * u
    lower = grid[a + 1, b] * (1 - u) + grid[a + 1, b + 1] * u
    return upper * (1 - v) + lower * v


@njit(cache=True)
def _nearest(pixels, valid, columns, rows, out, there, turn):  # type: ignore[no-untyped-def]
    high, wide = valid.shape
    for i in range(there.shape[0]):
        for j in range(there.shape[1]):
            x, y = _at(columns, i, j), _at(rows, i, j)
            if turn > 0:
                x -= np.floor(x / turn) * turn
            # The comparison is false for NaN too.
            if 0 <= x < wide and 0 <= y < high and valid[int(y), int(x)]:
                there[i, j] = True
                for band in range(pixels.shape[2]):
                    out[i, j, band] = pixels[int(y), int(x), band]


@njit(cache=True, fastmath=True)
def _bilinear(pixels, valid, all_valid, columns, rows, reach_x, reach_y, out, there, half, turn):  # type: ignore[no-untyped-def]
    high, wide, bands = pixels.shape
    across = np.empty(int(2 * reach_x) + 2, dtype=np.float32)
    total = np.empty(bands, dtype=np.float32)
    for i in range(there.shape[0]):
        for j in range(there.shape[1]):
            x, y = _at(columns, i, j), _at(rows, i, j)
            if turn > 0:
                x -= np.floor(x / turn) * turn
            if not (x >= 0 and x < wide and y >= 0 and y < high):
                continue
            if not all_valid and not valid[int(y), int(x)]:
                continue
            there[i, j] = True
            first_c, last_c = max(0, int(np.ceil(x - 0.5 - reach_x))), min(wide - 1, int(np.floor(x - 0.5 + reach_x)))
            first_r, last_r = max(0, int(np.ceil(y - 0.5 - reach_y))), min(high - 1, int(np.floor(y - 0.5 + reach_y)))
            for c in range(first_c, last_c + 1):
                across[c - first_c] = np.float32(1) - np.float32(abs(c + 0.5 - x)) / reach_x
            weight = np.float32(0)
            total[:] = 0
            for r in range(first_r, last_r + 1):
                down = np.float32(1) - np.float32(abs(r + 0.5 - y)) / reach_y
                for c in range(first_c, last_c + 1):
                    if all_valid or valid[r, c]:
                        share = down * across[c - first_c]
                        weight += share
                        for band in range(bands):
                            total[band] += share * pixels[r, c, band]
            weight = np.float32(1) / weight
            for band in range(bands):
                out[i, j, band] = total[band] * weight + half
