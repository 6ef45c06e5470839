"""The ways in which a text may be set around its place, the best first."""

from collections.abc import Iterator, Sequence
from typing import NamedTuple

from greylatch.lettering.type import ASCENT, DESCENT, LEADING

__all__ = ["Way", "in_two", "ways_around", "ways_upon"]

Line = tuple[str, float, float, float]  # text, width, dx of its middle, dy of its baseline
Box = tuple[float, float, float, float]


class Way(NamedTuple):
    """A way to set a text: its lines, and the box around them with the place at (0, 0), px: left, top, right, bottom."""

    lines: list[Line]
    box: Box


def ways_around(lines: Sequence[tuple[str, float]], size: float, halo: float, gap: float) -> Iterator[Way]:
    """Around a point, `gap` px away: right, left, above, below, then the corners.

    Parameters
    ----------
    lines : Sequence[tuple[str, float]]
        The text with its width, px, line by line.
    size : float
        Px of the type.
    halo : float
        Px of the halo around the letters.
    gap : float
        Px between the place and the text.

    Returns
    -------
    Iterator[Way]

    Examples
    --------
    >>> [way.lines[0][2] > 0 for way in ways_around([("Ard", 20)], 12, 1, 5)]
    [True, False, False, False, True, True, False, False]
    """
    below = (len(lines) - 1) * LEADING * size
    middle, side = (ASCENT - DESCENT) / 2 * size - below / 2, gap + max(width for _, width in lines) / 2
    up, down = -(gap + DESCENT * size) - below, gap + ASCENT * size
    for dx, dy in (
        (side, middle), (-side, middle), (0, up), (0, down), (side, up), (side, down), (-side, up), (-side, down),
    ):  # fmt: skip
        yield _way([(text, w, dx, dy + j * LEADING * size) for j, (text, w) in enumerate(lines)], size, halo)


def ways_upon(
    lines: Sequence[tuple[str, float]], size: float, halo: float, halves: Sequence[tuple[str, float]] = ()
) -> Iterator[Way]:  # fmt: skip
    """With its middle on the place: as it is broken, or in halves.

    Parameters
    ----------
    lines : Sequence[tuple[str, float]]
        The text with its width, px, line by line.
    size : float
        Px of the type.
    halo : float
        Px of the halo around the letters.
    halves : Sequence[tuple[str, float]]
        The same in another way.

    Returns
    -------
    Iterator[Way]

    Examples
    --------
    >>> [len(way.lines) for way in ways_upon([("Upper Skara", 60)], 12, 1, [("Upper", 30), ("Skara", 30)])]
    [1, 2]
    """
    middle, leading = (ASCENT - DESCENT) / 2 * size, LEADING * size
    for way in (lines, halves):
        if way:
            first = middle - (len(way) - 1) / 2 * leading
            yield _way([(part, w, 0.0, first + j * leading) for j, (part, w) in enumerate(way)], size, halo)


def in_two(text: str) -> tuple[str, ...]:
    """A text broken at the space nearest to its middle; nothing where it has none.

    >>> in_two("Upper Skarawater")
    ('Upper', 'Skarawater')
    """
    spaces = [i for i, c in enumerate(text) if c == " "]
    if not spaces:
        return ()
    at = min(spaces, key=lambda i: abs(i - len(text) / 2))
    return text[:at], text[at + 1 :]


def _way(lines: list[Line], size: float, halo: float) -> Way:
    box = (
        min(dx - w / 2 for _, w, dx, _ in lines) - halo,
        min(dy for *_, dy in lines) - ASCENT * size - halo,
        max(dx + w / 2 for _, w, dx, _ in lines) + halo,
        max(dy for *_, dy in lines) + DESCENT * size + halo,
    )
    return Way(lines, box)
