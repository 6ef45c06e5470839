"""Delimited text: guessing how a file is written, and reading it as guessed or as corrected."""

import codecs
import csv
import io
import re
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Literal

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
import pyarrow.csv

from greylatch.errors import BadFile
from greylatch.tables.dataset import MAX_COLUMNS, named
from greylatch.tables.header import names_columns
from greylatch.wording import counted

__all__ = [
    "MAX_CELL",
    "Dialect",
    "Ragged",
    "RawTable",
    "guess_delimiter",
    "guess_dialect",
    "guess_encoding",
    "is_encoding",
    "read_delimited",
    "with_corrections",
]

DELIMITERS = {",": "comma", ";": "semicolon", "\t": "tab", "|": "bar"}
SAMPLE_BYTES = 256 * 1024
SAMPLE_OF_ENCODING = 64 * 1024
MAX_CELL = 1_000_000
Ragged = Literal["refuse", "pad"]
NO_TEXT = {"idna", "punycode", "unicode-escape", "raw-unicode-escape", "undefined", "mbcs", "oem", "utf-7"}


@dataclass(frozen=True)
class Dialect:
    """How a file of delimited text is written. `ragged` says what to do with rows of another length than the header."""

    encoding: str
    delimiter: str
    header: bool
    ragged: Ragged = "refuse"


@dataclass(frozen=True)
class RawTable:
    """Cells as text, column by column. `first_line` is the line of the file on which the first row stands.

    >>> RawTable(pa.table({"a": ["1", "2"], "b": ["x", "y"]}), 2).rows
    [['1', 'x'], ['2', 'y']]
    """

    columns: pa.Table
    first_line: int

    @property
    def names(self) -> list[str]:
        """The columns' names."""
        return list(self.columns.column_names)

    @property
    def rows(self) -> list[list[str]]:
        """The same, row by row."""
        return [list(row) for row in zip(*(column.to_pylist() for column in self.columns.columns), strict=True)]


def guess_dialect(path: str | Path) -> Dialect:
    """Guess encoding, delimiter and header from the beginning of the file.

    Raises
    ------
    BadInput
        For a file that is not text.
    """
    with open(path, "rb") as file:
        sample = file.read(SAMPLE_BYTES)
    if not sample.strip():
        raise BadFile("The file is empty.")
    encoding = guess_encoding(sample)
    text = sample.decode(encoding, "replace")
    delimiter = guess_delimiter(text)
    first = list(_limited(csv.reader(io.StringIO(text, newline=""), delimiter=delimiter), 40))
    return Dialect(encoding, delimiter, names_columns(first[0], first[1:]) if first else False)


def guess_encoding(sample: bytes) -> str:
    """A Python name of the encoding.

    Raises
    ------
    BadInput
        Where the bytes are no text at all.

    Examples
    --------
    >>> guess_encoding("Höhe,Name".encode("utf-8"))
    'utf-8'
    """
    if sample.startswith(codecs.BOM_UTF8):
        return "utf-8-sig"
    if sample.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)):
        return "utf-16"
    if b"\0" in sample:
        raise BadFile(
            "This is not a text file: it holds zero bytes.", "Is it a spreadsheet or a picture with the wrong ending?"
        )
    # A sample may end within a character, so its last few bytes are not held against UTF-8.
    for cut in range(4):
        try:
            sample[: len(sample) - cut].decode("utf-8")
            return "utf-8"
        except UnicodeDecodeError:
            continue
    import charset_normalizer  # 0.3 s, and most files are UTF-8

    best = charset_normalizer.from_bytes(
        sample[:SAMPLE_OF_ENCODING],
        cp_isolation=["cp1252", "latin_1", "cp1250", "cp1251", "cp1253", "cp437", "mac_roman"],
    ).best()
    if best is None:
        raise BadFile("The file's characters cannot be read in any encoding tried.", "Save it as UTF-8.")
    return best.encoding


def is_encoding(name: str) -> bool:
    """Whether `name` is one of Python's encodings of text: not a conversion of bytes ('hex'), of hosts ('idna') or of escapes.

    >>> is_encoding("cp1252"), is_encoding("hex"), is_encoding("unicode_escape")
    (True, False, False)
    """
    if not re.fullmatch(r"[\w.-]{1,40}", name):
        return False
    try:
        codec = codecs.lookup(name)
    except (LookupError, ValueError, UnicodeError):
        return False
    return bool(codec._is_text_encoding) and codec.name not in NO_TEXT


def guess_delimiter(text: str) -> str:
    """The delimiter that splits the first lines into the same number of cells, and into the most.

    >>> guess_delimiter("a;b;c\\n1,5;2;3\\n")
    ';'
    """

    def score(delimiter: str) -> tuple[float, int]:
        lengths = [
            len(row) for row in _limited(csv.reader(io.StringIO(text, newline=""), delimiter=delimiter), 50) if row
        ]
        if not lengths or lengths[0] < 2:
            return 0.0, 1
        return sum(n == lengths[0] for n in lengths) / len(lengths), lengths[0]

    return max(DELIMITERS, key=score)


