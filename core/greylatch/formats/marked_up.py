"""What KML, GML and GPX share: they are XML, which is looked at before GDAL opens it, alone in a folder of its own."""

import shutil
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from dataclasses import replace
from functools import lru_cache
from pathlib import Path

import pyarrow as pa
import pyarrow.compute as pc

from greylatch.errors import BadFile
from greylatch.formats import read_by_gdal
from greylatch.formats.bounded import may_fork
from greylatch.formats.kinds import HEAD, Choice, LayerInfo, chosen_layer
from greylatch.formats.marked_sample import Sample, halves, sample
from greylatch.formats.result import ReadResult
from greylatch.formats.xml_head import check_xml, xml_root
from greylatch.tables.delimited import RawTable
from greylatch.tables.fieldtypes import typed_columns

__all__ = ["layers", "read"]

_SCHEMA = (b"schemaLocation", b"schemaIgnored_")
"""Where a document says in which other files its schema stands, of the same length: no other file is opened on its word."""
_OF_THE_FORMAT = {
    ".kml": ("altitudeMode", "tessellate", "extrude", "visibility", "drawOrder", "icon"),
    ".gml": ("lowerCorner", "upperCorner", "Envelope_srsName"),
    ".gpx": (),
}
"""Columns that say how a globe is to show the shape, or between which corners it lies: nothing of what the data are about."""


@contextmanager
def _alone(path: str | Path, document: list[memoryview] | None = None) -> Iterator[Path]:
    """A copy of an XML file, or the `document` in its place, in a folder where there is nothing else, so that what a driver looks for beside it,
    or leaves there, is nobody's. It ends as its driver expects. Raises BadFile for a document that declares entities."""
    check_xml(path)
    ending = _ending(path)
    with tempfile.TemporaryDirectory(prefix="greylatch-") as folder:
        copy = Path(folder) / f"file{ending}"
        if document is None and ending != ".gml":
            shutil.copyfile(path, copy)
        else:
            with open(copy, "wb") as file:
                for part in document or [memoryview(Path(path).read_bytes())]:
                    file.write(bytes(part).replace(*_SCHEMA) if ending == ".gml" else part)
        yield copy


def _ending(path: str | Path) -> str:
    with open(path, "rb") as file:
        return {"kml": ".kml", "gpx": ".gpx"}.get(xml_root(file.read(HEAD)) or "", ".gml")


def _without_empty(columns: pa.Table, also: tuple[str, ...] = ()) -> pa.Table:
    """Only the columns in which something stands, and none of those named: the formats have dozens that hardly anybody fills.

    Parameters
    ----------
    columns : pa.Table
        The columns as an Arrow table.
    also : tuple[str, ...]
        Names of columns that are left out, whatever they hold.

    Returns
    -------
    pa.Table

    Examples
    --------
    >>> _without_empty(pa.table({"name": ["a"], "cmt": pa.array([None], pa.string())})).column_names
    ['name']
    """
    return columns.select(
        [name for name in columns.column_names if name not in also and columns[name].null_count < len(columns)]
    )


def layers(path: str | Path) -> list[LayerInfo]:
    """The layers of such a document in which something stands.

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
        For what cannot be read.
    """
    return _looked_at(path)[0]


def _looked_at(path: str | Path) -> tuple[list[LayerInfo], Sample | None]:
    """Its layers, and a short document that has the same, where there is one."""
    state = Path(path).stat()
    layers, short = _layers(str(path), state.st_mtime_ns, state.st_size)
    return [layer for layer in layers if layer.rows], short


@lru_cache(maxsize=8)
def _layers(path: str, changed: int, size: int) -> tuple[list[LayerInfo], Sample | None]:
    """Remembered for a state of a file: the drivers go through all of a document for each question."""
    if short := sample(path):
        # Whatever is wrong with what is left of it, or may seem so, is told by the whole.
        with suppress(BadFile), _alone(path, short.document) as copy:
            if counted := short.counted(read_by_gdal.layers(copy, short.empty)):
                return counted, short
    with _alone(path) as copy:
        return read_by_gdal.layers(copy), None


def read(path: str | Path, choice: Choice) -> ReadResult:
    """A layer of such a document.

    Parameters
    ----------
    path : str | Path
        The file.
    choice : Choice
        What a person chose of it.

    Returns
    -------
    ReadResult

    Raises
    ------
    BadFile
        For what cannot be read.
    """
    layers, short = _looked_at(path)
    layer, notes = chosen_layer(layers, choice)
    result = _by_halves(path, choice, layer) if short and not choice.head else None
    if result is None:
        with _alone(path, short.document if short and choice.head else None) as copy:
            result = read_by_gdal.read(copy, choice, layer)
    result.notes[:0] = notes
    columns = _typed(_without_empty(result.dataset.columns, _OF_THE_FORMAT[_ending(path)]))
    return replace(result, dataset=replace(result.dataset, columns=columns)) if columns.num_columns else result


def _by_halves(path: str | Path, choice: Choice, layer: LayerInfo) -> ReadResult | None:
    """Read by two processes; None where that can't be, or is not sure to give what reading all of it at once gives, which then tells what is wrong."""
    documents = halves(path, layer) if may_fork() else None
    if documents is None:
        return None
    with suppress(BadFile), _alone(path, documents[0]) as first, _alone(path, documents[1]) as second:
        result = read_by_gdal.read(first, choice, layer, second)
        return result if len(result.dataset) == layer.rows else None
    return None


def _typed(columns: pa.Table) -> pa.Table:
    """Texts that are numbers or dates throughout as such: most such documents have no schema, and so nothing but text."""
    texts = [name for name in columns.column_names if pa.types.is_string(columns.schema.field(name).type)]
    raw = RawTable(pa.table([pc.fill_null(columns[name], "") for name in texts], names=texts), 1)
    typed = typed_columns(raw, {}) if texts else raw.columns
    for name in (name for name in texts if not pa.types.is_string(typed.schema.field(name).type)):
        columns = columns.set_column(columns.column_names.index(name), name, typed[name])
    return columns
