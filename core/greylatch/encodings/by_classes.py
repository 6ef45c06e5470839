"""Colour or size by class: numbers of a field in classes."""

import math
from collections.abc import Iterator, Sequence
from itertools import pairwise
from typing import Annotated, Any, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from greylatch.classes.breaks import distinct_at_most
from greylatch.classes.classify import NO_DATA, Classification, ValueClass, classify
from greylatch.classes.values import numbers_of, values_of
from greylatch.colour.ramps import ramp_colours
from greylatch.encodings.encoded import (
    NONE,
    Encoded,
    Encoding,
    Step,
    Use,
    decimals_of,
    taken_along,
    unknown_text,
    uses_of_classing,
)
from greylatch.encodings.sizes import class_radii
from greylatch.sheet.parts import (
    NO_DATA_COLOUR,
    Classing,
    Colour,
    Normalise,
    NormaliseByField,
    NormaliseByTotal,
    Pixels,
    RampChoice,
)
from greylatch.tables.dataset import Dataset

__all__ = [
    "ColourByClasses", "SizeByClasses", "begun_classing", "class_id", "class_text", "class_texts", "classification_of", "decimals_for", "divisor", "held_classing",
    "values_for",
]  # fmt: skip


class _ByClasses(Encoding):
    classing: Classing
    no_data: Colour | None = Field(NO_DATA_COLOUR, description="Colour where there is no number; null draws nothing")

    def uses(self) -> Iterator[Use]:
        classing = self.classing
        yield from uses_of_classing(classing.field, "its classes", classing.normalise, classing.weight)

    def held(self, dataset: Dataset) -> Encoding:
        return self.model_copy(update={"classing": held_classing(self.classing, dataset)})

    def _encoded(self, dataset: Dataset) -> Encoded:
        classification = classification_of(dataset, self.classing)
        values = values_for(dataset, self.classing)
        texts = class_texts(self.classing, classification.classes, values)
        steps = tuple(
            Step(
                class_id(self.classing.field, divisor(self.classing.normalise), each), text, each.count,
                limits=(each.lower, each.upper), numbers=((each.lower, each.upper),), **looks,
            )
            for each, text, looks in zip(classification.classes, texts, self._looks(len(classification.classes)), strict=True)
        )  # fmt: skip
        index = classification.index.astype(np.int32)
        return Encoded(
            steps, np.where(index == NO_DATA, NONE, index).astype(np.int32), no_data=self.no_data, unknown=unknown_text(self.classing.normalise), rising=True,
            classification=classification, values=values, note=classification.note,
            decimals=decimals_of(dataset, self.classing.field, self.classing.normalise),
        )  # fmt: skip

    def _looks(self, n: int) -> list[dict[str, Any]]:
        raise NotImplementedError


class ColourByClasses(_ByClasses):
    """A colour per class."""

    by: Literal["classes"] = "classes"
    ramp: RampChoice = RampChoice()

    @classmethod
    def begun(cls, dataset: Dataset, shown: list[str], before: Encoding | None = None) -> Encoding:
        ramp = {} if getattr(before, "by", "") in ("category", "largest") else taken_along(before, "ramp")
        return cls(classing=_classing_of(before, dataset, shown), **taken_along(before, "no_data"), **ramp)

    def encode(self, dataset: Dataset) -> Encoded:
        return self._encoded(dataset)

    def _looks(self, n: int) -> list[dict[str, Any]]:
        return [{"colour": colour} for colour in ramp_colours(self.ramp, n)]


class SizeByClasses(_ByClasses):
    """A size per class in equal steps: the radius of points, the width of lines."""

    by: Literal["classes"] = "classes"
    smallest: Pixels = 2.5
    largest: Annotated[Pixels, Field(description="Of the highest class")] = 12.0

    @classmethod
    def begun(cls, dataset: Dataset, shown: list[str], before: Encoding | None = None) -> Encoding:
        ends = {"smallest": 0.6, "largest": 4.0} if dataset.kind == "lines" else {"smallest": 2.0, "largest": 9.0}
        return cls(classing=_classing_of(before, dataset, shown), **taken_along(before, "no_data"), **ends)

    def encode(self, dataset: Dataset) -> Encoded:
        return self._encoded(dataset)

    def _looks(self, n: int) -> list[dict[str, Any]]:
        return [{"size": radius} for radius in class_radii(n, self.smallest, self.largest)]


def _classing_of(before: Encoding | None, dataset: Dataset, shown: list[str]) -> Classing:
    """The classes of before, or new ones of the field that is shown."""
    known = getattr(before, "classing", None)
    return known or begun_classing(dataset, Classing(field=shown[0], **taken_along(before, "normalise")))


