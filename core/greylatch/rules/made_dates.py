"""Dates made of their parts, counted from 1970, or read out of texts."""

from typing import Any

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from greylatch.tables.dataset import Dataset, field_type
from greylatch.tables.epoch import EPOCH_MILLISECONDS, likely_epoch
from greylatch.tables.meaning import words_of
from greylatch.tables.written_dates import read_date

__all__ = ["date_of", "likely_date", "read_dates", "since_1970"]

PARTS = {"year": (1, 9999), "month": (1, 12), "day": (1, 31), "hour": (0, 24), "minute": (0, 59)}
"""The least and the most of each part, the largest first. At hour 24 a day ends (ISO 8601-1:2019/Amd 1)."""
SHORT = {"yr": "year", "mon": "month", "hr": "hour", "min": "minute"}
"""What fields of parts are called as well."""
FIRST, END = np.datetime64("0001-01-01"), np.datetime64("10000-01-01")
"""Of the calendar of Python's dates."""
AROUND = 1000, 2999
"""Years that a table is likely to be about."""


def date_of(*parts: Any) -> Any:
    """Instants of year, month, day, hour and minute, from the largest on; what is left out is as small as it can be. Missing where a part
    is, is no whole number, or makes no date of the calendar.

    Parameters
    ----------
    *parts : Any
        Arrow arrays or scalars of numbers: one to five of them.

    Returns
    -------
    Any
        An Arrow array, or a scalar where all parts are: µs, in UTC.

    Examples
    --------
    >>> date_of(pa.array([2026, 2026]), pa.scalar(2), pa.array([28, 30])).to_pylist()
    [datetime.datetime(2026, 2, 28, 0, 0), None]
    """
    numbers = np.broadcast_arrays(*(_numbers(part) for part in parts))
    good = np.all(
        [
            (part >= low) & (part <= high) & (part == np.floor(part))
            for part, (low, high) in zip(numbers, PARTS.values(), strict=False)
        ],
        axis=0,
    )
    least = [np.full(good.shape, low) for low, _ in list(PARTS.values())[len(numbers) :]]
    year, month, day, hour, minute = (np.where(good, part, 1).astype(np.int64) for part in (*numbers, *least))
    months = ((year - 1970) * 12 + month - 1).astype("datetime64[M]")
    days = months.astype("datetime64[D]") + (day - 1)
    good &= (days.astype("datetime64[M]") == months) & (hour * 60 + minute <= 24 * 60)
    instants = days.astype("datetime64[us]") + (hour * 60 + minute).astype("timedelta64[m]")
    good &= instants < END
    dates = pa.array(np.atleast_1d(instants), mask=~np.atleast_1d(good))
    return dates if good.ndim else dates[0]


def _numbers(part: Any) -> NDArray[np.float64]:
    """NaN for what is missing."""
    if isinstance(part, pa.Scalar):
        return np.array(part.as_py() if part.is_valid else np.nan, dtype=np.float64)
    return np.asarray(part.cast(pa.float64(), safe=False).to_numpy(zero_copy_only=False))


def since_1970(number: Any) -> Any:
    """Instants of seconds since the beginning of 1970 (POSIX.1-2017, 4.16 Seconds Since the Epoch), or of milliseconds where a number is
    so large that it can hardly be one of seconds. Missing where it is, or beyond the years that dates have.

    Parameters
    ----------
    number : Any
        An Arrow array or scalar of numbers.

    Returns
    -------
    Any
        An Arrow array, or a scalar where that is one: µs, in UTC.

    Examples
    --------
    >>> since_1970(pa.array([1000000000, 1000000000500, None])).to_pylist()
    [datetime.datetime(2001, 9, 9, 1, 46, 40), datetime.datetime(2001, 9, 9, 1, 46, 40, 500000), None]
    """
    numbers = _numbers(number)
    seconds = np.where(np.abs(numbers) < EPOCH_MILLISECONDS, numbers, numbers / 1000)
    first, end = (float(day.astype("datetime64[s]").astype(np.int64)) for day in (FIRST, END))
    good = (seconds >= first) & (seconds < end)
    instants = np.round(np.where(good, seconds, 0) * 1e6).astype("datetime64[us]")
    dates = pa.array(np.atleast_1d(instants), mask=~np.atleast_1d(good))
    return dates if good.ndim else dates[0]


def read_dates(texts: Any) -> Any:
    """Instants of texts, each written in any way that can only be read as one date; missing for others.

    Parameters
    ----------
    texts : Any
        An Arrow array or scalar of texts.

    Returns
    -------
    Any
        The same of instants: µs, in UTC.

    Examples
    --------
    >>> read_dates(pa.array(["31 May 2026", "5/6/2026"])).to_pylist()
    [datetime.datetime(2026, 5, 31, 0, 0), None]
    """
    type = pa.timestamp("us")
    if isinstance(texts, pa.Scalar):
        return pa.scalar(read_date(texts.as_py().strip()) if texts.is_valid else None, type)
    distinct = pc.unique(texts)
    dates = [None if text is None else read_date(text.strip()) for text in distinct.to_pylist()]
    return pc.take(pa.array(dates, type), pc.index_in(texts, distinct))


def likely_date(dataset: Dataset) -> str | None:
    """An expression of the dates of rows whose year, month, day, hour and minute stand in fields that are called so, from the year on as
    far as there are any; months may be names. Or of a field of moments since 1970, where there is no field of years; or None.

    Parameters
    ----------
    dataset : Dataset
        The table.

    Returns
    -------
    str | None

    Examples
    --------
    >>> likely_date(Dataset(pa.table({"Year": [1975], "month": [6], "day": [27], "wind": [25]}), "table"))
    'date_of("Year", "month", "day")'
    """
    fields = _fields_of_parts(dataset)
    parts: list[str] = []
    for part, (low, high) in PARTS.items():
        field = fields.get(part)
        if field is None:
            break
        column, quoted = dataset.columns[field], f'"{field}"'
        if field_type(column.type) in ("integer", "number"):
            least, most = AROUND if part == "year" else (low, high)
            ends = pc.min_max(column).as_py()
            if ends["min"] is None or ends["min"] < least or ends["max"] > most:
                break
            parts.append(quoted)
        elif part == "month" and field_type(column.type) == "text":
            day = fields.get("day")
            number = f'text("{day}")' if day else "'1'"
            named = f"as_date(concat(text({parts[0]}), ' ', {quoted}, ' ', {number}))"
            month = pc.unique(column.drop_null()).to_pylist()
            return named if all(read_date(f"2024 {name} 1") for name in month) else None
        else:
            break
    return f"date_of({', '.join(parts)})" if parts else _since_1970(dataset)


def _since_1970(dataset: Dataset) -> str | None:
    for name, column in zip(dataset.columns.column_names, dataset.columns.columns, strict=True):
        if field_type(column.type) in ("integer", "number") and '"' not in name:
            values = column.cast(pa.float64(), safe=False).drop_null().to_numpy()
            if likely_epoch(words_of(name), values):
                return f'since_1970("{name}")'
    return None


def _fields_of_parts(dataset: Dataset) -> dict[str, str]:
    """By part of a date the first field that is called so."""
    fields: dict[str, str] = {}
    for name in dataset.columns.column_names:
        called = name.strip().lower()
        part = SHORT.get(called, called)
        if part in PARTS and '"' not in name:
            fields.setdefault(part, name)
    return fields
