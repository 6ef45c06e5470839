"""Natural breaks: the partition of sorted values with the smallest within-class sum of squares."""

import numpy as np
from numba import njit
from numpy.typing import NDArray

__all__ = ["natural_breaks"]

BUCKETS = 32
"""Into how many a window is cut, and how often at most: where that pays for 20,000 values."""
LOOKS = 6


def natural_breaks(
    values: NDArray[np.float64], k: int, weights: NDArray[np.float64] | None = None
) -> NDArray[np.float64]:  # fmt: skip
    """Upper limits of the `k` classes whose within-class sum of squares is the least possible.

    The exact optimum of Fisher (1958), "On grouping for maximum homogeneity", not a sample. Equal values are merged
    into one weighted value first. A coarse look says where each break can lie at all; there the dynamic programme is
    filled by divide and conquer, which is exact because the best split moves only one way (Monge costs). For m
    distinct values that is at most O(k m log m) time, mostly far less, and O(k m) memory.

    `values`: finite numbers, in any order, with at least `k` distinct ones.

    Parameters
    ----------
    values : NDArray[np.float64]
        The values; what is not finite is missing.
    k : int
        How many classes.
    weights : NDArray[np.float64] | None
        How often each value counts; None: once.

    Returns
    -------
    NDArray[np.float64]
        `k` rising limits; the last is the maximum.

    Examples
    --------
    >>> natural_breaks(np.array([1.0, 2, 3, 10, 11, 12, 50]), 3).tolist()
    [3.0, 12.0, 50.0]
    """
    if weights is None:
        distinct, counts = np.unique(values, return_counts=True)
    else:
        distinct, which = np.unique(values, return_inverse=True)
        counts = np.bincount(which, weights=weights)
    if not 1 <= k <= len(distinct):
        raise ValueError(f"k must lie between 1 and the {len(distinct)} distinct values")
    # Centring and scaling keep the prefix sums of squares from cancelling where values are large and close together; scaled
    # first, the largest numbers that there are have a finite mean, too.
    scaled = distinct / (float(np.max(np.abs(distinct))) or 1.0)
    scaled -= float(np.average(scaled, weights=counts))
    scaled /= float(np.max(np.abs(scaled))) or 1.0
    return np.asarray(distinct[_partition(scaled, counts.astype(np.float64), k)], dtype=np.float64)


@njit(cache=True)
def _partition(x, counts, k):  # type: ignore[no-untyped-def]
    """Indices of the last distinct value of each of the k classes."""
    m = len(x)
    weight, total, square = np.zeros(m + 1), np.zeros(m + 1), np.zeros(m + 1)
    for i in range(m):
        weight[i + 1] = weight[i] + counts[i]
        total[i + 1] = total[i] + counts[i] * x[i]
        square[i + 1] = square[i] + counts[i] * x[i] * x[i]
    low, high = _windows(weight, total, square, k)
    return _split(weight, total, square, low, high)


@njit(cache=True)
def _cost(weight, total, square, i, j):  # type: ignore[no-untyped-def]
    """Sum of squares of the values i..j-1 about their mean."""
    if j <= i:
        return 0.0
    apart = total[j] - total[i]
    return square[j] - square[i] - apart * apart / (weight[j] - weight[i])


@njit(cache=True)
def _windows(weight, total, square, k):  # type: ignore[no-untyped-def]
    """Per class the first and the last value that it can end with in the best partition, from ever closer looks: together
    they take a tenth of the values or less, and all the work that is left is there."""
    m = len(weight) - 1
    low, high = np.arange(k), np.arange(m - k, m)
    low[k - 1] = m - 1
    known = np.inf
    for _ in range(LOOKS):
        before = (high - low).sum()
        known = _narrow(weight, total, square, low, high, known)
        if (high - low).sum() > 0.8 * before:
            break
    return low, high


