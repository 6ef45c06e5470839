"""Text cells to typed columns: guessing the type of every field, and converting as guessed or as corrected."""

import math
import re
from collections.abc import Callable
from datetime import date, datetime
from typing import Any, Literal

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from greylatch.errors import BadInput
from greylatch.tables.delimited import RawTable
from greylatch.tables.number_marks import Thousands, number_pattern, thousands_marks
from greylatch.tables.written_dates import read_date

__all__ = ["ARROW", "FieldType", "finite", "guess_types", "parted_thousands", "plain", "typed", "typed_columns"]

FieldType = Literal["text", "integer", "number", "date", "boolean"]
BLANK = {"", "na", "n/a", "nan", "null", "none", "-", "–"}
"""Cells that hold nothing. Common practice."""
FEWEST_CODES, CODES = 3, 0.8
"""Different texts, and the share of them that has two capitals, from which on a column holds codes."""
_INTEGER, _NUMBER = re.compile(number_pattern(None, whole=True)), re.compile(number_pattern(None))
SAMPLE = 2000
"""Rows that tell how a table's cells are written."""
_CODE = re.compile(r"0\d+$")
_TRUE, _FALSE = {"true", "yes"}, {"false", "no"}
ARROW = {
    "text": pa.string(),
    "integer": pa.int64(),
    "number": pa.float64(),
    "date": pa.timestamp("ms"),
    "boolean": pa.bool_(),
}


def guess_types(table: RawTable, sample: int = SAMPLE) -> dict[str, FieldType]:
    """The narrowest type that holds every filled cell of the first `sample` rows; codes such as 007 stay text.

    Parameters
    ----------
    table : RawTable
        The cells as text.
    sample : int
        Rows looked at, at most.

    Returns
    -------
    dict[str, FieldType]

    Examples
    --------
    >>> guess_types(RawTable(pa.table({"a": ["1", "2.5"], "b": ["007", "012"]}), 2))
    {'a': 'number', 'b': 'text'}
    """
    filled = _filled(table, sample)
    marks = thousands_marks(filled)
    return {name: _guess(cells, marks.get(name)) for name, cells in filled.items()}


def parted_thousands(table: RawTable) -> dict[str, Thousands]:
    """The columns of numbers whose thousands are parted, and by what.

    >>> parted_thousands(RawTable(pa.table({"people": ["2,263", "81"], "share": ["9.7", "8.25"]}), 2))
    {'people': ','}
    """
    return thousands_marks(_filled(table, SAMPLE))


def _filled(table: RawTable, sample: int) -> dict[str, list[str]]:
    begun = table.columns.slice(0, sample)
    cells = {name: [cell.strip() for cell in begun[name].to_pylist()] for name in table.names}
    return {name: [cell for cell in own if cell.lower() not in BLANK] for name, own in cells.items()}


def _guess(filled: list[str], thousands: Thousands | None) -> FieldType:
    if not filled:
        return "text"
    if any(_CODE.match(cell) for cell in filled):
        return "text"
    for type in ("integer", "number"):
        fits = re.compile(number_pattern(thousands, type == "integer"))
        if all(fits.match(cell) for cell in filled):
            return type
    if all(cell.lower() in _TRUE | _FALSE for cell in filled):
        return "boolean"
    if all(read_date(cell) is not None for cell in filled):
        return "date"
    return "text"


def typed_columns(table: RawTable, types: dict[str, FieldType]) -> pa.Table:
    """An Arrow table of `table` with the given types (guessed for fields not named).

    Blank cells become null.

    Parameters
    ----------
    table : RawTable
        The cells as text.
    types : dict[str, FieldType]
        Type of each field, by name.

    Returns
    -------
    pa.Table

    Raises
    ------
    BadInput
        With the field, the line and the cell that does not fit.
    """
    guessed = guess_types(table) if set(table.names) - set(types) else {}
    marks = parted_thousands(table)
    return pa.table(
        {
            name: _column(
                name, table.columns[name], types.get(name) or guessed[name], table.first_line, marks.get(name)
            )
            for name in table.names
        }
    )


def _column(
    name: str, cells: pa.ChunkedArray, type: FieldType, first_line: int, thousands: Thousands | None
) -> pa.ChunkedArray:
    if type not in ARROW:
        raise BadInput(f"There is no field type '{type}'.", f"Choose one of {', '.join(ARROW)}.")
    cells = pc.utf8_trim_whitespace(cells)
    filled = pc.if_else(pc.is_in(pc.utf8_lower(cells), pa.array(sorted(BLANK))), pa.scalar(None, pa.string()), cells)
    if type == "text":
        return cells_of_codes(cells, filled)
    if type in ("integer", "number"):
        fits = pc.match_substring_regex(filled, "^" + number_pattern(thousands, type == "integer"))
        together = pc.replace_substring(filled, thousands, "") if thousands else filled
        numbers = pc.replace_substring_regex(pc.replace_substring(together, ",", "."), r"^\+", "")
        values = pc.if_else(fits, numbers, pa.scalar(None, pa.string())).cast(ARROW[type])
    else:  # dates and truth values have few different texts
        texts = filled.combine_chunks().dictionary_encode()
        known = pa.array([_CONVERT[type](text) for text in texts.dictionary.to_pylist()], ARROW[type])
        values = pa.chunked_array([known.take(texts.indices)])
    wrong = pc.and_(pc.is_null(values), pc.is_valid(filled))
    if pc.any(wrong).as_py():
        at = int(np.argmax(wrong.to_numpy(zero_copy_only=False) if isinstance(wrong, pa.Array) else wrong.to_numpy()))
        raise BadInput(
            f"Field '{name}', line {first_line + at}: '{filled[at].as_py()[:40]}' is not {_article(type)}.",
            "Correct the cell, or read the field as text.",
        )
    return values


def cells_of_codes(cells: pa.ChunkedArray, filled: pa.ChunkedArray) -> pa.ChunkedArray:
    """Text with what is blank taken out, but for 'NA' among codes of two capitals: there it is Namibia, say, and no missing value.

    >>> codes = pa.chunked_array([["BW", "NA", "ZA", "AO"]])
    >>> cells_of_codes(codes, pa.chunked_array([["BW", None, "ZA", "AO"]])).to_pylist()
    ['BW', 'NA', 'ZA', 'AO']
    """
    if not pc.any(pc.equal(cells, "NA")).as_py():
        return filled
    words = filled.drop_null().unique()
    capitals = pc.sum(pc.match_substring_regex(words, "^[A-Z]{2}$")).as_py() or 0
    if len(words) < FEWEST_CODES or capitals < CODES * len(words):
        return filled
    return pc.if_else(pc.equal(cells, "NA"), cells, filled)


def typed(cell: str, type: FieldType) -> Any:
    """What a cell of that type holds; None for a blank one.

    Parameters
    ----------
    cell : str
        The cell as it stands in the file.
    type : FieldType
        The type that the cell is read as.

    Returns
    -------
    Any

    Raises
    ------
    BadInput
        For what is none of its values.

    Examples
    --------
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


_CONVERT: dict[str, Callable[[str], Any]] = {
    "text": _text, "integer": _integer, "number": _number, "date": read_date, "boolean": _boolean,
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
        return {key: finite(item) for key, item in value.items()}
    if isinstance(value, (list, tuple)):
        return [finite(item) for item in value]
    return None if isinstance(value, float) and not math.isfinite(value) else value
