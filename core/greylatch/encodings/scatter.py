"""Two classifications at once as a picture of pairs: each feature a dot, and the limits of both as lines across."""

from dataclasses import dataclass

import numpy as np

from greylatch.classes.classify import NO_DATA, Classification
from greylatch.classes.distribution import BINS, step_of_hand
from greylatch.encodings.by_classes import classification_of, values_for
from greylatch.encodings.two_way import ColourByTwo, square_colours
from greylatch.tables.dataset import Dataset

__all__ = ["Scatter", "scatter"]

MOST = 1_500
"""Dots: more hide one another in a picture of some hundred px a side."""


@dataclass(frozen=True)
class Scatter:
    """Pairs of numbers, `x` of the first classification and `y` of the second, each with its place `cell` in `colours`, row by row from the
    lowest. `first` and `second` begin with the lowest value and go on with the upper limits of the classes; `counts` goes by cell. `first_steps` and
    `second_steps` are those in which a hand moves each upper limit, as fine as a histogram of the room between its neighbours."""

    x: list[float]
    y: list[float]
    cell: list[int]
    colours: list[str]
    counts: list[int]
    first: list[float]
    second: list[float]
    first_steps: list[float]
    second_steps: list[float]
    of: int
    missing: int


def scatter(dataset: Dataset, encoding: ColourByTwo, most: int = MOST) -> Scatter:
    """What a picture of pairs shows. Of more than `most` features every so manieth is shown, always the same ones.

    Parameters
    ----------
    dataset : Dataset
        The data.
    encoding : ColourByTwo
        The two classifications and their colours.
    most : int
        How many pairs are given at most.

    Returns
    -------
    Scatter

    Raises
    ------
    BadInput
        As `classify` does.

    Examples
    --------
    >>> import pyarrow as pa
    >>> from greylatch.sheet.parts import Classing
    >>> by = ColourByTwo(first=Classing(field="a", classes=2), second=Classing(field="b", classes=2))
    >>> shown = scatter(Dataset(pa.table({"a": [1.0, 2, 3, 4], "b": [9.0, 8, 2, 1]}), "table"), by)
    >>> shown.x, shown.cell, shown.first
    ([1.0, 2.0, 3.0, 4.0], [2, 2, 1, 1], [1.0, 2.0, 4.0])
    """
    x, y = values_for(dataset, encoding.first), values_for(dataset, encoding.second)
    first, second = classification_of(dataset, encoding.first), classification_of(dataset, encoding.second)
    across, up = len(first.classes), len(second.classes)
    known = np.flatnonzero((first.index != NO_DATA) & (second.index != NO_DATA))
    cell = first.index[known].astype(np.intp) + across * second.index[known].astype(np.intp)
    shown = np.unique(np.linspace(0, len(known) - 1, min(most, len(known))).round().astype(np.intp))
    rows = known[shown]
    across_at, up_at = _limits(first), _limits(second)
    return Scatter(
        x[rows].tolist(), y[rows].tolist(), cell[shown].tolist(),
        [colour for row in square_colours(encoding.corners, across, up) for colour in row],
        np.bincount(cell, minlength=across * up).tolist(), across_at, up_at, _steps(across_at), _steps(up_at), len(known), len(x) - len(known),
    )  # fmt: skip


def _limits(classified: Classification) -> list[float]:
    return [classified.classes[0].lower, *(each.upper for each in classified.classes)]


def _steps(limits: list[float]) -> list[float]:
    """For each upper limit; the last stands at the greatest value, and isn't moved."""
    rooms = [above - below for below, above in zip(limits[:-2], limits[2:], strict=True)]
    return [*(step_of_hand(room / BINS) for room in rooms), 0.0]
