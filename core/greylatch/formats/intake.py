"""From a stranger's file to data that are kept: what is in it, with corrections that a person can make, and the reading itself."""

from collections.abc import Callable
from pathlib import Path
from typing import Annotated, Any

import pyarrow as pa
from pydantic import BaseModel, Field

from greylatch.errors import BadInput
from greylatch.formats.files import file_kind, read_file
from greylatch.formats.geojson import read_geojson
from greylatch.formats.geoparquet import write_geoparquet
from greylatch.places.coordinates import CoordinateColumns, guess_coordinate_columns
from greylatch.places.crs import MAX_CRS_TEXT, crs_name, guess_crs, parse_crs
from greylatch.rasters.info import open_raster, raster_info, unplaced_raster_info
from greylatch.rasters.keep import keep_as_cog
from greylatch.tables.dataset import fields, numbers
from greylatch.tables.delimited import Dialect, Ragged, guess_dialect, read_delimited, with_corrections
from greylatch.tables.fieldtypes import FieldType, guess_types, plain, typed_columns

__all__ = ["Corrections", "Preview", "Taken", "preview", "take_in", "title_of"]

PREVIEW_ROWS = 60
PREVIEW_CELL = 500
"""Characters of a cell that a preview shows."""
Short = Annotated[str, Field(max_length=500)]


class Corrections(BaseModel):
    """What a person corrected in the preview; null keeps the guess. `located` false keeps a table without shapes."""

    encoding: Annotated[str, Field(max_length=40)] | None = None
    delimiter: Annotated[str, Field(max_length=4)] | None = None
    header: bool | None = None
    ragged: Ragged | None = None
    types: dict[Short, FieldType] = Field({}, max_length=5_000)
    x: Short | None = None
    y: Short | None = None
    located: bool | None = None
    crs: Annotated[str, Field(max_length=MAX_CRS_TEXT)] | None = None
    title: Annotated[str, Field(max_length=200)] | None = None
    source: Short = ""
    credit: Short = ""


class FieldPreview(BaseModel):
    """A field as guessed or corrected."""

    name: str
    type: str


class Preview(BaseModel):
    """What would be kept. `problem` is the reason for which it cannot be, so far."""

    kind: str
    file: str
    title: str
    encoding: str | None = None
    delimiter: str | None = None
    header: bool | None = None
    ragged: str | None = None
    fields: list[FieldPreview] = []
    rows: list[list[Any]] = []
    x: str | None = None
    y: str | None = None
    located: bool = False
    crs: str | None = None
    crs_reason: str = ""
    notes: list[str] = []
    raster: dict[str, Any] | None = None
    problem: str | None = None


class Taken(BaseModel):
    """What was written into the folder: data.parquet for shapes and tables, or raster.tif; and what is said of it."""

    kind: str
    crs_reason: str
    notes: list[str]


def preview(path: str | Path, name: str, corrections: Corrections) -> Preview:
    """Real rows of the file at `path`, sent as `name`, as they would be read.

    Parameters
    ----------
    path : str | Path
        The file.
    name : str
        The name under which the file was sent.
    corrections : Corrections
        What a person has corrected of the guesses.

    Returns
    -------
    Preview

    Raises
    ------
    BadInput
        For one that cannot be read.
    """
    kind = file_kind(path)
    title = corrections.title or title_of(name)
    if kind == "delimited":
        return _preview_delimited(path, name, corrections, title)
    if kind == "geotiff":
        if corrections.crs is None and (unplaced := _unplaced(path)):
            *notes, problem = (note.replace(Path(path).name, name) for note in unplaced["notes"])
            return Preview(kind="raster", file=name, title=title, raster=unplaced, notes=notes, problem=problem)
        info = raster_info(path, corrections.crs)
        return Preview(
            kind="raster", file=name, title=title, crs=info.crs, crs_reason=_raster_reason(corrections), raster=info.as_json(),
            notes=info.notes,
        )  # fmt: skip
    # Where the file does not say in which projection it is, that can be chosen on seeing it.
    result = (
        read_geojson(path, corrections.crs, head=True)
        if kind == "geojson"
        else read_file(path, crs=corrections.crs, placed=False)
    )
    data = result.dataset
    rows = data.columns.slice(0, PREVIEW_ROWS)
    lost = data.shapes is not None and data.crs is None
    return Preview(
        kind=data.kind, file=name, title=title, located=True, crs=None if lost else crs_name(data.crs),
        crs_reason="" if lost else result.crs_reason, problem=result.crs_reason if lost else None, notes=result.notes,
        fields=[FieldPreview(name=field.name, type=field.type) for field in fields(data.columns)],
        rows=[[_shown(value) for value in row.values()] for row in rows.to_pylist()],
    )  # fmt: skip


