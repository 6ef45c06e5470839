"""The kinds of file that are read: how each is told by its contents, and what reads it. A new kind is one entry here."""

import codecs
import re
import zipfile
from collections.abc import Callable
from dataclasses import dataclass
from importlib import import_module
from pathlib import Path
from typing import Any, Literal

from greylatch.errors import BadFile
from greylatch.formats.about import SILENT, About
from greylatch.formats.xml_head import check_xml, xml_root

__all__ = [
    "DELIMITED",
    "ENDINGS",
    "HEAD",
    "KINDS",
    "SHAPEFILE",
    "Choice",
    "FileKind",
    "LayerInfo",
    "chosen_layer",
    "file_kind",
    "kind_named",
    "shapefile_parts",
]

HEAD = 8192
"""Bytes by which a file is told."""


@dataclass(frozen=True)
class Choice:
    """What a person chose of a file: the layer (or sheet, or object) by name, the system of its coordinates in place of the one
    it states; whether data must say where on earth they lie; whether the beginning of a large file is enough; whether x and y have changed places in it; whether broken areas
    are made sound, or only told of."""

    layer: str | None = None
    crs: str | None = None
    placed: bool = True
    head: bool = False
    swapped: bool = False
    mended: bool = True


@dataclass(frozen=True)
class LayerInfo:
    """A layer of a file: its name, what it holds (areas, lines, points, table; shapes where the file does not say), how many rows, and
    what the file says of it."""

    name: str
    kind: str
    rows: int
    about: About = SILENT


@dataclass(frozen=True)
class FileKind:
    """A kind of file. `reader` is the name of the module of `greylatch.formats` with its reader, which is loaded only when such
    a file comes: `read(path, choice)`, and for files with several layers `layers(path)`. Kinds of text and sheets that
    hold cells have `cells` instead: what they hold becomes shapes, or not, in one way for all."""

    name: str
    title: str
    holds: Literal["shapes", "cells", "raster"]
    recognises: Callable[[bytes, Path], bool]
    reader: str = ""
    layered: bool = False

    def read(self, path: str | Path, choice: Choice) -> Any:
        """What its reader reads: a ReadResult."""
        return import_module(f"greylatch.formats.{self.reader}").read(path, choice)

    def cells(self, path: str | Path, layer: str | None, header_row: int | None, limit: int | None) -> Any:
        """The table of a kind that holds cells, as its reader reads it: a RawTable, and the row with the names of its columns, where there
        is such a row."""
        return import_module(f"greylatch.formats.{self.reader}").read_cells(path, layer, header_row, limit)

    def layers(self, path: str | Path) -> list[LayerInfo]:
        """The layers of a file; none for kinds that hold one thing.

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
            For one that cannot be read.
        """
        return list(import_module(f"greylatch.formats.{self.reader}").layers(path)) if self.layered else []


def _begins(*signatures: bytes) -> Callable[[bytes, Path], bool]:
    return lambda head, path: head.startswith(signatures)


def _root(*names: str) -> Callable[[bytes, Path], bool]:
    return lambda head, path: xml_root(head) in names


def _is_gml(head: bytes, path: Path) -> bool:
    return xml_root(head) is not None and b"http://www.opengis.net/gml" in head


def _has_its_parts(head: bytes, path: Path) -> bool:
    """Whether it is the main file of a Shapefile, with its table beside it."""
    return head.startswith(SHAPEFILE) and path.suffix.lower() == ".shp" and ".dbf" in shapefile_parts(path)


def shapefile_parts(path: Path) -> dict[str, Path]:
    """The files that make up a Shapefile, its main file among them, by their endings in small letters."""
    return {
        file.suffix.lower(): file
        for file in path.parent.glob("*")
        if file.stem.lower() == path.stem.lower() and file.is_file()
    }


def _packs(pattern: str) -> Callable[[bytes, Path], bool]:
    """Whether the file is a zip with an entry whose name is like that."""

    def packs(head: bytes, path: Path) -> bool:
        return head[:4] == b"PK\x03\x04" and any(re.search(pattern, name, re.I) for name in _entries(path))

    return packs


def _entries(path: Path) -> list[str]:
    try:
        with zipfile.ZipFile(path) as archive:
            return archive.namelist()[:5_000]
    except (zipfile.BadZipFile, OSError, ValueError, NotImplementedError, EOFError, IndexError):
        return []


