"""Files that GDAL writes: GeoPackage (OGC 12-128) and FlatGeobuf."""

from pathlib import Path

import pyarrow as pa
import shapely

from greylatch.errors import BadFile
from greylatch.formats.read_by_gdal import pyogrio_with_few_drivers
from greylatch.tables.dataset import Dataset

__all__ = ["write_flatgeobuf", "write_geopackage"]

_TYPES = {"points": "MultiPoint", "lines": "MultiLineString", "areas": "MultiPolygon"}


def write_geopackage(dataset: Dataset, path: str | Path, layer: str = "layer") -> None:
    """Write `dataset` as the one layer of a GeoPackage in its own CRS, whole or absent.

    Parameters
    ----------
    dataset : Dataset
        The data.
    path : str | Path
        The file.
    layer : str
        The name of the layer.

    Raises
    ------
    BadInput
        For a bare table.
    """
    _write(dataset, Path(path), "GPKG", layer)


def write_flatgeobuf(dataset: Dataset, path: str | Path) -> None:
    """Write `dataset` as FlatGeobuf in its own CRS, whole or absent, with an index where every row has a shape.

    Parameters
    ----------
    dataset : Dataset
        The data.
    path : str | Path
        The file.

    Raises
    ------
    BadInput
        For a bare table.
    """
    whole = (
        dataset.shapes is not None and not (shapely.is_missing(dataset.shapes) | shapely.is_empty(dataset.shapes)).any()
    )
    _write(dataset, Path(path), "FlatGeobuf", Path(path).stem, SPATIAL_INDEX="YES" if whole else "NO")


def _write(dataset: Dataset, target: Path, driver: str, layer: str, **options: str) -> None:
    if dataset.shapes is None or dataset.crs is None:
        raise BadFile(f"A table without shapes is not written as {driver}.")
    pyogrio = pyogrio_with_few_drivers()
    part = target.with_name(f".{target.stem}.part{target.suffix}")
    columns = dataset.columns
    name = "geometry" if "geometry" not in columns.column_names else "shape_of_row"
    # All of one kind, as the standard's own readers expect: many, of which there may be one.
    shapes = [None if shape is None or shape.is_empty else _many(shape) for shape in dataset.shapes]
    table = columns.append_column(name, pa.array(shapely.to_wkb(shapes), pa.binary()))
    try:
        pyogrio.write_arrow(
            table, part, layer=layer, driver=driver, geometry_name=name, geometry_type=_TYPES[dataset.kind],
            crs=dataset.crs.to_wkt(), layer_options=options,
        )  # fmt: skip
        part.replace(target)
    except OSError as error:
        raise BadFile(f"{target} cannot be written: {error.strerror or error}.") from error
    finally:
        part.unlink(missing_ok=True)


def _many(shape: shapely.Geometry) -> shapely.Geometry:
    if shape.geom_type.startswith("Multi"):
        return shape
    kinds = {"Point": shapely.MultiPoint, "LineString": shapely.MultiLineString, "Polygon": shapely.MultiPolygon}
    return kinds[shape.geom_type]([shape])
