"""Text cells to typed columns: guessing the type of every field, and converting as guessed or as corrected."""

import math
import re
import sys
from collections.abc import Callable
from datetime import date, datetime
from typing import Any, Literal

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from greylatch.errors import BadInput
from greylatch.tables.delimited import RawTable
from greylatch.tables.number_marks import MOST_DIGITS, Thousands, number_pattern, thousands_marks
from greylatch.tables.written_dates import read_date

__all__ = ["ARROW", "FieldType", "finite", "guess_types", "plain", "read_columns", "typed", "typed_columns"]

FieldType = Literal["text", "integer", "number", "date", "boolean"]
BLANK = {"", "na", "n/a", "nan", "null", "none", "-", "–"}
"""Cells that hold nothing. Common practice."""
FEWEST_CODES, CODES = 3, 0.8
"""Different texts, and the share of them that has two capitals, from which on a column holds codes."""
_INTEGER, _NUMBER = re.compile(number_pattern(None, whole=True)), re.compile(number_pattern(None))
SAMPLE = 2000
"""Rows that tell how a table's cells are written."""
MISFITS = 50
"""Cells of a column further down that tell it as well, each time that some don't fit."""
_CODE = re.compile(r"0\d+$")
_TRUE, _FALSE = {"true", "yes"}, {"false", "no"}
ARROW = {
    "text": pa.string(),
    "integer": pa.int64(),
    "number": pa.float64(),
    "date": pa.timestamp("ms"),
    "boolean": pa.bool_(),
}


def guess_types(table: RawTable) -> dict[str, FieldType]:
    """The narrowest type that holds every filled cell of the first `SAMPLE` rows, of a column that begins later of as many from there
    on; codes such as 007 stay text.

    Parameters
    ----------
    table : RawTable
        The cells as text.

    Returns
    -------
    dict[str, FieldType]

    Examples
    --------
    >>> guess_types(RawTable(pa.table({"a": ["1", "2.5"], "b": ["007", "012"]}), 2))
    {'a': 'number', 'b': 'text'}
    """
    filled = _filled(table)
    marks = thousands_marks(filled)
    return {name: _guess(cells, marks.get(name)) for name, cells in filled.items()}


def _filled(table: RawTable) -> dict[str, list[str]]:
    return {name: _filled_cells(table.columns[name]) for name in table.names}


def _filled_cells(column: pa.ChunkedArray) -> list[str]:
    """Of its first rows; of a column that begins later from there on."""
    cells = [cell for cell in map(str.strip, column.slice(0, SAMPLE).to_pylist()) if cell.lower() not in BLANK]
    if cells or len(column) <= SAMPLE:
        return cells
    return _without_blanks(pc.utf8_trim_whitespace(column)).drop_null().slice(0, SAMPLE).to_pylist()


