"""Where a map lies: a projection, and how shapes get there whole."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import pyproj
import shapely
from numpy.typing import NDArray

from greylatch.errors import BadInput
from greylatch.places.antimeridian import cut_at_antimeridian
from greylatch.places.crs import LONLAT, crs_name, parse_crs, reproject, transformer_between
from greylatch.places.domain import METRES_TO_A_DEGREE, Domain, crs_unit, domain_of
from greylatch.tables.dataset import Shapes

Coordinates = NDArray[np.float64]
Move = Callable[[Coordinates], Coordinates]
SPLITS = 9
"""How often an edge is halved at most: 512 pieces."""
TOLERANCE = 10.0
"""Metres by which an edge may miss its true course: a tenth of a millimetre on a map of 1 : 100,000."""
SNAP = 1e-3
"""Metres within which two sides of a seam are one."""


@dataclass(frozen=True)
class Frame:
    """A coordinate reference system as a place for maps.

    >>> Frame.named("EPSG:8857").name
    'EPSG:8857 · WGS 84 / Equal Earth Greenwich'
    """

    crs: pyproj.CRS

    @classmethod
    def named(cls, text: str) -> "Frame":
        """The frame of 'EPSG:8857' or of a PROJ string. Raises BadInput as `parse_crs` does."""
        return cls(parse_crs(text))

    @property
    def name(self) -> str:
        """Code and name, as people see it."""
        return crs_name(self.crs)

    @cached_property
    def domain(self) -> Domain:
        """The part of the globe that can be shown here."""
        return domain_of(self.crs)

    def project(self, shapes: Shapes, source: pyproj.CRS, tolerance: float = TOLERANCE) -> Shapes:
        """`shapes` from their own CRS into this one, one for one: cut at the projection's seam and at its limits, edges
        followed where they bend to within `tolerance` metres. What lies wholly outside becomes empty; a shape that falls into
        several parts stays one.

        Raises BadInput where a coordinate has no place on earth.
        """
        if source == self.crs and not source.is_geographic:
            return shapes
        lonlat = (
            reproject(shapes, source, LONLAT)
            if source.is_geographic
            else _moved(shapes, _lonlat_from(source), tolerance / METRES_TO_A_DEGREE, SPLITS)
        )
        turned = _turned(cut_at_antimeridian(lonlat), -self.domain.middle)
        return self._placed(_within(turned, self.domain.area), tolerance)

    def outline(self) -> shapely.Geometry:
        """The edge of all that can be shown, in coordinates of the frame: the sea of a world map.

        >>> round(Frame.named("EPSG:8857").outline().bounds[2])
        17243959
        """
        return self._placed(np.array([shapely.segmentize(self.domain.area, 5.0)], dtype=object), TOLERANCE)[0]

    def _placed(self, inside: Shapes, tolerance: float) -> Shapes:
        """Shapes within the domain, in degrees counted from its middle, in coordinates of the frame."""
        out = _moved(inside, self._from_turned, tolerance * crs_unit(self.crs), SPLITS)
        if self.domain.family == "azimuthal":
            out = _joined_over_the_seam(out, inside, SNAP * crs_unit(self.crs))
        return _mended(out)

    def _from_turned(self, xy: Coordinates) -> Coordinates:
        """Degrees counted from the middle → coordinates. The two sides of the seam are told apart by a hair's breadth."""
        lon = np.clip(xy[:, 0], -180 + 1e-9, 180 - 1e-9) if self.domain.family != "azimuthal" else xy[:, 0]
        there = transformer_between(LONLAT, self.crs)
        return np.column_stack(there.transform(lon + self.domain.middle, xy[:, 1], errcheck=False))


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
    out[areas] = [shapely.union_all(shapely.get_parts(one), grid_size=1e-9) for one in out[areas]]
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
    if splits:
        bent = _bent(shapes, move, tolerance)
        shapes = shapes.copy()
        shapes[bent] = [_followed(shape, move, tolerance, splits) for shape in shapes[bent]]
    out = shapely.transform(shapes, move)
    xy, owner = shapely.get_coordinates(out, return_index=True)
    if not np.isfinite(xy).all():
        row = int(owner[np.argmax(~np.isfinite(xy).all(axis=1))])
        raise BadInput(f"Row {row + 1} has a coordinate without a place in the projection.", "Is it the right one?")
    return out


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


def _followed(shape: shapely.Geometry, move: Move, tolerance: float, splits: int) -> shapely.Geometry:
    """The same shape with more points where `move` bends its edges."""
    if shape.geom_type in ("LineString", "LinearRing"):
        xy = _halved(shapely.get_coordinates(shape), move, tolerance, splits)
        return shapely.LineString(xy) if shape.geom_type == "LineString" else shapely.LinearRing(xy)
    if shape.geom_type == "Polygon":
        rings = [_followed(ring, move, tolerance, splits) for ring in shapely.get_rings(shape)]
        return shapely.Polygon(rings[0], rings[1:])
    if shape.geom_type in ("MultiPolygon", "MultiLineString"):
        parts = [_followed(part, move, tolerance, splits) for part in shapely.get_parts(shape)]
        return shapely.multipolygons(parts) if shape.geom_type == "MultiPolygon" else shapely.multilinestrings(parts)
    return shape


def _halved(xy: Coordinates, move: Move, tolerance: float, splits: int) -> Coordinates:
    for _ in range(splits):
        bends = _miss(xy, move) > tolerance
        if not bends.any():
            break
        middles = (xy[:-1] + xy[1:]) / 2
        xy = np.insert(xy, np.flatnonzero(bends) + 1, middles[bends], axis=0)
    return xy


def _joined_over_the_seam(shapes: Shapes, degrees: Shapes, snap: float) -> Shapes:
    """Parts that touch the far side of an azimuthal map grow together there: on it the seam is a line like any other."""
    bounds = shapely.bounds(degrees)
    with np.errstate(invalid="ignore"):
        at_seam = (bounds[:, 0] <= -180 + 1e-6) | (bounds[:, 2] >= 180 - 1e-6)
    out = shapes.copy()
    for i in np.flatnonzero(at_seam):
        if shapely.get_dimensions(shapes[i]) == 2:
            parts = shapely.make_valid(shapely.get_parts(shapes[i]), method="structure", keep_collapsed=False)
            out[i] = shapely.union_all(parts, grid_size=snap)
        elif shapely.get_dimensions(shapes[i]) == 1:
            out[i] = shapely.line_merge(shapely.union_all(shapely.get_parts(shapes[i]), grid_size=snap))
    return out


def _mended(shapes: Shapes) -> Shapes:
    """Areas that rounding let touch themselves are areas again."""
    broken = ~shapely.is_valid(shapes) & (shapely.get_dimensions(shapes) == 2)
    out = shapes.copy()
    out[broken] = shapely.make_valid(shapes[broken], method="structure", keep_collapsed=False)
    return out
