"""Timing and printing for the benchmarks."""

import statistics
import time
from collections.abc import Callable
from typing import Any


def median_seconds(action: Callable[[], object], runs: int = 5, warm: int = 1) -> float:
    """Median wall time of `action` over `runs`, after `warm` runs that do not count."""
    for _ in range(warm):
        action()
    times = []
    for _ in range(runs):
        start = time.perf_counter()
        action()
        times.append(time.perf_counter() - start)
    return statistics.median(times)


def timed(work: Callable[[], Any]) -> tuple[float, Any]:
    """Seconds, and what came of it."""
    start = time.perf_counter()
    result = work()
    return time.perf_counter() - start, result


def print_table(title: str, rows: list[tuple[str, str]]) -> None:
    """A heading and two aligned columns."""
    print(f"\n{title}")
    width = max(len(name) for name, _ in rows)
    for name, value in rows:
        print(f"  {name:<{width}}  {value}")