def begun_classing(dataset: Dataset, classing: Classing) -> Classing:
    """Classes to begin with: no more than there are different values.

    Parameters
    ----------
    dataset : Dataset
        The data.
    classing : Classing
        As many as there would be of many values.

    Returns
    -------
    Classing

    Raises
    ------
    BadInput
        For a field that is not there or holds no numbers.
    """
    values = values_for(dataset, classing)
    different = distinct_at_most(values[np.isfinite(values)], classing.classes)
    return classing.model_copy(update={"classes": max(1, min(classing.classes, different))})


def classification_of(dataset: Dataset, classing: Classing) -> Classification:
    """The classes that `classing` asks for; breaks typed by hand stand as they are.

    Parameters
    ----------
    dataset : Dataset
        The data.
    classing : Classing
        How numbers become classes.

    Returns
    -------
    Classification
    """
    weights = numbers_of(dataset, classing.weight) if classing.weight else None
    limits = classing.breaks if classing.method == "manual" else None
    return classify(values_for(dataset, classing), classing.method, classing.classes, limits, weights, classing.nice)


def held_classing(classing: Classing, dataset: Dataset) -> Classing:
    """The same with its computed limits written down; limits that were set by hand are as they were.

    Parameters
    ----------
    classing : Classing
        How numbers become classes.
    dataset : Dataset
        The data.

    Returns
    -------
    Classing
    """
    if classing.method == "manual":
        return classing
    classification = classification_of(dataset, classing)
    # The last limit is the largest value, which other data may exceed.
    return classing.model_copy(
        update={
            "method": "manual",
            "breaks": classification.breaks[:-1],
            "classes": len(classification.classes),
            "nice": False,
        }
    )


def values_for(dataset: Dataset, classing: Classing) -> NDArray[np.float64]:
    """The values that get classified.

    Parameters
    ----------
    dataset : Dataset
        The data.
    classing : Classing
        How numbers become classes.

    Returns
    -------
    NDArray[np.float64]
    """
    return values_of(dataset, classing.field, classing.normalise)


def divisor(normalise: Normalise | None) -> str:
    """What numbers are divided by, as keys and the identities of classes say it."""
    if normalise is None:
        return ""
    if isinstance(normalise, NormaliseByField):
        return f"per {normalise.per:,g} {normalise.field}" if normalise.per != 1 else f"per {normalise.field}"
    return "% of the total" if isinstance(normalise, NormaliseByTotal) else "per km²"


def class_id(field: str, unit: str, value_class: ValueClass) -> str:
    """What a class stands for, by which the words written for it are found: the numbers and the limits.

    >>> class_id("carbon_t", "per km²", ValueClass(394.27, 601.36, 3))
    'carbon_t per km² 394.27–601.36'
    """
    return f"{field} {unit} ".replace("  ", " ") + f"{value_class.lower:.9g}–{value_class.upper:.9g}"


def class_texts(classing: Classing, classes: Sequence[ValueClass], values: NDArray[np.float64]) -> list[str]:
    """The limits of classes as readers see them. Of whole numbers computed limits that lie between two are said as the lower one: the same are
    below them.

    >>> by = Classing(field="wells", method="quantile")
    >>> class_texts(by, [ValueClass(1, 2.6, 4), ValueClass(2.6, 10.25, 3)], np.array([1.0, 2, 9, np.nan]))
    ['1 – 2', '2 – 10']
    """
    decimals = decimals_for(classes)
    if classing.method != "manual" and not (values[np.isfinite(values)] % 1).any():
        edges = [math.floor(classes[0].lower), *(math.floor(each.upper) for each in classes)]
        # A class with no whole number in it keeps its limits: they are all that there is to say of it.
        if all(below < above for below, above in pairwise(edges)):
            classes, decimals = [ValueClass(*ends, 0) for ends in pairwise(edges)], 0
    return [class_text(each, decimals) for each in classes]


def class_text(value_class: ValueClass, decimals: int) -> str:
    """'1,200 – 3,400': the limits of a class as readers see them, or the one value that is in it.

    >>> class_text(ValueClass(1200, 3400.25, 3), 1), class_text(ValueClass(0, 0, 3), 4)
    ('1,200.0 – 3,400.2', '0')
    """
    if value_class.lower == value_class.upper:
        return f"{value_class.upper:,.{0 if value_class.upper == 0 else decimals}f}".replace("-", "−")
    return f"{value_class.lower:,.{decimals}f} – {value_class.upper:,.{decimals}f}".replace("-", "−")


def decimals_for(classes: Sequence[ValueClass]) -> int:
    """None where all limits are whole; else so many that the width of the narrowest class shows with two figures."""
    if all(float(limit).is_integer() for value_class in classes for limit in (value_class.lower, value_class.upper)):
        return 0
    widths = [value_class.upper - value_class.lower for value_class in classes if value_class.upper > value_class.lower]
    if not widths:
        return 2
    return int(min(10, max(0, 1 - math.floor(math.log10(min(widths))))))
