"""Points gathered into cells of one true size on the ground: hexagons or squares with a count, a sum or a mean."""

from collections.abc import Iterator
from typing import Annotated, ClassVar, Literal

import numpy as np
import pyarrow as pa
import pyproj
import shapely
from numpy.typing import NDArray
from pydantic import Field

from greylatch.classes.values import numbers_of
from greylatch.encodings.encoded import Use
from greylatch.errors import BadInput
from greylatch.places.crs import LONLAT, transformer_between
from greylatch.places.frame import Frame
from greylatch.places.side_by_side import side_by_side
from greylatch.readings.reading import Reading
from greylatch.sheet.parts import FieldName
from greylatch.tables.dataset import Dataset, Kind
from greylatch.tables.fieldtypes import FieldType
from greylatch.tables.meaning import Meaning
from greylatch.wording import length_text

__all__ = ["VALUE", "Grid", "hexagon_of"]

MOST = 200_000
"""Cells that a reading makes at most."""
SPARSE = 8
"""Cells to a point up to which all that there could be are counted in one table."""
WORLD = "+proj=eqearth"
"""Equal Earth (Šavrič, Patterson, Jenny 2018)."""
HEMISPHERE = 80.0
"""Degrees from the middle of the data up to which they lie around a point; further, they are spread over the world."""
VALUE, COUNT = "value", "count"


class Grid(Reading):
    """Cells of `size` metres from side to side, in an equal-area projection around the data. Each has `count`, and `value`: the count
    itself, or the sum or mean of a field; cells without a point are not there."""

    of: ClassVar[tuple[Kind, ...]] = ("points",)
    makes: ClassVar[Kind] = "areas"
    wants: ClassVar[str] = "Only points are gathered into cells"
    ways: ClassVar[tuple[str, ...]] = ("hexagon", "square")
    own_fields: ClassVar[dict[str, FieldType] | None] = {VALUE: "number", COUNT: "integer"}
    by: Literal["grid"] = "grid"
    shape: Literal["hexagon", "square"] = "hexagon"
    size: Annotated[float, Field(ge=1, le=5_000_000, description="Metres from side to side")] = 1_000.0
    what: Literal["count", "sum", "mean"] = "count"
    field: FieldName | None = None

    def said(self, dataset: Dataset) -> str:
        """Of what its values are."""
        held = "how many" if self.what == "count" else f"{self.what} of {self.field}"
        return f"{held} in each {self.shape}, {length_text(self.size)} across"

    def uses(self) -> Iterator[Use]:
        if self.what != "count" and self.field:
            yield Use(self.field, f"the {self.what} of its cells", True)

    def derived(self, dataset: Dataset) -> Dataset:
        kind = self.kind_of(dataset.kind)
        assert dataset.shapes is not None and dataset.crs is not None
        if self.what != "count" and not self.field:
            raise BadInput(f"The {self.what} of cells wants a field.", "Choose one.")
        xy, owner = shapely.get_coordinates(dataset.shapes, return_index=True)
        text = _equal_area(xy, dataset.crs)
        frame = Frame.named(text)
        crs = frame.crs
        points = _moved(xy, dataset.crs, crs)
        finite = _finite(points)
        points, owner = points[finite], owner[finite]
        cells = (
            hexagon_of(points, self.size) if self.shape == "hexagon" else np.floor(points / self.size).astype(np.int64)
        )
        there, cell, counts = _distinct(cells)
        if len(there) > MOST:
            raise BadInput(f"That would be {len(there):,} cells; at most {MOST:,} are made.", "Make them larger.")
        values = counts.astype(np.float64)
        meaning = Meaning("count")
        if self.what != "count":
            assert self.field is not None
            numbers = numbers_of(dataset, self.field)[owner]
            known = np.isfinite(numbers)
            sums = np.bincount(cell[known], weights=numbers[known], minlength=len(there))
            with_value = np.bincount(cell[known], minlength=len(there))
            with np.errstate(invalid="ignore", divide="ignore"):
                values = np.where(with_value > 0, sums if self.what == "sum" else sums / with_value, np.nan)
            meaning = Meaning("count" if self.what == "sum" else "measure")
        columns = pa.table({VALUE: pa.array(values, from_pandas=True), COUNT: pa.array(counts.astype(np.int64))})
        outlines = _hexagons(there, self.size) if self.shape == "hexagon" else _squares(there, self.size)
        if WORLD in text:
            # What stands out over the edge of the world has no place on any other map.
            within = shapely.buffer(shapely.intersection(outlines, frame.outline), 0)
            outlines = np.where(shapely.is_empty(within), outlines, within)
        return Dataset(columns, kind, outlines, crs, meanings={VALUE: meaning, COUNT: Meaning("count")})


