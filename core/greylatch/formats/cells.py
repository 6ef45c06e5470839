"""Cells of text and of sheets: typed columns, and the shapes that columns among them make."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path

import pyarrow as pa
import shapely

from greylatch.errors import BadFile
from greylatch.formats.kinds import DELIMITED, Choice, FileKind
from greylatch.formats.read_by_gdal import placed_result
from greylatch.formats.result import ReadResult
from greylatch.places.coordinates import CoordinateColumns, guess_coordinate_columns, located
from greylatch.places.stated import guess_crs, system_of
from greylatch.places.written_shapes import guess_shape_column, shapes_written
from greylatch.tables.dataset import Dataset, System, field_type, numbers
from greylatch.tables.delimited import Dialect, RawTable, guess_dialect, read_delimited
from greylatch.tables.fieldtypes import FieldType, read_columns
from greylatch.tables.number_marks import Thousands
from greylatch.wording import counted

__all__ = ["BARE_TABLE", "CellChoice", "read_raw", "result_of_cells", "shaping_columns"]


@dataclass(frozen=True)
class CellChoice:
    """What a person said of a table of cells: how its text is written; in which row of a sheet the names stand; types of fields
    by name; the columns of coordinates, or the one in which shapes are written; whether either is guessed where none
    is named."""

    dialect: Dialect | None = None
    header_row: int | None = None
    types: Mapping[str, FieldType] = field(default_factory=dict)
    at: CoordinateColumns | None = None
    written: str | None = None
    guess_shapes: bool = True


BARE_TABLE = CellChoice(guess_shapes=False)
"""Whatever columns are called, they make no shapes."""


def read_raw(
    path: str | Path, kind: FileKind, choice: Choice, cells: CellChoice, limit: int | None = None
) -> tuple[RawTable, int | None]:  # fmt: skip
    """The cells of a file, and the row of a sheet in which the names of its columns stand.

    Parameters
    ----------
    path : str | Path
        The file.
    kind : FileKind
        What it is.
    choice : Choice
        What a person chose of it: the sheet.
    cells : CellChoice
        How it is read.
    limit : int | None
        Rows read at most; None reads all.

    Returns
    -------
    tuple[RawTable, int | None]

    Raises
    ------
    BadFile
        For what cannot be read.
    """
    if kind is DELIMITED:
        return read_delimited(path, cells.dialect or guess_dialect(path), limit), None
    raw, header_row = kind.cells(path, choice.layer, cells.header_row, limit)
    return raw, header_row


def shaping_columns(columns: pa.Table, cells: CellChoice) -> CoordinateColumns | str | None:
    """The two columns of coordinates, or the one of shapes, that make shapes: those chosen, or else guessed.

    Parameters
    ----------
    columns : pa.Table
        The columns as an Arrow table.
    cells : CellChoice
        What a person chose.

    Returns
    -------
    CoordinateColumns | str | None

    Examples
    --------
    >>> shaping_columns(pa.table({"lon": [1.5], "lat": [2.5]}), CellChoice())
    CoordinateColumns(x='lon', y='lat')
    """
    if cells.at or cells.written or not cells.guess_shapes:
        return cells.at or cells.written
    types: dict[str, FieldType] = {field.name: field_type(field.type) for field in columns.schema}
    return guess_shape_column(columns) or guess_coordinate_columns(types)


def result_of_cells(raw: RawTable, choice: Choice, cells: CellChoice) -> ReadResult:
    """The dataset that cells make.

    Parameters
    ----------
    raw : RawTable
        The cells as text.
    choice : Choice
        What a person chose of the file.
    cells : CellChoice
        How the cells are read.

    Returns
    -------
    ReadResult

    Raises
    ------
    BadInput
        That names field and row.
    """
    columns, marks = read_columns(raw, dict(cells.types))
    notes = _notes_on_numbers(marks, columns)
    by = shaping_columns(columns, cells)
    if by is None:
        return ReadResult(Dataset(columns, "table"), "A table without coordinates.", notes)
    if isinstance(by, str):
        shapes, stated = shapes_written(columns, by)
        return placed_result(
            columns.drop_columns([by]),
            shapes,
            choice,
            notes,
            stated,
            "The shapes do not say in which projection they are.",
        )
    return points_from(columns, CoordinateColumns(by.y, by.x) if choice.swapped else by, choice, notes)


def _notes_on_numbers(marks: Mapping[str, Thousands], columns: pa.Table) -> list[str]:
    """By what thousands are parted, so that who sees 2,263 in a preview knows how it is read."""
    read = {name: mark for name, mark in marks.items() if not pa.types.is_string(columns[name].type)}
    return [
        f"{words} part thousands in {', '.join(repr(name) for name, own in read.items() if own == mark)}."
        for mark, words in ((",", "Commas"), (".", "Points"))
        if mark in read.values()
    ]


def points_from(columns: pa.Table, at: CoordinateColumns, choice: Choice, notes: Sequence[str] = ()) -> ReadResult:
    """Points from coordinate columns, in the chosen or a guessed system; `notes` are said before others."""
    if choice.crs:
        reason: str = "Chosen by hand."
        system: System | None = system_of(choice.crs)
    else:
        guess = guess_crs(numbers(columns, at.x), numbers(columns, at.y))
        if guess.crs is None and choice.placed:
            raise BadFile(guess.reason)
        reason, system = guess.reason, system_of(guess.crs) if guess.crs else None
    dataset = located(columns, at, system)
    without = 0 if dataset.places is not None else int(shapely.is_empty(dataset.shapes).sum())
    misplaced = [f"{counted(without, 'row')} without coordinates: not on the map."] if without else []
    return ReadResult(dataset, reason, [*notes, *misplaced])
