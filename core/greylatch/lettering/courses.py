"""Labels that run along something: lines, and the spines of long areas."""

from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray

from greylatch.lettering.along import Spots, spots_along
from greylatch.lettering.candidates import Candidates, Laid
from greylatch.lettering.label import Line, around, pieces_curved, pieces_level, turned_pieces
from greylatch.lettering.type import ASCENT, DESCENT, TextStyle, text_widths
from greylatch.tables.dataset import Shapes

__all__ = ["along_lines", "along_spines"]

BESIDE = 2.0
"""Px between a line's stroke and a label that stands over it."""


def along_lines(
    lines: Shapes,
    texts: Sequence[str],
    styles: Sequence[TextStyle],
    edge: float,
    resolution: float,
    over: float | None,
    curved: bool,
) -> Candidates:
    """The ways in which labels may follow lines, as often as these are long.

    Parameters
    ----------
    lines : Shapes
        In the frame.
    texts : Sequence[str]
        One for each, set as the first line of the lettering is; '' for none.
    styles : Sequence[TextStyle]
        How lines of the lettering are set.
    edge : float
        Px that are kept free around the letters.
    resolution : float
        Units of the frame to a px.
    over : float | None
        Px of half of the stroke that labels stand over; None: they stand upon the line.
    curved : bool
        Letter by letter, rather than turned as a whole.

    Returns
    -------
    Candidates
    """
    style = styles[0]
    widths = text_widths(texts, style)
    above = 0.0 if over is None else over + BESIDE + edge + (ASCENT + DESCENT) / 2 * style.size
    spots = spots_along(lines, texts, widths, style.size, edge, resolution, above, curved)
    # The course of curved texts runs through their middle.
    first = (ASCENT - DESCENT) / 2 * style.size - (0.0 if curved else above)
    whose = np.repeat(spots.rows, np.diff(spots.start)).tolist()

    def laid(way: int) -> Laid:
        return _laid(texts[whose[way]], float(widths[whose[way]]), styles, spots, way, first)

    return Candidates(spots.rows, np.arange(len(spots.rows)), spots.start, spots.boxes, spots.places, laid)


def along_spines(
    areas: Shapes,
    spines: Shapes,
    texts: Sequence[str],
    styles: Sequence[TextStyle],
    edge: float,
    resolution: float,
    level: Candidates,
) -> Candidates:
    """Labels of long areas along their spines where they lie inside; else, and those of others, as they stand level.

    Parameters
    ----------
    areas : Shapes
        In the frame.
    spines : Shapes
        Their spines; None for areas that have none.
    texts : Sequence[str]
        One for each area, in one line.
    styles : Sequence[TextStyle]
        How lines of the lettering are set.
    edge : float
        Px that are kept free around the letters.
    resolution : float
        Units of the frame to a px.
    level : Candidates
        How they may stand level, row by row.

    Returns
    -------
    Candidates
    """
    style = styles[0]
    widths = text_widths(texts, style)
    known = np.flatnonzero([spine is not None for spine in spines])
    own = [texts[row] for row in known.tolist()]
    spots = spots_along(spines[known], own, widths[known], style.size, edge, resolution, 0.0, True)
    whose = known[np.repeat(spots.rows, np.diff(spots.start))]
    good = np.flatnonzero(_inside(areas[whose], spots, (ASCENT + DESCENT) / 2 * style.size + edge, resolution))
    # Of each area first the ways along its spine, then those that stand level.
    owners = np.concatenate([whose[good], np.repeat(level.rows, np.diff(level.start))])
    ways = np.argsort(owners, kind="stable")
    first = (ASCENT - DESCENT) / 2 * style.size

    def laid(way: int) -> Laid:
        i = int(ways[way])
        if i >= len(good):
            return level.laid(i - len(good))
        row, spot = int(whose[good[i]]), int(good[i])
        return _laid(texts[row], float(widths[row]), styles, spots, spot, first)

    return Candidates(
        level.rows, level.order, np.searchsorted(owners[ways], np.arange(len(level.rows) + 1)).astype(np.intp),
        np.concatenate([spots.boxes[good], level.boxes])[ways], np.concatenate([spots.places[good], level.places])[ways], laid,
    )  # fmt: skip


def _inside(areas: Shapes, spots: Spots, half: float, resolution: float) -> NDArray[np.bool_]:
    """Whether what is `half` px around the course of each text lies inside its area."""
    courses = [
        shapely.LineString(np.column_stack([x + path[:, 0] * resolution, y - path[:, 1] * resolution]))
        for path, (x, y) in zip(spots.paths or (), spots.places.tolist(), strict=True)
    ]
    covered = shapely.buffer(np.array(courses, dtype=object), half * resolution, cap_style="flat")
    return np.asarray(shapely.contains(areas, covered), dtype=bool)


def _laid(
    text: str, width: float, styles: Sequence[TextStyle], spots: Spots, way: int, first: float
) -> Laid:  # fmt: skip
    turn = float(spots.turns[way])
    if spots.paths is not None:
        path = spots.paths[way]
        length = float(np.hypot(*np.diff(path, axis=0).T).sum())
        pieces = pieces_curved(text, styles, 1.0, path.tolist(), (length - width) / 2, first)
        if pieces:
            return Laid(text, pieces, around(pieces, styles), turn)
    level = pieces_level([Line(text, 0, width, 0.0)], styles, 1.0, 0.0, first)
    turned = turned_pieces(level, turn)
    return Laid(text, turned, around(turned, styles), turn)
