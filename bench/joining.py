"""python -m bench.joining: a table of a million rows seen beside 10,000 areas, and summed up by them; beside pandas doing both."""

import time
from collections.abc import Callable
from typing import Any

import numpy as np
import pandas
import pyarrow as pa
from greylatch.places.join import keys_of, match
from greylatch.tables.summing import summed

ROWS, AREAS = 1_000_000, 10_000


def timed(work: Callable[[], Any]) -> float:
    began = time.perf_counter()
    work()
    return time.perf_counter() - began


def main() -> None:
    """Print seconds, and how they stand to the reference."""
    rng = np.random.default_rng(1)
    areas = [f"Area {i}" for i in range(AREAS)]
    # One key in six is of no area.
    rows = pa.table(
        {
            "area": pa.array([f"Area {i}" for i in rng.integers(0, AREAS * 6 // 5, ROWS)]),
            "v": rng.uniform(0, 9, ROWS),
            "w": rng.uniform(0, 9, ROWS),
        }
    )
    frame, names = rows.to_pandas(), pandas.DataFrame({"area": areas})
    merged = timed(lambda: names.merge(frame, on="area", how="left", indicator=True))
    grouped = timed(lambda: frame.groupby("area").agg({"v": "sum", "w": "median"}))
    seen = timed(lambda: match(areas, keys_of(rows, "area"), suggest=True))
    summing = timed(lambda: summed(rows, keys_of(rows, "area"), {"v": "sum", "w": "median"}))
    print(f"seen with suggestions (2 s asked): {seen:.2f} s, {seen / merged:.2f} of a merge by pandas ({merged:.2f} s)")
    print(f"summed up, a sum and a median:     {summing:.2f} s, {summing / grouped:.2f} of pandas ({grouped:.2f} s)")


if __name__ == "__main__":
    main()