def read_delimited(path: str | Path, dialect: Dialect, limit: int | None = None) -> RawTable:
    """Cells of the file; with `limit` only so many rows, as a preview, in which bad characters show as �.

    A whole file is read in one go; one with anything odd in it is read again line by line, to say where.

    Parameters
    ----------
    path : str | Path
        The file.
    dialect : Dialect
        Encoding, delimiter and header.
    limit : int | None
        Rows read at most; None reads all.

    Returns
    -------
    RawTable

    Raises
    ------
    BadInput
        : an encoding that does not fit (with the line), rows of another length (with their lines), no columns.
    """
    if not is_encoding(dialect.encoding):
        raise BadFile(f"There is no encoding '{dialect.encoding}' of text.", "utf-8 and cp1252 are the most common.")
    if dialect.delimiter not in DELIMITERS:
        raise BadFile(f"'{dialect.delimiter}' is no delimiter.", f"Choose one of {', '.join(DELIMITERS.values())}.")
    preview = limit is not None
    if not preview and (whole := _at_once(path, dialect)) is not None:
        return whole
    with open(path, encoding=dialect.encoding, errors="replace" if preview else "strict", newline="") as file:
        reader = csv.reader(file, delimiter=dialect.delimiter)
        try:
            return _rows(reader, dialect, limit)
        except UnicodeError as error:
            raise BadFile(
                f"Near line {reader.line_num + 1} the bytes are not {dialect.encoding}.",
                "Choose another encoding in the preview.",
            ) from error
        except csv.Error as error:
            raise BadFile(f"Line {reader.line_num} cannot be read: {error}.") from error


def with_corrections(
    guess: Dialect,
    encoding: str | None = None,
    delimiter: str | None = None,
    header: bool | None = None,
    ragged: Ragged | None = None,
) -> Dialect:
    """The guess with what a person corrected put in; None keeps the guess.

    Parameters
    ----------
    guess : Dialect
        What was guessed.
    encoding : str | None
        A Python name of the encoding; None keeps the guess.
    delimiter : str | None
        What parts the cells; None keeps the guess.
    header : bool | None
        Whether the first line names the columns; None keeps the guess.
    ragged : Ragged | None
        What becomes of lines with too many or too few cells; None keeps the guess.

    Returns
    -------
    Dialect
    """
    return Dialect(
        encoding if encoding is not None else guess.encoding,
        delimiter if delimiter is not None else guess.delimiter,
        header if header is not None else guess.header,
        ragged if ragged is not None else guess.ragged,
    )


def _rows(reader: Iterator[list[str]], dialect: Dialect, limit: int | None) -> RawTable:
    names: list[str] = []
    rows: list[list[str]] = []
    odd: list[tuple[int, int]] = []
    first_line = 2 if dialect.header else 1
    for row in reader:
        if not row or (len(row) == 1 and not row[0].strip()):
            continue
        if not names:
            names = named(row if dialect.header else [""] * len(row))
            if dialect.header:
                continue
        if len(row) != len(names):
            odd.append((reader.line_num, len(row)))  # type: ignore[attr-defined]
            row = (row + [""] * len(names))[: len(names)]
        if any(len(cell) > MAX_CELL for cell in row):
            raise BadFile(f"A cell on line {reader.line_num} is longer than {MAX_CELL:,} characters.")  # type: ignore[attr-defined]
        rows.append(row)
        if limit is not None and len(rows) >= limit:
            break
    if not names:
        raise BadFile("The file is empty.")
    if odd and dialect.ragged == "refuse" and limit is None:
        some = "; ".join(f"line {line} has {n}" for line, n in odd[:5])
        raise BadFile(
            f"{counted(len(odd), 'row')} without the header's {counted(len(names), 'cell')}: {some}{'; …' if len(odd) > 5 else ''}.",
            "Mend them in the file, or choose to fill short rows and cut long ones.",
        )
    columns = [pa.array(cells, pa.string()) for cells in zip(*rows, strict=True)] or [pa.array([], pa.string())] * len(
        names
    )
    return RawTable(pa.table(columns, names=names), first_line)


def _at_once(path: str | Path, dialect: Dialect) -> RawTable | None:
    """The cells of a regular file; None for one that has to be looked at line by line."""
    try:
        width = _first_row(path, dialect)
        table = pyarrow.csv.read_csv(
            path,
            pyarrow.csv.ReadOptions(
                autogenerate_column_names=True, encoding="utf8" if dialect.encoding == "utf-8-sig" else dialect.encoding
            ),
            pyarrow.csv.ParseOptions(delimiter=dialect.delimiter, newlines_in_values=True),
            pyarrow.csv.ConvertOptions(
                column_types={f"f{i}": pa.string() for i in range(width)},
                null_values=[],
                strings_can_be_null=False,
            ),
        )
    except (pa.ArrowException, csv.Error, OSError, LookupError, UnicodeError):
        return None
    if table.num_columns != width or width > MAX_COLUMNS:
        return None
    # A single column may hold blank lines, which count as none there; and who looks closely says more of odd characters.
    if width < 2 or any(_is_odd(column) for column in table.columns):
        return None
    first = [column[0].as_py() for column in table.columns] if dialect.header else [""] * table.num_columns
    start = 1 if dialect.header else 0
    return RawTable(table.slice(start).rename_columns(named(first)), start + 1)


def _first_row(path: str | Path, dialect: Dialect) -> int:
    """How many cells the first row has in which there is something."""
    with open(path, encoding=dialect.encoding, newline="") as file:
        return len(next(filter(None, csv.reader(file, delimiter=dialect.delimiter)), []))


def _is_odd(column: pa.ChunkedArray) -> bool:
    """Whether a cell is too long, or holds a character that no text has; what is neither in bytes, counted quickly, is neither in characters."""
    texts = (chunk.buffers()[2] for chunk in column.chunks)
    if any(text is not None and np.any(np.frombuffer(text, np.uint8) == 0) for text in texts):
        return True
    many = (pc.max(pc.binary_length(column)).as_py() or 0) > MAX_CELL
    return many and (pc.max(pc.utf8_length(column)).as_py() or 0) > MAX_CELL


def _limited(reader: Iterator[list[str]], n: int) -> Iterator[list[str]]:
    try:
        for i, row in enumerate(reader):
            if i >= n:
                return
            yield row
    except csv.Error:
        return
