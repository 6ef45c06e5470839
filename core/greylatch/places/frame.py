"""Where a map lies: a projection with its tiles, and how shapes get there whole."""

import hashlib
import math
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np
import pyproj
import shapely

from greylatch.errors import BadInput, OffMap
from greylatch.places.antimeridian import cut_at_antimeridian
from greylatch.places.bounds import Bounds
from greylatch.places.crs import LONLAT, WEB_MERCATOR, parse_crs, reproject, transformer_between
from greylatch.places.domain import METRES_TO_A_DEGREE, Domain, crs_unit, domain_of
from greylatch.places.grid import KNOWN_SETS, PIXEL, WORLD, Grid
from greylatch.places.longitudes import shorter_way
from greylatch.places.mending import mended
from greylatch.places.moving import Coordinates, Move, moved
from greylatch.places.seams import joined_over_the_seam, turned, within
from greylatch.places.side_by_side import side_by_side
from greylatch.places.stated import crs_name
from greylatch.tables.dataset import Shapes

__all__ = ["MERCATOR", "Frame"]

SPLITS = 9
"""How often an edge is halved at most: 512 pieces."""
TOLERANCE = 10.0
"""Metres by which an edge may miss its true course: a tenth of a millimetre on a map of 1 : 100,000."""
SNAP = 1e-3
"""Metres within which two sides of a seam are one."""
FURTHEST = 5
"""How many times as far as the projection reaches coordinates may lie in it: beyond, they are no places."""
_GEOD = pyproj.Geod(ellps="WGS84")
WIDEST = 16
"""How many times round the equator a projection may reach: Lambert's cone reaches three times."""
ROUND_GAP = 40.0
"""Degrees of longitude that ground must leave out, or it is taken to go all round."""
SAMPLES = 65
"""Places along each side of a box that is asked for its degrees."""


TINY = 1e-9
"""Degrees, a tenth of a millimetre."""
NEARBY = 1e-4
"""Degrees, ten metres: over so much of a meridian its direction is looked at."""
RIGHT_ANGLE = 90.0
NORTH_IS_UP = ("WebMercatorQuad", "WorldCRS84Quad")


