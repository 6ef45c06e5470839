"""The mean of numbers and how many lie in each bar of their histogram, also of numbers at the ends of what numbers can be."""

import numpy as np
from numpy.typing import NDArray

__all__ = ["histogram", "mean"]


def histogram(numbers: NDArray[np.float64], bins: int) -> tuple[NDArray[np.int64], NDArray[np.float64]]:
    """Counts in bins of equal width, and the bins' edges. Numbers nearly as far apart as numbers can be, or next to each other, are binned too,
    in fewer bins where there are no numbers between them.

    Parameters
    ----------
    numbers : NDArray[np.float64]
        At least one; all finite.
    bins : int
        How many at most.

    Returns
    -------
    tuple[NDArray[np.int64], NDArray[np.float64]]

    Examples
    --------
    >>> histogram(np.array([1.0, 2.0, 2.0, 4.0]), 3)[0].tolist()
    [1, 2, 1]
    """
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


def mean(numbers: NDArray[np.float64]) -> float:
    """The mean, also where the sum is more than a number can say.

    >>> mean(np.array([1.5e308, 1.7e308]))
    1.6e+308
    """
    with np.errstate(over="ignore"):
        plain = float(numbers.mean())
    return plain if np.isfinite(plain) else float((numbers / len(numbers)).sum())
