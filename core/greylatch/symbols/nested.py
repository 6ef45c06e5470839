"""Circles of a key in one another: all stand on one ground line, and a line leads from the top of each to its words."""

from collections.abc import Sequence
from typing import NamedTuple

from greylatch.symbols.marks import Mark

__all__ = ["Nested", "are_nestable", "nested_circles"]

LEAD = 14.0
"""Px from the edge of the largest circle to the words."""


class Nested(NamedTuple):
    """Where circles and their words stand, px from the upper left; the largest comes first."""

    width: float
    """Of the circles with their lines; the words begin there."""
    height: float
    centres: tuple[tuple[float, float], ...]
    middles: tuple[float, ...]
    """Of the words, from the top."""


def are_nestable(marks: Sequence[Mark]) -> bool:
    """Whether marks are circles of several sizes: other shapes in one another cannot be told apart."""
    plain = not any(mark.path or mark.icon or mark.texture for mark in marks)
    return plain and len({mark.radius for mark in marks}) > 1


def nested_circles(marks: Sequence[Mark], row: float) -> Nested:
    """Where circles in one another stand. Common practice for keys of proportional symbols; no source.

    Parameters
    ----------
    marks : Sequence[Mark]
        Circles, the largest first.
    row : float
        Px of a line of words.

    Returns
    -------
    Nested

    Examples
    --------
    >>> nested_circles([Mark("#aabbcc", 1.0, radius=20.0), Mark("#aabbcc", 1.0, radius=5.0)], 22.0)
    Nested(width=54.0, height=44.0, centres=((20.0, 22.0), (20.0, 37.0)), middles=(11.0, 33.0))
    """
    most = max(mark.radius + mark.half for mark in marks)
    height = max(2 * most, row * len(marks))
    ground = (height + 2 * most) / 2
    centres = tuple((most, ground - mark.half - mark.radius) for mark in marks)
    first = (height - row * len(marks)) / 2
    middles = tuple(first + row * (i + 0.5) for i in range(len(marks)))
    return Nested(2 * most + LEAD, height, centres, middles)
