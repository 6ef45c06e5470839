"""GeoParquet 1.1: how Grey Latch itself keeps datasets."""

import json
from pathlib import Path

import pyarrow as pa
import pyarrow.parquet as pq
import pyproj
import shapely

from greylatch.errors import BadFile
from greylatch.tables.dataset import Dataset, kind_of

__all__ = ["read_geoparquet", "write_geoparquet"]

GEOMETRY = "geometry"


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
    if dataset.shapes is not None and dataset.crs is not None:
        name = _geometry_name(table)
        table = table.append_column(name, pa.array(shapely.to_wkb(dataset.shapes), pa.binary()))
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
    """The dataset in a (Geo)Parquet file.

    Raises
    ------
    BadInput
        Where it is none.
    """
    try:
        table = pq.read_table(path)
    except (pa.ArrowException, OSError) as error:
        raise BadFile(f"{Path(path).name} is not a readable Parquet file.") from error
    stated = (table.schema.metadata or {}).get(b"geo")
    if not stated:
        return Dataset(table, "table")
    geo = json.loads(stated)
    name = geo["primary_column"]
    shapes = shapely.from_wkb(table[name].to_numpy(zero_copy_only=False))
    crs = pyproj.CRS.from_json_dict(geo["columns"][name].get("crs") or pyproj.CRS.from_epsg(4326).to_json_dict())
    return Dataset(table.drop_columns([name]).replace_schema_metadata(None), kind_of(shapes), shapes, crs)


def _geometry_name(table: pa.Table) -> str:
    name = GEOMETRY
    while name in table.column_names:
        name = f"{name}_"
    return name
