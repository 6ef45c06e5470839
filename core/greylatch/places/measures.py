"""How large shapes are on the ground, whatever plane they lie in."""

import weakref

import numpy as np
import pyproj
from numpy.typing import NDArray

from greylatch.places.crs import to_lonlat
from greylatch.tables.dataset import Shapes

__all__ = ["GEOD", "geodesic_areas", "geodesic_lengths", "remembered_areas"]

GEOD = pyproj.Geod(ellps="WGS84")
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
    out = np.full(len(shapes), np.nan)
    for i, shape in enumerate(to_lonlat(shapes, crs)):
        if shape is None or shape.is_empty:
            continue
        total = 0.0
        for part in getattr(shape, "geoms", [shape]):
            if part.geom_type == "Polygon":
                rings = (part.exterior, *part.interiors)
                sizes = [abs(GEOD.polygon_area_perimeter(*ring.coords.xy)[0]) for ring in rings]
                total += sizes[0] - sum(sizes[1:])
        out[i] = total / 1e6
    return out


def geodesic_lengths(shapes: Shapes, crs: pyproj.CRS) -> NDArray[np.float64]:
    """True length of each shape's lines on the WGS 84 ellipsoid in km (Karney 2013, through pyproj.Geod); NaN for no shape.

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
    out = np.full(len(shapes), np.nan)
    for i, shape in enumerate(to_lonlat(shapes, crs)):
        if shape is not None and not shape.is_empty:
            out[i] = GEOD.geometry_length(shape) / 1000
    return out
