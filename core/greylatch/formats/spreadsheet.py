"""Reading spreadsheets: XLSX, XLS, ODS and XLSB, of which each sheet is a layer."""

import io
import re
import zipfile
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import date, datetime, time, timedelta
from functools import lru_cache
from pathlib import Path
from typing import Any

import pyarrow as pa

from greylatch.errors import BadFile
from greylatch.formats.kinds import LayerInfo
from greylatch.formats.zipped import UNREADABLE, checked
from greylatch.tables.dataset import MAX_COLUMNS, named
from greylatch.tables.delimited import MAX_CELL, RawTable
from greylatch.tables.header import is_number, numbers_are_names

__all__ = ["guess_header_row", "layers", "read_cells"]

LOOKED_AT = 30
"""Rows among which the names of the columns are looked for."""
MOST_CELLS = 60_000_000
_LINE_BREAK = re.compile(rb">\s*\n\s*(?=</?table:)")
"""Between two cells. It begins with the bracket, which is quicker to look for than what follows one."""


def layers(path: str | Path) -> list[LayerInfo]:
    """The sheets of a spreadsheet with the rows in which something stands; charts and macros are none.

    Parameters
    ----------
    path : str | Path
        The file.

    Returns
    -------
    list[LayerInfo]

    Raises
    ------
    BadFile
        For one that cannot be read, or is locked.
    """
    with _opened(path) as book:
        names = [str(sheet.name) for sheet in book.sheets_metadata if "Work" in str(sheet.typ)]
        return [LayerInfo(name, "table", int(book.sheet(name).height)) for name in names]


def guess_header_row(rows: list[list[str]]) -> int:
    """Which of the first rows of cells names the columns, counted from 1; 0 where none does.

    It is the first with a text in nearly as many cells as the rows have, each another one; what stands above is the
    sheet's title and the like.

    >>> guess_header_row([["Wells of 2025", "", ""], ["", "", ""], ["name", "depth", "year"], ["Aller", "2.5", "2025"]])
    3
    """
    filled = [[cell for cell in row if cell.strip()] for row in rows[:LOOKED_AT]]
    usual = max((len(row) for row in filled), default=0)
    for i, row in enumerate(filled):
        texts = [cell for cell in row if not is_number(cell)]
        named = len(texts) >= 0.7 * len(row) or numbers_are_names(rows[i], rows[i + 1 :])
        if len(row) >= max(1, 0.7 * usual) and named:
            return i + 1 if len(set(row)) == len(row) and any(filled[i + 1 :]) else 0
        if len(row) >= max(2, 0.7 * usual):
            return 0  # numbers already: the sheet begins with its first row
    return 0


def read_cells(
    path: str | Path, sheet: str | None = None, header_row: int | None = None, limit: int | None = None
) -> tuple[RawTable, int]:
    """The cells of a sheet as text, and in which row of the sheet the names of the columns stand.

    Parameters
    ----------
    path : str | Path
        The file.
    sheet : str | None
        The sheet's name; None takes the first in which something stands.
    header_row : int | None
        Where the names of the columns stand, counted from 1 as the spreadsheet does; 0 for nowhere, None guesses.
    limit : int | None
        Rows read at most; None reads all.

    Returns
    -------
    tuple[RawTable, int]

    Raises
    ------
    BadFile
        For one that cannot be read, for a sheet that is not there or empty, and for a row beyond its end.
    """
    from python_calamine import CalamineError

    with _opened(path) as book:
        try:
            opened = book.sheet(sheet) if sheet is not None else _first_filled(book)
        except CalamineError as error:
            raise BadFile(f"There is no sheet '{sheet}'.", f"There are {', '.join(book.sheet_names[:12])}.") from error
        if opened.start is None or opened.height == 0:
            raise BadFile(f"The sheet '{opened.name}' is empty.")
        if opened.height * opened.width > MOST_CELLS:
            raise BadFile(
                f"The sheet '{opened.name}' has {opened.height:,} rows and {opened.width:,} columns, which is too much."
            )
        if opened.width > MAX_COLUMNS:
            raise BadFile(f"The sheet '{opened.name}' has {opened.width:,} columns; at most {MAX_COLUMNS:,} are read.")
        above = int(opened.start[0])
        most = None if limit is None else limit + LOOKED_AT + max((header_row or 0) - above, 0)
        try:
            rows = opened.to_python(skip_empty_area=True, nrows=most)
        except CalamineError as error:
            raise BadFile(f"The sheet '{opened.name}' cannot be read: {error}.") from error
    if header_row is None:
        guessed = guess_header_row([[_text(cell) for cell in row] for row in rows[:LOOKED_AT]])
        header_row = above + guessed if guessed else 0
    if header_row > above + len(rows):
        raise BadFile(
            f"The sheet ends at row {above + len(rows):,}; there are no names of columns in row {header_row:,}."
        )
    at = max(header_row - above, 0)
    names = [_text(cell) for cell in rows[at - 1]] if at else [""] * (len(rows[0]) if rows else 0)
    body = rows[at:] if limit is None else rows[at : at + limit]
    kept = [row for row in body if any(cell != "" for cell in row)]
    if not kept:
        raise BadFile(f"The sheet '{opened.name}' has no row below row {header_row:,}.")
    cells = [[_text(row[i]) for row in kept] for i in range(len(names))]
    # A column without a name and without a cell is the space that somebody left beside the table.
    used = [i for i, column in enumerate(cells) if names[i].strip() or any(column)]
    for i in used:
        if max(map(len, cells[i])) > MAX_CELL:
            raise BadFile(f"A cell of the sheet is longer than {MAX_CELL:,} characters.")
    table = pa.table([pa.array(cells[i], pa.string()) for i in used], names=named([names[i] for i in used]))
    return RawTable(table, max(header_row, above) + 1), header_row


