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
    last = _split(((distinct - centre) / spread).astype(np.float64), counts.astype(np.int64), k)
    return np.asarray(distinct[last], dtype=np.float64)


@njit(cache=True)
def _split(x, counts, k):  # type: ignore[no-untyped-def]
    """Indices of the last distinct value of each of the k classes."""
    m = len(x)
    weight = np.zeros(m + 1, dtype=np.uint64)
    total, square = np.zeros(m + 1), np.zeros(m + 1)
    for i in range(m):
        weight[i + 1] = weight[i] + np.uint64(counts[i])
        total[i + 1] = total[i] + counts[i] * x[i]
        square[i + 1] = square[i] + counts[i] * x[i] * x[i]
    # Multiplying by a reciprocal from a table is several times as fast as dividing.
    inverse = 1.0 / np.maximum(np.arange(np.int64(weight[m]) + 1), 1)
    # before[j]: the least sum of squares of the values 0..j in as many classes as were dealt with so far.
    before = square[1:] - total[1:] * total[1:] / weight[1:]
    start = np.zeros((k, m), dtype=np.int32)
    base, now = np.empty(m), np.empty(m)
    stack = np.empty((128, 4), dtype=np.int64)
    for c in range(1, k):
        # The cost of a last class i..j is square[j+1] − square[i] − (total[j+1] − total[i])² / (weight[j+1] − weight[i]);
        # what depends on i alone is taken out of the innermost loop.
        for i in range(1, m):
            base[i] = before[i - 1] - square[i]
        # Of the last class only the split of all values is wanted.
        stack[0, 0], stack[0, 1], stack[0, 2], stack[0, 3] = m - 1 if c == k - 1 else c, m - 1, c, m - 1
        top = 1
        while top > 0:
            top -= 1
            low, high, first, final = stack[top, 0], stack[top, 1], stack[top, 2], stack[top, 3]
            middle = (low + high) // 2
            # With a class more, the last one never starts earlier.
            begin = max(first, start[c - 1, middle])
            w, s = weight[middle + 1], total[middle + 1]
            best, at = np.inf, begin
            # Unsigned, so that no index can mean one counted from the end: a fifth of the time.
            for i in range(np.uint64(begin), np.uint64(min(middle, final) + 1)):
                apart = s - total[i]
                value = base[i] - apart * apart * inverse[w - weight[i]]
                if value < best:
                    best, at = value, np.int64(i)
            now[middle], start[c, middle] = best + square[middle + 1], at
            if low < middle:
                stack[top, 0], stack[top, 1], stack[top, 2], stack[top, 3] = low, middle - 1, first, at
                top += 1
            if middle < high:
                stack[top, 0], stack[top, 1], stack[top, 2], stack[top, 3] = middle + 1, high, at, final
                top += 1
        before[c:] = now[c:]
        before[:c] = np.inf
    last = np.empty(k, dtype=np.int64)
    j = m - 1
    for c in range(k - 1, -1, -1):
        last[c] = j
        j = start[c, j] - 1
    return last
