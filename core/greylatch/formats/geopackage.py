"""Reading GeoPackage (OGC 12-128): its tables, and never a view, which may run what a stranger wrote."""

import sqlite3
from pathlib import Path

from greylatch.errors import BadFile
from greylatch.formats.kinds import Choice, LayerInfo, chosen_layer
from greylatch.formats.read_by_gdal import layers as layers_known_to_gdal
from greylatch.formats.read_by_gdal import read as read_by_gdal
from greylatch.formats.result import ReadResult

__all__ = ["layers", "read"]


def layers(path: str | Path) -> list[LayerInfo]:
    """The feature and attribute tables of a GeoPackage.

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
        For another database, and for a broken one.
    """
    tables = _tables(path)
    return [layer for layer in layers_known_to_gdal(path) if layer.name in tables]


def read(path: str | Path, choice: Choice) -> ReadResult:
    """A layer of a GeoPackage.

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
    layer, notes = chosen_layer(layers(path), choice)
    result = read_by_gdal(path, choice, layer)
    result.notes[:0] = notes
    return result


def _tables(path: str | Path) -> set[str]:
    """The tables that the file's own list of contents names."""
    try:
        with sqlite3.connect(
            f"file:{Path(path).resolve().as_posix().replace('?', '%3f').replace('#', '%23')}?mode=ro&immutable=1",
            uri=True,
        ) as database:
            database.execute("PRAGMA trusted_schema = OFF")
            real = {
                name
                for (name,) in database.execute(
                    "SELECT name FROM sqlite_master WHERE type = 'table' AND sql NOT LIKE 'CREATE VIRTUAL%'"
                )
            }
            listed = {name for (name,) in database.execute("SELECT table_name FROM gpkg_contents")}
            return real & listed
    except (sqlite3.Error, UnicodeDecodeError) as error:
        raise BadFile(f"{Path(path).name} is a database, but no GeoPackage that can be read: {error}.") from error