class _Workbook:
    """A workbook and its sheets, each gone through once."""

    def __init__(self, path: str) -> None:
        from python_calamine import CalamineError, CalamineWorkbook, PasswordError

        if zipfile.is_zipfile(path):
            with zipfile.ZipFile(path) as archive:
                checked(archive)
        try:
            self.book = CalamineWorkbook.from_path(path)
        except PasswordError:
            raise
        except (CalamineError, OSError):
            self.book = CalamineWorkbook.from_filelike(_without_line_breaks(path))
        self.sheets_metadata, self.sheet_names = self.book.sheets_metadata, self.book.sheet_names
        self._sheets: dict[str, Any] = {}

    def sheet(self, name: str) -> Any:
        if name not in self._sheets:
            self._sheets[name] = self.book.get_sheet_by_name(name)
        return self._sheets[name]


@contextmanager
def _opened(path: str | Path) -> Iterator[_Workbook]:
    """The workbook, whose zip was looked at before it is unpacked. Damage within it is told when it is come upon."""
    from python_calamine import CalamineError, PasswordError

    try:
        state = Path(path).stat()
        yield _workbook(str(path), state.st_mtime_ns, state.st_size)
    except BadFile:
        raise
    except PasswordError as error:
        raise BadFile("The spreadsheet is locked with a password.", "Save it anew without one.") from error
    except (CalamineError, KeyError, OSError, *UNREADABLE) as error:
        raise BadFile("This is no spreadsheet that can be read.", "Save it anew as XLSX or ODS.") from error


@lru_cache(maxsize=1)
def _workbook(path: str, changed: int, size: int) -> _Workbook:
    """The last one is remembered, since a preview asks for its layers and then for its cells: a million rows take seconds."""
    return _Workbook(path)


def _without_line_breaks(path: str | Path) -> io.BytesIO:
    """An OpenDocument sheet without the line breaks that some programs set between its cells, over which calamine stumbles."""
    out = io.BytesIO()
    with zipfile.ZipFile(path) as archive, zipfile.ZipFile(out, "w") as anew:
        for name in ("mimetype", "META-INF/manifest.xml", "content.xml"):
            anew.writestr(name, _LINE_BREAK.sub(b">", archive.read(name)))
    out.seek(0)
    return out


def _first_filled(book: _Workbook) -> Any:
    for name in book.sheet_names:
        sheet = book.sheet(name)
        if sheet.height:
            return sheet
    raise BadFile("There is nothing in this spreadsheet.")


def _text(cell: Any) -> str:
    """A cell as a table of text would have it: whole numbers without a point, days without an hour."""
    if isinstance(cell, str):
        return cell
    if isinstance(cell, bool):
        return "true" if cell else "false"
    if isinstance(cell, float):
        return str(int(cell)) if cell.is_integer() and abs(cell) < 1e15 else repr(cell)
    if isinstance(cell, datetime):
        return cell.date().isoformat() if cell.time() == time.min else cell.isoformat(sep=" ", timespec="seconds")
    if isinstance(cell, (date, time)):
        return cell.isoformat()
    if isinstance(cell, timedelta):
        return str(cell)
    return str(cell)
