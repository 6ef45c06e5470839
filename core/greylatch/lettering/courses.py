"""Labels that run along something: lines, and the spines of long areas."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import NamedTuple

import numpy as np
import shapely
from numpy.typing import NDArray

from greylatch.lettering.along import Course, Spots, spots_along
from greylatch.lettering.blocks import Set
from greylatch.lettering.candidates import Candidates, Laid
from greylatch.lettering.label import Line, Piece, around, pieces_curved, pieces_level, turned_pieces
from greylatch.lettering.type import ASCENT, DESCENT, TextStyle, text_width, text_widths
from greylatch.tables.dataset import Shapes

__all__ = ["Strips", "along_lines", "along_spines"]

BESIDE = 2.0
"""Px between a line's stroke and a label that stands over it."""
BLANK = 0.35
"""Between what is set in one style and in the next, in sizes of the largest type; common practice, no source."""


class Strips(NamedTuple):
    """Labels in one line each, by row: what is said in which of the styles, one after the other; and the part of their size that each is
    set in."""

    sets: Sequence[Set]
    styles: Sequence[TextStyle]
    shares: NDArray[np.float64]

    @property
    def size(self) -> float:
        """Px of the largest type."""
        return max(style.size for style in self.styles)

    @property
    def widths(self) -> NDArray[np.float64]:
        """Px of each, where its share is 1."""
        out = np.zeros(len(self.sets))
        for number, style in enumerate(self.styles):
            own = [" ".join(text for text, which in each if which == number) for each in self.sets]
            if any(own):
                out += text_widths(own, style)
        blanks = [max(0, len({which for _, which in each}) - 1) for each in self.sets]
        return out + BLANK * self.size * np.array(blanks, dtype=np.float64)

    def spans(self, row: int) -> list[tuple[str, int]]:
        """What is said of a row in each style."""
        said = self.sets[row]
        return [
            (" ".join(text for text, which in said if which == number), number)
            for number in dict.fromkeys(which for _, which in said)
        ]


def along_lines(
    lines: Shapes, strips: Strips, smaller: Sequence[float], edge: float, resolution: float, over: float | None, course: Course
) -> Candidates:  # fmt: skip
    """The ways in which labels may follow lines, as often as these are long; smaller, and once, where they find no room.

    Parameters
    ----------
    lines : Shapes
        In the frame.
    strips : Strips
        One for each.
    smaller : Sequence[float]
        The parts of their size that labels are tried in, 1 first.
    edge : float
        Px that are kept free around the letters.
    resolution : float
        Units of the frame to a px.
    over : float | None
        Px of half of the stroke that labels stand over; None: they stand upon the line.
    course : Course
        Letter by letter, turned as a whole, or standing level on the line.

    Returns
    -------
    Candidates
    """
    tried = [
        _Tried.of(lines, np.arange(len(lines)), strips, share, edge, resolution, over, course) for share in smaller
    ]
    ends = np.cumsum([0, *(len(each.spots.places) for each in tried)])
    rows = np.concatenate([each.spots.rows for each in tried])
    start = np.concatenate([each.spots.start[:-1] + begin for each, begin in zip(tried, ends[:-1], strict=True)])
    first = np.repeat(np.arange(len(tried)), [len(each.spots.rows) for each in tried])

    def laid(way: int) -> Laid:
        number = int(np.searchsorted(ends, way, side="right")) - 1
        return tried[number].laid(way - int(ends[number]))

    return Candidates(
        rows, np.arange(len(rows)), np.append(start, ends[-1]), np.concatenate([each.spots.boxes for each in tried]),
        np.concatenate([each.spots.places for each in tried]), laid, first > 0 if len(tried) > 1 else None,
    )  # fmt: skip


