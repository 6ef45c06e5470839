"""Reading zipped Shapefiles."""

import tempfile
from pathlib import Path

import pyarrow as pa
import pyproj
import shapely

from greylatch.errors import BadFile, BadInput
from greylatch.formats.result import ReadResult, read_result
from greylatch.formats.zipped import unpack
from greylatch.places.crs import MAX_CRS_TEXT, guess_crs, parse_crs
from greylatch.tables.dataset import Shapes
from greylatch.tables.delimited import guess_encoding

__all__ = ["read_zipped_shapefile"]

SHAPEFILE_PARTS = {".shp", ".shx", ".dbf", ".prj", ".cpg"}


def read_zipped_shapefile(
    path: str | Path, crs: str | None = None, encoding: str | None = None, placed: bool = True
) -> ReadResult:
    """The one Shapefile in a zip.

    Parameters
    ----------
    path : str | Path
        The file.
    crs : str | None
        What stands for a file that does not say where it lies; None refuses it.
    encoding : str | None
        A Python name of the encoding; None keeps the guess.
    placed : bool
        Whether data must say where on earth they lie.

    Returns
    -------
    ReadResult

    Raises
    ------
    BadInput
        Where there is none, several, or parts are missing or broken; also, unless `placed` is false, where nothing
        says in which projection it is.
    """
    with tempfile.TemporaryDirectory(prefix="greylatch-") as folder:
        files = unpack(path, folder, SHAPEFILE_PARTS)
        mains = [file for file in files if file.suffix.lower() == ".shp"]
        if len(mains) != 1:
            raise BadFile(
                "The zip holds no Shapefile (.shp)."
                if not mains
                else f"The zip holds {len(mains)} Shapefiles; pack one."
            )
        main = mains[0]
        parts = {file.suffix.lower(): file for file in files if file.stem == main.stem}
        for ending in (".shx", ".dbf"):
            if ending not in parts:
                raise BadFile(f"The Shapefile's {main.stem}{ending} is missing from the zip.")
        if main.read_bytes()[:4] != b"\x00\x00\x27\x0a":
            raise BadFile(f"{main.name} is not a Shapefile, whatever its name says.")
        notes = []
        if encoding is None and ".cpg" not in parts:
            encoding = guess_encoding(_text_of_dbf(parts[".dbf"]))
            if encoding not in ("utf-8", "ascii"):
                notes.append(f"The Shapefile does not say how its text is written; it reads as {encoding}.")
        projection = _projection(parts.get(".prj"), notes)
        for odd in (".prj", ".cpg"):  # read above, and never by the library, which stumbles over broken ones
            if odd in parts and (odd == ".prj" or encoding is not None):
                parts[odd].unlink()
        columns, shapes = _read_layer(main, encoding)
    if crs:
        return read_result(columns, shapes, parse_crs(crs), "Chosen by hand.", notes)
    if projection is not None:
        return read_result(columns, shapes, projection, "Stated in the .prj file.", notes)
    why = "The Shapefile has no .prj." if ".prj" not in parts else "The Shapefile's .prj cannot be read."
    xy = shapely.get_coordinates(shapes)
    guess = guess_crs(xy[:, 0], xy[:, 1])
    if guess.crs is None and placed:
        raise BadFile(why, guess.reason)
    return read_result(columns, shapes, parse_crs(guess.crs) if guess.crs else None, f"{why} {guess.reason}", notes)


def _read_layer(main: Path, encoding: str | None) -> tuple[pa.Table, Shapes]:
    """Columns and shapes of a Shapefile, its text as UTF-8."""
    # Loaded where a Shapefile is read, and only there: it takes longer to load than most files.
    import pyogrio
    from pyogrio.errors import DataLayerError, DataSourceError

    try:
        meta, table = pyogrio.read_arrow(main, encoding=encoding)
        name = meta.get("geometry_name") or "wkb_geometry"
        shapes = shapely.from_wkb(table[name].to_numpy(zero_copy_only=False), on_invalid="raise")
        columns = table.drop_columns([name])
        columns.validate(full=True)
    except pa.ArrowInvalid as error:
        raise BadFile(f"The text in {main.stem}.dbf is not {encoding or 'what its .cpg says'}.") from error
    except (
        DataSourceError,
        DataLayerError,
        UnicodeDecodeError,
        ValueError,
        LookupError,
        shapely.GEOSException,
    ) as error:
        raise BadFile(f"{main.name} cannot be read: {error}.") from error
    if len(shapes) == 0:
        raise BadFile(f"{main.name} holds no feature.")
    return columns, shapes


def _text_of_dbf(path: Path, most: int = 256 * 1024) -> bytes:
    """The records of a dBASE table without its header, whose bytes are no text."""
    data = path.read_bytes()[: most + 65_536]
    start = int.from_bytes(data[8:10], "little") if len(data) > 10 else 0
    return data[start : start + most].replace(b"\0", b" ").replace(b"\x1a", b" ") or b" "


def _projection(file: Path | None, notes: list[str]) -> pyproj.CRS | None:
    if file is None:
        return None
    text = file.read_bytes()[:MAX_CRS_TEXT].decode("utf-8", "replace").strip("\0 \r\n")
    try:
        return parse_crs(text) if text else None
    except BadInput as error:
        notes.append(f"The .prj file says nothing that is understood: {error}")
        return None
