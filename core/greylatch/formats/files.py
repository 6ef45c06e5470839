"""A file of any kind that is read: told by its contents, then handed to its reader."""

from pathlib import Path
from typing import Literal

import pyarrow as pa
import pyproj
import shapely

from greylatch.errors import BadInput
from greylatch.formats.vector import ReadResult, read_geojson, read_zipped_shapefile
from greylatch.places.coordinates import CoordinateColumns, guess_coordinate_columns, located
from greylatch.places.crs import guess_crs, parse_crs
from greylatch.tables.dataset import Dataset, numbers
from greylatch.tables.delimited import Dialect, guess_dialect, read_delimited
from greylatch.tables.fieldtypes import FieldType, guess_types, typed_columns
from greylatch.wording import counted

FileKind = Literal["delimited", "geojson", "shapefile", "geotiff", "parquet"]


def file_kind(path: str | Path) -> FileKind:
    """What a file is, by its first bytes. Raises BadInput for kinds that are not read."""
    try:
        with open(path, "rb") as file:
            head = file.read(4096)
    except OSError as error:
        raise BadInput(f"{path} cannot be read: {error.strerror}.") from error
    if not head:
        raise BadInput("The file is empty.")
    if head[:4] in (b"II*\0", b"MM\0*", b"II+\0", b"MM\0+"):
        return "geotiff"
    if head[:4] == b"PK\x03\x04":
        return "shapefile"
    if head[:4] == b"PAR1":
        return "parquet"
    if head.lstrip(b"\xef\xbb\xbf \t\r\n")[:1] == b"{":
        return "geojson"
    suffix = Path(path).suffix.lower()
    if suffix in (".tif", ".tiff", ".zip", ".geojson", ".json") or head[:4] in (
        b"\x89PNG",
        b"%PDF",
        b"\xff\xd8\xff\xe0",
        b"GIF8",
    ):
        raise BadInput(
            f"{Path(path).name} is not what its name says, or not a kind that is read.",
            "CSV, GeoJSON, zipped Shapefile and GeoTIFF are.",
        )
    return "delimited"


def read_file(
    path: str | Path, dialect: Dialect | None = None, types: dict[str, FieldType] | None = None,
    at: CoordinateColumns | None = None, crs: str | None = None, guess_points: bool = True, placed: bool = True,
) -> ReadResult:  # fmt: skip
    """The dataset in a vector or table file, as guessed or as corrected. Raises BadInput.

    A table becomes points where coordinate columns are given, or guessed and `guess_points` stands. Where `placed` is false,
    data that do not say where on earth they lie are read without a CRS rather than refused.
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
        raise BadInput(f"{Path(path).name} is a raster; a table or shapes are needed here.")
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
            raise BadInput(guess.reason)
        reason, chosen = guess.reason, parse_crs(guess.crs) if guess.crs else None
    dataset = located(columns, at, chosen)
    assert dataset.shapes is not None
    without = int(shapely.is_empty(dataset.shapes).sum())
    notes = [f"{counted(without, 'row')} without coordinates: not on the map."] if without else []
    return ReadResult(dataset, reason, notes)
