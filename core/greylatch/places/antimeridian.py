"""Shapes across the 180th meridian, cut there as RFC 7946 (3.1.9) asks, so that nothing is drawn round the world."""

import warnings
from functools import reduce

import antimeridian
import numpy as np
import shapely
from numpy.typing import NDArray

from greylatch.places.mending import mended
from greylatch.tables.dataset import Shapes

__all__ = ["MOST_LONGITUDE", "crosses_antimeridian", "cut_at_antimeridian"]

HALF_TURN = 180.0
AREA = 3
"""What GEOS counts a polygon as."""
MOST_TURNS = 3
MOST_LONGITUDE = HALF_TURN + 360 * MOST_TURNS
"""Who draws on a map that repeats itself counts on, each time round the world; longitudes further off are none."""


def cut_at_antimeridian(shapes: Shapes) -> Shapes:
    """`shapes` in longitude and latitude with those that run over the 180th meridian cut there, and all longitudes between
    −180 and 180. A shape of one part becomes one of several parts. What does not cross is the same object.

    An edge that spans more than half a turn goes the short way, over the meridian. Of rectangles, which may as well be boxes
    of the world, only those that run clockwise on paper do: such a ring is the one of RFC 7946 that crosses.

    >>> cut_at_antimeridian(np.array([shapely.from_wkt("POLYGON ((170 0, -170 0, -170 10, 170 10, 170 0))"), None]))[0].area
    200.0
    """
    crossing = crosses_antimeridian(shapes)
    if not crossing.any():
        return shapes
    out = shapes.copy()
    for i in np.flatnonzero(crossing):
        out[i] = _cut(shapes[i])
    return out


def crosses_antimeridian(shapes: Shapes) -> NDArray[np.bool_]:
    """Which shapes have an edge of more than half a turn, or longitudes beyond ±180."""
    bounds = shapely.bounds(shapes)
    wide = (bounds[:, 2] - bounds[:, 0] > HALF_TURN) | (bounds[:, 0] < -HALF_TURN) | (bounds[:, 2] > HALF_TURN)
    beyond = (bounds[:, 0] < -HALF_TURN) | (bounds[:, 2] > HALF_TURN)
    looked_at = np.flatnonzero(wide & ~beyond)
    beyond[looked_at] = _with_a_long_edge(shapes[looked_at])
    return beyond


def _with_a_long_edge(shapes: Shapes) -> NDArray[np.bool_]:
    """Which have an edge of more than half a turn in a part that is no box."""
    parts, owner = shapely.get_parts(shapes, return_index=True)
    are_areas = shapely.get_type_id(parts) == AREA
    areas, others = np.flatnonzero(are_areas), np.flatnonzero(~are_areas)
    rings, area = shapely.get_rings(parts[areas], return_index=True)
    xy, line = shapely.get_coordinates(np.concatenate([rings, parts[others]]), return_index=True)
    # Along a pole an edge may go all the way round: that is how a ring that was cut already closes there.
    at_pole = np.abs(xy[:-1, 1] + xy[1:, 1]) > 2 * 89.9
    long = (line[1:] == line[:-1]) & (np.abs(np.diff(xy[:, 0])) > HALF_TURN) & ~at_pole
    crossing = np.zeros(len(parts), dtype=np.bool_)
    crossing[np.concatenate([areas[area], others])[line[1:][long]]] = True
    for i in np.flatnonzero(crossing & are_areas):
        crossing[i] = not _is_box(parts[i])
    out = np.zeros(len(shapes), dtype=np.bool_)
    out[owner[crossing]] = True
    return out


def _is_box(part: shapely.Polygon) -> bool:
    """A rectangle that is to be taken as it stands."""
    if part.interiors or len(part.exterior.coords) > 5 or not part.equals(shapely.envelope(part)):
        return False
    west, _, east, _ = part.bounds
    return bool(part.exterior.is_ccw) or east - west >= 2 * HALF_TURN


