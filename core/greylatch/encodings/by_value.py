"""Colour, size, opacity and turn that follow a value from feature to feature, without classes."""

import math
from collections.abc import Iterator
from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from greylatch.classes.values import meaning_of, numbers_of, values_of
from greylatch.colour.ramps import ramp_colours
from greylatch.encodings.by_classes import divisor
from greylatch.encodings.encoded import (
    Encoded,
    Encoding,
    Step,
    Use,
    decimals_of,
    taken_along,
    unknown_text,
    uses_of_classing,
)
from greylatch.encodings.sizes import proportional_radii
from greylatch.errors import BadInput
from greylatch.sheet.parts import NO_DATA_COLOUR, Colour, FieldName, Normalise, Pixels, RampChoice, Share
from greylatch.tables.dataset import Dataset
from greylatch.wording import number_text

__all__ = ["RAMP_STEPS", "AngleByValue", "ColourByValue", "OpacityByValue", "SizeByValue", "reference_values"]

RAMP_STEPS = 256
"""Colours that a continuous ramp is drawn with."""


class ColourByValue(Encoding):
    """A colour along a ramp for each value. Values beyond its ends get the colours of the ends; a middle has the ramp's middle colour."""

    by: Literal["value"] = "value"
    field: FieldName
    normalise: Normalise | None = None
    ramp: RampChoice = RampChoice()
    low: float | None = Field(None, description="Value at the ramp's low end; null: the least")
    middle: float | None = Field(None, description="Value in the ramp's middle; null: halfway")
    high: float | None = Field(None, description="Value at the ramp's high end; null: the greatest")
    no_data: Colour | None = NO_DATA_COLOUR

    @classmethod
    def begun(cls, dataset: Dataset, shown: list[str], before: Encoding | None = None) -> Encoding:
        ramp = {} if getattr(before, "by", "") in ("category", "largest") else taken_along(before, "ramp")
        return cls(field=shown[0], **taken_along(before, "no_data", "normalise"), **ramp)

    def uses(self) -> Iterator[Use]:
        yield from uses_of_classing(self.field, "its colours", self.normalise)

    def encode(self, dataset: Dataset) -> Encoded:
        values = values_of(dataset, self.field, self.normalise)
        low, middle, high = self._ends(values)
        knots, along = ([low, high], [0.0, 1.0]) if middle is None else ([low, middle, high], [0.0, 0.5, 1.0])
        amount = np.interp(values, knots, along).astype(np.float32)
        amount[~np.isfinite(values)] = np.nan
        colours = tuple(ramp_colours(self.ramp, RAMP_STEPS))
        return Encoded(
            amount=amount,
            ramp=colours,
            ends=tuple(knots),
            decimals=decimals_of(dataset, self.field, self.normalise),
            no_data=self.no_data,
            unknown=unknown_text(self.normalise),
            values=values,
        )

    def _ends(self, values: NDArray[np.float64]) -> tuple[float, float | None, float]:
        finite = values[np.isfinite(values)]
        low = self.low if self.low is not None else float(finite.min(initial=np.inf))
        high = self.high if self.high is not None else float(finite.max(initial=-np.inf))
        if not len(finite):
            low, high = self.low or 0.0, self.high or 1.0
        if low >= high:
            if self.low is not None and self.high is not None:
                raise BadInput(f"The ramp's low end {low:g} is not below its high end {high:g}.")
            low, high = min(low, high), max(low, high) + (1.0 if low == high else 0.0)
        if self.middle is not None and not low < self.middle < high:
            raise BadInput(f"The middle {self.middle:g} does not lie between the ends {low:g} and {high:g}.")
        return low, self.middle, high

    def held(self, dataset: Dataset) -> Encoding:
        low, _, high = self._ends(values_of(dataset, self.field, self.normalise))
        return self.model_copy(update={"low": low, "high": high})


class SizeByValue(Encoding):
    """A size that follows the value: true to area, or to the area as it is perceived (Flannery). Of lines the width, in proportion."""

    by: Literal["value"] = "value"
    field: FieldName
    normalise: Normalise | None = None
    scaling: Literal["area", "flannery", "straight"] = "area"
    largest: Annotated[Pixels, Field(description="Radius of the largest value")] = 20.0
    greatest: Annotated[float, Field(gt=0)] | None = Field(
        None, description="The value that is drawn largest; null: the greatest"
    )
    no_data: Colour | None = None

    @classmethod
    def begun(cls, dataset: Dataset, shown: list[str], before: Encoding | None = None) -> Encoding:
        along = taken_along(before, "normalise")
        if dataset.kind == "lines":
            return cls(field=shown[0], scaling="straight", largest=6.0, **along)
        return cls(field=shown[0], largest=18.0, **along)

    def uses(self) -> Iterator[Use]:
        yield from uses_of_classing(self.field, "the size of its symbols", self.normalise)

    def encode(self, dataset: Dataset) -> Encoded:
        values = values_of(dataset, self.field, self.normalise)
        sizes = proportional_radii(values, self.largest, self.scaling, self.greatest)
        greatest = self.greatest or float(np.nanmax(np.where(np.isfinite(values), values, 0.0), initial=0.0))
        amount = np.where(np.isfinite(values), sizes, np.float32(np.nan))
        return Encoded(
            self._samples(greatest, _whole(values)),
            amount=amount,
            no_data=self.no_data,
            unknown=unknown_text(self.normalise),
            values=values,
            decimals=decimals_of(dataset, self.field, self.normalise),
        )

    def _samples(self, greatest: float, whole: bool) -> tuple[Step, ...]:
        if greatest <= 0:
            return ()
        shown = reference_values(greatest, whole)
        sizes = proportional_radii(np.array(shown), self.largest, self.scaling, greatest)
        # Each is called after the share of the greatest that it stands for, to which words are written, and not after its digit.
        return tuple(
            Step(f"size {shown[0] / 4**n:.9g}", number_text(value), size=float(size), numbers=((value, value),))
            for n, (value, size) in enumerate(zip(shown, sizes, strict=True))
        )

    def held(self, dataset: Dataset) -> Encoding:
        values = values_of(dataset, self.field, self.normalise)
        greatest = float(np.nanmax(np.where(np.isfinite(values), values, 0.0), initial=0.0))
        return self.model_copy(update={"greatest": self.greatest or greatest or None})


