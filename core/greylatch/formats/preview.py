"""What is in a stranger's file, before anything of it is kept: real rows, each guess with its reason, and what stands in the way."""

from collections.abc import Callable
from contextlib import suppress
from dataclasses import replace
from pathlib import Path
from typing import Any

import pyarrow as pa
from pydantic import BaseModel, Field

from greylatch.errors import BadFile, BadInput
from greylatch.formats.about import SILENT, About, about
from greylatch.formats.cells import read_raw, result_of_cells, shaping_columns
from greylatch.formats.corrections import Corrections, cell_choice, choice
from greylatch.formats.intake import chosen, title_of
from greylatch.formats.kinds import DELIMITED, FileKind, LayerInfo, file_kind
from greylatch.formats.result import ReadResult
from greylatch.places.coordinates import CoordinateColumns
from greylatch.places.glance import Glance, glance
from greylatch.places.simplifying import proposed_tolerance
from greylatch.places.stated import crs_name
from greylatch.rasters.glance import RasterGlance, raster_glance
from greylatch.rasters.info import corrected, open_raster, raster_info, unplaced_raster_info
from greylatch.rasters.unusual import looked_at, unusual
from greylatch.rules.values import Rows
from greylatch.tables.dataset import fields
from greylatch.tables.fieldtypes import FieldType, guess_types, plain, typed_columns

__all__ = ["GlancePreview", "Preview", "glance_preview", "preview"]

PREVIEW_ROWS = 60
PREVIEW_CELL = 500
"""Characters of a cell that a preview shows."""


class FieldPreview(BaseModel):
    """A field as guessed or corrected."""

    name: str
    type: str


class LayerPreview(BaseModel):
    """A layer of a file, a sheet of a workbook, an object of a topology."""

    name: str
    kind: str
    rows: int


class GlancePreview(BaseModel):
    """Where the data would lie: bounds in degrees, points and lines of some of them, longitude before latitude."""

    bounds: list[float]
    points: list[list[float]]
    lines: list[list[list[float]]]


class Preview(BaseModel):
    """What would be kept. `problem` is the reason for which it cannot be, so far; `format` what the file is; `title`, `source`, `credit`, `licence` and `dated` what it says of itself, where it does; `correctable` says
    whether the types of its fields can be corrected, which only those of cells can; `names` what conditions may speak of."""

    kind: str
    file: str
    format: str
    title: str
    source: str = ""
    credit: str = ""
    licence: str = ""
    dated: str = ""
    correctable: bool = False
    layers: list[LayerPreview] = []
    layer: str | None = None
    encoding: str | None = None
    delimiter: str | None = None
    header: bool | None = None
    header_row: int | None = None
    ragged: str | None = None
    fields: list[FieldPreview] = []
    rows: list[list[Any]] = []
    x: str | None = None
    y: str | None = None
    shape: str | None = None
    located: bool = False
    crs: str | None = None
    crs_reason: str = ""
    notes: list[str] = []
    raster: dict[str, Any] | None = None
    look: RasterGlance | None = None
    glance: GlancePreview | None = None
    tolerance: float | None = Field(
        None, description="Metres that lines and borders may lose, unless somebody says otherwise"
    )
    names: list[str] = []
    problem: str | None = None


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
    view = Preview(kind="table", file=name, format=kind.title, title=corrections.title or title_of(name))
    if kind.holds == "raster":
        return _raster(path, view, corrections)
    view = _rows_of_file(path, kind, view, corrections)
    if view.glance:
        west, south, east, north = view.glance.bounds
        view.tolerance = proposed_tolerance((west, south, east, north))
    return view


def _rows_of_file(path: str | Path, kind: FileKind, view: Preview, corrections: Corrections) -> Preview:
    layers = kind.layers(path)
    view.layers = [LayerPreview(name=layer.name, kind=layer.kind, rows=layer.rows) for layer in layers]
    view.layer = _layer_shown(layers, corrections)
    _say(view, next((layer.about for layer in layers if layer.name == view.layer), SILENT), corrections)
    return (_cells if kind.holds == "cells" else _shapes)(path, kind, view, corrections)


def _say(view: Preview, said: About, corrections: Corrections) -> None:
    """Take over what the file says of itself, where nobody has said otherwise."""
    view.title = corrections.title or said.title or view.title
    view.source, view.credit, view.licence, view.dated = said.source, said.credit, said.licence, said.dated


def _layer_shown(layers: list[LayerInfo], corrections: Corrections) -> str | None:
    return corrections.layer or next((layer.name for layer in layers if layer.rows), None)


def _shapes(path: str | Path, kind: FileKind, view: Preview, corrections: Corrections) -> Preview:
    # Where the file does not say in which projection it is, that can be chosen on seeing it.
    result: ReadResult = kind.read(path, choice(corrections, placed=False, head=True))
    data = result.dataset
    view.kind, view.located, view.notes = data.kind, data.shapes is not None, result.notes
    view.fields = [FieldPreview(name=field.name, type=field.type) for field in fields(data.columns)]
    view.rows = _rows(data.columns)
    if data.crs is not None:
        view.crs, view.crs_reason = crs_name(data.crs), result.crs_reason
        view.glance = _glance(result)
    elif view.located:
        view.problem = result.crs_reason
    view.problem = view.problem or _choices_problem(result, corrections)
    view.names = Rows(data).names
    return view


