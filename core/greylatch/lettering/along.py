"""Where a text may stand along a line, upright: turned as the line runs there, where that is nearly straight; curved, letter by letter,
where it does not bend sharply; or standing on it, level wherever it runs, as shields do."""

import math
from collections.abc import Iterator, Sequence
from functools import partial
from typing import Literal, NamedTuple

import numpy as np
import shapely
from numpy.typing import NDArray

from greylatch.lettering.type import ASCENT, DESCENT
from greylatch.tables.dataset import Shapes

__all__ = ["Course", "Spots", "spots_along"]

Course = Literal["turned", "curved", "standing"]

APART = 320.0
"""Px along a line from one text to the next; common practice for heights on contours, no source."""
TRIED = np.array([0.0, 0.12, -0.12, 0.24, -0.24, 0.36, -0.36])
"""Where around its place a text is tried, in parts of the way to the next."""
BENT = 0.2
"""How far the line may leave the text's middle, in sizes of the type."""
SHARP = 28.0
"""Degrees by which a line may turn within a size of the type for letters to follow it; common practice, no source."""
MEASURED = np.linspace(-0.5, 0.5, 7)
"""Where along a text the line is looked at, in parts of its width."""


class Spots(NamedTuple):
    """Places for texts along lines: label i may take any of `start[i]` to `start[i + 1]`, the first the best."""

    rows: NDArray[np.intp]
    """(labels,) whose text each is."""
    start: NDArray[np.intp]
    """(labels + 1,)"""
    places: NDArray[np.float64]
    """(m, 2) of the text's middle, in the frame."""
    turns: NDArray[np.float64]
    """(m,) degrees clockwise, −90 to 90, so that no text stands on its head."""
    boxes: NDArray[np.float64]
    """(m, 4) left, top, right, bottom around the turned text, px."""
    paths: Sequence[NDArray[np.float64]] | None = None
    """Of each place, for curved texts: (k, 2) the course beneath the text and a little beyond, px from the place, y down, from left to
    right."""


def spots_along(
    lines: Shapes, texts: Sequence[object], widths: NDArray[np.float64], sizes: NDArray[np.float64], edge: float, resolution: float,
    above: float = 0.0, course: Course = "turned",
) -> Spots:  # fmt: skip
    """Where the texts of lines may stand at `resolution`: each part of a line has one, a long part several.

    Parameters
    ----------
    lines : Shapes
        Lines or several lines each, in the frame.
    texts : Sequence[object]
        One for each; what is false is none.
    widths : NDArray[np.float64]
        Px of each text.
    sizes : NDArray[np.float64]
        Px of the type of each.
    edge : float
        Px that are kept free around the letters.
    resolution : float
        Units of the frame to a px.
    above : float
        Px by which the middle of the text stands over the line.
    course : Course
        Whether it is turned as a whole, its letters follow the line, or it stands level.

    Returns
    -------
    Spots

    Examples
    --------
    >>> spots_along(shapely.from_wkt(["LINESTRING(0 0, 100 100)"]), ["50"], np.array([12.0]), np.array([9.0]), 1, 1).turns[:1].tolist()
    [-45.0]
    """
    rows: list[int] = []
    tried: list[int] = [0]
    spots_so_far: list[NDArray[np.float64]] = []
    paths: list[NDArray[np.float64]] = []
    parts, owner = shapely.get_parts(lines, return_index=True)
    lengths = shapely.length(parts) / resolution
    for part in np.argsort(-lengths, kind="stable").tolist():
        row = int(owner[part])
        # The ends of a line are left free: there a text would stand half beside it.
        if not texts[row] or lengths[part] < 1.5 * widths[row]:
            continue
        of_part = partial(_curved_of_part, above=above) if course == "curved" else partial(_of_part, course=course)
        for places, courses in of_part(parts[part], lengths[part], widths[row], float(sizes[row]), resolution):
            rows.append(row)
            tried.append(tried[-1] + len(places))
            spots_so_far.append(places)
            paths += courses
    spots = np.concatenate(spots_so_far) if spots_so_far else np.empty((0, 3))
    whose = np.repeat(np.array(rows, dtype=np.intp), np.diff(tried))
    if course == "curved":
        reach = ((ASCENT + DESCENT) / 2 * sizes[whose] + edge).tolist()
        boxes = np.array([_around(path, own) for path, own in zip(paths, reach, strict=True)]).reshape(-1, 4)
    else:
        boxes = _boxes(
            np.asarray(widths)[whose], (ASCENT + DESCENT) * sizes[whose], edge, np.radians(spots[:, 2]), above
        )
    return Spots(
        np.array(rows, dtype=np.intp), np.array(tried, dtype=np.intp), spots[:, :2], spots[:, 2], boxes,
        paths if course == "curved" else None,
    )  # fmt: skip


TriedOnPart = Iterator[tuple[NDArray[np.float64], list[NDArray[np.float64]]]]
"""For each text on a line the places that it may take, (k, 3) x, y, turn; and the paths of curved ones."""


