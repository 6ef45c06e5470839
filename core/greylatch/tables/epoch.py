"""Moments that are written as one number: how long after the beginning of 1970 they lie, in UTC."""

import numpy as np
from numpy.typing import NDArray

__all__ = ["EPOCH_MILLISECONDS", "likely_epoch"]

EPOCH_MILLISECONDS = 1e11
"""From here on a number is one of milliseconds (1973 and later), below one of seconds (to the year 5138): common practice."""
NAMED = {"time", "times", "timestamp", "date", "datetime", "updated", "created", "modified", "epoch", "ts"}
"""Words in the name of a field of moments."""
SECONDS = 1e8, 4.1e9
"""From 1973 to 2099, which is what a table is likely to be about; a thousand times as much where it is milliseconds."""


def likely_epoch(words: set[str], values: NDArray[np.float64]) -> bool:
    """Whether the numbers of a field are likely moments since 1970.

    Parameters
    ----------
    words : set[str]
        Of its name, in small letters.
    values : NDArray[np.float64]
        (n,) Those that are there.

    Returns
    -------
    bool

    Examples
    --------
    >>> likely_epoch({"updated"}, np.array([1517942400000.0, 1517950000000.0]))
    True
    >>> likely_epoch({"time"}, np.array([12.0, 40.0]))
    False
    """
    if not words & NAMED or not len(values):
        return False
    low, high = values.min(), values.max()
    return any(SECONDS[0] * unit <= low and high <= SECONDS[1] * unit for unit in (1, 1000))
