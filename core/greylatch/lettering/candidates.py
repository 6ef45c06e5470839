"""The ways in which labels may stand at a scale."""

from collections.abc import Callable
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from greylatch.lettering.label import Box, Piece

__all__ = ["Candidates", "Laid"]


class Candidates(NamedTuple):
    """The ways in which labels may stand at one scale: label i may take any of `start[i]` to `start[i + 1]`, the first the best."""

    rows: NDArray[np.intp]
    """(labels,) which row of the data each label names."""
    order: NDArray[np.intp]
    """Labels as they come to be placed."""
    start: NDArray[np.intp]
    boxes: NDArray[np.float64]
    """(m, 4) px around the place."""
    places: NDArray[np.float64]
    """(m, 2) in the frame; NaN where there is no such place."""
    laid: Callable[[int], "Laid"]
    """The label at one of the m."""
    spare: NDArray[np.bool_] | None = None
    """(labels,) which are only for rows of which no other label found room."""
    sides: int = 0
    """Of labels that last, on how many sides each of their blocks stands: their boxes, block by block, are the same at every scale, and
    where one finds room it finds it further in. 0 for labels that have other ways at another scale."""


class Laid(NamedTuple):
    """A label's pieces, and the box around them, px from its place; how it is turned about that;
    on which side of a point; and its leader."""

    text: str
    pieces: list[Piece]
    box: Box
    turn: float = 0.0
    side: tuple[int, int] = (0, 0)
    leader: tuple[float, float, float, float] | None = None