def _without_blanks(cells: pa.ChunkedArray) -> pa.ChunkedArray:
    return pc.if_else(
        pc.is_in(pc.utf8_lower(cells), pa.array(sorted(BLANK), pa.string())), pa.scalar(None, pa.string()), cells
    )


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
    """An Arrow table of `table` with the given types. Those of fields not named are guessed, and held to all rows: what looks like whole
    numbers at first may have a fraction further down, or a word.

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
    return read_columns(table, types)[0]


def read_columns(table: RawTable, types: dict[str, FieldType]) -> tuple[pa.Table, dict[str, Thousands]]:
    """As `typed_columns`, with the columns of numbers whose thousands are parted, and by what.

    Cells further down that don't fit what the first rows say are looked at like these, until all fit: a table of rivers may come to its
    first fraction after thousands of whole numbers.

    Parameters
    ----------
    table : RawTable
        The cells as text.
    types : dict[str, FieldType]
        Type of each field, by name.

    Returns
    -------
    tuple[pa.Table, dict[str, Thousands]]

    Raises
    ------
    BadInput
        With the field, the line and the cell that does not fit.

    Examples
    --------
    >>> read_columns(RawTable(pa.table({"people": ["2,263", "81"], "share": ["9.7", "8.25"]}), 2), {})[1]
    {'people': ','}
    """
    for type in types.values():
        if type not in ARROW:
            raise BadInput(f"There is no field type '{type}'.", f"Choose one of {', '.join(ARROW)}.")
    looked_at = _filled(table)
    columns: dict[str, pa.ChunkedArray] = {}
    misfits: dict[str, pa.ChunkedArray] = {}
    read_as: dict[str, tuple[FieldType, Thousands | None]] = {}
    changed = True
    while changed:
        changed, marks = False, thousands_marks(looked_at)
        for name in table.names:
            how = types.get(name) or _guess(looked_at[name], marks.get(name)), marks.get(name)
            if read_as.get(name) == how:
                continue
            read_as[name] = how
            columns[name], misfits[name] = _read(table.columns[name], *how, codes=name in types)
            if name not in types and misfits[name].null_count < len(misfits[name]):
                looked_at[name] += misfits[name].drop_null()[:MISFITS].to_pylist()
                changed = True
    for name, cells in misfits.items():
        if cells.null_count < len(cells):
            at = int(np.argmax(cells.is_valid().to_numpy()))
            raise BadInput(
                f"Field '{name}', line {table.first_line + at}: '{cells[at].as_py()[:40]}' is not {_article(types[name])}.",
                "Correct the cell, or read the field as text.",
            )
    return pa.table(columns), marks


def _read(
    cells: pa.ChunkedArray, type: FieldType, thousands: Thousands | None, codes: bool
) -> tuple[pa.ChunkedArray, pa.ChunkedArray]:
    """Cells as a type; and those that are none of it, with nothing for the others. `codes` such as 007 may be numbers."""
    misfits = pa.chunked_array([pa.nulls(len(cells), pa.string())])
    if type in ("integer", "number") and not thousands:
        plainly = _plainly_written(cells, ARROW[type])
        if plainly is not None:
            return plainly, misfits
    cells = pc.utf8_trim_whitespace(cells)
    filled = _without_blanks(cells)
    nothing = pa.scalar(None, pa.string())
    if type == "text":
        return cells_of_codes(cells, filled), misfits
    if type in ("integer", "number"):
        fits = pc.match_substring_regex(filled, "^" + number_pattern(thousands, type == "integer"))
        if not codes:
            fits = pc.and_not(fits, pc.match_substring_regex(filled, f"^{_CODE.pattern}"))
        together = pc.replace_substring(filled, thousands, "") if thousands else filled
        numbers = pc.replace_substring_regex(pc.replace_substring(together, ",", "."), r"^\+", "")
        values = pc.if_else(fits, numbers, nothing).cast(ARROW[type])
    else:  # dates and truth values have few different texts
        texts = filled.combine_chunks().dictionary_encode()
        known = pa.array([_CONVERT[type](text) for text in texts.dictionary.to_pylist()], ARROW[type])
        values = pa.chunked_array([known.take(texts.indices)])
    return values, pc.if_else(pc.is_null(values), filled, nothing)


def _plainly_written(cells: pa.ChunkedArray, type: pa.DataType) -> pa.ChunkedArray | None:
    """Numbers of a column that Arrow can read as it stands, a third of the work; None where some cell has to be looked at."""
    cells = pc.if_else(pc.equal(cells, pa.scalar("", pa.string())), pa.scalar(None, pa.string()), cells)
    # Codes such as 007 are no numbers to everybody, and 0x1f is one to Arrow alone.
    behind_nought = pc.and_(pc.starts_with(cells, "0"), pc.greater(pc.binary_length(cells), pa.scalar(1, pa.int32())))
    if pc.any(pc.and_not(behind_nought, pc.starts_with(cells, "0."))).as_py():
        return None
    try:
        values = cells.cast(type)
    except pa.ArrowInvalid:
        return None
    # Arrow reads nan and inf as well, and more digits than a whole number is read with here.
    most = 10**MOST_DIGITS - 1 if pa.types.is_integer(type) else sys.float_info.max
    within = pc.and_(pc.less_equal(values, pa.scalar(most, type)), pc.greater_equal(values, pa.scalar(-most, type)))
    return values if pc.all(within).as_py() is not False else None


def cells_of_codes(cells: pa.ChunkedArray, filled: pa.ChunkedArray) -> pa.ChunkedArray:
    """Text with what is blank taken out, but for 'NA' among codes of two capitals: there it is Namibia, say, and no missing value.

    >>> codes = pa.chunked_array([["BW", "NA", "ZA", "AO"]])
    >>> cells_of_codes(codes, pa.chunked_array([["BW", None, "ZA", "AO"]])).to_pylist()
    ['BW', 'NA', 'ZA', 'AO']
    """
    if not pc.any(pc.equal(cells, pa.scalar("NA", pa.string()))).as_py():
        return filled
    words = filled.drop_null().unique()
    capitals = pc.sum(pc.match_substring_regex(words, "^[A-Z]{2}$")).as_py() or 0
    if len(words) < FEWEST_CODES or capitals < CODES * len(words):
        return filled
    return pc.if_else(pc.equal(cells, pa.scalar("NA", pa.string())), cells, filled)


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
    """A cell as JSON has it: dates as ISO 8601 text, to the millisecond as they are kept, NaN and infinities as null."""
    if isinstance(value, datetime):
        return value.isoformat(timespec="milliseconds" if value.microsecond else "seconds")
    if isinstance(value, date):
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
