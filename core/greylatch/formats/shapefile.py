"""Reading Shapefiles: each in a zip is a layer, or one whose parts lie beside its main file."""

import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from greylatch.errors import BadFile, BadInput
from greylatch.formats.kinds import SHAPEFILE, Choice, LayerInfo, chosen_layer, shapefile_parts
from greylatch.formats.read_by_gdal import HEAD_ROWS, placed_result, read_columns
from greylatch.formats.result import ReadResult, read_result
from greylatch.formats.zipped import unpack
from greylatch.places.stated import MAX_CRS_TEXT, system_of
from greylatch.tables.dataset import System
from greylatch.tables.delimited import guess_encoding

__all__ = ["layers", "read"]

SHAPEFILE_PARTS = {".shp", ".shx", ".dbf", ".prj", ".cpg"}
HEADER = 1_024
"""Bytes of each part that say what it holds, and how much."""
_KINDS = {1: "points", 8: "points", 3: "lines", 5: "areas"}
"""Of shapes, by the last digit of their code in the header (ESRI's technical description of 1998, page 4)."""


def layers(path: str | Path) -> list[LayerInfo]:
    """The Shapefiles in a zip, or the one whose main file it is.

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
        Where there is none.
    """
    with _unpacked(path, HEADER) as files:
        return _layers(files)


def read(path: str | Path, choice: Choice) -> ReadResult:
    """A Shapefile of those in a zip, or by its main file.

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
        Where there is none, or parts are missing or broken; also, unless `choice.placed` is false, where nothing says
        in which projection it is.
    """
    with _unpacked(path) as files:
        layer, notes = chosen_layer(_layers(files), choice)
        main = next(file for file in _mains(files) if file.stem == layer.name)
        parts = {file.suffix.lower(): file for file in files if file.stem == main.stem}
        for ending in (".shx", ".dbf"):
            if ending not in parts:
                raise BadFile(
                    f"The Shapefile's {main.stem}{ending} is missing.", "It belongs beside the others, or into the zip."
                )
        if _head(main, 4) != SHAPEFILE:
            raise BadFile(f"{main.name} is not a Shapefile, whatever its name says.")
        encoding = None
        if ".cpg" not in parts:
            encoding = guess_encoding(_text_of_dbf(parts[".dbf"]))
            if encoding not in ("utf-8", "ascii"):
                notes.append(f"The Shapefile does not say how its text is written; it reads as {encoding}.")
        projection = _projection(parts.get(".prj"), notes)
        for odd in (".prj", ".cpg"):  # read above, and never by the library, which stumbles over broken ones
            if odd in parts and (odd == ".prj" or encoding is not None):
                parts[odd].unlink()
        _, columns, shapes = read_columns(main, notes, encoding=encoding, most=HEAD_ROWS if choice.head else None)
        if choice.head and layer.rows > len(columns):
            notes.append(f"Seen by its first {len(columns):,} rows of {layer.rows:,}.")
    if shapes is None or len(shapes) == 0:
        raise BadFile(f"{main.name} holds no feature.")
    if projection is not None and not choice.crs:
        return read_result(columns, shapes, projection, "Stated in the .prj file.", notes, choice)
    why = "The Shapefile has no .prj." if ".prj" not in parts else "The Shapefile's .prj cannot be read."
    return placed_result(columns, shapes, choice, notes, None, why)


@contextmanager
def _unpacked(path: str | Path, most: int | None = None) -> Iterator[list[Path]]:
    """The parts, or so many bytes of each."""
    with tempfile.TemporaryDirectory(prefix="greylatch-") as folder:
        if _head(Path(path), 4) == SHAPEFILE:
            yield _linked(Path(path), Path(folder))
            return
        files = unpack(path, folder, SHAPEFILE_PARTS, most=most)
        if not _mains(files):
            raise BadFile(
                "The zip holds no Shapefile (.shp), no KML and no spreadsheet.",
                "A file of another kind is sent as it is, not packed.",
            )
        yield files


def _linked(main: Path, folder: Path) -> list[Path]:
    """The parts of a Shapefile in a folder of their own, where some may be set aside."""
    links = []
    for ending, part in shapefile_parts(main).items():
        if ending in SHAPEFILE_PARTS:
            links.append(folder / f"{main.stem}{ending}")
            links[-1].symlink_to(part.resolve())
    return links


def _head(path: Path, length: int) -> bytes:
    with path.open("rb") as file:
        return file.read(length)


def _mains(files: list[Path]) -> list[Path]:
    return sorted(file for file in files if file.suffix.lower() == ".shp")


def _layers(files: list[Path]) -> list[LayerInfo]:
    tables = {file.stem: file for file in files if file.suffix.lower() == ".dbf"}
    return [LayerInfo(main.stem, _kind(main), _rows(main, tables.get(main.stem))) for main in _mains(files)]


def _kind(main: Path) -> str:
    return _KINDS.get(int.from_bytes(_head(main, 36)[32:], "little") % 10, "shapes")


def _rows(main: Path, table: Path | None) -> int:
    """As the head of the dBASE table says; one where it says nothing, so that reading tells what is wrong."""
    if table is None:
        return 1
    return int.from_bytes(_head(table, 8)[4:], "little") or 1


def _text_of_dbf(path: Path, most: int = 256 * 1024) -> bytes:
    """The records of a dBASE table without its header, whose bytes are no text."""
    data = _head(path, most + 65_536)
    start = int.from_bytes(data[8:10], "little") if len(data) > 10 else 0
    return data[start : start + most].replace(b"\0", b" ").replace(b"\x1a", b" ") or b" "


def _projection(file: Path | None, notes: list[str]) -> System | None:
    if file is None:
        return None
    text = file.read_bytes()[:MAX_CRS_TEXT].decode("utf-8", "replace").strip("\0 \r\n")
    try:
        return system_of(text) if text else None
    except BadInput as error:
        notes.append(f"The .prj file says nothing that is understood: {error}")
        return None
