"""Texts as blocks of lines, and the places around their feature where these may stand: all of a layer's at once."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from greylatch.lettering.label import Line
from greylatch.lettering.type import ASCENT, DESCENT, TextStyle, text_widths

__all__ = ["SIDES", "Blocks", "Set", "blocks_of", "boxes_around", "in_two"]

SIDES = {
    "right": (1, 0), "left": (-1, 0), "above": (0, -1), "below": (0, 1),
    "above-right": (1, -1), "below-right": (1, 1), "above-left": (-1, -1), "below-left": (-1, 1),
}  # fmt: skip
"""Across and down from a point, in the order in which they are tried where nothing else is said (common practice, no source)."""
BREAKS = " -‐–/"
"""After which a line may end, as Unicode has it for Latin (UAX #14: SP, HY, BA, SY); a space goes."""
Set = tuple[tuple[str, int], ...]
"""The lines of a block: each a text and which line of the lettering it is styled as."""


@dataclass(frozen=True)
class Blocks:
    """Blocks of lines, px: their rows, in order; the part of their size that they are set in; and how large they are."""

    row: NDArray[np.intp]
    share: NDArray[np.float64]
    start: NDArray[np.intp]
    """(m + 1,) where the lines of each begin."""
    texts: Sequence[str]
    styles: NDArray[np.intp]
    widths: NDArray[np.float64]
    downs: NDArray[np.float64]
    """Of each line: its text, how it is styled, its width, its baseline below the first one's."""
    width: NDArray[np.float64]
    ascent: NDArray[np.float64]
    """Of each block, from the first baseline up."""
    descent: NDArray[np.float64]
    """And down, to the end of the last line."""

    def lines(self, block: int) -> Sequence[Line]:
        """The lines of a block."""
        return self._lines[self.start[block] : self.start[block + 1]]

    @cached_property
    def _lines(self) -> list[Line]:
        own = (self.texts, self.styles.tolist(), self.widths.tolist(), self.downs.tolist())
        return [Line(*line) for line in zip(*own, strict=True)]


def blocks_of(
    rows: Sequence[int], sets: Sequence[Set], shares: Sequence[float], styles: Sequence[TextStyle], leading: float
) -> Blocks:  # fmt: skip
    """Blocks of the lines in `sets`.

    Parameters
    ----------
    rows : Sequence[int]
        Whose each is.
    sets : Sequence[Set]
        Its lines, at least one.
    shares : Sequence[float]
        The part of their sizes that they are set in.
    styles : Sequence[TextStyle]
        How they are set.
    leading : float
        From one line to the next, in sizes of the type.

    Returns
    -------
    Blocks

    Examples
    --------
    >>> blocks = blocks_of([0], [(("Upper", 0), ("Skara", 0))], [1.0], [TextStyle(10)], 1.2)
    >>> blocks.downs.tolist(), blocks.descent.round(1).tolist()
    ([0.0, 12.0], [14.2])
    """
    counts = np.array([len(lines) for lines in sets], dtype=np.intp)
    start = np.concatenate([[0], np.cumsum(counts)]).astype(np.intp)
    texts = [text for lines in sets for text, _ in lines]
    style = np.array([number for lines in sets for _, number in lines], dtype=np.intp)
    share = np.array(shares, dtype=np.float64)
    shared = np.repeat(share, counts)
    widths = np.zeros(len(texts))
    for number, own in enumerate(styles):
        mine = np.flatnonzero(style == number)
        widths[mine] = text_widths([texts[i] for i in mine.tolist()], own)
    widths *= shared
    size = np.array([own.size for own in styles])[style] * shared
    steps = np.zeros(len(texts))
    steps[1:] = (size[1:] + size[:-1]) / 2 * leading
    steps[start[:-1]] = 0
    downs = np.cumsum(steps)
    downs -= np.repeat(downs[start[:-1]], counts)
    last = start[1:] - 1
    width = np.maximum.reduceat(widths, start[:-1]) if len(sets) else np.empty(0)
    return Blocks(
        np.array(rows, dtype=np.intp), share, start, texts, style, widths, downs, width, ASCENT * size[start[:-1]],
        downs[last] + DESCENT * size[last],
    )  # fmt: skip


def boxes_around(
    blocks: Blocks, sides: Sequence[tuple[int, int]], gaps: NDArray[np.float64], edge: float
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Where blocks stand on each of `sides`: (m, sides, 2) px to the middle of each and down to its first baseline; and (m, sides, 4)
    the boxes that they take there.

    Parameters
    ----------
    blocks : Blocks
        What is placed.
    sides : Sequence[tuple[int, int]]
        Across and down; (0, 0) is upon the place.
    gaps : NDArray[np.float64]
        (m,) px between the place and the block.
    edge : float
        Px that are kept free around the text.

    Returns
    -------
    tuple[NDArray[np.float64], NDArray[np.float64]]
    """
    across = np.array([side[0] for side in sides])
    down = np.array([side[1] for side in sides])
    dx = across * (gaps + blocks.width / 2)[:, None]
    level = (blocks.ascent - blocks.descent) / 2
    dy = np.where(
        down == 0,
        level[:, None],
        np.where(down < 0, -(gaps + blocks.descent)[:, None], (gaps + blocks.ascent)[:, None]),
    )
    half = blocks.width[:, None] / 2 + edge
    boxes = np.stack(
        [dx - half, dy - blocks.ascent[:, None] - edge, dx + half, dy + blocks.descent[:, None] + edge], axis=-1
    )
    return np.stack([dx, dy], axis=-1), boxes


def in_two(text: str) -> tuple[str, ...]:
    """A text broken at the space, or after the hyphen, nearest to its middle; nothing where it has none.

    >>> in_two("Upper Skarawater"), in_two("Skara-under-Ard")
    (('Upper', 'Skarawater'), ('Skara-', 'under-Ard'))
    """
    breaks = [i for i, c in enumerate(text[1:-1], 1) if c in BREAKS]
    if not breaks:
        return ()
    at = min(breaks, key=lambda i: abs(i - len(text) / 2))
    return text[:at] if text[at] == " " else text[: at + 1], text[at + 1 :]
