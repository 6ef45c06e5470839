"""Class breaks by the common methods. Every function takes finite numbers and returns rising upper class limits."""

import math

import numpy as np
from numpy.typing import NDArray

from greylatch.classes.methods import MAX_CLASSES, Method
from greylatch.classes.natural import natural_breaks
from greylatch.errors import BadInput

__all__ = ["breaks", "distinct_at_most", "manual"]

Numbers = NDArray[np.float64]
Weights = NDArray[np.float64] | None
"""How much each value counts; None: all alike."""


def equal_interval(values: Numbers, k: int, _: Weights = None) -> Numbers:
    """Classes of equal width from the minimum to the maximum.

    >>> equal_interval(np.array([0.0, 3, 10]), 2).tolist()
    [5.0, 10.0]
    """
    low, high = float(values.min()), float(values.max())
    return np.append(low + (high - low) * np.arange(1, k) / k, high)


def quantile(values: Numbers, k: int, weights: Weights = None) -> Numbers:
    """Classes with as equal a count as ties allow; linear interpolation between ranks (Hyndman and Fan 1996, type 7). With weights,
    classes of as equal a weight: the least values up to which there is so much of it (their type 1)."""
    if weights is not None:
        return np.quantile(values, np.arange(1, k + 1) / k, weights=weights, method="inverted_cdf")
    return np.quantile(values, np.arange(1, k + 1) / k)


def standard_deviation(values: Numbers, k: int, weights: Weights = None) -> Numbers:
    """Limits one standard deviation (n) apart, symmetrical about the mean; those outside the values are left out.

    With an even `k` the mean is a limit, with an odd one it is the middle of a class.
    """
    mean = float(np.average(values, weights=weights))
    deviation = math.sqrt(float(np.average((values - mean) ** 2, weights=weights)))
    steps = np.arange(k - 1) - (k - 2) / 2
    return np.append(mean + steps * deviation, values.max())


def pretty(values: Numbers, k: int, _: Weights = None) -> Numbers:
    """Classes at multiples of 1, 2, 2.5 or 5 times a power of ten, as near to `k` of them as such a step allows; of two as near,
    the more. Common practice, no single source.

    >>> pretty(np.array([3.0, 97.0]), 4).tolist()
    [25.0, 50.0, 75.0, 100.0]
    """
    low, high = float(values.min()), float(values.max())
    raw = (high - low) / k
    power = 10.0 ** math.floor(math.log10(raw))
    steps = [factor * power * ten for ten in (0.1, 1, 10) for factor in (1, 2, 2.5, 5)]
    # Among the smallest numbers that there are, a step may be none any more.
    steps = [s for s in steps if s > 0 and math.isfinite(low / s) and math.isfinite(high / s)]
    if not steps:
        return np.array([high])

    def ends(step: float) -> tuple[int, int]:
        first = math.floor(low / step) + 1
        return first, max(math.ceil(high / step), first)

    def count(step: float) -> int:
        first, last = ends(step)
        return last - first + 1

    step = min(steps, key=lambda s: (abs(count(s) - k), -count(s)))
    first, last = ends(step)
    # Rounding to the step's own decimals keeps 0.30000000000000004 out of the key.
    return np.round(np.arange(first, last + 1) * step, max(0, 2 - math.floor(math.log10(step))))


def geometric(values: Numbers, k: int, _: Weights = None) -> Numbers:
    """Class limits in geometric progression from the minimum to the maximum; all values must be above zero."""
    low, high = float(values.min()), float(values.max())
    if low <= 0:
        raise BadInput(
            f"Geometric classes need values above zero, and the smallest here is {low:g}.", "Choose another method."
        )
    return np.append(low * (high / low) ** (np.arange(1, k) / k), high)


