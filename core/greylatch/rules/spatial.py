"""Spatial relations of CQL2 (OGC 06-103r4, as GEOS has them) and distance on the ground, of shapes in longitude and latitude."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np
import pyarrow as pa
import pyproj
import shapely
from numpy.typing import NDArray

from greylatch.errors import BadInput
from greylatch.tables.dataset import Shapes

__all__ = ["SPATIAL", "UNITS", "FixedShapes", "within_distance"]

GEOD = pyproj.Geod(ellps="WGS84")
UNITS = {"m": 1.0, "km": 1000.0, "mi": 1609.344, "ft": 0.3048, "nmi": 1852.0}
"""Metres to a unit."""
WRITTEN_OUT = {
    "metres": "m", "meters": "m", "kilometres": "km", "kilometers": "km", "miles": "mi", "statute miles": "mi", "feet": "ft",
    "nautical miles": "nmi",
}  # fmt: skip
"""The same in words, among them those of OGC 07-006r1, 6.2.2 (from memory)."""
METRES = 110_500.0
"""To a degree of latitude, at least."""
BAND = 0.25
"""Degrees of latitude in which a degree of longitude is taken to be equally long when the nearest places are looked for."""


@dataclass(frozen=True)
class FixedShapes:
    """Shapes that are the same for every row: a literal, or those of another dataset. A relation holds where it does for any."""

    shapes: Shapes


def _relation(name: str, inverse: str) -> Callable[[Any, Any], Any]:
    """Where rows stand in a relation, `inverse` the one seen from the other side. Rows without a shape are neither in it nor not."""
    relate = getattr(shapely, name)

    def related(a: Shapes | FixedShapes, b: Shapes | FixedShapes) -> Any:
        if isinstance(a, FixedShapes):
            if isinstance(b, FixedShapes):
                return pa.scalar(bool(any(relate(shape, b.shapes).any() for shape in a.shapes)))
            return _among(b, a.shapes, name)
        if isinstance(b, FixedShapes):
            return _among(a, b.shapes, inverse)
        return _with_missing(relate(a, b), a, b)

    return related


def _among(rows: Shapes, fixed: Shapes, relation: str) -> Any:
    """Whether one of `fixed` stands in a relation to each row. They are few and the rows many: it is they that are prepared."""
    tree = shapely.STRtree(rows)
    if relation == "equals":
        of_fixed, of_row = tree.query(fixed)
        of_row = of_row[shapely.equals(fixed[of_fixed], rows[of_row])]
    else:
        _, of_row = tree.query(fixed, predicate=relation)
    out = np.zeros(len(rows), dtype=np.bool_)
    out[of_row] = True
    return _with_missing(out, rows)


def _disjoint(a: Shapes | FixedShapes, b: Shapes | FixedShapes) -> Any:
    touching = SPATIAL["s_intersects"](a, b)
    return pa.compute.invert(touching)


def _with_missing(out: NDArray[np.bool_], *rows: Shapes) -> pa.Array:
    nothing = np.any([shapely.is_missing(shapes) | shapely.is_empty(shapes) for shapes in rows], axis=0)
    return pa.array(out, mask=nothing)


SPATIAL: Mapping[str, Callable[[Any, Any], Any]] = {
    "s_intersects": _relation("intersects", "intersects"),
    "s_within": _relation("within", "contains"),
    "s_contains": _relation("contains", "within"),
    "s_disjoint": _disjoint,
    "s_equals": _relation("equals", "equals"),
    "s_touches": _relation("touches", "touches"),
    "s_crosses": _relation("crosses", "crosses"),
    "s_overlaps": _relation("overlaps", "overlaps"),
}


def within_distance(a: Shapes | FixedShapes, b: Shapes | FixedShapes, distance: Any, unit: Any = None) -> Any:
    """Where two shapes come as near to each other as a distance on the ground, on the WGS 84 ellipsoid.

    The nearest places are found in degrees whose longitudes are shortened as they are there, and the geodesic between them is
    measured (Karney 2013, through pyproj.Geod): of points exactly, of lines and areas to about a thousandth for distances of up to
    some hundred kilometres.

    Parameters
    ----------
    a, b : Shapes | FixedShapes
        In longitude and latitude: one for each row, or the same for all.
    distance : pa.Scalar
        How far.
    unit : pa.Scalar | None
        One of `UNITS`; None for metres.

    Returns
    -------
    pa.Array | pa.Scalar
        Truth values, null for a row without a shape.

    Raises
    ------
    BadInput
        For another unit, and for a distance that is not the same for all rows.
    """
    metres = _metres(distance, unit)
    if isinstance(a, FixedShapes) and isinstance(b, FixedShapes):
        pair = np.array([shapely.union_all(a.shapes)]), np.array([shapely.union_all(b.shapes)])
        return pa.scalar(bool(_distances(*pair)[0] <= metres))
    if isinstance(a, FixedShapes) or isinstance(b, FixedShapes):
        fixed, rows = (a, b) if isinstance(a, FixedShapes) else (b, a)
        assert isinstance(fixed, FixedShapes) and not isinstance(rows, FixedShapes)
        return _with_missing(_near(rows, fixed.shapes, metres), rows)
    there = ~(shapely.is_missing(a) | shapely.is_empty(a) | shapely.is_missing(b) | shapely.is_empty(b))
    out = np.zeros(len(a), dtype=np.bool_)
    out[there] = _distances(a[there], b[there]) <= metres
    return pa.array(out, mask=~there)


def _metres(distance: Any, unit: Any) -> float:
    name = "m" if unit is None else str(unit.as_py() if isinstance(unit, pa.Scalar) else unit).strip()
    name = WRITTEN_OUT.get(name.lower(), name)
    if name not in UNITS:
        raise BadInput(f"'{name}' is no unit of length.", f"There are {', '.join(UNITS)}.")
    if not isinstance(distance, pa.Scalar) or not distance.is_valid:
        raise BadInput("The distance has to be a number, the same for all rows.")
    return float(distance.as_py()) * UNITS[name]


def _near(rows: Shapes, fixed: Shapes, metres: float) -> NDArray[np.bool_]:
    """Which rows lie within a distance of any of `fixed`: those whose box comes near are measured."""
    out = np.zeros(len(rows), dtype=np.bool_)
    if not len(fixed) or metres < 0:
        return out
    tree = shapely.STRtree(rows)
    for turn in (-360.0, 0.0, 360.0):
        # What lies beyond the 180th meridian is near too.
        turned = fixed if turn == 0 else shapely.transform(fixed, lambda xy, turn=turn: xy + np.array([turn, 0]))
        of_fixed, of_row = tree.query(_boxes_around(turned, metres))
        left = ~out[of_row]
        of_fixed, of_row = of_fixed[left], of_row[left]
        near = _distances(turned[of_fixed], rows[of_row]) <= metres
        out[of_row[near]] = True
    return out


def _boxes_around(shapes: Shapes, metres: float) -> Shapes:
    west, south, east, north = shapely.bounds(shapes).T
    high = metres / METRES
    south, north = south - high, north + high
    furthest = np.minimum(np.maximum(np.abs(south), np.abs(north)), 90)
    # Near a pole all longitudes are near.
    with np.errstate(divide="ignore"):
        wide = np.where(furthest >= 89.9, 360.0, high / np.maximum(np.cos(np.radians(furthest)), 1e-9))
    wide = np.minimum(wide, 360.0)
    return np.asarray(shapely.box(west - wide, south, east + wide, north))


def _distances(a: Shapes, b: Shapes) -> NDArray[np.float64]:
    """Metres on the ground between pairs of shapes."""
    if not len(a):
        return np.empty(0)
    if (shapely.get_type_id(a) == 0).all() and (shapely.get_type_id(b) == 0).all():
        (ax, ay), (bx, by) = shapely.get_coordinates(a).T, shapely.get_coordinates(b).T
        return np.asarray(GEOD.inv(ax, ay, bx, by)[2])
    bounds = shapely.bounds(np.where(_extent(a) <= _extent(b), a, b))
    band = np.round((bounds[:, 1] + bounds[:, 3]) / 2 / BAND).astype(np.int64)
    out = np.empty(len(a))
    for each in np.unique(band):
        which = np.flatnonzero(band == each)
        shorter = max(float(np.cos(np.radians(min(89.9, abs(each * BAND))))), 1e-3)
        lines = shapely.shortest_line(*(_narrowed(shapes[which], shorter) for shapes in (a, b)))
        xy = shapely.get_coordinates(lines).reshape(-1, 4)
        out[which] = GEOD.inv(xy[:, 0] / shorter, xy[:, 1], xy[:, 2] / shorter, xy[:, 3])[2]
    return out


def _extent(shapes: Shapes) -> NDArray[np.float64]:
    bounds = shapely.bounds(shapes)
    return np.asarray(np.hypot(bounds[:, 2] - bounds[:, 0], bounds[:, 3] - bounds[:, 1]))


def _narrowed(shapes: Shapes, by: float) -> Shapes:
    return np.asarray(shapely.transform(shapes, lambda xy: xy * [by, 1]))
