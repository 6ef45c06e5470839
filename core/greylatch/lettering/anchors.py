"""Where labels are set around: the middle of an area, of a line, or a point itself."""

from collections.abc import Callable

import numpy as np
import shapely
from numpy.typing import NDArray

from greylatch.lettering.inside import middles
from greylatch.tables.dataset import Kind, Shapes

__all__ = ["anchors_of"]


def anchors_of(kind: Kind, shapes: Shapes) -> NDArray[np.float64]:
    """(n, 2) label anchors: the middle of the largest circle inside an area's largest part, a line's middle, a point itself.

    Parameters
    ----------
    kind : Kind
        Areas, lines or points.
    shapes : Shapes
        The shapes.

    Returns
    -------
    NDArray[np.float64]
    """
    if kind == "areas":
        return middles(_largest_parts(shapes))
    if kind == "lines":
        places = shapely.line_interpolate_point(_longest_lines(shapes), 0.5, normalized=True)
    else:
        there = shapes.copy()
        there[shapely.is_empty(shapes)] = None  # an empty point has no place to be asked for
        places = shapely.point_on_surface(there)
    return np.column_stack([shapely.get_x(places), shapely.get_y(places)])


def _largest_parts(shapes: Shapes) -> Shapes:
    return _greatest(shapes, shapely.area)


def _longest_lines(shapes: Shapes) -> Shapes:
    return _greatest(shapes, shapely.length)


def _greatest(shapes: Shapes, measure: Callable[[Shapes], NDArray[np.float64]]) -> Shapes:
    """The greatest part of each shape."""
    parts, owner = shapely.get_parts(shapes, return_index=True)
    out = np.full(len(shapes), None, dtype=object)
    order = np.lexsort((measure(parts), owner))
    out[owner[order]] = parts[order]  # the last written, the greatest, stays
    return out
