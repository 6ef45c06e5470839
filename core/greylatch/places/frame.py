"""Where a map lies: a projection with its tiles, and how shapes get there whole."""

import hashlib
import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np
import pyproj
import shapely
from numpy.typing import NDArray

from greylatch.errors import BadInput, OffMap
from greylatch.places.antimeridian import cut_at_antimeridian
from greylatch.places.bounds import Bounds
from greylatch.places.crs import LONLAT, WEB_MERCATOR, crs_name, parse_crs, reproject, transformer_between
from greylatch.places.domain import METRES_TO_A_DEGREE, Domain, crs_unit, domain_of
from greylatch.places.grid import WORLD, Grid
from greylatch.places.longitudes import shorter_way
from greylatch.tables.dataset import Shapes

__all__ = ["MERCATOR", "Frame"]

Coordinates = NDArray[np.float64]
Move = Callable[[Coordinates], Coordinates]
SPLITS = 9
"""How often an edge is halved at most: 512 pieces."""
TOLERANCE = 10.0
"""Metres by which an edge may miss its true course: a tenth of a millimetre on a map of 1 : 100,000."""
POINT = 0
"""What shapely calls a single point."""
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
        made for it.

        Raises
        ------
        BadInput
            As `parse_crs` does.
        """
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
        """Code and name, as people see it."""
        return crs_name(self.crs)

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
            else _moved(shapes, _lonlat_from(source), tolerance / METRES_TO_A_DEGREE, SPLITS)
        )
        turned = _turned(cut_at_antimeridian(lonlat), -self.domain.middle)
        return self._placed(_within(turned, self.domain.area), tolerance)

    @cached_property
    def digest(self) -> str:
        """A short name for caches: two frames of one name place everything alike."""
        return hashlib.sha256(f"{self.crs.to_wkt()} {self.grid.name}".encode()).hexdigest()[:16]

    @cached_property
    def unit(self) -> float:
        """Units of the CRS to a metre."""
        return crs_unit(self.crs)

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
        out = _moved(inside, self._from_turned, tolerance * self.unit, SPLITS)
        if self.domain.family == "azimuthal":
            out = _joined_over_the_seam(out, inside, SNAP * self.unit)
        return _mended(out)

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
        there = transformer_between(LONLAT, self.crs)
        return np.column_stack(there.transform(lon + self.domain.middle, xy[:, 1], errcheck=False))


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


def _turned(shapes: Shapes, by: float) -> Shapes:
    """Shapes in degrees with longitudes counted from another meridian, cut at its other side."""
    if by == 0:
        return shapes
    moved = shapely.transform(shapes, lambda xy: np.column_stack([xy[:, 0] + by, xy[:, 1]]))
    out = cut_at_antimeridian(moved)
    several = shapely.get_num_geometries(out) > 1
    areas = several & (shapely.get_dimensions(out) == 2)
    # What was cut at the 180th meridian only is one again.
    out[areas] = [shapely.union_all(shapely.get_parts(area), grid_size=1e-9) for area in out[areas]]
    return out


def _within(shapes: Shapes, area: shapely.Geometry) -> Shapes:
    """What of each shape lies within `area`, of the kind that it was."""
    shapely.prepare(area)
    out = shapes.copy()
    there = ~shapely.is_missing(shapes) & ~shapely.is_empty(shapes)
    for i in np.flatnonzero(there & ~shapely.covers(area, shapes)):
        shape = shapes[i]
        if not shape.is_valid:
            shape = shapely.make_valid(shape, method="structure", keep_collapsed=False)
        left = shapely.intersection(shape, area)
        wanted = shapely.get_dimensions(shape)
        parts = [part for part in shapely.get_parts(left) if shapely.get_dimensions(part) == wanted]
        kinds = (shapely.multipoints, shapely.multilinestrings, shapely.multipolygons)
        out[i] = parts[0] if len(parts) == 1 else kinds[int(wanted)](parts) if parts else shapely.GeometryCollection()
    return out


def _moved(shapes: Shapes, move: Move, tolerance: float, splits: int) -> Shapes:
    """Shapes with every coordinate moved, and their edges halved until none misses its course by more than `tolerance`."""
    if (shapely.get_type_id(shapes) == POINT).all() and not shapely.is_empty(shapes).any():
        return shapely.points(_finite(move(shapely.get_coordinates(shapes)), np.arange(len(shapes))))
    if splits:
        bent = _bent(shapes, move, tolerance)
        shapes = shapes.copy()
        areas = shapely.get_dimensions(shapes[bent]) == 2
        for some in (bent[areas], bent[~areas]):
            if len(some):
                shapes[some] = _followed(shapes[some], move, tolerance, splits)
    out = shapely.transform(shapes, move)
    _finite(*shapely.get_coordinates(out, return_index=True))
    return out


def _finite(xy: Coordinates, owner: NDArray[np.int64]) -> Coordinates:
    """Coordinates, all of which are places. Raises BadInput that names the row of one that is none."""
    if not np.isfinite(xy).all():
        row = int(owner[np.argmax(~np.isfinite(xy).all(axis=1))])
        raise BadInput(f"Row {row + 1} has a coordinate without a place in the projection.", "Is it the right one?")
    return xy


def _bent(shapes: Shapes, move: Move, tolerance: float) -> NDArray[np.int64]:
    """Which of `shapes` have an edge that `move` bends by more than `tolerance`: mostly few, and the others are left alone."""
    parts, of_shape = shapely.get_parts(shapes, return_index=True)
    area = shapely.get_dimensions(parts) == 2
    rings, of_part = shapely.get_rings(parts[area], return_index=True)
    line = shapely.get_dimensions(parts) == 1
    edges = np.concatenate([rings, parts[line]])
    owner = np.concatenate([of_shape[area][of_part], of_shape[line]])
    xy, of_edge = shapely.get_coordinates(edges, return_index=True)
    if len(xy) == 0:
        return np.array([], dtype=np.int64)
    along = of_edge[1:] == of_edge[:-1]
    miss = _miss(xy, move)
    return np.unique(owner[of_edge[:-1][along & (miss > tolerance)]])


def _miss(xy: Coordinates, move: Move) -> NDArray[np.float64]:
    """How far the middle of each edge lies off the straight line between its moved ends."""
    ends, middles = move(xy), move((xy[:-1] + xy[1:]) / 2)
    with np.errstate(invalid="ignore"):
        return np.asarray(np.hypot(*(middles - (ends[:-1] + ends[1:]) / 2).T))


def _followed(shapes: Shapes, move: Move, tolerance: float, splits: int) -> Shapes:
    """The same shapes, all areas or all lines, with more points where `move` bends their edges."""
    parts, of_shape = shapely.get_parts(shapes, return_index=True)
    areas = shapely.get_dimensions(shapes[0]) == 2
    lines, of_part = shapely.get_rings(parts, return_index=True) if areas else (parts, np.arange(len(parts)))
    xy, of_line = shapely.get_coordinates(lines, return_index=True)
    xy, of_line = _halved(xy, of_line, move, tolerance, splits)
    if areas:
        parts = shapely.polygons(shapely.linearrings(xy, indices=of_line), indices=of_part)
        return _gathered(parts, of_shape, len(shapes), shapely.multipolygons)
    return _gathered(shapely.linestrings(xy, indices=of_line), of_shape, len(shapes), shapely.multilinestrings)


def _gathered(parts: Shapes, of_shape: NDArray[np.int64], count: int, together: Callable[..., Shapes]) -> Shapes:
    """Parts as shapes again: one by itself where it is the only one."""
    out = together(parts, indices=of_shape, out=np.empty(count, dtype=object))
    several = np.bincount(of_shape, minlength=count) != 1
    out[~several] = parts[~several[of_shape]]
    return np.asarray(out)


def _halved(
    xy: Coordinates, owner: NDArray[np.int64], move: Move, tolerance: float, splits: int
) -> tuple[Coordinates, NDArray[np.int64]]:
    """The places of lines, and to which line each belongs, with every edge halved that bends too much, and its halves again."""
    for _ in range(splits):
        bends = (_miss(xy, move) > tolerance) & (owner[1:] == owner[:-1])
        if not bends.any():
            break
        middles = (xy[:-1] + xy[1:]) / 2
        at = np.flatnonzero(bends) + 1
        xy, owner = np.insert(xy, at, middles[bends], axis=0), np.insert(owner, at, owner[:-1][bends])
    return xy, owner


def _joined_over_the_seam(shapes: Shapes, degrees: Shapes, snap: float) -> Shapes:
    """Parts that touch the far side of an azimuthal map grow together there: on it the seam is a line like any other."""
    out = shapes.copy()
    for i in np.flatnonzero(_at_seam(degrees)):
        parts, before = shapely.get_parts(shapes[i]), shapely.get_parts(degrees[i])
        touching = _at_seam(before) if len(parts) == len(before) else np.ones(len(parts), dtype=bool)
        if shapely.get_dimensions(shapes[i]) == 2:
            sound = shapely.make_valid(parts[touching], method="structure", keep_collapsed=False)
            # A union of one is given back as it is; rounding joins its two sides just so.
            whole = (
                shapely.set_precision(sound[0], snap) if len(sound) == 1 else shapely.union_all(sound, grid_size=snap)
            )
            grown = shapely.get_parts(whole)
            out[i] = shapely.multipolygons(np.concatenate([grown, parts[~touching]]))
        elif shapely.get_dimensions(shapes[i]) == 1:
            grown = shapely.get_parts(shapely.line_merge(shapely.union_all(parts[touching], grid_size=snap)))
            out[i] = shapely.multilinestrings(np.concatenate([grown, parts[~touching]]))
        if shapely.get_num_geometries(out[i]) == 1:
            out[i] = shapely.get_geometry(out[i], 0)
    return out


def _at_seam(degrees: Shapes) -> NDArray[np.bool_]:
    bounds = shapely.bounds(degrees)
    with np.errstate(invalid="ignore"):
        return np.asarray((bounds[:, 0] <= -180 + 1e-6) | (bounds[:, 2] >= 180 - 1e-6))


def _mended(shapes: Shapes) -> Shapes:
    """Areas that rounding let touch themselves are areas again. Of shapes in many parts only the broken ones are remade; the
    whole only where that is not enough, which takes a hundred times as long."""
    broken = np.flatnonzero(~shapely.is_valid(shapes) & (shapely.get_dimensions(shapes) == 2))
    out = shapes.copy()
    for i in broken:
        parts = shapely.get_parts(shapes[i])
        wrong = ~shapely.is_valid(parts)
        parts[wrong] = shapely.make_valid(parts[wrong], method="structure", keep_collapsed=False)
        parts = shapely.get_parts(parts)
        whole = parts[0] if len(parts) == 1 else shapely.multipolygons(parts)
        out[i] = (
            whole if shapely.is_valid(whole) else shapely.make_valid(whole, method="structure", keep_collapsed=False)
        )
    return out


MERCATOR = Frame.named("EPSG:3857")
"""Where maps lie whose sheet names no projection."""
