"""Shapes as the painter's paths."""

import numpy as np
import shapely
import skia
from numpy.typing import NDArray

from greylatch.paint.thinning import thinned
from greylatch.places.bounds import Bounds
from greylatch.tables.dataset import Shapes

__all__ = ["outline_of", "outlines_of"]

SIMPLER = 0.1
"""Px by which an outline that is painted may be off the true one."""
MOVE, LINE, CLOSE = 0, 1, 5
"""The verbs of `skia.PathVerb`, as a path is written in memory."""
WORD = 4
"""Bytes to a multiple of which a path in memory is filled up."""


def outline_of(shape: shapely.Geometry, bounds: Bounds, resolution: float) -> skia.Path:
    """A shape's path in px at `resolution`, y down, measured from the upper left of `bounds`.

    Parameters
    ----------
    shape : shapely.Geometry
        The shape.
    bounds : Bounds
        West, south, east, north, in the frame.
    resolution : float
        Units of the frame to a px.

    Returns
    -------
    skia.Path

    Examples
    --------
    >>> outline_of(shapely.box(0, 0, 20, 10), (0, 0, 20, 10), 2).getBounds().height()
    5.0
    """
    return outlines_of(np.array([shape]), bounds, resolution)[0]


def outlines_of(shapes: Shapes, bounds: Bounds, resolution: float) -> list[skia.Path]:
    """The paths of many shapes, in the same way; all of one kind.

    Parameters
    ----------
    shapes : Shapes
        Lines, or areas.
    bounds : Bounds
        West, south, east, north, in the frame.
    resolution : float
        Units of the frame to a px.

    Returns
    -------
    list[skia.Path]
    """
    if not len(shapes):
        return []
    xy, of_line, of_shape, areal = _lines(shapes)
    kept = thinned(xy, of_line, areal, resolution * SIMPLER)
    last = np.append(of_line[1:] != of_line[:-1], True)[: len(of_line)]
    # The last place of a ring is its first: closing it says so. A line without a length is none.
    length = np.bincount(of_line, minlength=len(of_shape))
    kept &= (length - areal >= 2)[of_line] & ~(areal & last)
    first = np.append(True, last[:-1])[: len(of_line)]
    places = np.column_stack([(xy[kept, 0] - bounds[0]) / resolution, (bounds[3] - xy[kept, 1]) / resolution])
    begins, shape = first[kept], of_shape[of_line[kept]]
    verbs = np.where(begins, MOVE, LINE).astype(np.uint8)
    of_verb = shape
    if areal and len(begins):
        ends = np.append(begins[1:], True).nonzero()[0] + 1
        verbs, of_verb = np.insert(verbs, ends, CLOSE), np.insert(shape, ends, shape[ends - 1])
    return _paths(places.astype(np.float32), shape, verbs, of_verb, len(shapes))


def _lines(shapes: Shapes) -> tuple[NDArray[np.float64], NDArray[np.intp], NDArray[np.intp], bool]:
    """Places, to which line or ring each belongs, to which shape each of those belongs, and whether they are rings."""
    parts, of_shape = shapely.get_parts(shapes, return_index=True)
    areal = bool((shapely.get_type_id(parts) == shapely.GeometryType.POLYGON).any())
    if areal:
        parts, of_part = shapely.get_rings(parts, return_index=True)
        of_shape = of_shape[of_part]
    xy, of_line = shapely.get_coordinates(parts, return_index=True)
    return xy, of_line, of_shape, areal


def _paths(
    places: NDArray[np.float32], of_place: NDArray[np.intp], verbs: NDArray[np.uint8], of_verb: NDArray[np.intp], count: int
) -> list[skia.Path]:  # fmt: skip
    """The paths of `count` shapes from their places and verbs, in order.

    Each is read from memory as Skia writes it there, since a call for every place takes ten times as long: its format and way of
    filling, the numbers of places, of weights of conics (none) and of verbs, the places, the verbs, filled up to a whole word.
    """
    empty = skia.Path()
    empty.setFillType(skia.PathFillType.kEvenOdd)
    form = bytes(empty.serialize())[:WORD]
    n_places, n_verbs = np.bincount(of_place, minlength=count), np.bincount(of_verb, minlength=count)
    heads = np.zeros((count, 3), dtype="<u4")
    heads[:, 0], heads[:, 2] = n_places, n_verbs
    head, points, words = heads.tobytes(), places.tobytes(), verbs.tobytes()
    size = places.itemsize * 2
    end, verb_end = (np.cumsum(n_places) * size).tolist(), np.cumsum(n_verbs).tolist()
    paths = []
    at = verb_at = 0
    for i, (to, verb_to) in enumerate(zip(end, verb_end, strict=True)):
        path = skia.Path()
        fill = bytes(-(verb_to - verb_at) % WORD)
        path.readFromMemory(form + head[12 * i : 12 * i + 12] + points[at:to] + words[verb_at:verb_to] + fill)
        paths.append(path)
        at, verb_at = to, verb_to
    return paths