def _cells(path: str | Path, kind: FileKind, view: Preview, corrections: Corrections) -> Preview:
    cells = cell_choice(str(path), kind, corrections)
    raw, header_row = read_raw(path, kind, choice(corrections), cells, limit=PREVIEW_ROWS)
    types: dict[str, FieldType] = {**guess_types(raw), **{k: v for k, v in corrections.types.items() if k in raw.names}}
    view.correctable, view.header_row = True, header_row
    if kind is DELIMITED and cells.dialect:
        view.encoding, view.delimiter = cells.dialect.encoding, cells.dialect.delimiter
        view.header, view.ragged = cells.dialect.header, cells.dialect.ragged
    view.fields = [FieldPreview(name=field, type=types[field]) for field in raw.names]
    view.rows = [[_shown(cell) for cell in row] for row in raw.rows]
    view.problem = _problem(lambda: typed_columns(raw, types))
    if view.problem:
        return view
    cells = replace(cells, types=types)
    by = shaping_columns(typed_columns(raw, types), cells)
    if isinstance(by, CoordinateColumns):
        view.kind, view.located, view.x, view.y = "points", True, by.x, by.y
    elif by:
        view.located, view.shape = True, by
        at = raw.names.index(by)  # it becomes the shapes, and is no field any more
        view.fields = view.fields[:at] + view.fields[at + 1 :]
        view.rows = [row[:at] + row[at + 1 :] for row in view.rows]
    readings: list[ReadResult] = []
    view.problem = _problem(lambda: readings.append(result_of_cells(raw, choice(corrections, placed=False), cells)))
    for result in readings:
        view.kind, view.crs_reason, view.notes = result.dataset.kind, result.crs_reason if by else "", result.notes
        view.crs = crs_name(result.dataset.crs) if result.dataset.crs else None
        view.glance = _glance(result)
        if by and view.crs is None:
            view.problem = result.crs_reason
        view.problem = view.problem or _choices_problem(result, corrections)
        view.names = Rows(result.dataset).names
    return view


def _raster(path: str | Path, view: Preview, corrections: Corrections) -> Preview:
    view.kind = "raster"
    with looked_at(path) as (few, full), corrected(few, nodata=corrections.nodata) as plain:
        with open_raster(plain, placed=False) as source:
            _say(view, about(source.tags()), corrections)
        # Of one that breaks off there is no picture; why is said where its figures are read, or when it is brought in.
        with suppress(BadFile):
            view.look = raster_glance(plain)
        if corrections.crs is None and (unplaced := _unplaced(plain)):
            *notes, problem = (note.replace(Path(path).name, view.file) for note in unplaced["notes"])
            view.raster, view.notes, view.problem = unplaced, notes, problem
            return view
        info = raster_info(plain, corrections.crs)
    view.crs, view.raster, view.notes = info.crs, info.as_json(), [*info.notes, *filter(None, [unusual(path)])]
    if full is not None:
        view.raster |= {
            "width": full[0],
            "height": full[1],
            "cell": [c * n / f for c, n, f in zip(info.cell, (info.width, info.height), full, strict=True)],
        }
    view.crs_reason = "Chosen by hand." if corrections.crs else "Stated in the file."
    west, south, east, north = info.bounds
    corners = [[west, south], [east, south], [east, north], [west, north], [west, south]]
    view.glance = GlancePreview(bounds=[west, south, east, north], points=[], lines=[corners])
    return view


def _unplaced(path: str | Path) -> dict[str, Any] | None:
    """What is known of a raster that does not say in which projection it is; None for one that does."""
    with open_raster(path, placed=False) as source:
        lost = source.crs is None and not source.gcps[0]
    return unplaced_raster_info(path) if lost else None


def _choices_problem(result: ReadResult, corrections: Corrections) -> str | None:
    """What stands in the way of the rows and fields that were chosen; not that none of the first rows is among them."""
    of_all = corrections.model_copy(update={"simplify": None})
    problem = _problem(lambda: chosen(result, of_all))
    return None if problem and problem.startswith("The condition takes no row") else problem


def glance_preview(seen: Glance) -> GlancePreview:
    """A glance as an answer has it.

    Parameters
    ----------
    seen : Glance
        The glance.

    Returns
    -------
    GlancePreview
    """
    lines = [[list(pair) for pair in line] for line in seen.lines]
    return GlancePreview(bounds=list(seen.bounds), points=[list(pair) for pair in seen.points], lines=lines)


def _glance(result: ReadResult) -> GlancePreview | None:
    data = result.dataset
    if data.shapes is None or data.crs is None:
        return None
    seen = glance(data.shapes, data.crs)
    return glance_preview(seen) if seen else None


def _rows(columns: pa.Table) -> list[list[Any]]:
    names = columns.column_names
    return [[_shown(row[name]) for name in names] for row in columns.slice(0, PREVIEW_ROWS).to_pylist()]


def _shown(value: Any) -> Any:
    """A cell in a preview: a very long one is cut."""
    shown = plain(value)
    return shown[:PREVIEW_CELL] + " …" if isinstance(shown, str) and len(shown) > PREVIEW_CELL else shown


def _problem(attempt: Callable[[], object]) -> str | None:
    try:
        attempt()
        return None
    except BadInput as error:
        return str(error)
