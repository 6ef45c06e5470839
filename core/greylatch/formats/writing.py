"""Writing a dataset to a file, in the format that its name asks for."""

from collections.abc import Callable, Mapping
from pathlib import Path

import pyarrow.csv

from greylatch.errors import BadFile
from greylatch.formats.written_geojson import write_geojson
from greylatch.tables.dataset import Dataset

__all__ = ["WRITERS", "write_file"]


def _geopackage(dataset: Dataset, path: Path) -> None:
    from greylatch.formats.written_by_gdal import write_geopackage

    write_geopackage(dataset, path)


def _flatgeobuf(dataset: Dataset, path: Path) -> None:
    from greylatch.formats.written_by_gdal import write_flatgeobuf

    write_flatgeobuf(dataset, path)


def _geoparquet(dataset: Dataset, path: Path) -> None:
    from greylatch.formats.geoparquet import write_geoparquet

    write_geoparquet(dataset, path)


def _csv(dataset: Dataset, path: Path) -> None:
    """The columns alone."""
    part = path.with_name(f".{path.name}.part")
    try:
        pyarrow.csv.write_csv(dataset.columns, part)
        part.replace(path)
    finally:
        part.unlink(missing_ok=True)


WRITERS: Mapping[str, Callable[[Dataset, Path], None]] = {
    ".geojson": write_geojson,
    ".gpkg": _geopackage,
    ".fgb": _flatgeobuf,
    ".parquet": _geoparquet,
    ".csv": _csv,
}
"""By the ending of the name. GeoJSON is always in longitude and latitude, CSV without shapes."""


def write_file(dataset: Dataset, path: str | Path) -> None:
    """Write `dataset` whole, or nothing.

    Parameters
    ----------
    dataset : Dataset
        The data.
    path : str | Path
        The file, whose ending names the format.

    Raises
    ------
    BadFile
        For an ending that is none of `WRITERS`, and for data that the format can't hold.
    """
    target = Path(path)
    writer = WRITERS.get(target.suffix.lower())
    if writer is None:
        *others, last = WRITERS
        raise BadFile(f"'{target.name}' names no format: {', '.join(others)} and {last} are written.")
    if dataset.shapes is None and target.suffix.lower() in (".geojson", ".gpkg", ".fgb"):
        raise BadFile("A table without shapes is written as .csv or .parquet.")
    try:
        writer(dataset, target)
    except OSError as error:
        raise BadFile(f"{target} cannot be written: {error.strerror or error}.") from error
