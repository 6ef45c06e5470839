"""The distribution of a field: what a cartographer looks at before choosing classes."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray


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


def distribution(values: NDArray[np.float64], bins: int = 64) -> Distribution:
    """Describe `values`; NaN and infinities count as missing.

    >>> distribution(np.array([1.0, 2, 3, np.inf]), bins=2).counts
    [1, 2]
    """
    numbers = values[np.isfinite(values)]
    missing = len(values) - len(numbers)
    if len(numbers) == 0:
        return Distribution(0, missing, None, None, None, None, [], [])
    counts, edges = np.histogram(numbers, bins=bins)
    return Distribution(
        len(numbers),
        missing,
        float(numbers.min()),
        float(numbers.max()),
        float(numbers.mean()),
        float(np.median(numbers)),
        edges.tolist(),
        counts.tolist(),
    )
