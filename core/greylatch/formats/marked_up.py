"""What KML, GML and GPX share: they are XML, which is looked at before GDAL opens it, alone in a folder of its own."""

import shutil
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import replace
from functools import lru_cache
from pathlib import Path

import pyarrow as pa
import pyarrow.compute as pc

from greylatch.formats.kinds import Choice, LayerInfo, chosen_layer
from greylatch.formats.read_by_gdal import layers_of, read_layer
from greylatch.formats.result import ReadResult
from greylatch.formats.xml_head import check_xml
from greylatch.tables.delimited import RawTable
from greylatch.tables.fieldtypes import guess_types, typed_columns

__all__ = ["layers_marked_up", "read_marked_up"]

_SCHEMA = (b"schemaLocation", b"schemaIgnored_")
"""Where a document says in which other files its schema stands, of the same length: no other file is opened on its word."""


@contextmanager
def _alone(path: str | Path, ending: str) -> Iterator[Path]:
    """A copy of an XML file in a folder where there is nothing else, so that what a driver looks for beside it, or leaves there,
    is nobody's.

    Parameters
    ----------
    path : str | Path
        The file.
    ending : str
        That of the copy, by which its driver knows it.

    Raises
    ------
    BadFile
        For a document that declares entities.
    """
    check_xml(path)
    with tempfile.TemporaryDirectory(prefix="greylatch-") as folder:
        copy = Path(folder) / f"file{ending}"
        if ending == ".gml":
            copy.write_bytes(Path(path).read_bytes().replace(*_SCHEMA))
        else:
            shutil.copyfile(path, copy)
        yield copy


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


def layers_marked_up(path: str | Path, ending: str) -> list[LayerInfo]:
    """The layers of such a document.

    Parameters
    ----------
    path : str | Path
        The file.
    ending : str
        By which its driver knows it.

    Returns
    -------
    list[LayerInfo]

    Raises
    ------
    BadFile
        For what cannot be read.
    """
    state = Path(path).stat()
    return list(_layers(str(path), ending, state.st_mtime_ns, state.st_size))


@lru_cache(maxsize=8)
def _layers(path: str, ending: str, changed: int, size: int) -> tuple[LayerInfo, ...]:
    """Remembered for a state of a file: the drivers go through all of a document for each question."""
    with _alone(path, ending) as copy:
        return tuple(layers_of(copy))


def read_marked_up(path: str | Path, ending: str, choice: Choice, without: tuple[str, ...] = ()) -> ReadResult:
    """A layer of such a document.

    Parameters
    ----------
    path : str | Path
        The file.
    ending : str
        By which its driver knows it.
    choice : Choice
        What a person chose of it.
    without : tuple[str, ...]
        Columns that are left out.

    Returns
    -------
    ReadResult

    Raises
    ------
    BadFile
        For what cannot be read.
    """
    layer, notes = chosen_layer([layer for layer in layers_marked_up(path, ending) if layer.rows], choice)
    with _alone(path, ending) as copy:
        result = read_layer(copy, choice, layer=layer)
    result.notes[:0] = notes
    columns = _typed(_without_empty(result.dataset.columns, without))
    return replace(result, dataset=replace(result.dataset, columns=columns)) if columns.num_columns else result


def _typed(columns: pa.Table) -> pa.Table:
    """Texts that are numbers or dates throughout as such: most such documents have no schema, and so nothing but text."""
    texts = [name for name in columns.column_names if pa.types.is_string(columns.schema.field(name).type)]
    raw = RawTable(pa.table([pc.fill_null(columns[name], "") for name in texts], names=texts), 1)
    types = guess_types(raw, sample=len(columns)) if texts else {}
    for name, type in types.items():
        if type != "text":
            made = typed_columns(RawTable(raw.columns.select([name]), 1), {name: type})
            columns = columns.set_column(columns.column_names.index(name), name, made[name])
    return columns