def _tried(length: float, width: float) -> NDArray[np.float64]:
    """(texts, places) px along a line at which the middles of its texts may stand."""
    count = max(1, round(length / APART))
    middles = (np.arange(count) + 0.5) / count * length
    return np.clip(middles[:, None] + TRIED * length / count, 0.6 * width, length - 0.6 * width)


def _of_part(
    line: shapely.LineString, length: float, width: float, size: float, resolution: float, course: Course
) -> TriedOnPart:
    tried = _tried(length, width)
    xy = shapely.get_coordinates(line)
    run = np.append(0, np.cumsum(np.hypot(*np.diff(xy, axis=0).T))) / resolution
    if course == "standing":
        x, y = np.interp(tried, run, xy[:, 0]), np.interp(tried, run, xy[:, 1])
        yield from ((places, []) for places in np.stack([x, y, np.zeros_like(x)], axis=-1))
        return
    at = tried[:, :, None] + MEASURED * width
    x, y = np.interp(at, run, xy[:, 0]), np.interp(at, run, xy[:, 1])
    across, up = (x[..., -1] - x[..., 0]) / resolution, (y[..., -1] - y[..., 0]) / resolution
    chord = np.hypot(across, up)
    off = np.abs((x - x[..., :1]) * up[..., None] - (y - y[..., :1]) * across[..., None]) / resolution
    straight = (off.max(axis=-1) <= BENT * size * np.maximum(chord, 1e-9)) & (chord > 0.9 * width)
    turns = np.degrees(np.arctan2(-up, across))
    turns = np.where(turns > 90, turns - 180, np.where(turns <= -90, turns + 180, turns))
    middle = len(MEASURED) // 2
    spots = np.stack([(x[..., 0] + x[..., -1]) / 2, (y[..., 0] + y[..., -1]) / 2, turns], axis=-1)
    # Where the line bulges within what is allowed, the text stands between its chord and its back.
    spots[..., :2] = (spots[..., :2] + np.stack([x[..., middle], y[..., middle]], axis=-1)) / 2
    for places, good in zip(spots, straight, strict=True):
        if good.any():
            yield places[good], []


def _curved_of_part(
    line: shapely.LineString, length: float, width: float, size: float, resolution: float, above: float
) -> TriedOnPart:
    xy = shapely.get_coordinates(line)
    run = np.append(0, np.cumsum(np.hypot(*np.diff(xy, axis=0).T))) / resolution
    reach = 0.55 * width + size / 2
    steps = np.linspace(-reach, reach, max(5, math.ceil(2 * reach / (size / 2))))
    # Each place of the course is the mean of what lies within a size of the type on both sides: letters don't follow every kink.
    window = np.linspace(-size, size, 9)
    tried = _tried(length, width)
    where = np.clip(tried.reshape(-1, 1, 1) + steps[:, None] + window, 0, run[-1])
    paths = np.stack([np.interp(where, run, xy[:, 0]).mean(-1), -np.interp(where, run, xy[:, 1]).mean(-1)], axis=-1)
    middles = paths[:, len(steps) // 2].copy()
    paths = (paths - middles[:, None]) / resolution
    backwards = paths[:, -1, 0] < paths[:, 0, 0]
    paths[backwards] = paths[backwards, ::-1]
    if above:
        # Beside the line its letters have a course of their own: on the inner side of a bend it is shorter.
        along = np.gradient(paths, axis=1)
        long = np.maximum(np.hypot(along[..., 0], along[..., 1]), 1e-12)[..., None]
        paths = paths + above * np.stack([along[..., 1], -along[..., 0]], axis=-1) / long
    way = np.diff(paths, axis=1)
    turns = np.degrees(np.arctan2(way[..., 1], way[..., 0]))
    bends = np.abs((np.diff(turns, axis=1) + 180) % 360 - 180)
    long = np.hypot(way[..., 0], way[..., 1])
    # Two steps are a size of the type.
    good = (long.min(axis=1) > 0) & (long.sum(axis=1) >= width) & ((bends[:, :-1] + bends[:, 1:]).max(axis=1) <= SHARP)
    chords = paths[:, -1] - paths[:, 0]
    spots = np.column_stack([middles[:, 0], -middles[:, 1], np.degrees(np.arctan2(chords[:, 1], chords[:, 0]))])
    for own in np.arange(tried.size).reshape(tried.shape):
        kept = own[good[own]]
        if len(kept):
            yield spots[kept], list(paths[kept])


def _around(path: NDArray[np.float64], reach: float) -> tuple[float, float, float, float]:
    left, top = path.min(axis=0) - reach
    right, bottom = path.max(axis=0) + reach
    return left, top, right, bottom


def _boxes(
    widths: NDArray[np.float64], height: NDArray[np.float64], edge: float, turned: NDArray[np.float64], above: float
) -> NDArray[np.float64]:
    """(m, 4) boxes around texts turned about their places, over which they stand."""
    cos, sin = np.cos(turned), np.sin(turned)
    half, high = widths / 2 + edge, height / 2 + edge
    right, bottom = half * np.abs(cos) + high * np.abs(sin), half * np.abs(sin) + high * np.abs(cos)
    x, y = above * sin, -above * cos
    return np.column_stack([x - right, y - bottom, x + right, y + bottom])