@njit(cache=True)
def _narrow(weight, total, square, low, high, known):  # type: ignore[no-untyped-def]
    """Narrow the windows in place; returns the least sum of squares known of any partition, at first `known`.

    Every window is cut into buckets. A class that ends somewhere in two of them costs no less than the values that lie between
    them in any case, which gives the least cost of all classes `left` and `right` of a break in a bucket. Where the two
    together exceed what is `known`, no break can lie. `along` is the cost of partitions at the buckets' own edges.
    """
    k, m = len(low), len(weight) - 1
    edges = np.empty((k, BUCKETS + 1), dtype=np.int64)
    for c in range(k):
        for b in range(BUCKETS + 1):
            edges[c, b] = low[c] + (high[c] + 1 - low[c]) * b // BUCKETS
    left, right, along = np.full((k, BUCKETS), np.inf), np.full((k, BUCKETS), np.inf), np.full((k, BUCKETS), np.inf)
    for b in range(BUCKETS):
        left[0, b] = along[0, b] = _cost(weight, total, square, 0, edges[0, b] + 1)
    right[k - 1, :] = 0.0
    for c in range(1, k):
        for a in range(BUCKETS):
            for b in range(BUCKETS):
                if edges[c, b + 1] - 1 > edges[c - 1, a]:
                    within = _cost(weight, total, square, edges[c - 1, a + 1], edges[c, b] + 1)
                    left[c, b] = min(left[c, b], left[c - 1, a] + within)
                if edges[c, b] > edges[c - 1, a]:
                    exact = _cost(weight, total, square, edges[c - 1, a] + 1, edges[c, b] + 1)
                    along[c, b] = min(along[c, b], along[c - 1, a] + exact)
    known = min(known, along[k - 1].min())
    for c in range(k - 2, -1, -1):
        for a in range(BUCKETS):
            for b in range(BUCKETS):
                if edges[c + 1, b + 1] - 1 > edges[c, a]:
                    within = _cost(weight, total, square, edges[c, a + 1], edges[c + 1, b] + 1)
                    right[c, a] = min(right[c, a], within + right[c + 1, b])
    # A little more than what is known, for the rounding of differences of sums.
    most = known + 1e-10 * square[m]
    for c in range(k - 1):
        possible = np.flatnonzero((left[c] + right[c] <= most) & (edges[c, 1:] > edges[c, :-1]))
        if (
            len(possible) == 0
        ):  # only rounding can rule out every bucket; an index beyond an array would end the process
            break
        low[c], high[c] = edges[c, possible[0]], edges[c, possible[-1] + 1] - 1
    return known


@njit(cache=True)
def _split(weight, total, square, low, high):  # type: ignore[no-untyped-def]
    """Indices of the last distinct value of each of the k classes, the c-th of them from low[c] to high[c]."""
    k, m = len(low), len(weight) - 1
    # before[j]: the least sum of squares of the values 0..j in as many classes as were dealt with so far.
    before, now, base = np.full(m, np.inf), np.full(m, np.inf), np.empty(m)
    for j in range(low[0], high[0] + 1):
        before[j] = _cost(weight, total, square, 0, j + 1)
    start = np.zeros((k, m), dtype=np.int32)
    stack = np.empty((128, 4), dtype=np.int64)
    for c in range(1, k):
        # The cost of a last class i..j is square[j+1] − square[i] − (total[j+1] − total[i])² / (weight[j+1] − weight[i]);
        # what depends on i alone is taken out of the innermost loop.
        for i in range(low[c - 1] + 1, high[c - 1] + 2):
            base[i] = before[i - 1] - square[i]
        now[:] = np.inf
        stack[0, 0], stack[0, 1], stack[0, 2], stack[0, 3] = low[c], high[c], low[c - 1] + 1, high[c - 1] + 1
        top = 1
        while top > 0:
            top -= 1
            begin, end, first, final = stack[top, 0], stack[top, 1], stack[top, 2], stack[top, 3]
            middle = (begin + end) // 2
            w, s = weight[middle + 1], total[middle + 1]
            best, at = np.inf, first
            # Unsigned, so that no index can mean one counted from the end: a fifth of the time.
            for i in range(np.uint64(first), np.uint64(min(middle, final) + 1)):
                apart = s - total[i]
                value = base[i] - apart * apart / (w - weight[i])
                if value < best:
                    best, at = value, np.int64(i)
            now[middle], start[c, middle] = best + square[middle + 1], at
            if begin < middle:
                stack[top, 0], stack[top, 1], stack[top, 2], stack[top, 3] = begin, middle - 1, first, at
                top += 1
            if middle < end:
                stack[top, 0], stack[top, 1], stack[top, 2], stack[top, 3] = middle + 1, end, at, final
                top += 1
        before, now = now, before
    last = np.empty(k, dtype=np.int64)
    j = m - 1
    for c in range(k - 1, -1, -1):
        last[c] = j
        j = start[c, j] - 1
    return last
