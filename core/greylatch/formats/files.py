"""A file of any kind that is read: told by its contents, then handed to its reader."""

import re
from pathlib import Path
from typing import Literal

import pyarrow as pa
import pyproj
import shapely

from greylatch.errors import BadFile
from greylatch.formats.geojson import read_geojson
from greylatch.formats.result import ReadResult
from greylatch.formats.shapefile import read_zipped_shapefile
from greylatch.places.coordinates import CoordinateColumns, guess_coordinate_columns, located
from greylatch.places.crs import guess_crs, parse_crs
from greylatch.tables.dataset import Dataset, numbers
from greylatch.tables.delimited import Dialect, guess_dialect, read_delimited
from greylatch.tables.fieldtypes import FieldType, guess_types, typed_columns
from greylatch.wording import counted

__all__ = ["file_kind", "read_file"]

_ZIP_IT = "Zip it together with its .shp, .shx, .dbf and .prj."
_NOT_READ = (
    (b"\x00\x00\x27\x0a", "one of the files that make up a Shapefile", f"Alone it is not enough. {_ZIP_IT}"),
    (b"SQLite format 3\0", "a GeoPackage or another database", "Save its layer as GeoJSON."),
    (b"ARROW1\0\0", "an Arrow file", "Save it as GeoParquet."),
    (b"fgb\x03fgb", "a FlatGeobuf", "Save it as GeoJSON."),
    (b"<?xml", "XML (KML or GML, say)", "Save it as GeoJSON."),
    (b"<kml", "KML", "Save it as GeoJSON."),
    (b"<!DOCTYPE", "a web page", ""),
    (b"<html", "a web page", ""),
    (b"\x1f\x8b", "packed by gzip", "Unpack it first."),
    (b"\xd0\xcf\x11\xe0", "an old spreadsheet", "Save it as CSV."),
    (b"\x89PNG", "a picture without a place on earth", "Send a GeoTIFF."),
    (b"\xff\xd8\xff", "a picture without a place on earth", "Send a GeoTIFF."),
    (b"GIF8", "a picture without a place on earth", "Send a GeoTIFF."),
    (b"%PDF-", "a PDF", ""),
)
"""First bytes of kinds that people send and that are not read; what they are; what to do. The bytes are public: the formats' own documents."""

FileKind = Literal["delimited", "geojson", "shapefile", "geotiff", "parquet"]


def file_kind(path: str | Path) -> FileKind:
    """What a file is, by its first bytes.

    Raises
    ------
    BadInput
        For kinds that are not read.
    """
    try:
        with open(path, "rb") as file:
            head = file.read(4096)
    except OSError as error:
        raise BadFile(f"{path} cannot be read: {error.strerror}.") from error
    if not head:
        raise BadFile("The file is empty.")
    if head[:4] in (b"II*\0", b"MM\0*", b"II+\0", b"MM\0+"):
        return "geotiff"
    if head[:4] == b"PK\x03\x04":
        return "shapefile"
    if head[:4] == b"PAR1":
        return "parquet"
    if re.match(rb"(\xef\xbb\xbf)?\s*(\{|\[\s*[\[{])", head):
        return "geojson"
    raise_for_other_kind(head, Path(path))
    return "delimited"


def raise_for_other_kind(head: bytes, path: Path) -> None:
    """Raise BadInput that says what a file is, by its first bytes, where that is known and it is not read."""
    start = head.removeprefix(b"\xef\xbb\xbf").lstrip()
    for signature, what, remedy in _NOT_READ:
        if head.startswith(signature) or (signature[:1] == b"<" and start.startswith(signature)):
            raise BadFile(f"{path.name} is {what}, which is not read.", remedy)
    suffix = path.suffix.lower()
    if suffix == ".dbf" and b"\0" in head:
        raise BadFile(f"{path.name} is one of the files that make up a Shapefile, which is not read alone.", _ZIP_IT)
    if suffix in (".tif", ".tiff", ".zip", ".geojson", ".json"):
        raise BadFile(
            f"{path.name} is not what its name says, or not a kind that is read.",
            "CSV, GeoJSON, zipped Shapefile and GeoTIFF are.",
        )


def read_file(
    path: str | Path, dialect: Dialect | None = None, types: dict[str, FieldType] | None = None,
    at: CoordinateColumns | None = None, crs: str | None = None, guess_points: bool = True, placed: bool = True,
) -> ReadResult:  # fmt: skip
    """The dataset in a vector or table file, as guessed or as corrected.

    A table becomes points where coordinate columns are given, or guessed and `guess_points` stands.

    Parameters
    ----------
    path : str | Path
        The file.
    dialect : Dialect | None
        Encoding, delimiter and header.
    types : dict[str, FieldType] | None
        Types of fields that were corrected, by name.
    at : CoordinateColumns | None
        The columns of coordinates of a table; None guesses.
    crs : str | None
        What stands for a file that does not say where it lies; None refuses it.
    guess_points : bool
        Whether columns named like coordinates make points.
    placed : bool
        Where `placed` is false, data that do not say where on earth they lie are read without a CRS rather than
        refused.

    Returns
    -------
    ReadResult

    Raises
    ------
    BadInput
    """
    kind = file_kind(path)
    if kind == "geojson":
        return read_geojson(path, crs)
    if kind == "shapefile":
        return read_zipped_shapefile(path, crs, placed=placed)
    if kind == "parquet":
        from greylatch.formats.geoparquet import read_geoparquet

        return ReadResult(read_geoparquet(path), "Stated in the file.")
    if kind == "geotiff":
        raise BadFile(f"{Path(path).name} is a raster; a table or shapes are needed here.")
    raw = read_delimited(path, dialect or guess_dialect(path))
    chosen = types or {}
    columns = typed_columns(raw, chosen)
    if at is None and guess_points:
        at = guess_coordinate_columns({**guess_types(raw), **chosen})
    if at is None:
        return ReadResult(Dataset(columns, "table"), "A table without coordinates.")
    return points_from(columns, at, crs, placed)


def points_from(columns: pa.Table, at: CoordinateColumns, crs: str | None, placed: bool = True) -> ReadResult:
    """Points from coordinate columns, in `crs` or a guessed one."""
    chosen: pyproj.CRS | None
    if crs:
        reason, chosen = "Chosen by hand.", parse_crs(crs)
    else:
        guess = guess_crs(numbers(columns, at.x), numbers(columns, at.y))
        if guess.crs is None and placed:
            raise BadFile(guess.reason)
        reason, chosen = guess.reason, parse_crs(guess.crs) if guess.crs else None
    dataset = located(columns, at, chosen)
    assert dataset.shapes is not None
    without = int(shapely.is_empty(dataset.shapes).sum())
    notes = [f"{counted(without, 'row')} without coordinates: not on the map."] if without else []
    return ReadResult(dataset, reason, notes)
