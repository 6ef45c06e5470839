"""The distribution of a field: what a cartographer looks at before choosing classes."""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from greylatch.tables.figures import histogram, mean

__all__ = ["BINS", "Distribution", "distribution", "step_of_hand"]

BINS = 64
"""Of a histogram, unless somebody says otherwise."""
PER_BIN = 4
"""Steps of a hand that a bin holds at least."""


@dataclass(frozen=True)
class Distribution:
    """A histogram (`edges` has one more entry than `counts`) and the figures always in view; None where all is missing. `steps` are those in
    which a hand takes values within each bin."""

    n: int
    missing: int
    minimum: float | None
    maximum: float | None
    mean: float | None
    median: float | None
    edges: list[float]
    counts: list[int]
    steps: list[float]


def step_of_hand(width: float) -> float:
    """In what steps a hand takes values where bins of a histogram are so wide: a power of ten, four to forty of them a bin. So what is
    dragged stands at a number that can be said, and as close as anyone can point: a bin is some px wide. Ours, with no source.

    Parameters
    ----------
    width : float
        Of a bin, in the unit of the values.

    Returns
    -------
    float
        0 where it has no width, or next to none: values are as they are.

    Examples
    --------
    >>> step_of_hand(15.6), step_of_hand(0.042), step_of_hand(1000.0)
    (1.0, 0.01, 100.0)
    """
    if not (math.isfinite(width) and width > 0):
        return 0.0
    # By logarithms: a part of the least number that there is would be none.
    return float(10.0 ** math.floor(math.log10(width) - math.log10(PER_BIN)))


def _logarithmic(numbers: NDArray[np.float64], bins: int) -> tuple[NDArray[np.int64], NDArray[np.float64]]:
    """Counts in bins of which each is as many times as wide as the one before it."""
    edges = np.unique(np.geomspace(numbers.min(), numbers.max(), bins + 1))
    if len(edges) == 1:
        return histogram(numbers, bins)
    edges[0], edges[-1] = numbers.min(), numbers.max()
    return np.histogram(numbers, edges)[0], edges


def distribution(
    values: NDArray[np.float64], bins: int = BINS, low: float | None = None, high: float | None = None,
    logarithmic: bool = False,
) -> Distribution:  # fmt: skip
    """Describe `values`; NaN and infinities count as missing. The figures are of all of them, the bars of those between `low` and `high`.

    Parameters
    ----------
    values : NDArray[np.float64]
        The values; what is not finite is missing.
    bins : int
        How many bars.
    low : float | None
        Where the bars begin; None at the least value.
    high : float | None
        Where they end; None at the greatest.
    logarithmic : bool
        Whether each bar is as many times as wide as the one before it, rather than as wide; only numbers above zero have a place then.

    Returns
    -------
    Distribution

    Examples
    --------
    >>> distribution(np.array([1.0, 2, 3, np.inf]), bins=2).counts
    [1, 2]
    >>> distribution(np.array([1.0, 10, 100, 0]), bins=2, logarithmic=True).edges
    [1.0, 10.0, 100.0]
    """
    numbers = values[np.isfinite(values)]
    missing = len(values) - len(numbers)
    if len(numbers) == 0:
        return Distribution(0, missing, None, None, None, None, [], [], [])
    shown = numbers[numbers > 0] if logarithmic else numbers
    shown = shown[(shown >= (-np.inf if low is None else low)) & (shown <= (np.inf if high is None else high))]
    if not len(shown):
        counts, edges = np.empty(0, dtype=np.int64), np.empty(0)
    elif logarithmic:
        counts, edges = _logarithmic(shown, bins)
    else:
        counts, edges = histogram(shown, bins)
    return Distribution(
        len(numbers),
        missing,
        float(numbers.min()),
        float(numbers.max()),
        mean(numbers),
        float(np.median(numbers)),
        edges.tolist(),
        counts.tolist(),
        [step_of_hand(width) for width in np.diff(edges).tolist()],
    )
