"""Shapes with fewer vertices: borders that areas share stay shared."""

import math
from dataclasses import replace

import numpy as np
import shapely
from numpy.typing import NDArray

from greylatch.errors import BadInput
from greylatch.places.bounds import Bounds
from greylatch.places.measures import GEOD
from greylatch.tables.dataset import Dataset

__all__ = ["proposed_tolerance", "simplified"]

DEGREE = math.pi / 180 * GEOD.a
"""Metres of a degree along the equator."""


def proposed_tolerance(bounds: Bounds) -> float:
    """How much shapes may lose unless somebody says otherwise: half a pixel of a picture of them all that is 1,000 px across. Ours, with no
    source.

    Parameters
    ----------
    bounds : Bounds
        West, south, east, north of the shapes in degrees.

    Returns
    -------
    float
        Metres; at least one.

    Examples
    --------
    >>> round(proposed_tolerance((-27.0, 51.5, -26.0, 52.5)))
    56
    """
    west, south, east, north = bounds
    narrow = math.cos(math.radians((south + north) / 2))
    return max(1.0, DEGREE * max((east - west) * narrow, north - south) / 2_000)


def simplified(dataset: Dataset, metres: float) -> Dataset:
    """The same rows with simpler lines and areas; points are as they were.

    Borders of areas lose the vertices whose triangle with their neighbours is smaller than a square of `metres` (Visvalingam and Whyatt
    1993), each border once for both areas that share it (GEOS's coverage simplifier). Lines keep within `metres` of what they were
    (Douglas and Peucker 1973). In degrees, metres are measured along the middle parallel of the data.

    Parameters
    ----------
    dataset : Dataset
        The data.
    metres : float
        How much may be lost.

    Returns
    -------
    Dataset

    Raises
    ------
    BadInput
        For a bare table, and where nothing can be lost.

    Examples
    --------
    >>> import pyarrow as pa
    >>> from greylatch.places.crs import parse_crs
    >>> line = shapely.LineString([(0, 0), (500, 3), (1000, 0)])
    >>> data = Dataset(pa.table({"a": [1]}), "lines", np.array([line]), parse_crs("EPSG:32626"))
    >>> simplified(data, 10).shapes
    array([<LINESTRING (0 0, 1000 0)>], dtype=object)
    """
    if dataset.shapes is None or dataset.crs is None:
        raise BadInput("A table without shapes has none to simplify.")
    if not metres > 0:
        raise BadInput("Shapes are simplified by a number of metres above 0.")
    if dataset.kind == "points":
        return dataset
    wide, high = _metres_of_units(dataset)
    scaled = shapely.transform(dataset.shapes, lambda xy: xy * (wide, high))
    simple = _areas(scaled, metres) if dataset.kind == "areas" else shapely.simplify(scaled, metres)
    return replace(dataset, geometry=shapely.transform(simple, lambda xy: xy / (wide, high)))


def _areas(shapes: NDArray[np.object_], metres: float) -> NDArray[np.object_]:
    """Rows without a shape are no part of the coverage."""
    there = ~(shapely.is_missing(shapes) | shapely.is_empty(shapes))
    out = shapes.copy()
    out[there] = shapely.make_valid(shapely.coverage_simplify(shapes[there], metres))
    return out


def _metres_of_units(dataset: Dataset) -> tuple[float, float]:
    """How many metres a unit of the coordinates is, across and up, in the middle of the data."""
    assert dataset.crs is not None and dataset.shapes is not None
    if not dataset.crs.is_geographic:
        factor = dataset.crs.axis_info[0].unit_conversion_factor if dataset.crs.axis_info else 1.0
        return factor, factor
    bounds = shapely.total_bounds(dataset.shapes)
    latitude = float(np.clip((bounds[1] + bounds[3]) / 2, -85, 85)) if np.isfinite(bounds).all() else 0.0
    return DEGREE * math.cos(math.radians(latitude)), DEGREE
