"""Moving a raster onto the grid of a picture: nearest and bilinear, several times as fast as a general warper.

Positions come from pyproj at every eighth pixel and are interpolated between, where the two grids bend apart by less than a
tenth of a pixel across eight; elsewhere, as at a pole, a seam or the edge of the globe, at every single one. Bilinear is that
of GDAL's warper: where the picture is coarser than the raster the kernel grows with it, so that nothing is skipped.
"""

from dataclasses import dataclass

import numpy as np
import pyproj
import shapely
from affine import Affine
from numba import njit
from numpy.typing import NDArray
from rasterio.features import geometry_mask

from greylatch.places.crs import transformer_between
from greylatch.places.view import View

__all__ = ["Positions", "resample", "source_positions"]

STEP = 8
GROWS_BELOW = 0.95
"""Below this ratio of pixel sizes GDAL lets its kernel grow."""
MISS = 0.06
"""Px of the picture by which an interpolated position may miss its true place."""


@dataclass(frozen=True)
class Positions:
    """Where in a raster the pixels of a picture come from: columns and rows (pixel edges at whole numbers; NaN where there is no
    place) at every `step`-th pixel corner and one beyond, (⌈height / step⌉ + 1, ⌈width / step⌉ + 1); where `step` is 0, in the
    middle of each pixel. Columns are counted on beyond `turn` columns, where the raster's longitudes begin anew (0: never)."""

    columns: NDArray[np.float64]
    rows: NDArray[np.float64]
    step: int
    turn: float

    @property
    def spans(self) -> tuple[float, float]:
        """How many pixels of the raster, about, lie along one of the picture: across and down."""
        return self._span(1), self._span(0)

    def within(self, column: float, row: float, wide: float, high: float) -> "Positions":
        """The same places in a reading of the raster that begins at (`column`, `row`), each pixel of it `wide` × `high`."""
        return Positions((self.columns - column) / wide, (self.rows - row) / high, self.step, self.turn / wide)

    def _span(self, axis: int) -> float:
        lengths = np.hypot(np.diff(self.columns, axis=axis), np.diff(self.rows, axis=axis))
        there = lengths[np.isfinite(lengths)]
        return float(np.median(there)) / (self.step or 1) if there.size else 1.0


def source_positions(view: View, transform: Affine, crs: pyproj.CRS) -> Positions:
    """Where in a raster with `transform` and `crs` the pixels of `view` come from.

    Parameters
    ----------
    view : View
        What is shown, and how large.
    transform : Affine
        From column and row to the raster's coordinates.
    crs : pyproj.CRS
        The reference system of the coordinates.

    Returns
    -------
    Positions
    """
    turn = turn_in_pixels(transform, crs)
    down, across = _corners(view.height), _corners(view.width)
    columns, rows = _asked(view, transform, crs, down, across)
    if crs.is_geographic and np.isfinite(columns).all():  # counted on, so that neighbours stay neighbours
        columns = np.unwrap(columns, period=turn, axis=1)
    positions = Positions(columns, rows, STEP, turn)
    limited = _limited(view)
    if not limited and _holds(positions, _asked(view, transform, crs, down[:-1] + STEP / 2, across[:-1] + STEP / 2)):
        return positions
    columns, rows = _asked(view, transform, crs, _middles(view.height), _middles(view.width))
    if limited:
        beyond = _beyond(view)
        columns, rows = np.where(beyond, np.nan, columns), np.where(beyond, np.nan, rows)
    return Positions(columns, rows, 0, turn)


