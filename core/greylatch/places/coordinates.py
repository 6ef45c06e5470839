"""Coordinates in a table: which two columns they stand in, and the points that they make."""

import re
from dataclasses import dataclass

import numpy as np
import pyarrow as pa
import pyproj
import shapely

from greylatch.errors import BadInput
from greylatch.tables.dataset import Dataset, numbers
from greylatch.tables.fieldtypes import FieldType

_X = ("lon", "lng", "long", "longitude", "x", "easting", "east", "coord_x", "x_coord")
_Y = ("lat", "latitude", "y", "northing", "north", "coord_y", "y_coord")


@dataclass(frozen=True)
class CoordinateColumns:
    """The fields that hold x (longitude, easting) and y (latitude, northing)."""

    x: str
    y: str


def guess_coordinate_columns(types: dict[str, FieldType]) -> CoordinateColumns | None:
    """The numeric columns named like coordinates; None where there is no such pair.

    >>> guess_coordinate_columns({"id": "text", "Lon_WGS84": "number", "Lat_WGS84": "number"})
    CoordinateColumns(x='Lon_WGS84', y='Lat_WGS84')
    """
    numeric = [name for name, type in types.items() if type in ("integer", "number")]
    x, y = _first(numeric, _X), _first(numeric, _Y)
    return CoordinateColumns(x, y) if x and y and x != y else None


def _first(names: list[str], wanted: tuple[str, ...]) -> str | None:
    for word in wanted:
        for name in names:
            if name.lower() == word:
                return name
    for word in wanted:
        for name in names:
            if len(word) > 1 and word in re.split(r"[^a-z]+", name.lower()):
                return name
    return None


def located(columns: pa.Table, at: CoordinateColumns, crs: pyproj.CRS | None) -> Dataset:
    """Points from two columns; rows without both coordinates keep their place with an empty point.

    Raises BadInput where no row has coordinates, or geographic ones leave the globe (the first such row is named).
    """
    x, y = numbers(columns, at.x), numbers(columns, at.y)
    both = np.isfinite(x) & np.isfinite(y)
    if not both.any():
        raise BadInput(f"Not one row has a number in both '{at.x}' and '{at.y}'.", "Choose other coordinate columns.")
    if crs is not None and crs.is_geographic:
        outside = both & ((x < -180) | (x > 360) | (np.abs(y) > 90))  # some count longitudes from 0 to 360
        if outside.any():
            row = int(np.argmax(outside))
            raise BadInput(
                f"Row {row + 1} lies at ({x[row]:g}, {y[row]:g}), which is not longitude and latitude.",
                "Are the two columns swapped, or is the projection another one?",
            )
    points = np.full(len(x), shapely.Point(), dtype=object)
    points[both] = shapely.points(x[both], y[both])
    return Dataset(columns, "points", points, crs)
