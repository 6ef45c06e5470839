"""The square of a two-way key: its fields, and along two of its sides an arrow to where each classification is high."""

from typing import NamedTuple

__all__ = ["CELL", "Square", "square_of"]

CELL = 22.0
"""Px of a side of a field."""
MARGIN = 12.0
"""Px left of the fields and below them, for the arrows."""
BARB = 3.5
"""Px of half an arrow's head."""


class Square(NamedTuple):
    """Where things stand, px from the upper left."""

    width: float
    height: float
    fields: tuple[tuple[float, float], ...]
    """Upper left corners, row by row from the top."""
    arrows: tuple[tuple[tuple[float, float], ...], ...]
    """Lines to be stroked: the way up, its head, the way to the right, its head."""


def square_of(across: int, up: int) -> Square:
    """A square of so many fields. Common practice for keys of two variables; no source.

    Parameters
    ----------
    across, up : int
        Columns and rows.

    Returns
    -------
    Square

    Examples
    --------
    >>> square = square_of(3, 2)
    >>> square.width, square.height, square.fields[0], square.arrows[0]
    (78.0, 56.0, (12.0, 0.0), ((6.0, 44.0), (6.0, 1.0)))
    """
    width, height = CELL * across, CELL * up
    x, y, right = MARGIN / 2, height + MARGIN / 2, MARGIN + width - 1
    return Square(
        MARGIN + width,
        height + MARGIN,
        tuple((MARGIN + CELL * i, CELL * j) for j in range(up) for i in range(across)),
        (
            ((x, height), (x, 1.0)),
            ((x - BARB, 1 + BARB), (x, 1.0), (x + BARB, 1 + BARB)),
            ((MARGIN, y), (right, y)),
            ((right - BARB, y - BARB), (right, y), (right - BARB, y + BARB)),
        ),
    )
