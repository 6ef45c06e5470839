"""GeoParquet 1.1: how Grey Latch itself keeps datasets, and what others write."""

import json
from pathlib import Path
from typing import Any

import pyarrow as pa
import pyarrow.parquet as pq
import shapely

from greylatch.errors import BadFile
from greylatch.formats.arrow_columns import plain_columns
from greylatch.formats.kinds import Choice
from greylatch.formats.result import ReadResult, read_result
from greylatch.places.stated import system_of, system_of_json
from greylatch.tables.dataset import Dataset, Places, Shapes, System, is_places, kind_of
from greylatch.tables.point_wkb import places_of_wkb, wkb_of

__all__ = ["read", "read_geoparquet", "write_geoparquet"]

GEOMETRY = "geometry"
HEAD_ROWS = 1_000


def write_geoparquet(dataset: Dataset, path: str | Path) -> None:
    """Write `dataset`, shapes as WKB in their own CRS; a bare table becomes plain Parquet. Whole or absent.

    Parameters
    ----------
    dataset : Dataset
        The data.
    path : str | Path
        The file.
    """
    table = dataset.columns
    if dataset.geometry is not None and dataset.crs is not None:
        name = _geometry_name(table)
        table = table.append_column(name, wkb_of(dataset).cast(pa.binary()))
        described = {"encoding": "WKB", "geometry_types": [], "crs": dataset.crs.to_json_dict()}
        geo = {"version": "1.1.0", "primary_column": name, "columns": {name: described}}
        table = table.replace_schema_metadata({**(table.schema.metadata or {}), b"geo": json.dumps(geo).encode()})
    target = Path(path)
    part = target.with_name(f".{target.name}.part")
    try:
        pq.write_table(table, part, compression="zstd")
        part.replace(target)
    finally:
        part.unlink(missing_ok=True)


def read_geoparquet(path: str | Path) -> Dataset:
    """The dataset in a (Geo)Parquet file of our own.

    Raises
    ------
    BadFile
        Where it is none.
    """
    table, _ = _columns(path, head=False)
    stated = (table.schema.metadata or {}).get(b"geo")
    if not stated:
        return Dataset(table, "table")
    name, described = _described(stated, table)
    columns = table.drop_columns([name]).replace_schema_metadata(None)
    system, _ = _system(described, Choice())
    shapes = _shapes(table, name)
    return Dataset(columns, "points" if is_places(shapes) else kind_of(shapes), shapes, system)


def read(path: str | Path, choice: Choice) -> ReadResult:
    """The dataset in a (Geo)Parquet file: GeoParquet 1.0 and 1.1 with shapes as WKB, or a bare table.

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
        Where it is none, or is damaged.
    """
    table, rows = _columns(path, choice.head)
    notes = [f"Seen by its first {len(table):,} rows of {rows:,}."] if len(table) < rows else []
    stated = (table.schema.metadata or {}).get(b"geo")
    if not stated:
        return ReadResult(Dataset(plain_columns(table, notes), "table"), "A table without shapes.", notes)
    name, described = _described(stated, table)
    system, reason = _system(described, choice)
    columns = table.drop_columns([name]).replace_schema_metadata(None)
    return read_result(plain_columns(columns, notes), _shapes(table, name), system, reason, notes, choice)


def _columns(path: str | Path, head: bool) -> tuple[pa.Table, int]:
    """The table, or its beginning, and how many rows the file has."""
    try:
        source = pq.ParquetFile(path)
        table = _beginning(source) if head else source.read()
        table.validate(full=True)
        return table, source.metadata.num_rows
    except (pa.ArrowException, OSError, ValueError, KeyError) as error:
        raise BadFile(f"{Path(path).name} is not a readable Parquet file.") from error


def _shapes(table: pa.Table, name: str) -> Shapes | Places:
    try:
        places = places_of_wkb(table[name])
        if places is not None:
            return places
        return shapely.from_wkb(table[name].to_numpy(zero_copy_only=False), on_invalid="raise")
    except (shapely.GEOSException, NotImplementedError, TypeError) as error:
        raise BadFile(f"A shape in the field '{name}' cannot be read: {str(error)[:120]}.") from error


def _beginning(source: pq.ParquetFile) -> pa.Table:
    batch = next(source.iter_batches(HEAD_ROWS), None)
    return source.schema_arrow.empty_table() if batch is None else pa.Table.from_batches([batch])


def _described(stated: bytes, table: pa.Table) -> tuple[str, dict[str, Any]]:
    """The name of the column of shapes and what is said of it."""
    try:
        geo = json.loads(stated)
        name = geo["primary_column"]
        described = geo["columns"][name]
        encoding = described.get("encoding")
    except (ValueError, KeyError, TypeError, AttributeError) as error:
        raise BadFile("What the file says of its shapes is not GeoParquet.") from error
    if name not in table.column_names:
        raise BadFile(f"The file says that its shapes stand in '{name}', which is not there.")
    if encoding != "WKB":
        raise BadFile(f"The shapes are written as '{encoding}'; those as WKB are read.")
    return name, described


def _system(described: dict[str, Any], choice: Choice) -> tuple[System, str]:
    if choice.crs:
        return system_of(choice.crs), "Chosen by hand."
    if described.get("crs") is None:  # "If the key is absent, OGC:CRS84 is taken" (GeoParquet 1.1)
        return "EPSG:4326", "GeoParquet is in longitude and latitude where it says nothing else."
    return system_of_json(described["crs"]), "Stated in the file."


def _geometry_name(table: pa.Table) -> str:
    name = GEOMETRY
    while name in table.column_names:
        name = f"{name}_"
    return name