def along_spines(
    areas: Shapes, spines: Shapes, strips: Strips, smaller: Sequence[float], edge: float, resolution: float, level: Candidates
) -> Candidates:  # fmt: skip
    """Labels of long areas along their spines where they lie inside; else, and those of others, as they stand level.

    Parameters
    ----------
    areas : Shapes
        In the frame.
    spines : Shapes
        Their spines; None for areas that have none.
    strips : Strips
        One for each area.
    smaller : Sequence[float]
        The parts of their size that labels are tried in, 1 first.
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
    known = np.flatnonzero([spine is not None for spine in spines])
    tried = [_Tried.of(spines, known, strips, share, edge, resolution, None, "curved") for share in smaller]
    good = [
        np.flatnonzero(_inside(areas[each.whose], each.spots, (ASCENT + DESCENT) / 2 * strips.size * share + edge, resolution))
        for each, share in zip(tried, smaller, strict=True)
    ]  # fmt: skip
    ends = np.cumsum([0, *map(len, good)])
    # Of each area first the ways along its spine, then those that stand level.
    owners = np.concatenate(
        [*(each.whose[own] for each, own in zip(tried, good, strict=True)), np.repeat(level.rows, np.diff(level.start))]
    )
    ways = np.argsort(owners, kind="stable")

    def laid(way: int) -> Laid:
        i = int(ways[way])
        if i >= ends[-1]:
            return level.laid(i - int(ends[-1]))
        number = int(np.searchsorted(ends, i, side="right")) - 1
        return tried[number].laid(int(good[number][i - int(ends[number])]))

    spots = [(each.spots.boxes[own], each.spots.places[own]) for each, own in zip(tried, good, strict=True)]
    return Candidates(
        level.rows, level.order, np.searchsorted(owners[ways], np.arange(len(level.rows) + 1)).astype(np.intp),
        np.concatenate([*(boxes for boxes, _ in spots), level.boxes])[ways],
        np.concatenate([*(places for _, places in spots), level.places])[ways], laid,
    )  # fmt: skip


@dataclass(frozen=True)
class _Tried:
    """Where strips may follow lines in one size, and how they are laid there."""

    strips: Strips
    spots: Spots
    """Their rows are those of the strips."""
    share: float
    over: float
    """Px of the middle of the text over the line."""
    widths: NDArray[np.float64]

    @classmethod
    def of(
        cls, lines: Shapes, known: NDArray[np.intp], strips: Strips, share: float, edge: float, resolution: float,
        over: float | None, course: Course,
    ) -> "_Tried":  # fmt: skip
        """Along the lines of the rows that are `known`."""
        above = 0.0 if over is None else over + BESIDE + edge + (ASCENT + DESCENT) / 2 * strips.size * share
        shares = share * strips.shares
        widths = strips.widths * shares
        there = [bool(strips.sets[row]) for row in known.tolist()]
        spots = spots_along(
            lines[known], there, widths[known], strips.size * shares[known], edge, resolution, above, course
        )
        return cls(strips, spots._replace(rows=known[spots.rows]), share, above, widths)

    @cached_property
    def whose(self) -> NDArray[np.intp]:
        """The row of each place."""
        return np.repeat(self.spots.rows, np.diff(self.spots.start))

    def laid(self, way: int) -> Laid:
        """The label at one of the places."""
        row, turn, styles = int(self.whose[way]), float(self.spots.turns[way]), self.strips.styles
        share, spans, width = (
            self.share * float(self.strips.shares[row]),
            self.strips.spans(row),
            float(self.widths[row]),
        )
        text = " ".join(said for said, _ in spans)
        down = (ASCENT - DESCENT) / 2 * self.strips.size * share
        if self.spots.paths is not None:
            # The course of curved texts runs through their middle.
            path = self.spots.paths[way]
            begin = (float(np.hypot(*np.diff(path, axis=0).T).sum()) - width) / 2
            curved = self._curved(spans, share, path.tolist(), begin, down)
            if curved:
                return Laid(text, curved, around(curved, styles), turn)
        x = -width / 2
        level: list[Piece] = []
        for said, number in spans:
            wide = text_width(said, styles[number].size * share, styles[number].face, styles[number].spacing)
            level += pieces_level(
                [Line(said, number, wide, 0.0)],
                styles,
                share,
                x + wide / 2,
                down - (0.0 if self.spots.paths is not None else self.over),
            )
            x += wide + BLANK * self.strips.size * share
        turned = turned_pieces(level, turn)
        return Laid(text, turned, around(turned, styles), turn)

    def _curved(
        self, spans: Sequence[tuple[str, int]], share: float, path: Sequence[tuple[float, float]], begin: float, down: float
    ) -> list[Piece] | None:  # fmt: skip
        """Letter by letter, where the letters of all spans may stand apart."""
        out: list[Piece] = []
        for said, number in spans:
            style = self.strips.styles[number]
            pieces = pieces_curved(said, self.strips.styles, share, path, begin, down, number)
            if pieces is None:
                return None
            out += pieces
            begin += text_width(said, style.size * share, style.face, style.spacing) + BLANK * self.strips.size * share
        return out


def _inside(areas: Shapes, spots: Spots, half: float, resolution: float) -> NDArray[np.bool_]:
    """Whether what is `half` px around the course of each text lies inside its area."""
    courses = [
        shapely.LineString(np.column_stack([x + path[:, 0] * resolution, y - path[:, 1] * resolution]))
        for path, (x, y) in zip(spots.paths or (), spots.places.tolist(), strict=True)
    ]
    covered = shapely.buffer(np.array(courses, dtype=object), half * resolution, cap_style="flat")
    return np.asarray(shapely.contains(areas, covered), dtype=bool)
