"""Temporal relations of CQL2 (Allen 1983; OGC 21-065r2, 7.7), of instants and intervals of time.

Each gets two intervals as (first, last) in µs; an instant is an interval whose ends are one. An end that is open lies beyond all
others, one that is missing (NaT) makes the answer missing.
"""

from collections.abc import Callable, Mapping
from typing import Any

import numpy as np
import pyarrow as pa
from numpy.typing import NDArray

__all__ = ["AGES", "TEMPORAL"]

AGES = (np.datetime64(-(2**62), "us"), np.datetime64(2**62, "us"))
"""Before and after all times."""
Ends = NDArray[np.datetime64]
Test = Callable[[Ends, Ends, Ends, Ends], NDArray[np.bool_]]

TESTS: Mapping[str, Test] = {
    "t_after": lambda a, b, c, d: a > d,
    "t_before": lambda a, b, c, d: b < c,
    "t_contains": lambda a, b, c, d: (a < c) & (b > d),
    "t_disjoint": lambda a, b, c, d: (b < c) | (a > d),
    "t_during": lambda a, b, c, d: (a > c) & (b < d),
    "t_equals": lambda a, b, c, d: (a == c) & (b == d),
    "t_finishedby": lambda a, b, c, d: (a < c) & (b == d),
    "t_finishes": lambda a, b, c, d: (a > c) & (b == d),
    "t_intersects": lambda a, b, c, d: (a <= d) & (b >= c),
    "t_meets": lambda a, b, c, d: b == c,
    "t_metby": lambda a, b, c, d: a == d,
    "t_overlappedby": lambda a, b, c, d: (a > c) & (a < d) & (b > d),
    "t_overlaps": lambda a, b, c, d: (a < c) & (b > c) & (b < d),
    "t_startedby": lambda a, b, c, d: (a == c) & (b > d),
    "t_starts": lambda a, b, c, d: (a == c) & (b < d),
}


def _relation(test: Test) -> Callable[[Any, Any], Any]:
    def related(one: tuple[Ends, Ends], other: tuple[Ends, Ends]) -> pa.Array:
        ends = np.broadcast_arrays(*one, *other)
        missing = np.any([np.isnat(end) for end in ends], axis=0)
        return pa.array(test(*ends) & ~missing, mask=missing)

    return related


TEMPORAL: Mapping[str, Callable[[Any, Any], Any]] = {name: _relation(test) for name, test in TESTS.items()}
