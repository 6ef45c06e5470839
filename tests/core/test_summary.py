"""Fields at a glance. The referees are numpy's histogram and DuckDB (PyPI)."""

from datetime import datetime
from pathlib import Path

import duckdb
import numpy as np
import pyarrow as pa
import pytest
from greylatch.formats.files import read_file
from greylatch.tables.dataset import Dataset
from greylatch.tables.summary import summarised


def test_fields_are_summed_up_as_a_database_does(demo: Path) -> None:
    wells = read_file(demo / "dip_wells.csv").dataset.described()
    plots = wells.columns
    found = {field.name: field for field in summarised(wells)}
    (row,) = duckdb.sql(
        "SELECT count(heather), count(DISTINCT heather), min(heather), max(heather), avg(heather) FROM plots"
    ).fetchall()
    assert plots.num_rows
    heather = found["heather"]
    assert (heather.filled, heather.different) == row[:2]
    assert [float(heather.low), float(heather.high), float(heather.mean)] == pytest.approx(row[2:], rel=1e-5)
    values = plots["heather"].drop_null().to_numpy()
    assert heather.bars == np.histogram(values, 16)[0].tolist()
    common = duckdb.sql("SELECT condition, count(*) FROM plots GROUP BY 1 ORDER BY 2 DESC LIMIT 3").fetchall()
    assert found["condition"].commonest == common and found["condition"].bars == []


def test_odd_columns_have_a_summary_too() -> None:
    days = [datetime(2025, 5, 1), datetime(2025, 6, 1), None]
    columns = {
        "day": pa.array(days, pa.timestamp("ms")), "none": pa.array([None] * 3, pa.float64()), "same": [7, 7, 7],
        "odd": [float("nan"), 1.0, float("inf")], "yes": [True, False, True], "names": ["a", "b", "c"],
    }  # fmt: skip
    found = {field.name: field for field in summarised(Dataset(pa.table(columns), "table"))}
    assert (found["day"].low, found["day"].high, found["day"].mean) == ("2025-05-01", "2025-06-01", "")
    assert sum(found["day"].bars) == 2 and found["none"].bars == [] and found["none"].filled == 0
    assert sum(found["same"].bars) == 3 and found["odd"].low == found["odd"].high == "1"
    assert found["yes"].commonest == [("True", 2), ("False", 1)] or found["yes"].different == 2
    assert found["names"].commonest == [], "each its own: no value is common"


def test_a_table_without_rows() -> None:
    (field,) = summarised(Dataset(pa.table({"a": pa.array([], pa.int64())}), "table"))
    assert (field.filled, field.bars) == (0, [])


def test_numbers_next_to_each_other_or_as_far_apart_as_can_be_have_bars() -> None:
    """Found by spoiled files: numpy's histogram refuses both."""
    columns = {"close": [1.0, np.nextafter(1.0, 2)] * 3, "far": [1e308, -1e308] * 3}
    close, far = summarised(Dataset(pa.table(columns), "table"))
    assert sum(close.bars) == sum(far.bars) == 6 and far.bars[0] == far.bars[-1] == 3
    (large,) = summarised(Dataset(pa.table({"a": [1.5e308, 1.7e308]}), "table"))
    assert large.mean == "1.6e+308"
