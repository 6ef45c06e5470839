"""A field at a glance, for the head of its column: how its values are spread, or which are the commonest."""

from dataclasses import dataclass

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from greylatch.tables.dataset import Dataset, field_type, missing_count, text_of
from greylatch.tables.figures import histogram, mean

__all__ = ["FieldSummary", "summarised"]

BARS, COMMONEST = 16, 3


@dataclass(frozen=True)
class FieldSummary:
    """How many values are there and how many are different; of numbers and dates the least, the greatest, the mean (of numbers) and how many
    fall into each of sixteen equal intervals; of others the commonest with their counts."""

    name: str
    filled: int
    different: int
    low: str
    high: str
    mean: str
    bars: list[int]
    commonest: list[tuple[str, int]]


def summarised(dataset: Dataset) -> list[FieldSummary]:
    """All fields of a dataset, at a glance.

    Parameters
    ----------
    dataset : Dataset
        The data, with what stands for "missing" taken out.

    Returns
    -------
    list[FieldSummary]

    Examples
    --------
    >>> (field,) = summarised(Dataset(pa.table({"ha": [1, 2, 2, None, 16]}), "table"))
    >>> field.filled, field.different, field.low, field.high, field.mean, field.bars[:2], field.bars[-1]
    (4, 3, '1', '16', '5.25', [1, 2], 1)
    """
    return [_summary(name, dataset.columns[name]) for name in dataset.columns.column_names]


def _summary(name: str, column: pa.ChunkedArray) -> FieldSummary:
    filled = len(column) - missing_count(column)
    different = int(pc.count_distinct(column).as_py() or 0)
    kind = field_type(column.type)
    if kind in ("integer", "number", "date") and filled:
        numbers = column.cast(pa.timestamp("ms"), safe=False).cast(pa.int64()) if kind == "date" else column
        values = numbers.cast(pa.float64(), safe=False).to_numpy()
        values = values[np.isfinite(values)]
        if len(values):
            bars, _ = histogram(values, BARS)
            ends = pc.min_max(column.filter(pc.is_finite(column)) if kind == "number" else column).as_py()
            middle = "" if kind == "date" else f"{mean(values):.6g}"
            low, high = text_of(ends["min"]), text_of(ends["max"])
            return FieldSummary(name, filled, different, low, high, middle, bars.tolist(), [])
    counts = pc.value_counts(column.drop_null().combine_chunks()).to_pylist() if different <= len(column) / 2 else []
    ranked = sorted(counts, key=lambda each: -each["counts"])[:COMMONEST]
    return FieldSummary(
        name, filled, different, "", "", "", [], [(text_of(each["values"]), each["counts"]) for each in ranked]
    )