def take_in(path: str | Path, corrections: Corrections, into: str | Path) -> Taken:
    """Read the whole file as previewed and write it into the folder `into` in the form in which it is kept.

    Parameters
    ----------
    path : str | Path
        The file.
    corrections : Corrections
        What a person has corrected of the guesses.
    into : str | Path
        The folder to write to.

    Returns
    -------
    Taken

    Raises
    ------
    BadInput
    """
    kind = file_kind(path)
    if kind == "geotiff":
        info = keep_as_cog(path, Path(into) / "raster.tif", corrections.crs)
        return Taken(kind="raster", crs_reason=_raster_reason(corrections), notes=info.notes)
    if kind == "delimited":
        dialect = corrected_dialect(path, corrections)
        at = (
            CoordinateColumns(corrections.x, corrections.y)
            if corrections.x and corrections.y and corrections.located is not False
            else None
        )
        result = read_file(
            path, dialect, dict(corrections.types), at, corrections.crs, guess_points=corrections.located is not False
        )
    else:
        result = read_file(path, crs=corrections.crs)
    write_geoparquet(result.dataset, Path(into) / "data.parquet")
    return Taken(kind=result.dataset.kind, crs_reason=result.crs_reason, notes=result.notes)


def corrected_dialect(path: str | Path, corrections: Corrections) -> Dialect:
    """The guessed dialect with the corrections in it."""
    return with_corrections(
        guess_dialect(path), corrections.encoding, corrections.delimiter, corrections.header, corrections.ragged
    )


def title_of(file_name: str) -> str:
    """A title for what a file holds.

    >>> title_of("dip_wells.csv")
    'Dip wells'
    """
    stem = Path(file_name).stem.replace("_", " ").replace("-", " ").strip() or "Untitled"
    return stem[0].upper() + stem[1:200]


def _unplaced(path: str | Path) -> dict[str, Any] | None:
    """What is known of a raster that does not say in which projection it is; None for one that does."""
    with open_raster(path, placed=False) as source:
        lost = source.crs is None and not source.gcps[0]
    return unplaced_raster_info(path) if lost else None


def _raster_reason(corrections: Corrections) -> str:
    return "Chosen by hand." if corrections.crs else "Stated in the file."


def _shown(value: Any) -> Any:
    """A cell in a preview: a very long one is cut."""
    shown = plain(value)
    return shown[:PREVIEW_CELL] + " …" if isinstance(shown, str) and len(shown) > PREVIEW_CELL else shown


def _preview_delimited(path: str | Path, name: str, corrections: Corrections, title: str) -> Preview:
    dialect = corrected_dialect(path, corrections)
    raw = read_delimited(path, dialect, limit=PREVIEW_ROWS)
    types: dict[str, FieldType] = {**guess_types(raw), **{k: v for k, v in corrections.types.items() if k in raw.names}}
    view = Preview(
        kind="table", file=name, title=title, encoding=dialect.encoding, delimiter=dialect.delimiter, header=dialect.header,
        ragged=dialect.ragged, fields=[FieldPreview(name=field, type=types[field]) for field in raw.names],
        rows=[[_shown(cell) for cell in row] for row in raw.rows],
    )  # fmt: skip
    view.problem = _problem(lambda: typed_columns(raw, types))
    at = (
        CoordinateColumns(corrections.x, corrections.y)
        if corrections.x and corrections.y
        else guess_coordinate_columns(types)
    )
    if at is None or corrections.located is False or view.problem:
        return view
    view.kind, view.located, view.x, view.y = "points", True, at.x, at.y
    if corrections.crs:
        view.crs_reason = "Chosen by hand."
        view.problem = _problem(lambda: parse_crs(corrections.crs or ""))
        view.crs = None if view.problem else crs_name(parse_crs(corrections.crs))
        return view
    columns: pa.Table = typed_columns(raw, types)
    view.problem = _problem(lambda: (numbers(columns, at.x), numbers(columns, at.y)))
    if not view.problem:
        guess = guess_crs(numbers(columns, at.x), numbers(columns, at.y))
        view.crs_reason = guess.reason
        view.crs = crs_name(parse_crs(guess.crs)) if guess.crs else None
        if guess.crs is None:
            view.problem = guess.reason
    return view


def _problem(attempt: Callable[[], object]) -> str | None:
    try:
        attempt()
        return None
    except BadInput as error:
        return str(error)
