"""Tile matrix sets: addresses of tiles and the ground that they cover (OGC 17-083r4)."""

import math
from collections.abc import Iterator
from typing import NamedTuple

import morecantile

from greylatch.errors import BadInput
from greylatch.places.crs import LONLAT, WEB_MERCATOR, transformer_between

Bounds = tuple[float, float, float, float]
WEB_MERCATOR_QUAD = morecantile.tms.get("WebMercatorQuad")
HALF = 20037508.342789244
"""Half the side of the WebMercatorQuad square, metres."""
LEVEL_0 = 2 * HALF / 256
"""Metres per pixel of level 0 with tiles of 256 px: 156543.033928041."""
DEEPEST = 24


class Tile(NamedTuple):
    """A tile's address: level, column, row counted from the top (XYZ)."""

    z: int
    x: int
    y: int


def matrix_set(name: str) -> morecantile.TileMatrixSet:
    """The tile matrix set called `name`. Raises BadInput for one that tiles are not cut in yet."""
    if name != "WebMercatorQuad":
        raise BadInput(f"Tiles are cut in WebMercatorQuad, not in '{name}'.")
    return WEB_MERCATOR_QUAD


def tile_bounds(tile: Tile) -> Bounds:
    """West, south, east, north in Web Mercator metres.

    >>> tile_bounds(Tile(0, 0, 0))[0]
    -20037508.342789244
    """
    span = 2 * HALF / 2**tile.z
    return -HALF + tile.x * span, HALF - (tile.y + 1) * span, -HALF + (tile.x + 1) * span, HALF - tile.y * span


def tile_at(x: float, y: float, z: int) -> Tile:
    """The tile of level `z` that holds a place given in Web Mercator metres.

    >>> tile_at(-1.0, 1.0, 1)
    Tile(z=1, x=0, y=0)
    """
    span, last = 2 * HALF / 2**z, 2**z - 1
    return Tile(z, *(max(0, min(last, math.floor(one / span))) for one in (x + HALF, HALF - y)))


def tiles_over(bounds: Bounds, z: int) -> Iterator[Tile]:
    """All tiles of level `z` that share ground with `bounds`, row by row."""
    for y in range(*_span(HALF - bounds[3], HALF - bounds[1], z)):
        for x in range(*_span(bounds[0] + HALF, bounds[2] + HALF, z)):
            yield Tile(z, x, y)


def count_tiles(bounds: Bounds, z: int) -> int:
    """How many tiles `tiles_over` gives."""
    y0, y1 = _span(HALF - bounds[3], HALF - bounds[1], z)
    x0, x1 = _span(bounds[0] + HALF, bounds[2] + HALF, z)
    return (y1 - y0) * (x1 - x0)


def level_for(resolution: float, size: int = 256) -> int:
    """The level nearest to `resolution` (Web Mercator metres per px) for tiles of `size` px.

    >>> level_for(152.874056570353)
    10
    """
    return max(0, min(DEEPEST, round(math.log2(LEVEL_0 * 256 / size / resolution))))


def covering_level(bounds: Bounds) -> int:
    """The deepest level at which `bounds` is no larger than one tile."""
    side = max(bounds[2] - bounds[0], bounds[3] - bounds[1])
    return max(0, min(DEEPEST, math.floor(math.log2(2 * HALF / side) + 1e-9))) if side > 0 else 12


def resolution_of(z: float) -> float:
    """Metres per px at zoom `z`, for 256 px to level 0."""
    return float(LEVEL_0 / 2**z)


def tms_row(tile: Tile) -> int:
    """The row counted from the bottom, as TMS and MBTiles have it: 2^z − 1 − y."""
    return int(2**tile.z - 1 - tile.y)


def lonlat_bounds(bounds: Bounds) -> Bounds:
    """Web Mercator bounds as west, south, east, north in degrees.

    >>> [round(v, 4) for v in lonlat_bounds(tile_bounds(Tile(1, 0, 0)))]
    [-180.0, 0.0, 0.0, 85.0511]
    """
    (west, east), (south, north) = transformer_between(WEB_MERCATOR, LONLAT).transform(bounds[::2], bounds[1::2])
    return float(west), float(south), float(east), float(north)


def _span(low: float, high: float, z: int) -> tuple[int, int]:
    """First and one past the last tile between two distances from the square's edge."""
    span = 2 * HALF / 2**z
    # An edge that only touches the next tile, within a millionth of one, does not reach into it.
    first = min(max(math.floor(low / span + 1e-6), 0), 2**z - 1)
    last = min(max(math.ceil(high / span - 1e-6), first + 1), 2**z)
    return first, last
