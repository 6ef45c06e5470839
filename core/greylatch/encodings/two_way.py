"""Colour by two classifications at once: a square of colours, of which one side rises with either."""

from collections.abc import Iterator
from typing import ClassVar, Literal

import numpy as np
from coloraide import Color
from pydantic import field_validator

from greylatch.classes.classify import NO_DATA
from greylatch.classes.values import meaning_of
from greylatch.encodings.by_classes import (
    begun_classing,
    class_id,
    class_texts,
    classification_of,
    divisor,
    held_classing,
    values_for,
)
from greylatch.encodings.encoded import NONE, Encoded, Encoding, Step, Use, uses_of_classing
from greylatch.encodings.suiting import another_number
from greylatch.sheet.parts import NO_DATA_COLOUR, Classing, Colour, Part
from greylatch.tables.dataset import Dataset

__all__ = ["ColourByTwo", "Corners", "square_colours"]

MOST, FEW = 4, 3
"""Classes a side at most, and to begin with."""


class Corners(Part):
    """Colours at the corners of the square: both low, one of them high, both high."""

    low: Colour = "#ece8df"
    first: Colour = "#b8583c"
    second: Colour = "#3f7f9b"
    high: Colour = "#3a2340"


class ColourByTwo(Encoding):
    """A colour per pair of classes, 2 × 2 to 4 × 4."""

    numbers: ClassVar[int] = 2
    by: Literal["two-way"] = "two-way"
    first: Classing
    second: Classing
    corners: Corners = Corners()
    no_data: Colour | None = NO_DATA_COLOUR

    @field_validator("first", "second")
    @classmethod
    def _few(cls, classing: Classing) -> Classing:
        if (len(classing.breaks) or classing.classes) > MOST:
            raise ValueError(f"a two-way key has at most {MOST} classes a side")
        return classing

    @classmethod
    def begun(cls, dataset: Dataset, shown: list[str], before: Encoding | None = None) -> Encoding:
        other = next((name for name in shown[1:] if name != shown[0]), None) or another_number(dataset, shown[0])
        first, second = (
            begun_classing(dataset, Classing(field=name, method="quantile", classes=FEW)) for name in (shown[0], other)
        )
        return cls(first=first, second=second)

    def shown(self) -> list[str]:
        return [self.first.field, self.second.field]

    def uses(self) -> Iterator[Use]:
        for classing in (self.first, self.second):
            yield from uses_of_classing(classing.field, "its two-way classes", classing.normalise, classing.weight)

    def encode(self, dataset: Dataset) -> Encoded:
        first, second = classification_of(dataset, self.first), classification_of(dataset, self.second)
        across, up = len(first.classes), len(second.classes)
        known = (first.index != NO_DATA) & (second.index != NO_DATA)
        step = np.where(known, first.index.astype(np.int32) + across * second.index.astype(np.int32), NONE).astype(
            np.int32
        )
        counts = np.bincount(step[known], minlength=across * up)
        colours = square_colours(self.corners, across, up)
        sides = (self.first, first), (self.second, second)
        ids = [
            [class_id(side.field, divisor(side.normalise), each) for each in classed.classes] for side, classed in sides
        ]
        words = [
            class_texts(side, classed.classes, values_for(dataset, side)) for side, classed in sides
        ]  # fmt: skip
        steps = tuple(
            Step(
                f"{ids[0][i]} × {ids[1][j]}",
                f"{words[0][i]} · {words[1][j]}",
                int(counts[i + across * j]),
                colours[j][i],
                numbers=tuple((each.lower, each.upper) for each in (first.classes[i], second.classes[j])),
            )
            for j in range(up)
            for i in range(across)
        )
        named = tuple(_named(dataset, side) for side in (self.first, self.second))
        return Encoded(steps, step, no_data=self.no_data, square=(across, up), sides=named, classification=None)

    def held(self, dataset: Dataset) -> Encoding:
        sides = {"first": held_classing(self.first, dataset), "second": held_classing(self.second, dataset)}
        return self.model_copy(update=sides)


def _named(dataset: Dataset, classing: Classing) -> str:
    """What a side of the square measures."""
    if classing.normalise is not None:
        return f"{classing.field} {divisor(classing.normalise)}"
    unit = meaning_of(dataset, classing.field).unit
    return f"{classing.field}, {unit}" if unit else classing.field


def square_colours(corners: Corners, across: int, up: int) -> list[list[str]]:
    """Rows of colours from the lowest, between the corners in OKLab (Ottosson 2020), so that equal steps look equally far apart.

    Parameters
    ----------
    corners : Corners
        The colours at the corners.
    across : int
        How many columns.
    up : int
        How many rows.

    Returns
    -------
    list[list[str]]

    Examples
    --------
    >>> square_colours(Corners(low="#ffffff", high="#000000"), 2, 2)[0][0]
    '#ffffff'
    """
    below = Color.interpolate([corners.low, corners.first], space="oklab")
    above = Color.interpolate([corners.second, corners.high], space="oklab")
    rows = []
    for j in range(up):
        along = [
            Color.interpolate([below(_at(i, across)), above(_at(i, across))], space="oklab") for i in range(across)
        ]
        rows.append(
            [each(_at(j, up)).convert("srgb").to_string(hex=True, fit={"method": "oklch-chroma"}) for each in along]
        )
    return rows


def _at(i: int, n: int) -> float:
    return i / (n - 1) if n > 1 else 0.5
