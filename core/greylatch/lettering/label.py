"""A placed label, as painters draw it: pieces of one face and direction, each with its own place and turn."""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import pairwise

from greylatch.lettering.shaping import Run, runs_of, shaped
from greylatch.lettering.type import ASCENT, DESCENT, TextStyle, run_width

__all__ = ["Box", "Label", "Line", "Piece", "around", "level_box", "pieces_curved", "pieces_level", "turned_pieces"]

Box = tuple[float, float, float, float]
"""Left, top, right, bottom, px, y down."""


@dataclass(frozen=True)
class Piece:
    """A part of a label: its baseline begins (`dx`, `dy`) px right of the label's place and below it, and runs on at `turn` degrees
    clockwise. `line` says which line of the lettering it is styled as; `share` is the part of that line's size that it is set in."""

    run: Run
    line: int
    share: float
    dx: float
    dy: float
    turn: float = 0.0


@dataclass(frozen=True)
class Label:
    """The label of `feature`, a fid. (`x`, `y`) is its place in the map's frame; `box` is around the text, px from there, and
    `turn` degrees clockwise by which it is turned about its place. `side` says on which side of a point it stands: −1, 0 or 1 across and
    down, `gap` px away. `leader` is a line from the label to what it names. `hand` says that somebody put it there."""

    layer: int
    feature: int
    text: str
    x: float
    y: float
    pieces: tuple[Piece, ...]
    box: Box
    turn: float = 0.0
    side: tuple[int, int] = (0, 0)
    gap: float = 0.0
    leader: tuple[float, float, float, float] | None = None
    colour: str | None = None
    halo_colour: str | None = None
    """Both in place of what the lettering says."""
    hand: bool = False

    def covered(self, edge: float) -> Box:
        """Left, top, right, bottom of what is drawn, px from the place, where that goes `edge` px beyond the text: its halo, or its plate."""
        left, top, right, bottom = self.box
        return left - edge, top - edge, right + edge, bottom + edge


@dataclass(frozen=True)
class Line:
    """A line of a block: its text, which line of the lettering it is styled as, its width, and its baseline below the first one's, px."""

    text: str
    style: int
    width: float
    down: float


def pieces_level(
    lines: Sequence[Line], styles: Sequence[TextStyle], share: float, middle: float, first: float, across: int = 0
) -> list[Piece]:  # fmt: skip
    """Lines under one another, level.

    Parameters
    ----------
    lines : Sequence[Line]
        What is set.
    styles : Sequence[TextStyle]
        How, by the lines' styles.
    share : float
        The part of their sizes that they are set in.
    middle : float
        Px from the place to the middle of the lines.
    first : float
        Px from the place down to the first baseline.
    across : int
        1: the lines begin together, −1: they end together, 0: their middles stand under one another.

    Returns
    -------
    list[Piece]
    """
    widest = max(line.width for line in lines)
    out = []
    for line in lines:
        style = styles[line.style].smaller(share)
        x = middle - line.width / 2 - across * (widest - line.width) / 2
        runs = runs_of(line.text, style.face)
        for run in runs:
            out.append(Piece(run, line.style, share, x, first + line.down))
            # Most lines are one run: how far it goes is asked only where another follows.
            x += style.size * run_width(run, style.spacing) if len(runs) > 1 else 0.0
    return out


def turned_pieces(pieces: Iterable[Piece], degrees: float) -> list[Piece]:
    """Pieces turned together about their place.

    Parameters
    ----------
    pieces : Iterable[Piece]
        What is turned.
    degrees : float
        Clockwise.

    Returns
    -------
    list[Piece]
    """
    if degrees == 0:
        return list(pieces)
    cos, sin = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    return [
        Piece(p.run, p.line, p.share, p.dx * cos - p.dy * sin, p.dx * sin + p.dy * cos, p.turn + degrees)
        for p in pieces
    ]


def pieces_curved(
    text: str, styles: Sequence[TextStyle], share: float, path: Sequence[tuple[float, float]], start: float, below: float,
    line: int = 0,
) -> list[Piece] | None:  # fmt: skip
    """A text of letters that may stand apart, letter by letter along a path; None for one whose letters may not.

    Parameters
    ----------
    text : str
        What is set.
    styles : Sequence[TextStyle]
        How lines of the lettering are set.
    share : float
        The part of its size that it is set in.
    path : Sequence[tuple[float, float]]
        Places of the course, px from the label's, y down.
    start : float
        Px along the path at which the text begins.
    below : float
        Px from the path down to the baseline.
    line : int
        Which line of the lettering it is styled as.

    Returns
    -------
    list[Piece] | None

    Examples
    --------
    >>> [round(p.turn) for p in pieces_curved("I", [TextStyle(10)], 1, [(0, 0), (10, 10)], 5, 0)]
    [45]
    """
    style = styles[line].smaller(share)
    at, out = start, []
    for run in runs_of(text, style.face):
        if not run.spaced or run.rtl:
            return None
        glyphs = shaped(run, style.spacing != 0)
        begins = [*dict.fromkeys(glyphs.letters), len(run.text)]
        lefts = [glyphs.xs[glyphs.letters.index(i)] for i in begins[:-1]] + [glyphs.advance]
        for n, (i, j) in enumerate(pairwise(begins)):
            wide = style.size * (lefts[n + 1] - lefts[n])
            (x, y), turn = _on_path(path, at + wide / 2)
            cos, sin = math.cos(turn), math.sin(turn)
            dx, dy = -wide / 2, below
            letter = Run(run.text[i:j], run.face)
            out.append(Piece(letter, line, share, x + dx * cos - dy * sin, y + dx * sin + dy * cos, math.degrees(turn)))
            at += wide + style.size * style.spacing
    return [piece for piece in out if not piece.run.text.isspace()]


def _on_path(path: Sequence[tuple[float, float]], at: float) -> tuple[tuple[float, float], float]:
    """The place `at` px along a path, and its direction there; straight on beyond its ends."""
    gone = 0.0
    for k, ((x0, y0), (x1, y1)) in enumerate(pairwise(path)):
        length = math.hypot(x1 - x0, y1 - y0)
        if at <= gone + length or k == len(path) - 2:
            share = (at - gone) / length if length else 0.0
            return (x0 + share * (x1 - x0), y0 + share * (y1 - y0)), math.atan2(y1 - y0, x1 - x0)
        gone += length
    return path[0], 0.0


def level_box(label: Label, styles: Sequence[TextStyle]) -> Box:
    """The box around a label before it was turned, px from its place.

    Parameters
    ----------
    label : Label
        The label.
    styles : Sequence[TextStyle]
        How its lines are set.

    Returns
    -------
    Box
    """
    return around(turned_pieces(label.pieces, -label.turn), styles) if label.turn else label.box


def around(pieces: Iterable[Piece], styles: Sequence[TextStyle]) -> Box:
    """The level box around pieces, px from their place.

    Parameters
    ----------
    pieces : Iterable[Piece]
        At least one.
    styles : Sequence[TextStyle]
        How they are set.

    Returns
    -------
    Box
    """
    xs: list[float] = []
    ys: list[float] = []
    for piece in pieces:
        style = styles[piece.line].smaller(piece.share)
        width = style.size * run_width(piece.run, style.spacing)
        cos, sin = math.cos(math.radians(piece.turn)), math.sin(math.radians(piece.turn))
        for u in (0.0, width):
            for v in (-ASCENT * style.size, DESCENT * style.size):
                xs.append(piece.dx + u * cos - v * sin)
                ys.append(piece.dy + u * sin + v * cos)
    return min(xs), min(ys), max(xs), max(ys)
