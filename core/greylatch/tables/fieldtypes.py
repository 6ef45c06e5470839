"""Text cells to typed columns: guessing the type of every field, and converting as guessed or as corrected."""

import math
import re
from collections.abc import Callable
from datetime import date, datetime
from typing import Any, Literal

import pyarrow as pa

from greylatch.errors import BadInput
from greylatch.tables.delimited import RawTable

FieldType = Literal["text", "integer", "number", "date", "boolean"]
BLANK = {"", "na", "n/a", "nan", "null", "none", "-", "–"}
"""Cells that hold nothing. Common practice."""
_INTEGER = re.compile(r"[+-]?\d{1,18}$")
_NUMBER = re.compile(r"[+-]?(\d+([.,]\d*)?|[.,]\d+)([eE][+-]?\d+)?$")
_CODE = re.compile(r"0\d+$")
_TRUE, _FALSE = {"true", "yes"}, {"false", "no"}
ARROW = {
    "text": pa.string(),
    "integer": pa.int64(),
    "number": pa.float64(),
    "date": pa.timestamp("ms"),
    "boolean": pa.bool_(),
}


def guess_types(table: RawTable, sample: int = 2000) -> dict[str, FieldType]:
    """The narrowest type that holds every filled cell of the first `sample` rows; codes such as 007 stay text.

    >>> guess_types(RawTable(["a", "b"], [["1", "007"], ["2.5", "012"]], 2))
    {'a': 'number', 'b': 'text'}
    """
    return {name: _guess([row[i].strip() for row in table.rows[:sample]]) for i, name in enumerate(table.names)}


def _guess(cells: list[str]) -> FieldType:
    filled = [cell for cell in cells if cell.lower() not in BLANK]
    if not filled:
        return "text"
    if any(_CODE.match(cell) for cell in filled):
        return "text"
    if all(_INTEGER.match(cell) for cell in filled):
        return "integer"
    if all(_NUMBER.match(cell) for cell in filled):
        return "number"
    if all(cell.lower() in _TRUE | _FALSE for cell in filled):
        return "boolean"
    if all(_date(cell) is not None for cell in filled):
        return "date"
    return "text"


def typed_columns(table: RawTable, types: dict[str, FieldType]) -> pa.Table:
    """An Arrow table of `table` with the given types (guessed for fields not named).

    Blank cells become null. Raises BadInput with the field, the line and the cell that does not fit.
    """
    guessed = guess_types(table) if set(table.names) - set(types) else {}
    columns = {
        name: _column(name, [row[i] for row in table.rows], types.get(name) or guessed[name], table.first_line)
        for i, name in enumerate(table.names)
    }
    return pa.table(columns)


def _column(name: str, cells: list[str], type: FieldType, first_line: int) -> pa.Array:
    if type not in ARROW:
        raise BadInput(f"There is no field type '{type}'.", f"Choose one of {', '.join(ARROW)}.")
    convert = _CONVERT[type]
    values: list[Any] = []
    for i, cell in enumerate(cells):
        cell = cell.strip()
        if cell.lower() in BLANK:
            values.append(None)
            continue
        value = convert(cell)
        if value is None:
            raise BadInput(
                f"Field '{name}', line {first_line + i}: '{cell[:40]}' is not {_article(type)}.",
                "Correct the cell, or read the field as text.",
            )
        values.append(value)
    return pa.array(values, ARROW[type])


def typed(cell: str, type: FieldType) -> Any:
    """What a cell of that type holds; None for a blank one. Raises BadInput for what is none of its values.

    >>> typed("12.5", "number"), typed(" ", "number"), typed("yes", "boolean")
    (12.5, None, True)
    """
    cell = cell.strip()
    if cell.lower() in BLANK:
        return None
    value = _CONVERT[type](cell)
    if value is None:
        raise BadInput(f"'{cell[:40]}' is not {_article(type)}.")
    return value


def _text(cell: str) -> str:
    return cell


def _integer(cell: str) -> int | None:
    return int(cell) if _INTEGER.match(cell) else None


def _number(cell: str) -> float | None:
    return float(cell.replace(",", ".")) if _NUMBER.match(cell) else None


def _boolean(cell: str) -> bool | None:
    low = cell.lower()
    return True if low in _TRUE else False if low in _FALSE else None


def _date(cell: str) -> datetime | None:
    """ISO 8601 dates and times; the day-first and month-first orders are not told apart, so they are not guessed."""
    if len(cell) < 8 or not cell[:4].isdigit():
        return None
    try:
        return datetime.fromisoformat(cell).replace(tzinfo=None)
    except ValueError:
        return None


_CONVERT: dict[str, Callable[[str], Any]] = {
    "text": _text, "integer": _integer, "number": _number, "date": _date, "boolean": _boolean,
}  # fmt: skip


def _article(type: str) -> str:
    return {
        "integer": "a whole number",
        "number": "a number",
        "date": "a date like 2026-05-31",
        "boolean": "yes or no",
    }.get(type, "text")


def plain(value: Any) -> Any:
    """A cell as JSON has it: dates as ISO 8601 text, NaN and infinities as null."""
    if isinstance(value, (datetime, date)):
        return value.isoformat()
    if isinstance(value, float) and (value != value or value in (float("inf"), float("-inf"))):
        return None
    return value


def finite(value: Any) -> Any:
    """The same data with null where a number is not finite, which JSON does not know."""
    if isinstance(value, dict):
        return {key: finite(one) for key, one in value.items()}
    if isinstance(value, (list, tuple)):
        return [finite(one) for one in value]
    return None if isinstance(value, float) and not math.isfinite(value) else value