def head_tail(values: Numbers, k: int, weights: Weights = None) -> Numbers:
    """Head/tail breaks (Jiang 2013): split at the mean, go on in the head while it is the minority (at most 40 %).

    At most `k` classes; the number follows from the values.
    """
    limits: list[float] = []
    head, heavy = values, np.ones(len(values)) if weights is None else weights
    while len(limits) < k - 1 and len(head) > 1:
        mean = float(np.average(head, weights=heavy))
        above = head > mean
        if not above.any():
            break
        limits.append(mean)
        if heavy[above].sum() / heavy.sum() > 0.4:
            break
        head, heavy = head[above], heavy[above]
    return np.append(limits, values.max())


_COMPUTED = {
    "equal-interval": equal_interval,
    "quantile": quantile,
    "natural-breaks": natural_breaks,
    "standard-deviation": standard_deviation,
    "pretty": pretty,
    "geometric": geometric,
    "head-tail": head_tail,
}


def breaks(values: Numbers, method: Method, k: int, weights: Weights = None) -> Numbers:
    """Upper class limits of `values` (finite, any order) by `method`, strictly rising, the last not below the
    maximum.

    Equal limits (ties in quantiles, say) are merged, so fewer than `k` classes may come back.

    Parameters
    ----------
    values : Numbers
        The values; what is not finite is missing.
    method : Method
        How the limits are found.
    k : int
        How many classes.
    weights : Weights
        How much each value counts, above zero; None: all alike. Limits that follow from the range alone stay where they are.

    Returns
    -------
    Numbers

    Raises
    ------
    BadInput
        For no values, a `k` out of range, or more classes than distinct values.
    """
    if len(values) == 0:
        raise BadInput("There is not a single number to classify: every value is missing.")
    if method not in _COMPUTED:
        raise BadInput(f"'{method}' computes no breaks.", f"Choose one of {', '.join(_COMPUTED)}.")
    if not 1 <= k <= MAX_CLASSES:
        raise BadInput(f"{k} classes were asked for.", f"Choose between 1 and {MAX_CLASSES}.")
    if method != "head-tail":
        distinct = len(np.unique(values)) if len(values) < 100_000 else distinct_at_most(values, k)
        if distinct == 1:
            return np.array([values.max()])
        if k > distinct:
            raise BadInput(
                f"{k} classes were asked for, but there are only {distinct} distinct values.",
                f"Choose at most {distinct} classes.",
            )
    limits = np.unique(_COMPUTED[method](values, k, weights))
    # A limit below every value would make a class that nothing can fall in.
    return limits[limits >= values.min()]


def manual(limits: list[float], values: Numbers) -> Numbers:
    """Breaks given by hand: rising upper limits; the maximum is added as the last where the given ones end below it.

    Parameters
    ----------
    limits : list[float]
        Upper limits, rising.
    values : Numbers
        The values; what is not finite is missing.

    Returns
    -------
    Numbers
    """
    breaks = np.asarray(limits, dtype=np.float64)
    if len(breaks) and not np.all(np.isfinite(breaks)):
        raise BadInput("Every break must be a number.")
    if len(breaks) > MAX_CLASSES:
        raise BadInput(f"{len(breaks)} breaks were given.", f"Give at most {MAX_CLASSES}.")
    if np.any(np.diff(breaks) <= 0):
        at = int(np.argmax(np.diff(breaks) <= 0)) + 1
        raise BadInput(f"Break {at + 1} ({breaks[at]:g}) is not above the one before it ({breaks[at - 1]:g}).")
    top = float(values.max()) if len(values) else (float(breaks[-1]) if len(breaks) else math.nan)
    if len(breaks) == 0 or breaks[-1] < top:
        breaks = np.append(breaks, top)
    return breaks


def distinct_at_most(values: Numbers, k: int) -> int:
    """The number of distinct values, counted only as far as `k` where a sample already shows that many.

    Parameters
    ----------
    values : Numbers
        Numbers that are known.
    k : int
        How many are asked for.

    Returns
    -------
    int
        Where it is below `k`, the number of them.

    Examples
    --------
    >>> distinct_at_most(np.array([1.0, 2, 2]), 5)
    2
    """
    shown = len(np.unique(values[:: max(1, len(values) // 10_000)]))
    return shown if shown >= k else len(np.unique(values))
