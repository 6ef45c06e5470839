"""Natural breaks: the partition of sorted values with the smallest within-class sum of squares."""

import numpy as np
from numba import njit
from numpy.typing import NDArray


def natural_breaks(values: NDArray[np.float64], k: int) -> NDArray[np.float64]:
    """Upper limits of the `k` classes whose within-class sum of squares is the least possible.

    The exact optimum of Fisher (1958), "On grouping for maximum homogeneity", not a sample. Equal values are merged into
    one weighted value first; then the dynamic programme over the m distinct values is filled by divide and conquer, which
    is exact because the best split moves only one way (Monge costs): O(k m log m) time, O(k m) memory.

    `values`: finite numbers, in any order, with at least `k` distinct ones. Returns `k` rising limits; the last is the maximum.

    >>> natural_breaks(np.array([1.0, 2, 3, 10, 11, 12, 50]), 3).tolist()
    [3.0, 12.0, 50.0]
    """
    distinct, counts = np.unique(values, return_counts=True)
    if not 1 <= k <= len(distinct):
        raise ValueError(f"k must lie between 1 and the {len(distinct)} distinct values")
    # Centring and scaling keep the prefix sums of squares from cancelling where values are large and close together.
    centre = float(np.average(distinct, weights=counts))
    spread = float(np.max(np.abs(distinct - centre))) or 1.0
    last = _split(((distinct - centre) / spread).astype(np.float64), counts.astype(np.float64), k)
    return np.asarray(distinct[last], dtype=np.float64)


@njit(cache=True)
def _cost(weight, total, square, i, j):  # type: ignore[no-untyped-def]
    """Within-class sum of squares of the distinct values i..j (both included)."""
    w = weight[j + 1] - weight[i]
    s = total[j + 1] - total[i]
    return max(square[j + 1] - square[i] - s * s / w, 0.0)


@njit(cache=True)
def _split(x, counts, k):  # type: ignore[no-untyped-def]
    """Indices of the last distinct value of each of the k classes."""
    m = len(x)
    weight = np.zeros(m + 1)
    total = np.zeros(m + 1)
    square = np.zeros(m + 1)
    for i in range(m):
        weight[i + 1] = weight[i] + counts[i]
        total[i + 1] = total[i] + counts[i] * x[i]
        square[i + 1] = square[i] + counts[i] * x[i] * x[i]
    before = np.empty(m)
    for j in range(m):
        before[j] = _cost(weight, total, square, 0, j)
    start = np.zeros((k, m), dtype=np.int32)
    stack = np.empty((256, 4), dtype=np.int64)
    for c in range(1, k):
        now = np.full(m, np.inf)
        stack[0, 0], stack[0, 1], stack[0, 2], stack[0, 3] = c, m - 1, c, m - 1
        top = 1
        while top > 0:
            top -= 1
            low, high, first, final = stack[top, 0], stack[top, 1], stack[top, 2], stack[top, 3]
            if low > high:
                continue
            middle = (low + high) // 2
            best, at = np.inf, first
            for i in range(first, min(middle, final) + 1):
                value = before[i - 1] + _cost(weight, total, square, i, middle)
                if value < best:
                    best, at = value, i
            now[middle], start[c, middle] = best, at
            stack[top, 0], stack[top, 1], stack[top, 2], stack[top, 3] = low, middle - 1, first, at
            stack[top + 1, 0], stack[top + 1, 1], stack[top + 1, 2], stack[top + 1, 3] = middle + 1, high, at, final
            top += 2
        before = now
    last = np.empty(k, dtype=np.int64)
    j = m - 1
    for c in range(k - 1, -1, -1):
        last[c] = j
        j = start[c, j] - 1
    return last