_JSON = re.compile(rb"(\xef\xbb\xbf|\x1e)?\s*(\{|\[\s*[\[{])")
_RECORDS = re.compile(rb"(\xef\xbb\xbf)?\s*\[\s*\{")
_TOPOLOGY = re.compile(rb'"type"\s*:\s*"Topology"')
_FEATURE = re.compile(rb'"type"\s*:\s*"Feature"')
_COLLECTION = re.compile(rb'"type"\s*:\s*"FeatureCollection"')


def _is_topology(head: bytes, path: Path) -> bool:
    if not _JSON.match(head) or _COLLECTION.search(head):
        return False
    with open(path, "rb") as file:  # some write the type after all the arcs
        file.seek(max(0, path.stat().st_size - HEAD))
        return bool(_TOPOLOGY.search(head) or _TOPOLOGY.search(file.read()))


def _is_records(head: bytes, path: Path) -> bool:
    """Whether it is a list of records, which are no features."""
    return bool(_RECORDS.match(head)) and not _FEATURE.search(head)


def _is_lines(head: bytes, path: Path) -> bool:
    """Whether each line is a Feature of its own (RFC 8142, or without its separators as most write it)."""
    if head[:1] == b"\x1e":
        return True
    if not _JSON.match(head) or _COLLECTION.search(head) or not _FEATURE.search(head):
        return False
    with open(path, "rb") as file:
        first = file.readline().removeprefix(codecs.BOM_UTF8).strip()
        if not (first.startswith(b"{") and first.endswith(b"}")):
            return False
        return next((line for line in file if line.strip()), b"").lstrip(b"\x1e \t").startswith(b"{")


ENDINGS = frozenset(
    [
        ".csv",
        ".tsv",
        ".txt",
        ".geojson",
        ".json",
        ".topojson",
        ".geojsonl",
        ".geojsons",
        ".ndjson",
        ".jsonl",
        ".zip",
        ".shp",
        ".shz",
        ".kmz",
        ".kml",
        ".gml",
        ".gpx",
        ".xlsx",
        ".xlsm",
        ".xls",
        ".xlsb",
        ".ods",
        ".gpkg",
        ".fgb",
        ".parquet",
        ".geoparquet",
        ".tif",
        ".tiff",
        ".xml",
    ]
)
"""Of the names of files that are read. What a file is, its contents say."""

KINDS: tuple[FileKind, ...] = (
    FileKind("geotiff", "GeoTIFF", "raster", _begins(b"II*\0", b"MM\0*", b"II+\0", b"MM\0+")),
    FileKind("parquet", "GeoParquet", "shapes", _begins(b"PAR1"), "geoparquet"),
    FileKind("flatgeobuf", "FlatGeobuf", "shapes", _begins(b"fgb\x03fgb"), "read_by_gdal", layered=True),
    FileKind("geopackage", "GeoPackage", "shapes", _begins(b"SQLite format 3\0"), "geopackage", layered=True),
    FileKind("spreadsheet", "spreadsheet", "cells", _begins(b"\xd0\xcf\x11\xe0"), "spreadsheet", layered=True),
    FileKind("spreadsheet", "spreadsheet", "cells", _packs(r"^(xl[/\\]workbook\.|content\.xml$)"), "spreadsheet", layered=True),
    FileKind("kmz", "KMZ", "shapes", _packs(r"\.kml$"), "kml", layered=True),
    FileKind("shapefile", "Shapefile", "shapes", _begins(b"PK\x03\x04"), "shapefile", layered=True),
    FileKind("shapefile", "Shapefile", "shapes", _has_its_parts, "shapefile", layered=True),
    FileKind("kml", "KML", "shapes", _root("kml"), "kml", layered=True),
    FileKind("gpx", "GPX", "shapes", _root("gpx"), "marked_up", layered=True),
    FileKind("gml", "GML", "shapes", _is_gml, "marked_up", layered=True),
    FileKind("topojson", "TopoJSON", "shapes", _is_topology, "topology", layered=True),
    FileKind("geojson-lines", "GeoJSON by lines", "shapes", _is_lines, "geojson_lines"),
    FileKind("records", "JSON", "cells", _is_records, "json_records"),
    FileKind("geojson", "GeoJSON", "shapes", lambda head, path: bool(_JSON.match(head)), "geojson"),
)  # fmt: skip
"""In the order in which a file is asked whether it is one; what is none of them is delimited text, or refused."""

