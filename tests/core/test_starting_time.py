"""By which steps features are played at first. What suits is ours, with no source."""

from datetime import date, datetime, timedelta

import pyarrow as pa
import pytest
from greylatch.reading.starting_time import MOST_STEPS, starting_time

BEGIN = datetime(2026, 3, 1)


@pytest.mark.parametrize(
    ("instants", "by"),
    [
        ([BEGIN, BEGIN + timedelta(hours=30, minutes=20)], "hour"),
        # Days without an hour are not played by hours, however few they are.
        ([BEGIN, BEGIN + timedelta(days=2)], "day"),
        ([date(1992, 4, 29), date(1992, 5, 4), None], "day"),
        ([BEGIN, BEGIN + timedelta(days=MOST_STEPS)], "day"),
        ([BEGIN, BEGIN + timedelta(days=MOST_STEPS + 1)], "week"),
        ([BEGIN, BEGIN + timedelta(days=5 * 365)], "month"),
        ([datetime(1850, 1, 1), datetime(2023, 12, 31)], "year"),
        ([BEGIN], "day"),
        ([None], "month"),
    ],
)
def test_steps_suit_how_long_it_lasts(instants: list[date | None], by: str) -> None:
    kind = (
        pa.date32() if isinstance(instants[0], date) and not isinstance(instants[0], datetime) else pa.timestamp("ms")
    )
    begun = starting_time("a", "day", pa.chunked_array([pa.array(instants, kind)]))
    assert (begun.layer, begun.field, begun.by) == ("a", "day", by)
