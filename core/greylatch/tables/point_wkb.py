"""Single points as well-known binary and back, a million at once and without a shape for any: ISO 19125, OGC 06-103r4, 8.2."""

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
import shapely
from numpy.typing import NDArray

from greylatch.tables.dataset import Dataset

__all__ = ["places_of_wkb", "wkb_of", "wkb_of_places"]

POINT = np.dtype([("order", "u1"), ("type", "<u4"), ("place", "<f8", 2)])
"""A point in two dimensions, little-endian: 21 bytes."""
LITTLE_ENDIAN, IS_POINT = 1, 1


def places_of_wkb(column: pa.Array | pa.ChunkedArray) -> NDArray[np.float64] | None:
    """The coordinates of single points, (n, 2).

    Parameters
    ----------
    column : pa.Array | pa.ChunkedArray
        Shapes as WKB.

    Returns
    -------
    NDArray[np.float64] | None
        None where any is missing, empty, of another kind, in three dimensions or big-endian.

    Examples
    --------
    >>> places_of_wkb(pa.array(shapely.to_wkb(shapely.points([[2.0, 3.0]])))).tolist()
    [[2.0, 3.0]]
    >>> places_of_wkb(pa.array(shapely.to_wkb([shapely.Point(1, 2, 3)]))) is None
    True
    """
    chunks = [chunk for chunk in (column.chunks if isinstance(column, pa.ChunkedArray) else [column]) if len(chunk)]
    if not chunks or column.null_count:
        return None
    lengths = pc.min_max(pc.binary_length(column)).as_py()
    if lengths != {"min": POINT.itemsize, "max": POINT.itemsize}:
        return None
    points = np.concatenate([_records(chunk) for chunk in chunks])
    if (points["order"] != LITTLE_ENDIAN).any() or (points["type"] != IS_POINT).any():
        return None
    return np.ascontiguousarray(points["place"]) if np.isfinite(points["place"]).all() else None


def wkb_of_places(places: NDArray[np.float64]) -> pa.Array:
    """Single points as WKB, as large binary.

    Parameters
    ----------
    places : NDArray[np.float64]
        (n, 2) coordinates.

    Returns
    -------
    pa.Array

    Examples
    --------
    >>> shapely.from_wkb(wkb_of_places(np.array([[2.0, 3.0]]))[0].as_py())
    <POINT (2 3)>
    """
    points = np.empty(len(places), dtype=POINT)
    points["order"], points["type"], points["place"] = LITTLE_ENDIAN, IS_POINT, places
    ends = np.arange(len(places) + 1, dtype=np.int64) * POINT.itemsize
    return pa.Array.from_buffers(
        pa.large_binary(), len(places), [None, pa.py_buffer(ends), pa.py_buffer(points.view(np.uint8))]
    )


def wkb_of(dataset: Dataset) -> pa.Array:
    """The shapes of a dataset as WKB, as large binary; it has some.

    Parameters
    ----------
    dataset : Dataset
        The data.

    Returns
    -------
    pa.Array

    Examples
    --------
    >>> len(wkb_of(Dataset(pa.table({"a": [1]}), "points", np.array([[2.0, 3.0]])))[0].as_py())
    21
    """
    if dataset.places is not None:
        return wkb_of_places(dataset.places)
    return pa.array(shapely.to_wkb(dataset.shapes), pa.large_binary())


def _records(chunk: pa.Array) -> NDArray[np.void]:
    """The bytes of a chunk, of which every value is as long as a point."""
    offset_type = np.int64 if pa.types.is_large_binary(chunk.type) else np.int32
    _, offsets, data = chunk.buffers()
    first = int(np.frombuffer(offsets, dtype=offset_type)[chunk.offset])
    return np.frombuffer(data, dtype=POINT, count=len(chunk), offset=first)
