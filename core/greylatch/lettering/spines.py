"""The spines of long areas, along which their names may run: a gentle curve through the middles of their cross-sections."""

from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray

from greylatch.tables.dataset import Shapes

__all__ = ["spines_of"]

LONG = 1.8
"""How many times longer than wide an area is that has a spine; common practice, no source."""
SECTIONS = 32


def spines_of(shapes: Shapes) -> Shapes:
    """A line through each area that is long enough to have a spine, from left to right; None for others.

    The middles of cross-sections at right angles to the longer side of the smallest box around the area are fitted with a parabola, the
    wide ones weighing more.

    Parameters
    ----------
    shapes : Shapes
        Areas, in the frame.

    Returns
    -------
    Shapes

    Examples
    --------
    >>> spines_of(np.array([shapely.box(0, 0, 100, 10), shapely.box(0, 0, 10, 10)]))[1] is None
    True
    """
    out = np.full(len(shapes), None, dtype=object)
    for i, shape in enumerate(shapes):
        if shape is not None and not shape.is_empty:
            out[i] = _spine(max(shapely.get_parts(shape), key=shapely.area))
    return out


def _spine(area: Any) -> shapely.LineString | None:
    corners = shapely.get_coordinates(shapely.minimum_rotated_rectangle(area))
    if len(corners) < 5:
        return None
    first, second = corners[1] - corners[0], corners[2] - corners[1]
    long, short = (first, second) if np.hypot(*first) >= np.hypot(*second) else (second, first)
    length, width = float(np.hypot(*long)), float(np.hypot(*short))
    if width == 0 or length / width < LONG:
        return None
    along = long / length * (1 if long[0] >= 0 else -1)
    across = np.array([-along[1], along[0]])
    middle = corners[:4].mean(axis=0)
    at = (np.arange(SECTIONS) + 0.5) / SECTIONS * length - length / 2
    ends = middle + at[:, None] * along
    cuts = shapely.intersection(shapely.linestrings(np.stack([ends - width * across, ends + width * across], 1)), area)
    places, offsets, widths = _middles(cuts, at, middle, across)
    if len(places) < SECTIONS / 2:
        return None
    curve = np.polyfit(places, offsets, 2, w=np.sqrt(widths))
    xs = np.linspace(places.min(), places.max(), SECTIONS)
    xy = middle + xs[:, None] * along + np.polyval(curve, xs)[:, None] * across
    return shapely.LineString(xy)


def _middles(
    cuts: Shapes, at: NDArray[np.float64], middle: NDArray[np.float64], across: NDArray[np.float64]
) -> tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.float64]]:
    """Where cross-sections are, how far off the axis the middle of the widest part of each lies, and how wide that is."""
    places, offsets, widths = [], [], []
    for cut, place in zip(cuts, at.tolist(), strict=True):
        parts = [part for part in shapely.get_parts(cut) if part.geom_type == "LineString"]
        if parts:
            widest = max(parts, key=shapely.length)
            ends = (shapely.get_coordinates(widest) - middle) @ across
            places.append(place)
            offsets.append(float(ends.mean()))
            widths.append(float(widest.length))
    return np.array(places), np.array(offsets), np.array(widths)
