"""Putting values into classes, and saying how well the classes fit them."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from greylatch.classes.breaks import breaks, manual
from greylatch.classes.methods import Method
from greylatch.classes.nice import nice_breaks
from greylatch.errors import BadInput
from greylatch.wording import counted

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
    values: NDArray[np.float64], method: Method, k: int = 5, limits: list[float] | None = None,
    weights: NDArray[np.float64] | None = None, nice: bool = False,
) -> Classification:  # fmt: skip
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
    weights : NDArray[np.float64] | None
        How much each value counts: people in an area, say. One that counts for nothing, or of which that is not known, has a
        class but no part in the limits.
    nice : bool
        Whether computed limits are moved to numbers that can be said (see `nice_breaks`).

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
    counting = None if weights is None else _counting(weights, finite)
    by_hand = limits is not None and (method == "manual" or len(limits) > 0)
    computed = not by_hand and method != "manual"
    upper = _limits(numbers, method, k, counting) if computed else manual(limits or [], numbers)
    exact = upper
    low = float(min(numbers.min(), upper[0])) if len(numbers) else float(upper[0])
    if nice and computed:
        low, upper = nice_breaks(low, upper)
    index = assign(values, upper)
    counts = np.bincount(index[finite], minlength=len(upper))[: len(upper)]
    lower = [low, *upper[:-1].tolist()]
    classes = tuple(
        ValueClass(float(a), float(b), int(c)) for a, b, c in zip(lower, upper.tolist(), counts.tolist(), strict=True)
    )
    notes = [_other_number(method, len(classes), k)] if computed and len(classes) != k else []
    good = fit(numbers, index[finite], counting)
    if nice and computed:
        rough = assign(values, exact)
        notes.append(_rounded(int((rough != index).sum()), fit(numbers, rough[finite], counting), good))
    return Classification(method, classes, index, int(len(values) - len(numbers)), good, " ".join(notes))


def _counting(weights: NDArray[np.float64], finite: NDArray[np.bool_]) -> NDArray[np.float64]:
    """How much each number counts. Raises BadInput for a weight below zero, with its row, and where nothing counts."""
    if (below := weights < 0).any():
        raise BadInput(f"Row {int(np.argmax(below)) + 1} has a weight below zero.", "Weigh by a field of counts.")
    counting = np.where(np.isfinite(weights), weights, 0.0)[finite]
    if not counting.sum() > 0:
        raise BadInput("Every weight is zero or missing.", "Weigh by another field.")
    return counting


def _limits(
    numbers: NDArray[np.float64], method: Method, k: int, counting: NDArray[np.float64] | None
) -> NDArray[np.float64]:  # fmt: skip
    if counting is None:
        return breaks(numbers, method, k)
    there = counting > 0
    upper = breaks(numbers[there], method, k, counting[there])
    # The largest value has a class even where it counts for nothing.
    return upper if upper[-1] >= numbers.max() else np.append(upper[:-1], numbers.max())


def _rounded(moved: int, before: float, after: float) -> str:
    return f"Rounded: {counted(moved, 'value')} in another class, fit {before:.3f} before and {after:.3f} now."


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


def fit(
    values: NDArray[np.float64], index: NDArray[np.uint8], weights: NDArray[np.float64] | None = None
) -> float:  # fmt: skip
    """Goodness of variance fit: 1 − (within-class sum of squares / total sum of squares); 1 is perfect, 0 is one class.

    Formula: Jenks and Caspall (1971), "Error on choroplethic maps".

    Parameters
    ----------
    values : NDArray[np.float64]
        The values; what is not finite is missing.
    index : NDArray[np.uint8]
        Class number of each value.
    weights : NDArray[np.float64] | None
        How much each value counts; None: all alike.

    Returns
    -------
    float
    """
    if len(values) == 0:
        return 0.0
    total = within_sum_of_squares(values, np.zeros(len(values), dtype=np.uint8), weights)
    if total == 0:
        return 1.0
    return max(0.0, 1.0 - within_sum_of_squares(values, index, weights) / total)


def within_sum_of_squares(
    values: NDArray[np.float64], index: NDArray[np.uint8], weights: NDArray[np.float64] | None = None
) -> float:  # fmt: skip
    """Sum over the classes of the squared distances of `values` from their class mean.

    Parameters
    ----------
    values : NDArray[np.float64]
        The values; what is not finite is missing.
    index : NDArray[np.uint8]
        Class number of each value.
    weights : NDArray[np.float64] | None
        How much each value counts; None: all alike.

    Returns
    -------
    float
    """
    counting = np.ones(len(values)) if weights is None else weights
    counts = np.bincount(index, weights=counting)
    means = np.bincount(index, weights=values * counting) / np.where(counts > 0, counts, 1)
    return float((counting * (values - means[index]) ** 2).sum())
