"""Putting values into classes, and saying how well the classes fit them."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from greylatch.classes.breaks import breaks, manual
from greylatch.classes.methods import Method
from greylatch.errors import BadInput

__all__ = ["NO_DATA", "Classification", "ValueClass", "assign", "classify", "fit", "within_sum_of_squares"]

NO_DATA = 255
"""The class number of values that are missing, not a number or infinite."""
LARGEST = 1e150
"""Squares of larger numbers are infinite before a few of them are added up."""


@dataclass(frozen=True)
class ValueClass:
    """One class: values above `lower` and up to `upper`; the first class takes its lower limit too."""

    lower: float
    upper: float
    count: int


@dataclass(frozen=True)
class Classification:
    """Values in classes. `index` holds a class number per value (uint8; `NO_DATA` where there is no number)."""

    method: Method
    classes: tuple[ValueClass, ...]
    index: NDArray[np.uint8]
    missing: int
    fit: float
    note: str = ""
    """What is to be said where the classes are not as many as were asked for."""

    @property
    def breaks(self) -> list[float]:
        """Upper limits of the classes, rising."""
        return [value_class.upper for value_class in self.classes]

    @property
    def n(self) -> int:
        """How many values fell into a class."""
        return sum(value_class.count for value_class in self.classes)


def classify(
    values: NDArray[np.float64], method: Method, k: int = 5, limits: list[float] | None = None
) -> Classification:
    """Classify `values` (any shape of missing allowed: NaN, infinities) by `method`, or by the `limits` given by
    hand.

    Intervals are closed above, the first also below: a value on a break belongs to the class below it.

    Parameters
    ----------
    values : NDArray[np.float64]
        The values; what is not finite is missing.
    method : Method
        How the limits are found.
    k : int
        How many classes.
    limits : list[float] | None
        Upper limits, rising.

    Returns
    -------
    Classification

    Raises
    ------
    BadInput
        As `breaks` and `manual` do, and for a number whose square no longer is one, with its row.

    Examples
    --------
    >>> result = classify(np.array([1.0, 2, 2, 3, np.nan]), "manual", limits=[2, 3])
    >>> [item.count for item in result.classes], result.missing
    ([3, 1], 1)
    """
    finite = np.isfinite(values)
    if (beyond := finite & (np.abs(values) > LARGEST)).any():
        row = int(np.argmax(beyond))
        raise BadInput(
            f"Row {row + 1} has {values[row]:g}: numbers beyond ±{LARGEST:g} cannot be classified.", "Correct the data."
        )
    numbers = values[finite]
    by_hand = limits is not None and (method == "manual" or len(limits) > 0)
    upper = manual(limits or [], numbers) if by_hand or method == "manual" else breaks(numbers, method, k)
    index = assign(values, upper)
    counts = np.bincount(index[finite], minlength=len(upper))[: len(upper)]
    low = float(min(numbers.min(), upper[0])) if len(numbers) else float(upper[0])
    lower = [low, *upper[:-1].tolist()]
    classes = tuple(
        ValueClass(float(a), float(b), int(c)) for a, b, c in zip(lower, upper.tolist(), counts.tolist(), strict=True)
    )
    note = "" if by_hand or method == "manual" or len(classes) == k else _other_number(method, len(classes), k)
    return Classification(method, classes, index, int(len(values) - len(numbers)), fit(numbers, index[finite]), note)


def _other_number(method: Method, n: int, k: int) -> str:
    why = {
        "standard-deviation": "limits that no value reaches are left out",
        "head-tail": "how many there are follows from the values",
        "pretty": "no round step gives just as many",
    }.get(method, "equal limits are one")
    return f"{n} of {k}: {why}."


def assign(values: NDArray[np.float64], upper: NDArray[np.float64]) -> NDArray[np.uint8]:
    """Class number of each value for rising upper limits; `NO_DATA` for what is not a finite number.

    A value above the last limit falls in the last class, so that rounding a typed maximum loses nothing.

    Parameters
    ----------
    values : NDArray[np.float64]
        The values; what is not finite is missing.
    upper : NDArray[np.float64]
        Rising upper limits.

    Returns
    -------
    NDArray[np.uint8]
    """
    index = np.searchsorted(upper, values, side="left").astype(np.uint8)
    index = np.minimum(index, np.uint8(len(upper) - 1))
    return np.where(np.isfinite(values), index, np.uint8(NO_DATA))


def fit(values: NDArray[np.float64], index: NDArray[np.uint8]) -> float:
    """Goodness of variance fit: 1 − (within-class sum of squares / total sum of squares); 1 is perfect, 0 is one class.

    Formula: Jenks and Caspall (1971), "Error on choroplethic maps".

    Parameters
    ----------
    values : NDArray[np.float64]
        The values; what is not finite is missing.
    index : NDArray[np.uint8]
        Class number of each value.

    Returns
    -------
    float
    """
    if len(values) == 0:
        return 0.0
    total = float(((values - values.mean()) ** 2).sum())
    if total == 0:
        return 1.0
    return max(0.0, 1.0 - within_sum_of_squares(values, index) / total)


def within_sum_of_squares(values: NDArray[np.float64], index: NDArray[np.uint8]) -> float:
    """Sum over the classes of the squared distances of `values` from their class mean.

    Parameters
    ----------
    values : NDArray[np.float64]
        The values; what is not finite is missing.
    index : NDArray[np.uint8]
        Class number of each value.

    Returns
    -------
    float
    """
    counts = np.bincount(index)
    means = np.bincount(index, weights=values) / np.maximum(counts, 1)
    return float(((values - means[index]) ** 2).sum())