def _corners(pixels: int) -> NDArray[np.float64]:
    return np.asarray(np.arange(-(-pixels // STEP) + 1) * STEP, dtype=np.float64)


def _middles(pixels: int) -> NDArray[np.float64]:
    return np.asarray(np.arange(pixels) + 0.5, dtype=np.float64)


def _asked(
    view: View, transform: Affine, crs: pyproj.CRS, down: NDArray[np.float64], across: NDArray[np.float64]
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Columns and rows at places of the picture, given in px from its upper left; NaN for none."""
    west, south, east, north = view.bounds
    x, y = np.meshgrid(west + across * (east - west) / view.width, north - down * (north - south) / view.height)
    x, y = transformer_between(view.frame.crs, crs).transform(x, y, errcheck=False)
    back = ~transform
    with np.errstate(invalid="ignore"):
        columns, rows = back.a * x + back.b * y + back.c, back.d * x + back.e * y + back.f
    placed = np.isfinite(columns) & np.isfinite(rows)
    return np.where(placed, columns, np.nan), np.where(placed, rows, np.nan)


def _holds(positions: Positions, middles: tuple[NDArray[np.float64], NDArray[np.float64]]) -> bool:
    """Whether the middles of all cells lie where their corners say."""
    off = [_between(grid) - middle for grid, middle in zip((positions.columns, positions.rows), middles, strict=True)]
    if positions.turn:
        off[0] = off[0] - np.round(off[0] / positions.turn) * positions.turn
    across, down = positions.spans
    with np.errstate(invalid="ignore"):
        return bool((np.hypot(*off) <= MISS * max(across, down, 1.0)).all())


def _between(grid: NDArray[np.float64]) -> NDArray[np.float64]:
    return np.asarray((grid[:-1, :-1] + grid[1:, :-1] + grid[:-1, 1:] + grid[1:, 1:]) / 4)


def _limited(view: View) -> bool:
    """Whether a view reaches beyond the projection's limits, where PROJ's way back goes on and the world would stand a second
    time. Maps whose world goes round and round have none."""
    if view.frame.domain.family == "cylinder":
        return False
    return not shapely.contains(view.frame.outline, shapely.box(*view.bounds))


def _beyond(view: View) -> NDArray[np.bool_]:
    """The pixels beyond the projection's limits."""
    west, _, _, north = view.bounds
    place = Affine(view.cell, 0, west, 0, -view.cell, north)
    return np.asarray(geometry_mask([view.frame.outline], (view.height, view.width), place))


def turn_in_pixels(transform: Affine, crs: pyproj.CRS) -> float:
    """After how many columns the longitudes of a raster begin anew; 0 where it is not in degrees."""
    return abs(360 / transform.a) if crs.is_geographic and transform.a else 0.0


def resample(
    data: NDArray[np.generic], valid: NDArray[np.bool_], positions: Positions, width: int, height: int, nearest: bool
) -> tuple[NDArray[np.generic], NDArray[np.bool_]]:
    """`data` (bands, rows, columns; uint8 or float32) at `positions`, and where there is any: the nearest pixel must be valid.

    Bilinear takes the valid pixels in reach, weighted by distance; whole numbers are rounded.

    Parameters
    ----------
    data : NDArray[np.generic]
        (bands, rows, columns) uint8 or float32.
    valid : NDArray[np.bool_]
        (rows, columns) where there is any data.
    positions : Positions
        Where in the raster each pixel comes from.
    width : int
        Px.
    height : int
        Px.
    nearest : bool
        Whether the nearest pixel is taken rather than a mean of four.

    Returns
    -------
    tuple[NDArray[np.generic], NDArray[np.bool_]]
    """
    columns, rows, step, turn = positions.columns, positions.rows, positions.step, positions.turn
    # Bands side by side, so that one fetch brings a whole pixel.
    pixels = np.ascontiguousarray(np.moveaxis(data, 0, -1))
    out = np.zeros((height, width, data.shape[0]), dtype=data.dtype)
    there = np.zeros((height, width), dtype=np.bool_)
    if nearest:
        _nearest(pixels, valid, columns, rows, step, out, there, turn)
    else:
        reach = np.float32(_reach(positions, 1)), np.float32(_reach(positions, 0))
        half = np.float32(0.5 if data.dtype == np.uint8 else 0)
        _bilinear(pixels, valid, bool(valid.all()), columns, rows, step, *reach, out, there, half, turn)
    return np.moveaxis(out, -1, 0), there


def _reach(positions: Positions, axis: int) -> float:
    """How far the kernel reaches in source pixels: one, or as many as a pixel of the picture spans."""
    grid = positions.columns if axis else positions.rows
    steps = np.abs(np.diff(grid, axis=axis)) / (positions.step or 1)
    spans = float(np.nanmedian(steps)) if np.isfinite(steps).any() else 1.0
    return spans if 1 / max(spans, 1e-9) < GROWS_BELOW else 1.0


@njit(cache=True)
def _row(grid, step, i, nodes):  # type: ignore[no-untyped-def]
    """The positions under the middles of row i, at the nodes along it: halfway down between those of the rows of nodes around it."""
    if step == 0:
        nodes[:] = grid[i]
        return
    v = (i + 0.5) / step
    a = int(v)
    v -= a
    for b in range(nodes.shape[0]):
        nodes[b] = grid[a, b] * (1 - v) + grid[a + 1, b] * v


@njit(cache=True)
def _at(nodes, step, j):  # type: ignore[no-untyped-def]
    """The position under the middle of pixel j of a row: its own, or between the two nodes beside it."""
    if step == 0:
        return nodes[j]
    u = (j + 0.5) / step
    b = int(u)
    u -= b
    return nodes[b] * (1 - u) + nodes[b + 1] * u


@njit(cache=True)
def _nearest(pixels, valid, columns, rows, step, out, there, turn):  # type: ignore[no-untyped-def]
    high, wide = valid.shape
    xs, ys = np.empty(columns.shape[1]), np.empty(columns.shape[1])
    for i in range(there.shape[0]):
        _row(columns, step, i, xs)
        _row(rows, step, i, ys)
        for j in range(there.shape[1]):
            x, y = _at(xs, step, j), _at(ys, step, j)
            if turn > 0:
                x -= np.floor(x / turn) * turn
            # The comparison is false for NaN too.
            if 0 <= x < wide and 0 <= y < high and valid[int(y), int(x)]:
                there[i, j] = True
                for band in range(pixels.shape[2]):
                    out[i, j, band] = pixels[int(y), int(x), band]


@njit(cache=True, fastmath=True)
def _bilinear(pixels, valid, all_valid, columns, rows, step, reach_x, reach_y, out, there, half, turn):  # type: ignore[no-untyped-def]
    high, wide, bands = pixels.shape
    # Most pixels of one band come from four that are all there: what follows for those is the same, in fewer steps.
    four = bands == 1 and reach_x == 1 and reach_y == 1
    across = np.empty(int(2 * reach_x) + 2, dtype=np.float32)
    total = np.empty(bands, dtype=np.float32)
    xs, ys = np.empty(columns.shape[1]), np.empty(columns.shape[1])
    for i in range(there.shape[0]):
        _row(columns, step, i, xs)
        _row(rows, step, i, ys)
        for j in range(there.shape[1]):
            x, y = _at(xs, step, j), _at(ys, step, j)
            if turn > 0:
                x -= np.floor(x / turn) * turn
            if not (x >= 0 and x < wide and y >= 0 and y < high):
                continue
            if not all_valid and not valid[int(y), int(x)]:
                continue
            there[i, j] = True
            if four and x >= 0.5 and x < wide - 0.5 and y >= 0.5 and y < high - 0.5:
                c, r = int(x - 0.5), int(y - 0.5)
                if all_valid or (valid[r, c] and valid[r, c + 1] and valid[r + 1, c] and valid[r + 1, c + 1]):
                    right, lower = np.float32(x - 0.5 - c), np.float32(y - 0.5 - r)
                    over = pixels[r, c, 0] * (np.float32(1) - right) + pixels[r, c + 1, 0] * right
                    under = pixels[r + 1, c, 0] * (np.float32(1) - right) + pixels[r + 1, c + 1, 0] * right
                    out[i, j, 0] = over * (np.float32(1) - lower) + under * lower + half
                    continue
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
