"""What stands in a condition: numbers, texts, truth values, times and shapes, a column of them or one for all rows."""

import weakref
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import UTC, date, datetime
from functools import cached_property
from typing import Any, Literal

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
import shapely
from numpy.typing import NDArray

from greylatch.places.crs import to_lonlat
from greylatch.places.measures import geodesic_lengths, remembered_areas
from greylatch.tables.dataset import Dataset, Shapes, field_type

__all__ = ["MEASURES", "OTHER", "SHAPE", "WORDS", "Kind", "Rows", "Value", "column_value", "instant", "literals_of"]

Kind = Literal["number", "text", "truth", "time", "interval", "shape", "list", "nothing"]
TIME = pa.timestamp("us")
SHAPE, OTHER = "geometry", "other"
"""What a row's shape is called, and the shapes of another dataset."""
WORDS: Mapping[Kind, str] = {
    "number": "a number", "text": "a text", "truth": "true or false", "time": "a date", "interval": "an interval of time",
    "shape": "a shape", "list": "a list", "nothing": "NULL",
}  # fmt: skip


@dataclass(frozen=True)
class Value:
    """What a part of a condition comes to: `data` is an Arrow array or scalar, for shapes an array or one, for an interval
    its two ends, for a list its members."""

    kind: Kind
    data: Any

    @property
    def said(self) -> str:
        """In words, for an error."""
        return WORDS[self.kind]


@dataclass(frozen=True)
class Rows:
    """A dataset as conditions ask it."""

    dataset: Dataset

    @cached_property
    def shapes(self) -> Shapes | None:
        """Shapes in longitude and latitude, as CQL2 has them; None for a bare table."""
        data = self.dataset
        return None if data.shapes is None or data.crs is None else to_lonlat(data.shapes, data.crs)

    @property
    def names(self) -> list[str]:
        """All that may stand as a field."""
        measured = [name for name, (kind, _) in MEASURES.items() if kind == self.dataset.kind]
        own = [SHAPE] if self.dataset.shapes is not None else []
        return [*self.dataset.columns.column_names, *measured, *own, *self.dataset.others]

    def value(self, name: str) -> Value | None:
        """What a name stands for; None for one that there is not. A field goes before a measure of that name."""
        data = self.dataset
        if name == SHAPE and self.shapes is not None:
            return Value("shape", self.shapes)
        if name in data.columns.column_names:
            return column_value(data.columns[name])
        if name in data.others:
            return Value("shape", shapes_together(data.others[name]))
        if name in MEASURES and MEASURES[name][0] == data.kind:
            measured = MEASURES[name][1](data)
            return Value("number", pa.array(measured, from_pandas=True))
        return None


def _areas(data: Dataset) -> NDArray[np.float64]:
    assert data.shapes is not None and data.crs is not None
    return remembered_areas(data.shapes, data.crs)


def _lengths(data: Dataset) -> NDArray[np.float64]:
    assert data.shapes is not None and data.crs is not None
    return geodesic_lengths(data.shapes, data.crs)


MEASURES: Mapping[str, tuple[str, Callable[[Dataset], NDArray[np.float64]]]] = {
    "area_km2": ("areas", _areas),
    "length_km": ("lines", _lengths),
}
"""What can be asked of shapes like a field, of which kind of data."""


_together: dict[int, Shapes] = {}


def shapes_together(other: Dataset) -> Shapes:
    """The shapes of another dataset in longitude and latitude, without the empty ones; worked out once for as long as they live."""
    if other.shapes is None or other.crs is None:
        return np.empty(0, dtype=object)
    key = id(other.shapes)
    if key not in _together:
        shapes = to_lonlat(other.shapes, other.crs)
        weakref.finalize(other.shapes, _together.pop, key, None)
        _together[key] = shapes[~(shapely.is_missing(shapes) | shapely.is_empty(shapes))]
    return _together[key]


def column_value(column: pa.ChunkedArray) -> Value:
    """A field's column as conditions take it: numbers that are none are missing, dates are instants.

    >>> column_value(pa.chunked_array([[1.0, float("nan")]])).data.to_pylist()
    [1.0, None]
    """
    kind = field_type(column.type)
    if kind in ("integer", "number"):
        if pa.types.is_decimal(column.type):
            column = column.cast(pa.float64())
        if pa.types.is_floating(column.type):
            column = pc.if_else(pc.is_finite(column), column, pa.scalar(None, column.type))
        return Value("number", column)
    if kind == "boolean":
        return Value("truth", column)
    if kind == "date":
        if pa.types.is_timestamp(column.type) and column.type.tz:
            column = column.cast(pa.timestamp(column.type.unit, "UTC")).cast(pa.timestamp(column.type.unit))
        return Value("time", column.cast(TIME, safe=False))
    return Value("text", column.cast(pa.string()))


def literals_of(column: pa.ChunkedArray, most: int) -> list[str]:
    """The commonest values of a column as they are written in a condition.

    Parameters
    ----------
    column : pa.ChunkedArray
        A field's values.
    most : int
        How many at most.

    Returns
    -------
    list[str]

    Examples
    --------
    >>> literals_of(pa.chunked_array([["Ard", "O'Mhór", "Ard", None]]), 9)
    ["'Ard'", "'O''Mhór'"]
    """
    counts = pc.value_counts(column_value(column).data.drop_null()).to_pylist()
    ranked = sorted(counts, key=lambda each: (-each["counts"], each["values"]))
    return [_literal(each["values"]) for each in ranked[:most]]


def _literal(value: Any) -> str:
    if isinstance(value, bool):
        return str(value).upper()
    if isinstance(value, datetime):
        midnight = value == datetime(value.year, value.month, value.day)
        return f"DATE('{value:%Y-%m-%d}')" if midnight else f"TIMESTAMP('{value.isoformat()}Z')"
    if isinstance(value, str):
        return "'" + value.replace("'", "''") + "'"
    return f"{value:.10g}" if isinstance(value, float) else str(value)


def instant(text: str, last: bool = False) -> pa.Scalar:
    """The instant of a date or a timestamp of RFC 3339, in UTC.

    Parameters
    ----------
    text : str
        A date, or a timestamp with or without an offset.
    last : bool
        Whether of a date its last instant is meant, not its first.

    Returns
    -------
    pa.Scalar
        A timestamp in µs.

    Raises
    ------
    ValueError
        For what is none.

    Examples
    --------
    >>> instant("2026-03-01").as_py().isoformat(), instant("2026-03-01T12:00:00+02:00").as_py().isoformat()
    ('2026-03-01T00:00:00', '2026-03-01T10:00:00')
    """
    if len(text) == 10:
        day = date.fromisoformat(text)
        ends = (23, 59, 59, 999_999) if last else ()
        return pa.scalar(datetime(day.year, day.month, day.day, *ends), TIME)
    moment = datetime.fromisoformat(text)
    return pa.scalar(moment.astimezone(UTC).replace(tzinfo=None) if moment.tzinfo else moment, TIME)
