"""What a person can correct and choose on seeing what is in a file."""

from typing import Annotated

from pydantic import BaseModel, Field

from greylatch.formats.about import About
from greylatch.formats.cells import CellChoice
from greylatch.formats.kinds import DELIMITED, Choice, FileKind
from greylatch.places.coordinates import CoordinateColumns
from greylatch.places.stated import MAX_CRS_TEXT
from greylatch.tables.dataset import MAX_COLUMNS
from greylatch.tables.delimited import Dialect, Ragged, guess_dialect, with_corrections
from greylatch.tables.fieldtypes import FieldType

__all__ = ["Corrections", "KeptAs", "cell_choice", "choice", "corrected_dialect", "said_of"]

Short = Annotated[str, Field(max_length=500)]


class KeptAs(BaseModel):
    """A field that is kept, and under which name; a blank one is its own."""

    name: Short
    rename: Short = ""


class Corrections(BaseModel):
    """What a person corrected in the preview; null keeps the guess. `located` false keeps a table without shapes; `header_row`
    is counted from 1 as a spreadsheet does, 0 for none; `swapped` exchanges x and y; `fields` are those that are kept; `where` is a condition that
    the rows kept meet; `simplify` how many metres of detail shapes may lose; `nodata` the value of pixels that hold nothing."""

    layer: Short | None = None
    encoding: Annotated[str, Field(max_length=40)] | None = None
    delimiter: Annotated[str, Field(max_length=4)] | None = None
    header: bool | None = None
    header_row: int | None = Field(None, ge=0, le=10_000_000)
    ragged: Ragged | None = None
    types: dict[Short, FieldType] = Field({}, max_length=5_000)
    x: Short | None = None
    y: Short | None = None
    shape: Short | None = None
    located: bool | None = None
    crs: Annotated[str, Field(max_length=MAX_CRS_TEXT)] | None = None
    swapped: bool = False
    fields: list[KeptAs] | None = Field(None, max_length=MAX_COLUMNS)
    where: Annotated[str, Field(max_length=5_000)] = ""
    simplify: float | None = Field(None, gt=0, le=1e7)
    nodata: float | None = Field(None, allow_inf_nan=False)
    title: Annotated[str, Field(max_length=200)] | None = None
    source: Short = ""
    credit: Short = ""
    licence: Annotated[str, Field(max_length=200)] = ""
    dated: Annotated[str, Field(max_length=40)] = ""


def choice(corrections: Corrections, placed: bool = True, head: bool = False) -> Choice:
    """What of it is about the file as a whole.

    Parameters
    ----------
    corrections : Corrections
        What a person corrected.
    placed : bool
        Whether data must say where on earth they lie.
    head : bool
        Whether the beginning of a large file is enough.

    Returns
    -------
    Choice
    """
    return Choice(corrections.layer, corrections.crs, placed, head, corrections.swapped)


def cell_choice(path: str, kind: FileKind, corrections: Corrections) -> CellChoice:
    """What of it is about a table of cells.

    Parameters
    ----------
    path : str
        The file, whose dialect is guessed where it is text.
    kind : FileKind
        What it is.
    corrections : Corrections
        What a person corrected.

    Returns
    -------
    CellChoice
    """
    placed = corrections.located is not False
    return CellChoice(
        dialect=corrected_dialect(path, corrections) if kind is DELIMITED else None,
        header_row=corrections.header_row,
        types=corrections.types,
        at=CoordinateColumns(corrections.x, corrections.y) if placed and corrections.x and corrections.y else None,
        written=corrections.shape if placed else None,
        guess_shapes=placed,
    )


def corrected_dialect(path: str, corrections: Corrections) -> Dialect:
    """The guessed dialect with the corrections in it.

    Parameters
    ----------
    path : str
        The file.
    corrections : Corrections
        What a person corrected.

    Returns
    -------
    Dialect
    """
    return with_corrections(
        guess_dialect(path), corrections.encoding, corrections.delimiter, corrections.header, corrections.ragged
    )


def said_of(corrections: Corrections) -> About:
    """What a person, or the file, says of the data.

    Parameters
    ----------
    corrections : Corrections
        What a person corrected.

    Returns
    -------
    About
    """
    return About(
        corrections.title or "", corrections.source, corrections.credit, corrections.licence, corrections.dated
    )
