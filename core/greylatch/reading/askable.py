"""Whether a field can answer what readers are to ask of it."""

import pyarrow as pa
import pyarrow.compute as pc

from greylatch.errors import BadInput
from greylatch.tables.dataset import text_of
from greylatch.tables.fieldtypes import typed

__all__ = ["dated", "has_dates", "has_ends"]


def dated(column: pa.ChunkedArray) -> pa.ChunkedArray:
    """A column as moments: dates as they are, and texts that are written as dates; null for whatever else stands there.

    Parameters
    ----------
    column : pa.ChunkedArray
        The values.

    Returns
    -------
    pa.ChunkedArray

    Examples
    --------
    >>> dated(pa.chunked_array([["2026-05-01", "in May"]])).to_pylist()
    [datetime.datetime(2026, 5, 1, 0, 0), None]
    """
    if pa.types.is_temporal(column.type):
        return column
    return pa.chunked_array([pa.array([_date(text_of(value)) for value in column.to_pylist()], pa.timestamp("ms"))])


def has_dates(column: pa.ChunkedArray) -> bool:
    """Whether there is a date at all that features could be played by.

    Parameters
    ----------
    column : pa.ChunkedArray
        The values.

    Returns
    -------
    bool

    Examples
    --------
    >>> has_dates(pa.chunked_array([["2026-05-01", "in May"]])), has_dates(pa.chunked_array([[1517902387940]]))
    (True, False)
    """
    if not (
        pa.types.is_string(column.type) or pa.types.is_large_string(column.type)
    ):  # numbers are no dates, whatever they count from
        return bool(pa.types.is_temporal(column.type))
    return any(_date(text) is not None for chunk in column.chunks for text in chunk.drop_null().to_pylist())


def has_ends(column: pa.ChunkedArray) -> bool:
    """Whether the values lie between two ends: numbers and dates do.

    Parameters
    ----------
    column : pa.ChunkedArray
        The values.

    Returns
    -------
    bool

    Examples
    --------
    >>> has_ends(pa.chunked_array([[1, 2]])), has_ends(pa.chunked_array([["a"]]))
    (True, False)
    """
    kind = column.type
    return bool(pc.is_valid(column).to_numpy().any()) and (
        pa.types.is_integer(kind) or pa.types.is_floating(kind) or pa.types.is_temporal(kind)
    )


def _date(text: str) -> object:
    try:
        return typed(text, "date")
    except BadInput:
        return None
