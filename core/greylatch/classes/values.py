"""The numbers that get classified: a field, divided by what normalises it."""

import weakref

import numpy as np
import pyproj
from numpy.typing import NDArray

from greylatch.errors import BadInput
from greylatch.sheet.document import Normalise
from greylatch.tables.dataset import Dataset, Shapes, numbers

__all__ = ["geodesic_areas", "remembered_areas", "values_of"]


def values_of(dataset: Dataset, field: str, normalise: Normalise | None = None) -> NDArray[np.float64]:
    """Field values as float64 (NaN: missing), normalised where asked; a denominator of zero gives NaN.

    Parameters
    ----------
    dataset : Dataset
        The data.
    field : str
        The name of the field.
    normalise : Normalise | None
        What the values are divided by; None divides by nothing.

    Returns
    -------
    NDArray[np.float64]
    """
    values = numbers(dataset.columns, field)
    if normalise is None:
        return values
    if normalise.by == "field":
        below = numbers(dataset.columns, normalise.field)
    else:
        if dataset.kind != "areas" or dataset.shapes is None or dataset.crs is None:
            raise BadInput("Only areas have an area to divide by.", "Normalise by a field instead.")
        below = remembered_areas(dataset.shapes, dataset.crs)
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.where(below == 0, np.nan, values / below)


_areas: dict[int, NDArray[np.float64]] = {}


def remembered_areas(shapes: Shapes, crs: pyproj.CRS) -> NDArray[np.float64]:
    """`geodesic_areas`, computed once for as long as the array `shapes` lives: a restyling asks for them again and again.

    Parameters
    ----------
    shapes : Shapes
        The shapes.
    crs : pyproj.CRS
        The reference system of the coordinates.

    Returns
    -------
    NDArray[np.float64]
    """
    key = id(shapes)
    if key not in _areas:
        areas = geodesic_areas(shapes, crs)
        weakref.finalize(shapes, _areas.pop, key, None)
        _areas[key] = areas
    return _areas[key]


def geodesic_areas(shapes: Shapes, crs: pyproj.CRS) -> NDArray[np.float64]:
    """True area of each shape on the WGS 84 ellipsoid in km², holes taken out (Karney 2013, through pyproj.Geod).

    Parameters
    ----------
    shapes : Shapes
        The shapes.
    crs : pyproj.CRS
        The reference system of the coordinates.

    Returns
    -------
    NDArray[np.float64]
    """
    from greylatch.places.crs import to_lonlat

    geod = pyproj.Geod(ellps="WGS84")
    out = np.full(len(shapes), np.nan)
    for i, shape in enumerate(to_lonlat(shapes, crs)):
        if shape is None or shape.is_empty:
            continue
        total = 0.0
        for part in getattr(shape, "geoms", [shape]):
            if part.geom_type == "Polygon":
                rings = (part.exterior, *part.interiors)
                sizes = [abs(geod.polygon_area_perimeter(*ring.coords.xy)[0]) for ring in rings]
                total += sizes[0] - sum(sizes[1:])
        out[i] = total / 1e6
    return out