DELIMITED = FileKind("delimited", "CSV", "cells", lambda head, path: True)
"""What is left: text, whose delimiter is guessed."""

SHAPEFILE = b"\x00\x00\x27\x0a"
"""With what the main file of a Shapefile begins (ESRI's technical description of 1998, page 4)."""
_ZIP_IT = "Zip it together with its .shp, .shx, .dbf and .prj."
_NOT_READ = (
    (SHAPEFILE, "one of the files that make up a Shapefile", f"Alone it is not enough. {_ZIP_IT}"),
    (b"ARROW1\0\0", "an Arrow file", "Save it as GeoParquet."),
    (b"<?xml", "XML, but neither KML, GML nor GPX", ""),
    (b"<!DOCTYPE", "a web page", ""),
    (b"<html", "a web page", ""),
    (b"\x1f\x8b", "packed by gzip", "Unpack it first."),
    (b"\x89PNG", "a picture without a place on earth", "Send a GeoTIFF."),
    (b"\xff\xd8\xff", "a picture without a place on earth", "Send a GeoTIFF."),
    (b"GIF8", "a picture without a place on earth", "Send a GeoTIFF."),
    (b"%PDF-", "a PDF", ""),
)
"""First bytes of kinds that people send and that are not read; what they are; what to do. The bytes are public: the formats' own documents."""


def file_kind(path: str | Path) -> FileKind:
    """What a file is, by its contents.

    Raises
    ------
    BadFile
        For kinds that are not read.
    """
    try:
        with open(path, "rb") as file:
            head = file.read(HEAD)
    except OSError as error:
        raise BadFile(f"{path} cannot be read: {error.strerror}.") from error
    if not head:
        raise BadFile("The file is empty.")
    kind = next((kind for kind in KINDS if kind.recognises(head, Path(path))), None)
    if kind is None:
        _raise_for_other_kind(head, Path(path))
    return kind or DELIMITED


def kind_named(name: str) -> FileKind:
    """The kind of that name.

    >>> kind_named("kml").title
    'KML'
    """
    return next(kind for kind in (*KINDS, DELIMITED) if kind.name == name)


def chosen_layer(layers: list[LayerInfo], choice: Choice) -> tuple[LayerInfo, list[str]]:
    """The layer that was chosen, or the first that holds something; with a note that says so where there are others.

    Parameters
    ----------
    layers : list[LayerInfo]
        Those of the file.
    choice : Choice
        What a person chose.

    Returns
    -------
    tuple[LayerInfo, list[str]]

    Raises
    ------
    BadFile
        Where there is none, or none of the chosen name.

    Examples
    --------
    >>> two = [LayerInfo("routes", "lines", 0), LayerInfo("tracks", "lines", 3)]
    >>> chosen_layer(two, Choice())[0].name
    'tracks'
    """
    filled = [layer for layer in layers if layer.rows]
    names = ", ".join(f"'{layer.name}'" for layer in (filled or layers)[:12])
    if choice.layer is not None:
        named = next((layer for layer in layers if layer.name == choice.layer), None)
        if named is None:
            raise BadFile(f"There is no layer '{choice.layer}' in the file.", f"It has {names}." if names else "")
        return named, []
    if not filled:
        raise BadFile("There is nothing in this file: no layer has a row.")
    others = [f"This is '{filled[0].name}', one of {len(filled)} layers: {names}."] if len(filled) > 1 else []
    return filled[0], others


def _raise_for_other_kind(head: bytes, path: Path) -> None:
    """Raise BadFile that says what a file is, by its first bytes, where that is known and it is not read."""
    start = head.removeprefix(codecs.BOM_UTF8).lstrip()
    if start.startswith((b"<?xml", b"<!--")):
        check_xml(path)
    for signature, what, remedy in _NOT_READ:
        if head.startswith(signature) or (signature[:1] == b"<" and start.startswith(signature)):
            raise BadFile(f"{path.name} is {what}, which is not read.", remedy)
    suffix = path.suffix.lower()
    if suffix == ".dbf" and b"\0" in head:
        raise BadFile(f"{path.name} is one of the files that make up a Shapefile, which is not read alone.", _ZIP_IT)
    if suffix in ENDINGS - {".csv", ".tsv", ".txt"}:
        raise BadFile(
            f"{path.name} is not what its name says, or not a kind that is read.",
            f"CSV, {', '.join(dict.fromkeys(kind.title for kind in KINDS))} are.",
        )