@dataclass(frozen=True)
class Frame:
    """A coordinate reference system as a place for maps: x to the right and y up, in its own units, and tiles over it.

    >>> Frame.named("EPSG:8857").name
    'EPSG:8857 · WGS 84 / Equal Earth Greenwich'
    """

    crs: pyproj.CRS
    grid: Grid

    @classmethod
    @lru_cache(maxsize=64)
    def named(cls, text: str) -> "Frame":
        """The frame of 'EPSG:8857' or of a PROJ string, with the tile matrix set that is registered for it or one
        made for it; or that of a registered set by its name, which may hold less than all of its projection.

        Raises
        ------
        BadInput
            As `parse_crs` does.
        """
        if text in KNOWN_SETS:
            return cls.of_matrix_set(text)
        crs = parse_crs(text)
        if crs == WEB_MERCATOR:
            return cls(crs, Grid.called("WebMercatorQuad"))
        if crs == LONLAT:
            return cls(crs, Grid.called("WorldCRS84Quad"))
        return cls(crs, _made_grid(crs))

    @classmethod
    def of_matrix_set(cls, name: str) -> "Frame":
        """The frame of a registered tile matrix set.

        Raises
        ------
        BadInput
            For one in which tiles are not cut.
        """
        grid = Grid.called(name)
        return cls(grid.crs, grid)

    @property
    def name(self) -> str:
        """Code and name, as people see it; and of a set that is not the projection's own its name."""
        registered = self.grid.name in KNOWN_SETS and self.crs not in (WEB_MERCATOR, LONLAT)
        return f"{crs_name(self.crs)} · {self.grid.name}" if registered else crs_name(self.crs)

    @cached_property
    def domain(self) -> Domain:
        """The part of the globe that can be shown here."""
        return domain_of(self.crs)

    def project(self, shapes: Shapes, source: pyproj.CRS, tolerance: float = TOLERANCE) -> Shapes:
        """`shapes` from their own CRS into this one, one for one: cut at the projection's seam and at its limits,
        edges followed where they bend to within `tolerance` metres. What lies wholly outside becomes empty; a
        shape that falls into several parts stays one.

        Raises
        ------
        BadInput
            Where a coordinate has no place on earth.
        """
        if source == self.crs and not source.is_geographic:
            return self._checked(shapes)
        lonlat = (
            reproject(shapes, source, LONLAT)
            if source.is_geographic
            else moved(shapes, _lonlat_from(source), tolerance / METRES_TO_A_DEGREE, SPLITS)
        )
        round_the_middle = turned(cut_at_antimeridian(lonlat), -self.domain.middle)
        return self._placed(within(round_the_middle, self.domain.area), tolerance)

    def project_places(self, places: Coordinates, source: pyproj.CRS) -> Coordinates | None:
        """The same of single points, (n, 2), without any shapes; None where one of them lies at the seam or beyond the limits.

        >>> Frame.named("EPSG:8857").project_places(np.array([[10.0, 0.0]]), LONLAT).round().tolist()
        [[957998.0, 0.0]]
        """
        if source == self.crs and not source.is_geographic:
            return None
        lonlat = places if source == LONLAT else _lonlat_from(source)(places)
        off = lonlat[:, 0] - self.domain.middle
        # What need not be turned stays what it is to the last bit, as that of shapes does.
        lon = np.where(np.abs(off) <= 180, off, (off + 180) % 360 - 180)
        shapely.prepare(self.domain.area)
        inside = shapely.intersects_xy(self.domain.area, lon, lonlat[:, 1]) & (np.abs(lon) < 180 - 1e-9)
        return self._from_turned(np.column_stack([lon, lonlat[:, 1]])) if inside.all() else None

    @cached_property
    def digest(self) -> str:
        """A short name for caches: two frames of one name place everything alike."""
        return hashlib.sha256(f"{self.crs.to_wkt()} {self.grid.name}".encode()).hexdigest()[:16]

    @cached_property
    def unit(self) -> float:
        """Units of the CRS to a metre."""
        return crs_unit(self.crs)

    def scale(self, resolution: float) -> float:
        """The denominator of the scale at `resolution` units to a px, along the projection's true lines (OGC 17-083r4).

        >>> round(MERCATOR.scale(MERCATOR.grid.resolution(0)))
        559082264
        """
        return resolution / self.unit / PIXEL

    def resolution_at(self, scale: float) -> float:
        """Units to a px at a scale of which `scale` is the denominator."""
        return scale * self.unit * PIXEL

    def place(self, lon: float, lat: float) -> tuple[float, float]:
        """Where a place in degrees lies.

        Raises
        ------
        BadInput
            Where that is nowhere on the map.

        Examples
        --------
        >>> [round(v) for v in MERCATOR.place(0, 0)]
        [0, 0]
        """
        point = self.project(np.array([shapely.Point(lon, lat)], dtype=object), LONLAT)[0]
        if point.is_empty:
            raise OffMap(f"{lon:g}, {lat:g} lies beyond the limits of {self.name}.")
        return point.x, point.y

    def lonlat(self, x: float, y: float) -> tuple[float, float]:
        """Longitude and latitude of a place on the map.

        Raises
        ------
        BadInput
            Where there is none.
        """
        lon, lat = transformer_between(self.crs, LONLAT).transform(x, y, errcheck=False)
        if not (math.isfinite(lon) and math.isfinite(lat)):
            raise OffMap(f"({x:g}, {y:g}) is no place on the globe in {self.name}.")
        return (lon + 180) % 360 - 180 if abs(lon) > 180 else lon, lat

    def metres(self, x: float, y: float) -> float:
        """Metres on the ground to a unit of the map, from left to right at a place, as a scale bar there has them.

        Raises
        ------
        BadInput
            Where there is no ground.

        Examples
        --------
        >>> round(MERCATOR.metres(*MERCATOR.place(10, 60)), 3)
        0.501
        """
        step = 500.0 * self.unit
        (west, south), (east, north) = self.lonlat(x - step, y), self.lonlat(x + step, y)
        _, _, length = _GEOD.inv(west, south, east, north)
        return float(length) / (2 * step)

    def north(self, x: float, y: float) -> float | None:
        """Where true north is at a place of the map: degrees from up, clockwise. None at a pole, from which all ways lead south or north.

        Raises
        ------
        BadInput
            Where there is no ground.

        Examples
        --------
        >>> europe = Frame.named("EPSG:3035")
        >>> MERCATOR.north(1e6, 7e6), round(europe.north(*europe.place(25.0, 55.0)), 1)
        (0.0, -12.2)
        """
        if self.grid.name in NORTH_IS_UP:
            return 0.0
        lon, lat = self.lonlat(x, y)
        if abs(lat) > RIGHT_ANGLE - NEARBY:
            return None
        (x0, y0), (x1, y1) = self.place(lon, lat - NEARBY), self.place(lon, lat + NEARBY)
        return math.degrees(math.atan2(x1 - x0, y1 - y0))

    def box_of(self, lonlat: Bounds) -> Bounds:
        """The box around all that lies within a box of degrees.

        Raises
        ------
        BadInput
            Where nothing of it can be shown.
        """
        west, south, east, north = lonlat
        # A box without a width or a height, round a single place, is no area to geometry.
        box = shapely.segmentize(shapely.box(west, min(south, north - TINY), max(east, west + TINY), north), 1.0)
        bounds = self.project(np.array([box], dtype=object), LONLAT)[0].bounds
        if not bounds or not all(map(math.isfinite, bounds)):
            raise OffMap(f"Nothing between {west:g}, {south:g} and {east:g}, {north:g} can be shown in {self.name}.")
        return bounds

    def reach(self, bounds: Bounds) -> Bounds | None:
        """West, south, east, north in degrees of the ground in a box on the map, over the shorter way round: east is larger than
        180 where the 180th meridian is crossed. −180 to 180 where it goes all round; None where there is no ground."""
        shown = shapely.intersection(self.outline, shapely.box(*bounds))
        if shown.is_empty:
            return None
        left, bottom, right, top = shown.bounds
        x, y = np.meshgrid(np.linspace(left, right, SAMPLES), np.linspace(bottom, top, SAMPLES))
        inside, rim = shapely.contains_xy(shown, x, y), shapely.get_coordinates(shown)
        back = transformer_between(self.crs, LONLAT)
        lon, lat = back.transform(np.append(x[inside], rim[:, 0]), np.append(y[inside], rim[:, 1]), errcheck=False)
        there = np.isfinite(lon) & np.isfinite(lat)
        if not there.any():
            return None
        lon, lat = (lon[there] + 180) % 360 - 180, lat[there]
        west, east = shorter_way(lon, lon)
        poles = [pole for pole in (-90.0, 90.0) if self._shows_pole(pole, shown)]
        south, north = min([float(lat.min()), *poles]), max([float(lat.max()), *poles])
        return (-180.0, south, 180.0, north) if poles or east - west > 360 - ROUND_GAP else (west, south, east, north)

    def _shows_pole(self, latitude: float, ground: shapely.Geometry) -> bool:
        """Whether a pole is a place like any other in some ground of the map: elsewhere it is an edge."""
        if self.domain.family != "azimuthal":
            return False
        x, y = transformer_between(LONLAT, self.crs).transform(0.0, latitude, errcheck=False)
        return bool(math.isfinite(x) and math.isfinite(y) and shapely.intersects_xy(ground, x, y))

    def lonlat_bounds(self, bounds: Bounds) -> Bounds:
        """West, south, east, north in degrees of what a box on the map shows of the globe; all the way round where it lies
        across the 180th meridian.

        >>> [round(v, 4) for v in MERCATOR.lonlat_bounds(MERCATOR.grid.extent)]
        [-180.0, -85.0511, 180.0, 85.0511]
        """
        if self.domain.family == "cylinder" and self.domain.middle == 0:
            back = transformer_between(self.crs, LONLAT)
            (west, east), (south, north) = back.transform(bounds[::2], bounds[1::2])
            return float(west), float(south), float(east), float(north)
        reach = self.reach(bounds)
        if reach is None:
            return -180.0, -90.0, 180.0, 90.0
        west, south, east, north = reach
        return (west, south, east, north) if east <= 180 else (-180.0, south, 180.0, north)

    @cached_property
    def outline(self) -> shapely.Geometry:
        """The edge of all that can be shown, in coordinates of the frame: the sea of a world map.

        >>> round(Frame.named("EPSG:8857").outline.bounds[2])
        17243959
        """
        return self._placed(np.array([shapely.segmentize(self.domain.area, 5.0)], dtype=object), TOLERANCE)[0]

    def _placed(self, inside: Shapes, tolerance: float) -> Shapes:
        """Shapes within the domain, in degrees counted from its middle, in coordinates of the frame."""
        out = moved(inside, self._from_turned, tolerance * self.unit, SPLITS)
        if self.domain.family == "azimuthal":
            out = joined_over_the_seam(out, inside, SNAP * self.unit)
        return mended(out)

    def _checked(self, shapes: Shapes) -> Shapes:
        """Shapes that are in this CRS already. Raises BadInput where they lie several times round the world."""
        furthest = np.nan_to_num(np.abs(shapely.total_bounds(shapes))).max(initial=0.0)
        if furthest > FURTHEST * np.abs(self.outline.bounds).max():
            raise BadInput(
                f"The coordinates run to {furthest:g}, which is several times round the world.",
                "Is the projection the right one?",
            )
        return shapes

    def _from_turned(self, xy: Coordinates) -> Coordinates:
        """Degrees counted from the middle → coordinates. The two sides of the seam are told apart by a hair's breadth."""
        lon = np.clip(xy[:, 0], -180 + 1e-9, 180 - 1e-9) if self.domain.family != "azimuthal" else xy[:, 0]
        turned = np.column_stack([lon + self.domain.middle, xy[:, 1]])
        there = transformer_between(LONLAT, self.crs)
        return np.asarray(
            side_by_side(lambda part: np.column_stack(there.transform(part[:, 0], part[:, 1], errcheck=False)), turned)
        )


