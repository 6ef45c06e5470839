"""Where a text may stand along a line: upright, turned as the line runs there, and only where it runs nearly straight."""

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
import shapely
from numpy.typing import NDArray

from greylatch.lettering.type import ASCENT, DESCENT
from greylatch.tables.dataset import Shapes

__all__ = ["Spots", "spots_along"]

APART = 320.0
"""Px along a line from one text to the next; common practice for heights on contours, no source."""
TRIED = np.array([0.0, 0.12, -0.12, 0.24, -0.24, 0.36, -0.36])
"""Where around its place a text is tried, in parts of the way to the next."""
BENT = 0.2
"""How far the line may leave the text's middle, in sizes of the type."""
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


def spots_along(
    lines: Shapes, texts: Sequence[str], widths: NDArray[np.float64], size: float, halo: float, resolution: float
) -> Spots:
    """Where the texts of lines may stand at `resolution`: each part of a line has one, a long part several.

    Parameters
    ----------
    lines : Shapes
        Lines or several lines each, in the frame.
    texts : Sequence[str]
        One for each; '' for none.
    widths : NDArray[np.float64]
        Px of each text.
    size : float
        Px of the type.
    halo : float
        Px of the halo around the letters.
    resolution : float
        Units of the frame to a px.

    Returns
    -------
    Spots

    Examples
    --------
    >>> spots_along(shapely.from_wkt(["LINESTRING(0 0, 100 100)"]), ["50"], np.array([12.0]), 9, 1, 1).turns[:1].tolist()
    [-45.0]
    """
    rows: list[int] = []
    tried: list[int] = [0]
    found: list[NDArray[np.float64]] = []
    parts, owner = shapely.get_parts(lines, return_index=True)
    lengths = shapely.length(parts) / resolution
    for part in np.argsort(-lengths, kind="stable").tolist():
        row = int(owner[part])
        # The ends of a line are left free: there a text would stand half beside it.
        if not texts[row] or lengths[part] < 1.5 * widths[row]:
            continue
        for spots in _of_part(parts[part], lengths[part], widths[row], size, resolution):
            rows.append(row)
            tried.append(tried[-1] + len(spots))
            found.append(spots)
    spots = np.concatenate(found) if found else np.empty((0, 3))
    whose = np.repeat(np.array(rows, dtype=np.intp), np.diff(tried))
    boxes = _boxes(np.asarray(widths)[whose], (ASCENT + DESCENT) * size, halo, np.radians(spots[:, 2]))
    return Spots(np.array(rows, dtype=np.intp), np.array(tried, dtype=np.intp), spots[:, :2], spots[:, 2], boxes)


def _of_part(
    line: shapely.LineString, length: float, width: float, size: float, resolution: float
) -> list[NDArray[np.float64]]:
    """For each text on a line the places that it may take: (k, 3) x, y, turn."""
    count = max(1, round(length / APART))
    middles = (np.arange(count) + 0.5) / count * length
    tried = np.clip(middles[:, None] + TRIED * length / count, 0.6 * width, length - 0.6 * width)
    xy = shapely.get_coordinates(line)
    run = np.append(0, np.cumsum(np.hypot(*np.diff(xy, axis=0).T))) / resolution
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
    return [places[good] for places, good in zip(spots, straight, strict=True) if good.any()]


def _boxes(widths: NDArray[np.float64], height: float, halo: float, turned: NDArray[np.float64]) -> NDArray[np.float64]:
    """(m, 4) boxes around texts turned about their middles."""
    cos, sin = np.abs(np.cos(turned)), np.abs(np.sin(turned))
    half, high = widths / 2 + halo, height / 2 + halo
    right, bottom = half * cos + high * sin, half * sin + high * cos
    return np.column_stack([-right, -bottom, right, bottom])
