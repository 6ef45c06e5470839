"""Shapes from the nested coordinates of GeoJSON, all of a file at once: reading them one by one takes ten times as long."""

from collections.abc import Iterable, Sequence
from itertools import chain
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray

from greylatch.tables.dataset import Shapes

__all__ = ["shapes_at_once"]


def shapes_at_once(geometries: Sequence[Any]) -> Shapes | None:
    """Shapes of the `geometry` entries of GeoJSON's features where all are points, all lines, or all areas, and nothing is odd
    about any of them. None where that is not so: then each has to be looked at. The places of a line or ring may be an array.

    >>> shapes_at_once([{"type": "Point", "coordinates": [1, 2]}, None])
    array([<POINT (1 2)>, None], dtype=object)
    """
    present = [geometry for geometry in geometries if geometry is not None]
    if 0 < len(present) < len(geometries):
        shapes = shapes_at_once(present)
        if shapes is None:
            return None
        out = np.full(len(geometries), None, dtype=object)
        out[[geometry is not None for geometry in geometries]] = shapes
        return out
    try:
        kinds = {geometry["type"] for geometry in geometries}
        coordinates = [geometry["coordinates"] for geometry in geometries]
        if kinds == {"Point"}:
            return np.asarray(shapely.points(_places(coordinates)))
        if kinds == {"LineString"}:
            return np.asarray(shapely.linestrings(_along(coordinates), indices=_owners(coordinates)))
        if kinds <= {"Polygon", "MultiPolygon"}:
            return _areas(coordinates, np.array([geometry["type"] == "MultiPolygon" for geometry in geometries]))
    except (TypeError, LookupError, ValueError, OverflowError, shapely.errors.GEOSException):
        pass
    return None


def _areas(coordinates: Sequence[Any], multiple: NDArray[np.bool_]) -> Shapes | None:
    parts = [of if many else [of] for of, many in zip(coordinates, multiple.tolist(), strict=True)]
    polygons = list(chain.from_iterable(parts))
    rings = list(chain.from_iterable(polygons))
    xy, of_ring = _along(rings), _owners(rings)
    last = np.cumsum([len(ring) for ring in rings]) - 1
    first = np.append(0, last[:-1] + 1)
    # A ring that is not closed is told of, and an area without an outline is none.
    if not (xy[first] == xy[last]).all() or not all(map(len, parts)) or not all(map(len, polygons)):
        return None
    areas = shapely.polygons(shapely.linearrings(xy, indices=of_ring), indices=_owners(polygons))
    if not multiple.any():
        return np.asarray(areas)
    owner = _owners(parts)
    out = np.empty(len(parts), dtype=object)
    out[~multiple] = areas[~multiple[owner]]
    of_many = multiple[owner]
    _, numbered = np.unique(owner[of_many], return_inverse=True)
    out[multiple] = shapely.multipolygons(areas[of_many], indices=numbered)
    return out


def _along(lines: Sequence[Any]) -> NDArray[np.float64]:
    """(n, 2) places of all lines, one after the other."""
    if isinstance(lines[0], np.ndarray):
        return np.concatenate(lines)
    return _places(chain.from_iterable(lines))


def _places(places: Iterable[Any]) -> NDArray[np.float64]:
    """(n, 2) places. Raises ValueError or TypeError where one is no pair or triple of numbers like all others."""
    pairs = list(places)
    (size,) = set(map(len, pairs))
    if size not in (2, 3) or not set(map(type, chain.from_iterable(pairs))) <= {int, float}:
        raise ValueError
    # Three times as fast as to let numpy find out how the lists are nested.
    flat = np.fromiter(chain.from_iterable(pairs), np.float64, size * len(pairs))
    return np.ascontiguousarray(flat.reshape(-1, size)[:, :2])


def _owners(groups: Sequence[Any]) -> NDArray[np.intp]:
    """To which group each member belongs."""
    return np.repeat(np.arange(len(groups)), [len(group) for group in groups])
