"""A glance at where data lie: few points and outlines in longitude and latitude, enough for a map as small as a stamp."""

from dataclasses import dataclass, field

import numpy as np
import pyproj
import shapely

from greylatch.errors import BadInput
from greylatch.places.bounds import Bounds
from greylatch.places.crs import to_lonlat
from greylatch.tables.dataset import Shapes

__all__ = ["Glance", "glance"]

MOST_POINTS, MOST_LINES = 300, 150
FINE = 120
"""Parts of the larger extent below which no bend is shown."""


@dataclass(frozen=True)
class Glance:
    """West, south, east and north in degrees; points, and lines as lists of points, each longitude and latitude."""

    bounds: Bounds
    points: list[tuple[float, float]] = field(default_factory=list)
    lines: list[list[tuple[float, float]]] = field(default_factory=list)


def glance(shapes: Shapes, crs: pyproj.CRS) -> Glance | None:
    """Where shapes lie: of many points some all over, of lines and areas the longest outlines.

    Parameters
    ----------
    shapes : Shapes
        The shapes.
    crs : pyproj.CRS
        The reference system of their coordinates.

    Returns
    -------
    Glance | None
        None where none of them has a place on earth.

    Examples
    --------
    >>> glance(np.array([shapely.Point(-27, 52)]), pyproj.CRS.from_epsg(4326))
    Glance(bounds=(-27.0, 52.0, -27.0, 52.0), points=[(-27.0, 52.0)], lines=[])
    """
    there = shapes[~(shapely.is_missing(shapes) | shapely.is_empty(shapes))]
    parts = shapely.get_parts(there)
    points = parts[shapely.get_type_id(parts) == 0]
    outlines = parts[shapely.get_type_id(parts) > 0]
    areas = shapely.get_type_id(outlines) == 3
    outlines = np.concatenate([outlines[~areas], shapely.get_parts(shapely.boundary(outlines[areas]))])
    chosen = (
        points[np.unique(np.linspace(0, max(len(points) - 1, 0), MOST_POINTS).astype(int))] if len(points) else points
    )
    longest = outlines[np.argsort(shapely.length(outlines))[::-1][:MOST_LINES]]
    west, south, east, north = shapely.total_bounds(parts) if len(parts) else (0, 0, 0, 0)
    simple = shapely.simplify(longest, max(east - west, north - south) / FINE, preserve_topology=False)
    try:
        moved = to_lonlat(np.concatenate([chosen, simple]), crs)
    except BadInput:
        return None
    west, south, east, north = (round(float(value), 6) for value in shapely.total_bounds(moved))
    if not np.isfinite([west, south, east, north]).all():
        return None
    flat = shapely.get_parts(moved)
    lines = [_pairs(line) for line in flat if line.geom_type == "LineString"]
    return Glance(
        (west, south, east, north), [pair for at in flat if at.geom_type == "Point" for pair in _pairs(at)], lines
    )


def _pairs(shape: shapely.Geometry) -> list[tuple[float, float]]:
    return [(float(x), float(y)) for x, y in np.round(shapely.get_coordinates(shape), 4)]
