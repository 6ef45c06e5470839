"""Writing GeoJSON (RFC 7946)."""

import json
from pathlib import Path
from typing import Any

import numpy as np
import shapely

from greylatch.errors import BadInput
from greylatch.places.crs import to_lonlat
from greylatch.tables.dataset import Dataset, Shapes
from greylatch.tables.fieldtypes import plain

DECIMALS = 7
"""Decimals of a degree that are kept: about a centimetre on the ground."""


def feature_collection(dataset: Dataset, extra: dict[str, list[Any]] | None = None) -> dict[str, Any]:
    """A FeatureCollection in longitude and latitude, exterior rings counter-clockwise; `extra` adds a property per row.

    The feature's id is its row. Raises BadInput for a bare table.
    """
    if dataset.shapes is None or dataset.crs is None:
        raise BadInput("A table without shapes cannot be written as GeoJSON.")
    shapes = rounded(shapely.orient_polygons(to_lonlat(dataset.shapes, dataset.crs), exterior_cw=False))
    rows = dataset.columns.to_pylist()
    features = []
    for i, (shape, row) in enumerate(zip(shapes, rows, strict=True)):
        properties = {name: plain(value) for name, value in row.items()}
        for name, values in (extra or {}).items():
            properties[name] = values[i]
        geometry = None if shape is None or shape.is_empty else shapely.geometry.mapping(shape)
        features.append({"type": "Feature", "id": i, "properties": properties, "geometry": geometry})
    return {"type": "FeatureCollection", "features": features}


def write_geojson(dataset: Dataset, path: str | Path, extra: dict[str, list[Any]] | None = None) -> None:
    """`feature_collection` as a file, whole or absent."""
    target = Path(path)
    part = target.with_name(f".{target.name}.part")
    try:
        part.write_text(
            json.dumps(feature_collection(dataset, extra), ensure_ascii=False, separators=(",", ":")), "utf-8"
        )
        part.replace(target)
    except OSError as error:
        raise BadInput(f"{target} cannot be written: {error.strerror}.") from error
    finally:
        part.unlink(missing_ok=True)


def rounded(shapes: Shapes) -> Shapes:
    """Coordinates rounded to `DECIMALS`; topology is left as it is."""
    return shapely.transform(shapes, lambda xy: np.round(xy, DECIMALS))
