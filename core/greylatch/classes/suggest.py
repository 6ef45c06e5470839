"""How many classes suit some numbers."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from greylatch.classes.classify import classify
from greylatch.errors import BadInput

__all__ = ["ClassCount", "suggested_classes"]

FEWEST, MOST = 3, 7
"""Fewer say little, and readers tell no more shades of a map apart. Common practice, no source."""
GOOD = 0.9
"""The goodness of variance fit that is enough. Common practice, no source."""
SAMPLE = 50_000


@dataclass(frozen=True)
class ClassCount:
    """A number of classes, and why."""

    classes: int
    because: str


def suggested_classes(values: NDArray[np.float64]) -> ClassCount:
    """The fewest classes whose best limits (natural breaks) fit the values well enough, from three to seven.

    Of very many values an even part is looked at.

    Parameters
    ----------
    values : NDArray[np.float64]
        The values; what is not finite is missing.

    Returns
    -------
    ClassCount

    Raises
    ------
    BadInput
        Where there is no value.

    Examples
    --------
    >>> suggested_classes(np.array([1.0, 1, 1, 5, 5, 9, 9, 9])).because
    'There are 3 different values.'
    """
    finite = values[np.isfinite(values)]
    if not len(finite):
        raise BadInput("There is nothing to class: every value is missing.")
    different = len(np.unique(finite))
    if different <= FEWEST:
        said = "is one value" if different == 1 else f"are {different} different values"
        return ClassCount(different, f"There {said}.")
    looked_at = np.sort(finite)[:: -(-len(finite) // SAMPLE)]
    best = 0.0
    for k in range(FEWEST, min(MOST, different) + 1):
        best = classify(looked_at, "natural-breaks", k).fit
        if best >= GOOD:
            return ClassCount(k, f"{k} are the fewest whose best limits fit well ({best:.2f}; {GOOD:g} is enough).")
    return ClassCount(
        min(MOST, different), f"More would fit better than {best:.2f}, but readers tell no more than {MOST} apart."
    )
