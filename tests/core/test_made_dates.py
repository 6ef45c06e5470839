"""Dates of their parts, against Python's calendar and DuckDB's."""

from datetime import UTC, datetime, timedelta

import duckdb
import pyarrow as pa
import pytest
from greylatch.errors import BadInput
from greylatch.rules.calculating import calculated
from greylatch.rules.made_dates import date_of, likely_date, since_1970
from greylatch.tables.dataset import Dataset
from hypothesis import given
from hypothesis import strategies as some


def table(**columns: list[object]) -> Dataset:
    return Dataset(pa.table(columns), "table")


@given(
    some.integers(1, 9999), some.integers(-1, 14), some.integers(-1, 33), some.integers(-1, 25), some.integers(-1, 61)
)
def test_dates_are_those_of_the_calendar(year: int, month: int, day: int, hour: int, minute: int) -> None:
    """Python's proleptic Gregorian calendar; at hour 24 a day ends (ISO 8601-1:2019/Amd 1)."""
    try:
        late = timedelta(days=1) if (hour, minute) == (24, 0) else timedelta(0)
        expected = datetime(year, month, day, 0 if late else hour, minute) + late
    except (ValueError, OverflowError):
        expected = None
    found = date_of(*(pa.array([part]) for part in (year, month, day, hour, minute)))
    assert found.to_pylist() == [expected]


def test_dates_are_as_duckdb_makes_them() -> None:
    made = calculated(table(y=[1904, 2000, 1600], m=[2, 12, 1], d=[29, 31, 1]), "on", "date_of(y, m, d)")
    theirs = duckdb.sql(
        "SELECT make_timestamp(y, m, d, 0, 0, 0) FROM (VALUES (1904, 2, 29), (2000, 12, 31), (1600, 1, 1)) t(y, m, d)"
    )
    assert made.columns["on"].to_pylist() == [row[0] for row in theirs.fetchall()]


def test_what_makes_no_date_is_missing() -> None:
    made = calculated(table(y=[2026.0, 2026.5, None, 2026.0], m=[2, 2, 2, None]), "on", "date_of(y, m, 30)")
    assert made.columns["on"].to_pylist() == [None] * 4
    with pytest.raises(BadInput, match="date_of"):
        calculated(table(y=[1]), "on", "date_of('1904')")


def test_texts_are_read_as_they_are_brought_in() -> None:
    made = calculated(table(seen=["19 April 1902", "5/6/2026", None, "2026-05-31T12:30"]), "on", "as_date(seen)")
    assert made.columns["on"].to_pylist() == [datetime(1902, 4, 19), None, None, datetime(2026, 5, 31, 12, 30)]
    assert (
        calculated(table(n=[1, 2]), "on", "as_date('May 2026')").columns["on"].to_pylist() == [datetime(2026, 5, 1)] * 2
    )


@given(some.datetimes(datetime(1975, 1, 1), datetime(2099, 1, 1)).map(lambda moment: moment.replace(microsecond=0)))
def test_moments_since_1970_are_those_of_python(moment: datetime) -> None:
    """Referee: Python's own datetime. In seconds and in milliseconds."""
    seconds = int(moment.replace(tzinfo=UTC).timestamp())
    assert since_1970(pa.array([seconds, seconds * 1000, float("nan"), 1e300])).to_pylist() == [
        moment,
        moment,
        None,
        None,
    ]


def test_a_date_is_found_in_the_fields_of_its_parts() -> None:
    """As tables of storms and of earthquakes in R's packages have them."""
    storms = table(name=["Ama"], year=[1975], month=[6], day=[27], hour=[18], wind=[25])
    assert likely_date(storms) == 'date_of("year", "month", "day", "hour")'
    quakes = table(year=[1902, 1905], month=["April", "Sept."], day=[19, 8])
    expression = likely_date(quakes)
    assert expression is not None
    assert calculated(quakes, "date", expression).columns["date"].to_pylist() == [
        datetime(1902, 4, 19),
        datetime(1905, 9, 8),
    ]
    assert likely_date(table(YEAR=[1950], day=[3])) == 'date_of("YEAR")', "the day of which month is not said"
    assert likely_date(table(year=[1, 2, 3])) is None, "years of something's age"
    assert likely_date(table(mag=[1.2], time=[1517942400000])) == 'since_1970("time")', (
        "feeds of earthquakes have it so"
    )
    assert likely_date(table(time=[12, 40])) is None
    assert likely_date(table(year=[1950], month=["spring"])) is None
    assert likely_date(table(year=[1950], month=[13])) == 'date_of("year")'
    assert likely_date(table(year=pa.array([None], pa.int64()))) is None