def _edges(frame: Frame) -> Bounds:
    """The box around all that a frame shows. Raises BadInput where that is nothing, or lies nowhere."""
    try:
        bounds = frame.outline.bounds
    except shapely.errors.GEOSException:  # a domain without any extent
        bounds = ()
    if len(bounds) != 4 or not all(map(math.isfinite, bounds)):
        raise BadInput(f"{frame.name} shows no part of the globe.", "Are its parameters the right ones?")
    return bounds


def _made_grid(crs: pyproj.CRS) -> Grid:
    """Tiles for a projection that no set is registered for: levels show as much ground on a px as those of WebMercatorQuad do
    at the equator, so that a level means the same everywhere; the projection's whole outline lies in the middle of level 0."""
    # A frame without tiles is enough to ask for its outline.
    west, south, east, north = _edges(Frame(crs, Grid.called("WebMercatorQuad")))
    side = 360.0 if crs.is_geographic else WORLD * crs_unit(crs)
    columns, rows = math.ceil((east - west) / side), math.ceil((north - south) / side)
    if max(columns, rows) > WIDEST:
        raise BadInput(f"{crs_name(crs)} pulls the globe apart without end.", "Are its parameters the right ones?")
    left, top = (west + east - columns * side) / 2, (south + north + rows * side) / 2
    code = crs.to_epsg(min_confidence=100)
    return Grid(f"EPSG{code}Quad" if code else "CustomQuad", crs, left, top, side, columns, rows)


def _lonlat_from(source: pyproj.CRS) -> Move:
    there = transformer_between(source, LONLAT)
    return lambda xy: np.column_stack(there.transform(xy[:, 0], xy[:, 1]))


MERCATOR = Frame.named("EPSG:3857")
"""Where maps lie whose sheet names no projection."""