class OpacityByValue(Encoding):
    """An opacity that rises with the value between two ends; features without a value keep that of their symbol."""

    by: Literal["value"] = "value"
    field: FieldName
    normalise: Normalise | None = None
    low: float | None = Field(None, description="Value that is faintest; null: the least")
    high: float | None = Field(None, description="Value that is drawn in full; null: the greatest")
    faintest: Share = 0.15
    fullest: Share = 1.0

    @classmethod
    def begun(cls, dataset: Dataset, shown: list[str], before: Encoding | None = None) -> Encoding:
        return cls(field=shown[0])

    def uses(self) -> Iterator[Use]:
        yield from uses_of_classing(self.field, "its opacity", self.normalise)

    def encode(self, dataset: Dataset) -> Encoded:
        values = values_of(dataset, self.field, self.normalise)
        finite = values[np.isfinite(values)]
        low = self.low if self.low is not None else float(finite.min(initial=0.0) if len(finite) else 0.0)
        high = self.high if self.high is not None else float(finite.max(initial=low) if len(finite) else 1.0)
        if low >= high:
            high = low + 1.0
        amount = np.interp(values, [low, high], [self.faintest, self.fullest]).astype(np.float32)
        amount[~np.isfinite(values)] = np.nan
        return Encoded(self._samples(dataset, finite, low, high), amount=amount, values=values)

    def _samples(self, dataset: Dataset, values: NDArray[np.float64], low: float, high: float) -> tuple[Step, ...]:
        """The faintest and the fullest, with what else is as faint and as full. They name what they are of: a key has other numbers too."""
        if not len(values):
            return ()
        unit = "" if self.normalise else meaning_of(dataset, self.field).unit
        named = "" if unit else f"{self.field} {divisor(self.normalise)}".strip()
        texts = [" ".join(filter(None, (named, number_text(value), unit))) for value in (high, low)]
        less, more = (values < low).any(), (values > high).any()
        return (
            Step("fullest", texts[0] + (" or more" if more else ""), opacity=self.fullest),
            Step("faintest", texts[1] + (" or less" if less else ""), opacity=self.faintest),
        )


class AngleByValue(Encoding):
    """A turn of a point's shape by a field of degrees, clockwise from where it stands by itself; without a value it is not turned."""

    by: Literal["value"] = "value"
    field: FieldName

    @classmethod
    def begun(cls, dataset: Dataset, shown: list[str], before: Encoding | None = None) -> Encoding:
        return cls(field=shown[0])

    def uses(self) -> Iterator[Use]:
        yield Use(self.field, "the turn of its symbols", True)

    def encode(self, dataset: Dataset) -> Encoded:
        degrees = numbers_of(dataset, self.field)
        return Encoded(
            amount=np.mod(np.where(np.isfinite(degrees), degrees, 0.0), 360.0).astype(np.float32), values=degrees
        )


def _whole(values: NDArray[np.float64]) -> bool:
    known = values[np.isfinite(values)]
    return bool(np.all(known == np.rint(known)))


def reference_values(greatest: float, whole: bool = False) -> list[float]:
    """Values for a nested key of proportional symbols that a reader can say, the largest first: the greatest, a quarter and a sixteenth of it, each to
    one digit.

    Parameters
    ----------
    greatest : float
        The greatest value on the map, above 0.
    whole : bool
        Whether all values are whole numbers, as those of what is counted.

    Returns
    -------
    list[float]
        Three; of whole numbers as many as differ.

    Examples
    --------
    >>> reference_values(870.0), reference_values(30.0), reference_values(3.0, whole=True)
    ([800.0, 200.0, 50.0], [30.0, 8.0, 2.0], [3.0, 1.0])
    """
    power = 10.0 ** math.floor(math.log10(greatest))
    top = math.floor(greatest / power) * power
    # A half is rounded up, however it is held in binary.
    values = [float(f"{value * (1 + 1e-9):.1g}") for value in (top, top / 4, top / 16)]
    return list(dict.fromkeys(max(1.0, float(round(value))) for value in values)) if whole else values
