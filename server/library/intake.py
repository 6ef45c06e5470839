"""From an uploaded file to a dataset: a preview that can be corrected, then the import itself."""

from collections.abc import Callable
from pathlib import Path
from typing import Any, Literal

from greylatch.errors import BadInput
from greylatch.formats.files import file_kind, read_file
from greylatch.places.coordinates import CoordinateColumns, guess_coordinate_columns
from greylatch.places.crs import crs_name, guess_crs, parse_crs
from greylatch.progress import Progress, silent
from greylatch.rasters.info import raster_info
from greylatch.tables.dataset import fields, numbers
from greylatch.tables.delimited import Dialect, guess_dialect, read_delimited, with_corrections
from greylatch.tables.fieldtypes import FieldType, guess_types, plain, typed_columns
from jobs.models import Job
from pydantic import BaseModel

from library.files import local_path
from library.models import Dataset, Upload
from library.store import keep_raster, keep_vector

PREVIEW_ROWS = 60


class Corrections(BaseModel):
    """What a person corrected in the preview; null keeps the guess. `located` false keeps a table without shapes."""

    encoding: str | None = None
    delimiter: str | None = None
    header: bool | None = None
    ragged: Literal["refuse", "pad"] | None = None
    types: dict[str, FieldType] = {}
    x: str | None = None
    y: str | None = None
    located: bool | None = None
    crs: str | None = None
    title: str | None = None
    source: str = ""
    credit: str = ""


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


def preview(upload: Upload, given: Corrections) -> Preview:
    """Real rows of the file as they would be read. Raises BadInput for a file that cannot be read at all."""
    path = local_path(upload.file.name)
    kind = file_kind(named(path, upload.name))
    title = given.title or title_of(upload.name)
    if kind == "delimited":
        return _preview_delimited(path, upload, given, title)
    if kind == "geotiff":
        info = raster_info(path)
        return Preview(
            kind="raster",
            file=upload.name,
            title=title,
            crs=info.crs,
            crs_reason="Stated in the file.",
            raster=info.as_json(),
        )
    found = read_file(path, crs=given.crs)
    data = found.dataset
    rows = data.columns.slice(0, PREVIEW_ROWS)
    return Preview(
        kind=data.kind, file=upload.name, title=title, located=True, crs=crs_name(data.crs), crs_reason=found.crs_reason, notes=found.notes,
        fields=[FieldPreview(name=one.name, type=one.type) for one in fields(data.columns)],
        rows=[[plain(value) for value in row.values()] for row in rows.to_pylist()],
    )  # fmt: skip


def take_in(upload: Upload, given: Corrections, progress: Progress = silent, job: Job | None = None) -> Dataset:
    """Import the whole file as previewed. Raises BadInput; nothing is kept then."""
    path = local_path(upload.file.name)
    title = given.title or title_of(upload.name)
    kind = file_kind(named(path, upload.name))
    if kind == "geotiff":
        return keep_raster(upload.owner, title, path, upload.name, given.source, given.credit, progress, job)
    progress(0, 0, "reading the file")
    if kind == "delimited":
        dialect = corrected_dialect(path, given)
        at = CoordinateColumns(given.x, given.y) if given.x and given.y and given.located is not False else None
        found = read_file(path, dialect, given.types, at, given.crs, guess_points=given.located is not False)
    else:
        found = read_file(path, crs=given.crs)
    return keep_vector(upload.owner, title, found, upload.name, given.source, given.credit, progress=progress, job=job)


def corrected_dialect(path: Path, given: Corrections) -> Dialect:
    """The guessed dialect with the corrections in it."""
    return with_corrections(
        guess_dialect(path),
        encoding=given.encoding,
        delimiter=given.delimiter,
        header=given.header,
        ragged=given.ragged,
    )


def title_of(file_name: str) -> str:
    """'dip_wells.csv' → 'Dip wells'."""
    stem = Path(file_name).stem.replace("_", " ").replace("-", " ").strip() or "Untitled"
    return stem[0].upper() + stem[1:200]


def named(path: Path, name: str) -> Path:
    """The stored path, whose ending is that of the file as it was sent."""
    if path.suffix.lower() != Path(name).suffix.lower():
        raise BadInput("The file lost its name on the way. Send it again.")
    return path


def _preview_delimited(path: Path, upload: Upload, given: Corrections, title: str) -> Preview:
    dialect = corrected_dialect(path, given)
    raw = read_delimited(path, dialect, limit=PREVIEW_ROWS)
    types: dict[str, FieldType] = {**guess_types(raw), **{k: v for k, v in given.types.items() if k in raw.names}}
    made = Preview(
        kind="table", file=upload.name, title=title, encoding=dialect.encoding, delimiter=dialect.delimiter, header=dialect.header,
        ragged=dialect.ragged, fields=[FieldPreview(name=name, type=types[name]) for name in raw.names], rows=[list(row) for row in raw.rows],
    )  # fmt: skip
    made.problem = _problem(lambda: typed_columns(raw, types))
    at = CoordinateColumns(given.x, given.y) if given.x and given.y else guess_coordinate_columns(types)
    if at is None or given.located is False or made.problem:
        return made
    made.kind, made.located, made.x, made.y = "points", True, at.x, at.y
    if given.crs:
        made.crs_reason = "Chosen by hand."
        made.problem = _problem(lambda: parse_crs(given.crs or ""))
        made.crs = None if made.problem else crs_name(parse_crs(given.crs))
        return made
    columns = typed_columns(raw, types)
    made.problem = _problem(lambda: (numbers(columns, at.x), numbers(columns, at.y)))
    if not made.problem:
        guess = guess_crs(numbers(columns, at.x), numbers(columns, at.y))
        made.crs_reason = guess.reason
        made.crs = crs_name(parse_crs(guess.crs)) if guess.crs else None
        if guess.crs is None:
            made.problem = guess.reason
    return made


def _problem(attempt: Callable[[], object]) -> str | None:
    try:
        attempt()
        return None
    except BadInput as error:
        return str(error)
