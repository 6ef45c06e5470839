"""Class limits rounded to numbers that a reader can say."""

import math

import numpy as np
from numpy.typing import NDArray

__all__ = ["nice_breaks"]

SHARE = 0.2
"""Of the narrower class beside it, by which a limit may move."""
ROUND = (1.0, 0.5, 0.2)
"""Steps within a power of ten, the roundest first."""


def nice_breaks(lowest: float, limits: NDArray[np.float64]) -> tuple[float, NDArray[np.float64]]:
    """Where the first class begins and rising upper limits, moved to the roundest numbers near them; the first is not moved above,
    the last not below where it is, so that every value has a class.

    A limit moves by no more than a fifth of the narrower class beside it, to the largest multiple of 1, 5 or 2 times a power of ten
    that lies so near, and to the nearest of several. Common practice, no single source.

    Parameters
    ----------
    lowest : float
        Where the first class begins.
    limits : NDArray[np.float64]
        Upper limits, rising.

    Returns
    -------
    tuple[float, NDArray[np.float64]]

    Examples
    --------
    >>> low, limits = nice_breaks(3.1, np.array([19.7, 48.2, 103.9, 214.6]))
    >>> low, limits.tolist()
    (0.0, [20.0, 50.0, 100.0, 220.0])
    """
    out = np.array(limits, dtype=np.float64)
    edges = np.append(lowest, out)
    widths = np.diff(edges)
    for i, limit in enumerate(out):
        last = i == len(out) - 1
        narrow = widths[i] if last else min(widths[i], widths[i + 1])
        if narrow > 0:
            low = limit if last else limit - SHARE * narrow
            out[i] = _roundest(low, limit + SHARE * narrow, limit)
    begin = _roundest(lowest - SHARE * widths[0], lowest, lowest) if widths[0] > 0 else lowest
    return begin, out


def _roundest(low: float, high: float, near: float) -> float:
    """The roundest number from `low` to `high`, of several the nearest to `near`."""
    if low <= 0 <= high:
        return 0.0
    power = math.floor(math.log10(max(abs(low), abs(high)))) + 1
    for exponent in range(power, power - 17, -1):
        for factor in ROUND:
            step = factor * 10.0**exponent
            first, last = math.ceil(low / step), math.floor(high / step)
            if first <= last:
                multiple = min(max(round(near / step), first), last)
                return round(multiple * step, max(0, 2 - exponent))
    return near
