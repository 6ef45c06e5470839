"""Labels that somebody put where they are."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from greylatch.lettering.blocks import Blocks, blocks_of
from greylatch.lettering.label import Box, Label, around, pieces_level, turned_pieces
from greylatch.lettering.type import TextStyle

__all__ = ["LONGEST_LEADER", "Hand", "label_by_hand", "leader_to"]

LONGEST_LEADER = 600.0
"""Px: nobody follows a longer line to what it names, and pages look no further for labels that reach into view."""


@dataclass(frozen=True)
class Hand:
    """What is done to the label of a row. `place` is its middle, in the frame; None leaves that to the contest. `share` is the part of
    its size that it is set in; `text` is said in place of what all say; `closest` and `farthest` are units of the frame to a px."""

    hidden: bool = False
    place: tuple[float, float] | None = None
    turn: float = 0.0
    share: float = 1.0
    colour: str | None = None
    text: str | None = None
    leader: bool = False
    closest: float | None = None
    farthest: float | None = None

    def counts(self, resolution: float) -> bool:
        """Whether it is meant for that many units of the frame to a px."""
        return (self.closest is None or resolution >= self.closest) and (
            self.farthest is None or resolution <= self.farthest
        )


def label_by_hand(
    layer: int, feature: int, hand: Hand, lines: Sequence[tuple[str, int]], styles: Sequence[TextStyle], leading: float,
    named: tuple[float, float], resolution: float,
) -> Label | None:  # fmt: skip
    """The label of a feature where it was put; None where it says nothing.

    Parameters
    ----------
    layer : int
        The layer's number.
    feature : int
        Its fid.
    hand : Hand
        What is done to it; it has a place.
    lines : Sequence[tuple[str, int]]
        What it says otherwise, and how each line is styled.
    styles : Sequence[TextStyle]
        How lines are set.
    leading : float
        From line to line, in sizes of the type.
    named : tuple[float, float]
        Where that lies which it names, in the frame.
    resolution : float
        Units of the frame to a px.

    Returns
    -------
    Label | None
    """
    said = [(line, 0) for line in hand.text.split("\n")] if hand.text is not None else list(lines)
    said = [(line, style) for line, style in said if line]
    if not said or hand.place is None:
        return None
    block = blocks_of([0], [tuple(said)], [hand.share], styles, leading)
    first = float(block.ascent[0] - block.descent[0]) / 2
    level = pieces_level(block.lines(0), styles, hand.share, 0.0, first)
    pieces = turned_pieces(level, hand.turn)
    box = around(pieces, styles)
    to = (named[0] - hand.place[0]) / resolution, (hand.place[1] - named[1]) / resolution
    leader = leader_to(_tight(block, first), hand.turn, to) if hand.leader else None
    return Label(
        layer, feature, "\n".join(line for line, _ in said), *hand.place, tuple(pieces), box, hand.turn,
        leader=leader, colour=hand.colour, hand=True,
    )  # fmt: skip


def _tight(block: Blocks, first: float) -> Box:
    half = float(block.width[0]) / 2
    return -half, first - float(block.ascent[0]), half, first + float(block.descent[0])


def leader_to(box: Box, turn: float, to: tuple[float, float]) -> tuple[float, float, float, float] | None:
    """The line from a label's edge to what it names; None where that lies within the
    label, or too far from it.

    Parameters
    ----------
    box : Box
        Around the label, before it is turned.
    turn : float
        Degrees clockwise by which it is turned.
    to : tuple[float, float]
        Px from the label's place.

    Returns
    -------
    tuple[float, float, float, float] | None

    Examples
    --------
    >>> leader_to((-10, -5, 10, 5), 0, (30, 0))
    (12.0, 0.0, 30.0, 0.0)
    """
    cos, sin = math.cos(math.radians(-turn)), math.sin(math.radians(-turn))
    u, v = to[0] * cos - to[1] * sin, to[0] * sin + to[1] * cos
    left, top, right, bottom = box[0] - 2, box[1] - 2, box[2] + 2, box[3] + 2
    if left <= u <= right and top <= v <= bottom:
        return None
    if math.hypot(u, v) > LONGEST_LEADER:
        return None
    # Where the way from the middle to what is named leaves the box.
    share = min(
        (right / u if u > 0 else left / u) if u else math.inf, (bottom / v if v > 0 else top / v) if v else math.inf
    )
    x, y = share * u, share * v
    return x * cos + y * sin, -x * sin + y * cos, float(to[0]), float(to[1])
