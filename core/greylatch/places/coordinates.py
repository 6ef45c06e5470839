"""Coordinates in a table: which two columns they stand in, which of them is which, and the points that they make."""

import re
from dataclasses import dataclass

import numpy as np
import pyarrow as pa
import shapely

from greylatch.errors import BadInput
from greylatch.places.stated import in_degrees
from greylatch.tables.dataset import Dataset, Shapes, System, numbers
from greylatch.tables.fieldtypes import FieldType

__all__ = ["CoordinateColumns", "exchanged", "guess_coordinate_columns", "located"]

_DEGREES = (("lon", "lng", "long", "longitude", "longitud"), ("lat", "latitude", "latitud"))
_PLANE = (("x", "easting", "east", "coord_x", "x_coord"), ("y", "northing", "north", "coord_y", "y_coord"))
"""Words for the two coordinates, by kind: a longitude never goes with a northing. Degrees come first, as they need no projection.
The short 'longitud' is Spanish, and what is left where names are cut."""
_Words = tuple[tuple[str, ...], tuple[str, ...]]


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
    for pair in (_named_so, _named_alike, _with_the_word):
        for words in (_DEGREES, _PLANE):
            if columns := pair(numeric, words):
                return columns
    return None


def _named_so(names: list[str], words: _Words) -> CoordinateColumns | None:
    """Two fields whose whole names are such words; of several those that stand at the same place in the lists."""
    by_name = {name.lower(): name for name in reversed(names)}
    x, y = ([by_name[word] for word in some if word in by_name] for some in words)
    like = [(by_name[a], by_name[b]) for a, b in zip(*words, strict=False) if a in by_name and b in by_name]
    return CoordinateColumns(*like[0]) if like else CoordinateColumns(x[0], y[0]) if x and y else None


def _named_alike(names: list[str], words: _Words) -> CoordinateColumns | None:
    """Two fields whose names differ by the word alone: X_CENTROID and Y_CENTROID."""
    by_parts = {tuple(_parts(name)): name for name in reversed(names)}
    for x_word in words[0]:
        for parts, name in by_parts.items():
            for y_word in words[1] if x_word in parts and len(parts) > 1 else ():
                twin = by_parts.get(tuple(y_word if part == x_word else part for part in parts))
                if twin:
                    return CoordinateColumns(name, twin)
    return None


def _with_the_word(names: list[str], words: _Words) -> CoordinateColumns | None:
    """Two fields with such words in their names; a lone letter says too little."""
    x, y = (
        next((name for word in some if len(word) > 1 for name in names if word in _parts(name)), None) for some in words
    )
    return CoordinateColumns(x, y) if x and y else None


def _parts(name: str) -> list[str]:
    return re.split(r"[^a-z]+", name.lower())


def located(columns: pa.Table, at: CoordinateColumns, system: System | None) -> Dataset:
    """Points from two columns; rows without both coordinates keep their place with an empty point.

    Parameters
    ----------
    columns : pa.Table
        The columns as an Arrow table.
    at : CoordinateColumns
        The columns of the coordinates.
    system : System | None
        The reference system of the coordinates.

    Returns
    -------
    Dataset

    Raises
    ------
    BadInput
        Where no row has coordinates, or geographic ones leave the globe (the first such row is named).
    """
    x, y = numbers(columns, at.x), numbers(columns, at.y)
    both = np.isfinite(x) & np.isfinite(y)
    if not both.any():
        raise BadInput(f"Not one row has a number in both '{at.x}' and '{at.y}'.", "Choose other coordinate columns.")
    if in_degrees(system):
        outside = both & ((x < -180) | (x > 360) | (np.abs(y) > 90))  # some count longitudes from 0 to 360
        if outside.any():
            row = int(np.argmax(outside))
            raise BadInput(
                f"Row {row + 1} lies at ({x[row]:g}, {y[row]:g}), which is not longitude and latitude.",
                "Are the two columns swapped, or is the projection another one?",
            )
    if both.all():
        return Dataset(columns, "points", np.column_stack([x, y]), system)
    points = np.full(len(x), shapely.Point(), dtype=object)
    points[both] = shapely.points(x[both], y[both])
    return Dataset(columns, "points", points, system)


def exchanged(shapes: Shapes) -> Shapes:
    """The same shapes with x for y and y for x.

    >>> exchanged(np.array([shapely.Point(52, -27)]))
    array([<POINT (-27 52)>], dtype=object)
    """
    return np.asarray(shapely.transform(shapes, lambda xy: xy[:, ::-1]))
