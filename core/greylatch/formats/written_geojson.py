"""Writing GeoJSON (RFC 7946)."""

from collections.abc import Iterator, Mapping, Sequence
from pathlib import Path
from typing import Any

import numpy as np
import orjson
import shapely

from greylatch.errors import BadFile
from greylatch.places.crs import to_lonlat
from greylatch.tables.dataset import Dataset, Shapes
from greylatch.tables.fieldtypes import plain

__all__ = ["feature_collection", "write_geojson"]

BATCH = 20_000
"""Rows that are written at a time."""
DECIMALS = 7
"""Decimals of a degree that are kept: about a centimetre on the ground."""


def features_of(dataset: Dataset, extra: Mapping[str, Sequence[Any]] | None = None) -> Iterator[bytes]:
    """The features of a FeatureCollection in longitude and latitude, each as JSON, exterior rings counter-clockwise.
    The feature's id is its fid.

    Parameters
    ----------
    extra : Mapping[str, Sequence[Any]] | None
        Adds a property per row.

    Raises
    ------
    BadInput
        For a bare table.
    """
    if dataset.shapes is None or dataset.crs is None:
        raise BadFile("A table without shapes cannot be written as GeoJSON.")
    shapes = rounded(shapely.orient_polygons(to_lonlat(dataset.shapes, dataset.crs), exterior_cw=False))
    texts = shapely.to_geojson(shapes)
    texts[shapely.is_missing(shapes) | shapely.is_empty(shapes)] = "null"
    names = dataset.columns.column_names
    more = list((extra or {}).items())
    at = 0
    for batch in dataset.columns.to_batches(max_chunksize=BATCH):
        for values in (
            zip(*(column.to_pylist() for column in batch.columns), strict=True) if names else [()] * len(batch)
        ):
            properties = dict(zip(names, map(plain, values), strict=True))
            for name, added in more:
                properties[name] = added[at]
            yield b'{"type":"Feature","id":%d,"properties":%b,"geometry":%b}' % (
                dataset.fids[at], orjson.dumps(properties), texts[at].encode(),
            )  # fmt: skip
            at += 1


def feature_collection(dataset: Dataset, extra: Mapping[str, Sequence[Any]] | None = None) -> dict[str, Any]:
    """`features_of` as one document.

    Parameters
    ----------
    dataset : Dataset
        The data.
    extra : Mapping[str, Sequence[Any]] | None
        A property more for every row, by name.

    Returns
    -------
    dict[str, Any]
    """
    features = [orjson.loads(feature) for feature in features_of(dataset, extra)]
    return {"type": "FeatureCollection", "features": features}


def write_geojson(dataset: Dataset, path: str | Path, extra: Mapping[str, Sequence[Any]] | None = None) -> None:
    """`features_of` as a file, whole or absent.

    Parameters
    ----------
    dataset : Dataset
        The data.
    path : str | Path
        The file.
    extra : Mapping[str, Sequence[Any]] | None
        A property more for every row, by name.
    """
    target = Path(path)
    part = target.with_name(f".{target.name}.part")
    try:
        with part.open("wb") as sink:
            sink.write(b'{"type":"FeatureCollection","features":[')
            for i, feature in enumerate(features_of(dataset, extra)):
                sink.write(b",\n" + feature if i else b"\n" + feature)
            sink.write(b"\n]}")
        part.replace(target)
    except OSError as error:
        raise BadFile(f"{target} cannot be written: {error.strerror}.") from error
    finally:
        part.unlink(missing_ok=True)


def rounded(shapes: Shapes) -> Shapes:
    """Coordinates rounded to `DECIMALS`; topology is left as it is."""
    return shapely.transform(shapes, lambda xy: np.round(xy, DECIMALS))
