"""Meridians and parallels of a map: how far apart, where they run, and what is written beside them."""

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np
import shapely

from greylatch.places.bounds import Bounds
from greylatch.places.crs import LONLAT
from greylatch.places.domain import METRES_TO_A_DEGREE
from greylatch.places.frame import Frame
from greylatch.tables.dataset import Shapes

__all__ = ["APART", "Edge", "GraticuleLine", "edge_labels", "graticule", "graticule_step", "paths"]

STEPS = (30.0, 15.0, 10.0, 5.0, 2.0, 1.0, 0.5, 0.2, 0.1, 0.05, 0.02, 0.01)
"""Degrees between lines, the widest first. Common practice."""
APART = 110.0
"""Px between neighbouring lines, at least, where degrees are as long as on the equator."""
STRAIGHT = 0.02
"""Px by which a line may leave its place, where its neighbours are `APART`."""
MOST_LINES = 400
INSET = 0.002
"""Of the width of a picture: what is nearer to its edge than this is at the edge."""


@dataclass(frozen=True)
class GraticuleLine:
    """A meridian or parallel in the frame, perhaps in several pieces."""

    kind: Literal["meridian", "parallel"]
    degrees: float
    shape: shapely.Geometry

    @property
    def name(self) -> str:
        """As it is written beside the line: '27° W', '52.5° N', '0°'."""
        ends = "EW" if self.kind == "meridian" else "NS"
        side = "" if self.degrees % 180 == 0 else f" {ends[self.degrees < 0]}"
        return f"{abs(self.degrees):g}°{side}"


def graticule_step(frame: Frame, resolution: float) -> float:
    """Degrees between the lines of a map shown at `resolution` (units per px).

    Parameters
    ----------
    frame : Frame
        Where the map lies.
    resolution : float
        Units of the frame to a px.

    Returns
    -------
    float

    Examples
    --------
    >>> graticule_step(Frame.named("EPSG:8857"), 40_000.0)
    30.0
    """
    wanted = APART * resolution / frame.unit / METRES_TO_A_DEGREE
    return next((step for step in reversed(STEPS) if step >= wanted), STEPS[0])


def graticule(frame: Frame, step: float, bounds: Bounds | None = None) -> list[GraticuleLine]:
    """The lines every `step` degrees that can be shown, of those that run through `bounds` (in the frame; without, of all),
    cut at its edge. At most `MOST_LINES`: none where there would be more.

    Parameters
    ----------
    frame : Frame
        Where the map lies.
    step : float
        Degrees between one and the next.
    bounds : Bounds | None
        West, south, east, north, in the frame.

    Returns
    -------
    list[GraticuleLine]
    """
    reach = frame.reach(bounds) if bounds else (-180.0, -90.0, 180.0, 90.0)
    if reach is None:
        return []
    west, south, east, north = reach
    # Two lines of one meridian on either side of the seam are one.
    meridians = [(degrees + 180) % 360 - 180 for degrees in _multiples(step, west, min(east, west + 360 - 1e-6))]
    parallels = _multiples(step, max(south, -90 + 1e-6), min(north, 90 - 1e-6))
    if len(meridians) + len(parallels) > MOST_LINES:
        return []
    low, high = max(-90.0, south - step), min(90.0, north + step)
    left, right = (west - step, east + step) if east - west + 2 * step < 360 else (-180.0, 180.0)
    lines = [("meridian", lon, shapely.LineString([(lon, low), (lon, high)])) for lon in meridians]
    lines += [("parallel", lat, shapely.LineString([(left, lat), (right, lat)])) for lat in parallels]
    # As few places as it takes to be seen as they are: of fine lines there are many.
    seen = STRAIGHT * step * METRES_TO_A_DEGREE * frame.unit / APART
    shapes = shapely.simplify(frame.project(_bending(lines, step), LONLAT), seen, preserve_topology=False)
    if bounds:
        shapes = shapely.clip_by_rect(shapes, *bounds)
    return [
        GraticuleLine(kind, degrees, shape)  # type: ignore[arg-type]
        for (kind, degrees, _), shape in zip(lines, shapes, strict=True)
        if not shape.is_empty and shape.length > 0
    ]


def _bending(lines: list[tuple[str, float, shapely.LineString]], step: float) -> Shapes:
    """The lines with so many places that their projection sees where they bend."""
    out = np.empty(len(lines), dtype=object)
    out[:] = [shapely.segmentize(line, min(step, 5.0) / 2) for *_, line in lines]
    return out


def _multiples(step: float, low: float, high: float) -> list[float]:
    first, last = math.ceil(low / step - 1e-9), math.floor(high / step + 1e-9)
    return [round(number * step, 6) for number in range(first, last + 1)]


def paths(shape: shapely.Geometry) -> list[list[list[float]]]:
    """A shape's lines, or the rings of its areas, as lists of x and y."""
    parts = shapely.get_parts(shape)
    return [
        np.round(shapely.get_coordinates(line), 3).tolist()
        for line in (shapely.get_rings(parts) if shapely.get_dimensions(shape) == 2 else parts)
    ]


Edge = Literal["left", "lower", "beside", "under"]
"""Where degrees are written: at the left or lower edge of the picture, to the left of where a parallel ends, or below where a
meridian does."""


def edge_labels(lines: list[GraticuleLine], bounds: Bounds) -> list[tuple[Edge, str, float, float]]:
    """What is written at the edge of a picture of `bounds`: where, words and place. Parallels have it where they first meet the left edge,
    meridians where they meet the lower one; where the globe ends within the picture they have it at their leftmost and at their lowest
    place. Meridians that end together, as at a pole, have none there.

    Parameters
    ----------
    lines : list[GraticuleLine]
        Meridians and parallels.
    bounds : Bounds
        West, south, east, north, in the frame.

    Returns
    -------
    list[tuple[Edge, str, float, float]]
    """
    west, south, east, north = bounds
    left, lower = shapely.LineString([(west, south), (west, north)]), shapely.LineString([(west, south), (east, south)])
    inside = shapely.box(*bounds).buffer(-(east - west) * INSET)
    labels: list[tuple[Edge, str, float, float]] = []
    ends: list[tuple[Edge, str, float, float]] = []
    for line in lines:
        edge, side = ("left", left) if line.kind == "parallel" else ("lower", lower)
        # A line that was cut at the edge ends on it, to within rounding.
        near = shapely.intersection(line.shape, side.buffer((east - west) * 1e-6))
        if not near.is_empty:
            at = near.representative_point()
            labels.append((edge, line.name, at.x, at.y))  # type: ignore[arg-type]
            continue
        places = shapely.get_coordinates(line.shape)
        x, y = places[places[:, 0 if line.kind == "parallel" else 1].argmin()].tolist()
        if shapely.intersects_xy(inside, x, y):
            ends.append(("beside" if line.kind == "parallel" else "under", line.name, x, y))
    apart = (east - west) * INSET
    return labels + [
        end
        for end in ends
        if end[0] == "beside"
        or not any(each != end and max(abs(each[2] - end[2]), abs(each[3] - end[3])) < apart for each in ends)
    ]