def _cut(shape: shapely.Geometry) -> shapely.Geometry:
    parts: list[shapely.Geometry] = []
    for part in shapely.get_parts(shape):
        if part.is_empty:
            continue
        if part.geom_type == "Point":
            parts.append(shapely.Point((part.x + HALF_TURN) % 360 - HALF_TURN, part.y))
        else:
            parts += _pieces(part)
    if len(parts) == 1:
        return parts[0]
    kinds = {"Point": shapely.MultiPoint, "Polygon": shapely.MultiPolygon, "LineString": shapely.MultiLineString}
    return kinds[parts[0].geom_type](parts) if parts else shapely.GeometryCollection()


def _pieces(part: shapely.Polygon | shapely.LineString) -> list[shapely.Geometry]:
    """A line or a simple polygon in pieces that do not cross."""
    if not _with_a_long_edge(np.array([part], dtype=object))[0]:
        return _turned_back(part) if _beyond(part) else _of_kind(part, part)
    try:
        if part.geom_type == "LineString":
            return _of_kind(antimeridian.fix_line_string(part, great_circle=False), part)
        if part.is_valid and not _round_a_pole(part):
            with warnings.catch_warnings():
                warnings.simplefilter("ignore")  # on winding, which in strangers' files says nothing
                return _of_kind(antimeridian.fix_polygon(part, fix_winding=True, great_circle=False), part)
    except (ValueError, AssertionError):  # the latter for holes that it can't give to a piece
        pass
    # Rings that cross themselves or go round a pole are followed edge by edge instead.
    if part.geom_type == "LineString":
        return _turned_back(shapely.LineString(_followed(part)))
    # What lies in one ring and not in the other: a hole may go round the pole too, and then is the larger one on paper.
    areas = [shapely.union_all(_turned_back(shapely.Polygon(_followed(ring)))) for ring in shapely.get_rings(part)]
    return _of_kind(reduce(shapely.symmetric_difference, areas), part)


def _beyond(part: shapely.Geometry) -> bool:
    west, _, east, _ = part.bounds
    return bool(west < -HALF_TURN or east > HALF_TURN)


def _round_a_pole(part: shapely.Polygon) -> bool:
    """Whether the outer ring, followed the short way, comes back a whole turn further."""
    x = np.unwrap(shapely.get_coordinates(part.exterior)[:, 0], period=360)
    return bool(abs(x[-1] - x[0]) > HALF_TURN)


def _followed(ring: shapely.LinearRing | shapely.LineString) -> NDArray[np.float64]:
    """The same with longitudes that run on past ±180, each edge going the short way; a ring round a pole goes on along it."""
    xy = shapely.get_coordinates(ring)
    x = np.unwrap(xy[:, 0], period=360)
    out = np.column_stack([x, xy[:, 1]])
    if ring.geom_type == "LineString" or abs(x[-1] - x[0]) < HALF_TURN:
        return out
    pole = 90.0 if xy[:, 1].mean() > 0 else -90.0
    return np.vstack([out, [[x[-1], pole], [x[0], pole], out[0]]])


def _turned_back(part: shapely.Geometry) -> list[shapely.Geometry]:
    """Of a shape that is counted on beyond ±180 (from 0 to 360, say) the pieces between its meridians of 180, turned back."""
    part = mended(np.array([part]))[0]
    if part.is_empty:
        return []
    west, _, east, _ = part.bounds
    first, last = (int(np.floor((edge + HALF_TURN) / 360)) for edge in (west, east))
    pieces: list[shapely.Geometry] = []
    for turn in range(max(first, -MOST_TURNS), min(last, MOST_TURNS) + 1):
        middle = 360 * turn
        inside = shapely.intersection(part, shapely.box(middle - HALF_TURN, -91, middle + HALF_TURN, 91))
        pieces += _of_kind(shapely.transform(inside, lambda xy, middle=middle: xy - [middle, 0]), part)
    return pieces


def _of_kind(shape: shapely.Geometry, like: shapely.Geometry) -> list[shapely.Geometry]:
    """The parts of `shape` that are of the kind of `like`, valid; touching the meridian leaves points and lines besides."""
    shape = mended(np.array([shape]))[0]
    wanted = like.geom_type.removeprefix("Multi")
    return [part for part in shapely.get_parts(shape) if part.geom_type == wanted and not part.is_empty]