def _distinct(cells: NDArray[np.int64]) -> tuple[NDArray[np.int64], NDArray[np.intp], NDArray[np.intp]]:
    """The different cells, which of them each point is in, and how many are in each. By one number a cell: pairs are sorted far slower."""
    low, high = cells.min(axis=0, initial=0), cells.max(axis=0, initial=0)
    across, down = (int(most) + 1 for most in high - low)
    key = (cells[:, 1] - low[1]) * across + cells[:, 0] - low[0]
    if across * down <= SPARSE * max(1, len(cells)):
        # To count in a table of all cells that there could be is quicker than to sort.
        all_counts = np.bincount(key, minlength=across * down)
        keys = np.flatnonzero(all_counts)
        place = np.empty(len(all_counts), dtype=np.intp)
        place[keys] = np.arange(len(keys))
        cell, counts = place[key], all_counts[keys]
    else:
        keys, cell, counts = np.unique(key, return_inverse=True, return_counts=True)
    return np.column_stack([keys % across + low[0], keys // across + low[1]]), cell, counts


def hexagon_of(points: NDArray[np.float64], size: float) -> NDArray[np.int64]:
    """In which hexagon each point lies: columns and rows of a honeycomb of cells `size` from side to side, standing on a corner.

    The nearest middle of the two lattices of rectangles that a honeycomb consists of. Common practice, no source.

    Parameters
    ----------
    points : NDArray[np.float64]
        x and y.
    size : float
        From one side of a cell to the one across.

    Returns
    -------
    NDArray[np.int64]

    Examples
    --------
    >>> hexagon_of(np.array([[0.0, 0.0], [1.0, 0.0], [0.5, 0.8660254]]), 1.0).tolist()
    [[0, 0], [2, 0], [1, 1]]
    """
    high = size * np.sqrt(3)
    even = np.rint(points / (size, high))
    odd = np.floor(points / (size, high))
    off_even, off_odd = points - even * (size, high), points - (odd + 0.5) * (size, high)
    nearer = np.hypot(*off_odd.T) < np.hypot(*off_even.T)
    return np.where(nearer[:, None], 2 * odd + 1, 2 * even).astype(np.int64)


def _hexagons(cells: NDArray[np.int64], size: float) -> NDArray[np.object_]:
    middles = cells * (size / 2, size * np.sqrt(3) / 2)
    turns = np.radians(60 * np.arange(7) + 30)
    corners = size / np.sqrt(3) * np.column_stack([np.cos(turns), np.sin(turns)])
    return np.asarray(shapely.polygons(middles[:, None, :] + corners[None]))


def _squares(cells: NDArray[np.int64], size: float) -> NDArray[np.object_]:
    low = cells * size
    return np.asarray(shapely.box(low[:, 0], low[:, 1], low[:, 0] + size, low[:, 1] + size))


def _finite(xy: NDArray[np.float64]) -> NDArray[np.bool_]:
    """Which places are some. Column by column, which is many times as fast as row by row."""
    return np.isfinite(xy[:, 0]) & np.isfinite(xy[:, 1])


def _moved(xy: NDArray[np.float64], source: pyproj.CRS, target: pyproj.CRS) -> NDArray[np.float64]:
    """Places elsewhere; infinite where there is none."""
    if source == target:
        return xy
    transformer = transformer_between(source, target)
    return np.asarray(side_by_side(lambda part: np.column_stack(transformer.transform(*part.T)), xy))


def _equal_area(xy: NDArray[np.float64], crs: pyproj.CRS) -> str:
    """An equal-area projection around the middle of the data: cells in it are of one size on the ground. Rounded, so that a few more rows do
    not move all cells."""
    degrees = _moved(xy, crs, LONLAT)
    degrees = degrees[_finite(degrees)]
    if not len(degrees):
        raise BadInput("This layer has no point that could be gathered.")
    # The mean direction, which is right over the 180th meridian too. On a sphere: it only chooses a projection.
    turn, up = np.radians(degrees).T
    lon = round(float(np.degrees(np.arctan2(np.sin(turn).mean(), np.cos(turn).mean()))))
    lat = round(float(np.median(degrees[:, 1])))
    at_lon, at_lat = np.radians([lon, lat])
    cosines = np.sin(at_lat) * np.sin(up) + np.cos(at_lat) * np.cos(up) * np.cos(turn - at_lon)
    away = np.degrees(np.arccos(np.clip(cosines, -1.0, 1.0)))
    if np.max(away) > HEMISPHERE:
        return f"{WORLD} +lon_0={lon} +units=m"
    return f"+proj=laea +lat_0={lat} +lon_0={lon} +units=m"
