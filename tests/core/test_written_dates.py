"""Dates as people write them, against Python's own reading of them by a pattern, and against pandas on open data."""

from datetime import datetime
from pathlib import Path

import pandas as pd
import pytest
from greylatch.formats.files import read_file
from greylatch.tables.written_dates import read_date

DAYS = [datetime(2026, 5, 31), datetime(1999, 12, 1), datetime(2024, 2, 29), datetime(1000, 1, 1)]


@pytest.mark.parametrize(
    "pattern",
    ["%Y-%m-%d", "%Y/%m/%d", "%Y.%m.%d", "%d.%m.%Y", "%d %B %Y", "%d-%b-%Y", "%b %d, %Y", "%B %d %Y", "%Y-%b-%d", "%Y %B %d"],
)  # fmt: skip
@pytest.mark.parametrize("day", DAYS)
def test_what_is_written_by_a_pattern_is_read_again(pattern: str, day: datetime) -> None:
    assert read_date(day.strftime(pattern)) == day
    assert read_date(day.strftime(pattern).upper()) == day


@pytest.mark.parametrize("pattern", ["%Y/%m/%d %H:%M", "%d.%m.%Y %H:%M:%S", "%Y-%m-%dT%H:%M:%S"])
def test_moments_have_their_time(pattern: str) -> None:
    moment = datetime(2026, 5, 31, 17, 4)
    assert read_date(moment.strftime(pattern)) == moment


@pytest.mark.parametrize(
    "text",
    ["5/6/2026", "05/31/2026", "31.2.2026", "2026/13/1", "2026-05", "31.12.2020 25:00", "1 Mayor 2000", "May", "12.5", "2026/5-31", ""],
)  # fmt: skip
def test_what_may_be_another_date_or_none_is_not_read(text: str) -> None:
    assert read_date(text) is None


def test_columns_of_them_become_dates(tmp_path: Path) -> None:
    """As the daily weather of Seattle and the prices of stocks are written in vega-datasets (PyPI): 2012/01/01 and Jan 1 2000."""
    days = [f"{day:%Y/%m/%d},{day:%b} {day.day} {day.year}" for day in pd.date_range("2012-01-01", "2012-12-31")]
    (tmp_path / "t.csv").write_text("\n".join(["date,priced", *days]) + "\n")
    columns = read_file(tmp_path / "t.csv").dataset.columns
    theirs = pd.read_csv(tmp_path / "t.csv", parse_dates=["date"])["date"]
    for name in ("date", "priced"):
        assert columns[name].to_pylist() == theirs.dt.to_pydatetime().tolist()
