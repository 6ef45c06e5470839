"""The distribution of a field: what a cartographer looks at before choosing classes."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

__all__ = ["Distribution", "distribution"]


@dataclass(frozen=True)
class Distribution:
    """A histogram (`edges` has one more entry than `counts`) and the figures always in view; None where all is missing."""

    n: int
    missing: int
    minimum: float | None
    maximum: float | None
    mean: float | None
    median: float | None
    edges: list[float]
    counts: list[int]


def _mean(numbers: NDArray[np.float64]) -> float:
    with np.errstate(over="ignore"):
        mean = float(numbers.mean())
    return mean if np.isfinite(mean) else float((numbers / len(numbers)).sum())


def _histogram(numbers: NDArray[np.float64], bins: int) -> tuple[NDArray[np.int64], NDArray[np.float64]]:
    """Counts in bins of equal width. Numbers nearly as far apart as numbers can be, or next to each other, are binned too."""
    low, high = float(numbers.min()), float(numbers.max())
    # Halves of both ends are never further apart than a number can say.
    edges = (low / 2 + (high / 2 - low / 2) * (np.arange(bins + 1) / bins)) * 2
    if low == high:
        edges = np.array([low - 0.5, low + 0.5]) if low - 0.5 < low else np.array([low, low])
        return np.array([len(numbers)]), edges
    edges = np.unique(np.clip(edges, low, high))
    edges[0], edges[-1] = low, high  # the half of a number as small as can be is not exact
    counts = np.bincount(
        np.minimum(np.searchsorted(edges, numbers, side="right") - 1, len(edges) - 2), minlength=len(edges) - 1
    )
    return counts, edges


def distribution(values: NDArray[np.float64], bins: int = 64) -> Distribution:
    """Describe `values`; NaN and infinities count as missing.

    Parameters
    ----------
    values : NDArray[np.float64]
        The values; what is not finite is missing.
    bins : int
        How many bars.

    Returns
    -------
    Distribution

    Examples
    --------
    >>> distribution(np.array([1.0, 2, 3, np.inf]), bins=2).counts
    [1, 2]
    """
    numbers = values[np.isfinite(values)]
    missing = len(values) - len(numbers)
    if len(numbers) == 0:
        return Distribution(0, missing, None, None, None, None, [], [])
    counts, edges = _histogram(numbers, bins)
    return Distribution(
        len(numbers),
        missing,
        float(numbers.min()),
        float(numbers.max()),
        _mean(numbers),
        float(np.median(numbers)),
        edges.tolist(),
        counts.tolist(),
    )
