"""Tile matrix sets: addresses of tiles and the ground that they cover (OGC 17-083r4)."""

import math
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from typing import Any, NamedTuple

import morecantile
import pyproj

from greylatch.errors import BadInput, OffMap
from greylatch.places.bounds import Bounds
from greylatch.places.crs import parse_crs
from greylatch.places.domain import crs_unit

__all__ = ["DEEPEST", "KNOWN_SETS", "PIXEL", "TILE", "WORLD", "Grid", "Tile"]

WORLD = 2 * 20037508.342789244
"""Metres along the side of the square of WebMercatorQuad: the equator of WGS 84."""
TILE = 256
"""Px along the side of a tile by which levels are counted; tiles of 512 px show the same ground twice as sharp."""
DEEPEST = 24
PIXEL = 0.00028
"""Metres along the side of the pixel by which the OGC counts scales (17-083r4)."""
KNOWN_SETS = ("WebMercatorQuad", "WorldCRS84Quad", "EuropeanETRS89_LAEAQuad")
"""Registered sets in which tiles are cut; their figures are those of morecantile, which has them from the OGC's register."""


class Tile(NamedTuple):
    """A tile's address: level, column, row counted from the top (XYZ)."""

    z: int
    x: int
    y: int


@dataclass(frozen=True)
class Grid:
    """A tile matrix set whose levels halve from one to the next: level 0 has `columns` × `rows` square tiles with sides of
    `side` units of the CRS, from the corner (`left`, `top`) to the right and down.

    >>> Grid.called("WebMercatorQuad").tile_bounds(Tile(0, 0, 0))[0]
    -20037508.342789244
    """

    name: str
    crs: pyproj.CRS
    left: float
    top: float
    side: float
    columns: int = 1
    rows: int = 1

    @classmethod
    @lru_cache
    def called(cls, name: str) -> "Grid":
        """The registered set of that name.

        Raises
        ------
        BadInput
            For one in which tiles are not cut.
        """
        if name not in KNOWN_SETS:
            raise BadInput(f"Tiles are cut in {', '.join(KNOWN_SETS)}, not in '{name}'.")
        known = morecantile.tms.get(name)
        first, corner = known.matrix(0), known.xy_bounds(morecantile.Tile(0, 0, 0))
        crs = parse_crs(known.crs.to_wkt() or "")
        return cls(
            name, crs, corner.left, corner.top, first.cellSize * first.tileWidth, first.matrixWidth, first.matrixHeight
        )

    @property
    def extent(self) -> Bounds:
        """The ground of all tiles of a level."""
        return self.left, self.top - self.rows * self.side, self.left + self.columns * self.side, self.top

    def tile_bounds(self, tile: Tile) -> Bounds:
        """The ground of a tile."""
        span = self.side / 2**tile.z
        west, north = self.left + tile.x * span, self.top - tile.y * span
        return west, self.top - (tile.y + 1) * span, self.left + (tile.x + 1) * span, north

    def has(self, tile: Tile) -> bool:
        """Whether there is such a tile."""
        times = 2**tile.z if 0 <= tile.z <= DEEPEST else 0
        return 0 <= tile.x < self.columns * times and 0 <= tile.y < self.rows * times

    def shared(self, bounds: Bounds) -> Bounds:
        """What of a box lies on tiles of the set.

        Raises
        ------
        BadInput
            Where nothing does.
        """
        left, bottom, right, top = self.extent
        box = max(bounds[0], left), max(bounds[1], bottom), min(bounds[2], right), min(bounds[3], top)
        if box[0] > box[2] or box[1] > box[3]:
            raise OffMap(f"All of it lies beside the tiles of {self.name}.", "Choose another tile matrix set.")
        return box

    def tile_at(self, x: float, y: float, z: int) -> Tile:
        """The tile of level `z` that holds a place; the nearest one where the place lies beyond the set.

        >>> Grid.called("WebMercatorQuad").tile_at(-1.0, 1.0, 1)
        Tile(z=1, x=0, y=0)
        """
        span, times = self.side / 2**z, 2**z
        column, row = math.floor((x - self.left) / span), math.floor((self.top - y) / span)
        return Tile(z, max(0, min(self.columns * times - 1, column)), max(0, min(self.rows * times - 1, row)))

    def tiles_over(self, bounds: Bounds, z: int) -> Iterator[Tile]:
        """All tiles of level `z` that share ground with `bounds`, row by row."""
        columns, rows = self._spans(bounds, z)
        for y in range(*rows):
            for x in range(*columns):
                yield Tile(z, x, y)

    def count_tiles(self, bounds: Bounds, z: int) -> int:
        """How many tiles `tiles_over` gives."""
        (x0, x1), (y0, y1) = self._spans(bounds, z)
        return (x1 - x0) * (y1 - y0)

    def tms_row(self, tile: Tile) -> int:
        """The row counted from the bottom, as TMS and MBTiles have it."""
        return int(self.rows * 2**tile.z - 1 - tile.y)

    def resolution(self, z: float) -> float:
        """Units of the CRS per px at level `z`.

        >>> round(Grid.called("WebMercatorQuad").resolution(0), 9)
        156543.033928041
        """
        return float(self.side / TILE / 2**z)

    def level_for(self, resolution: float, size: int = TILE) -> int:
        """The level nearest to `resolution` (units per px) for tiles of `size` px.

        >>> Grid.called("WebMercatorQuad").level_for(152.874056570353)
        10
        """
        return max(0, min(DEEPEST, round(math.log2(self.side / size / resolution))))

    def covering_level(self, bounds: Bounds) -> int:
        """The deepest level at which `bounds` is no larger than one tile; that of a place for a single one."""
        longer = max(bounds[2] - bounds[0], bounds[3] - bounds[1])
        return max(0, min(DEEPEST, math.floor(math.log2(self.side / longer) + 1e-9))) if longer > 0 else 12

    def document(self, last: int = DEEPEST) -> dict[str, Any]:
        """The set as an OGC tile matrix set document (17-083r4), levels 0 to `last`."""
        if self.name in KNOWN_SETS:
            known = morecantile.tms.get(self.name).model_dump(mode="json", exclude_none=True)
            return {**known, "tileMatrices": [matrix for matrix in known["tileMatrices"] if int(matrix["id"]) <= last]}
        code = self.crs.to_epsg(min_confidence=100)
        northing_first = self.crs.axis_info[0].abbrev.upper() in ("Y", "N", "LAT")
        origin = [self.top, self.left] if northing_first else [self.left, self.top]
        return {
            # Written out where no register has it: a register's nearest code may mean another place.
            "id": self.name, "title": self.name, "orderedAxes": ["Y", "X"] if northing_first else ["X", "Y"],
            "crs": f"http://www.opengis.net/def/crs/EPSG/0/{code}" if code else {"wkt": self.crs.to_json_dict()},
            "tileMatrices": [
                {
                    "id": str(z), "scaleDenominator": self.resolution(z) / crs_unit(self.crs) / PIXEL, "cellSize": self.resolution(z),
                    "cornerOfOrigin": "topLeft", "pointOfOrigin": origin, "tileWidth": TILE, "tileHeight": TILE,
                    "matrixWidth": self.columns * 2**z, "matrixHeight": self.rows * 2**z,
                }
                for z in range(last + 1)
            ],
        }  # fmt: skip

    def _spans(self, bounds: Bounds, z: int) -> tuple[tuple[int, int], tuple[int, int]]:
        times = 2**z
        columns = _span(bounds[0] - self.left, bounds[2] - self.left, self.side / times, self.columns * times)
        return columns, _span(self.top - bounds[3], self.top - bounds[1], self.side / times, self.rows * times)


def _span(low: float, high: float, side: float, most: int) -> tuple[int, int]:
    """First and one past the last tile between two distances from the set's corner."""
    # An edge that only touches the next tile, within a millionth of one, does not reach into it.
    first = min(max(math.floor(low / side + 1e-6), 0), most - 1)
    last = min(max(math.ceil(high / side - 1e-6), first + 1), most)
    return first, last
