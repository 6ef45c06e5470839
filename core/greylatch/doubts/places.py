"""Doubts about where things lie: at (0, 0), with longitude and latitude swapped, far from all others, elsewhere than the table says."""

from collections.abc import Iterator

import numpy as np
import shapely
from numpy.typing import NDArray

from greylatch.doubts.doubt import Doubt, about
from greylatch.doubts.mending import exchanged_places, placed_by, placeless
from greylatch.places.coordinates import guess_coordinate_columns
from greylatch.tables.dataset import Dataset, field_type, numbers
from greylatch.wording import counted

__all__ = ["elsewhere", "misplaced"]

FEWEST = 12
FAR = 8.0
"""So many times the half-width of the middle nine tenths from their middle is outside. Common practice, no source."""
SELDOM = 0.02
SAME = {True: 1e-6, False: 0.1}
"""Degrees, and units of a plane, to which a point and its coordinates in the table are the same."""


def misplaced(dataset: Dataset) -> Iterator[Doubt]:
    """Rows at (0, 0), rows that lie among the others once their coordinates are swapped, rows far outside."""
    if dataset.geometry is None:
        return
    x, y = _middles(dataset)
    there = np.isfinite(x) & np.isfinite(y)
    nowhere = there & (x == 0) & (y == 0)
    if nowhere.any() and nowhere.sum() <= max(1, SELDOM * there.sum()):
        yield about(dataset, "place", "", nowhere, f"{counted(int(nowhere.sum()), 'row')} at (0, 0).", placeless())
    rest = there & ~nowhere
    if rest.sum() < FEWEST:
        return
    (west, east), (south, north) = _usual(x[rest]), _usual(y[rest])
    outside = rest & ~((x >= west) & (x <= east) & (y >= south) & (y <= north))
    if not outside.any() or outside.sum() > max(1, SELDOM * rest.sum()):
        return
    swapped = outside & (y >= west) & (y <= east) & (x >= south) & (x <= north)
    if swapped.any():
        yield about(
            dataset,
            "place",
            "",
            swapped,
            f"{counted(int(swapped.sum()), 'row')} that would lie among the others if {'its' if swapped.sum() == 1 else 'their'} coordinates were swapped.",
            exchanged_places() if dataset.kind == "points" and dataset.crs is not None else None,
        )
    far = outside & ~swapped
    if far.any():
        words = f"{counted(int(far.sum()), 'row')} far outside of where all others lie."
        yield about(dataset, "place", "", far, words, placeless())


def elsewhere(dataset: Dataset) -> Iterator[Doubt]:
    """Points that lie elsewhere than the two fields say from which all others have their places: one of the fields was corrected, or the
    point was moved."""
    columns = dataset.columns
    at = guess_coordinate_columns({field.name: field_type(field.type) for field in columns.schema})
    if dataset.kind != "points" or dataset.geometry is None or dataset.crs is None or at is None:
        return
    degrees = dataset.crs.is_geographic
    x, y = numbers(columns, at.x), numbers(columns, at.y)
    points = _middles(dataset)
    there = np.isfinite([*points, x, y]).all(axis=0)

    def off(by: NDArray[np.float64], across: NDArray[np.float64]) -> NDArray[np.bool_]:
        wide = np.abs(by - points[0])
        wide = np.minimum(wide, np.abs(wide - 360)) if degrees else wide  # some count longitudes from 0 to 360
        return np.maximum(wide, np.abs(across - points[1])) > SAME[degrees]

    with np.errstate(invalid="ignore"):
        # Exchanged ones were mended before: what lies right is not put back.
        apart = there & off(x, y) & off(y, x)
    if degrees:
        apart &= (np.abs(x) <= 360) & (np.abs(y) <= 90)
    if there.sum() >= FEWEST and 0 < apart.sum() <= max(1, SELDOM * there.sum()):
        lie = "row that lies" if apart.sum() == 1 else "rows that lie"
        words = f"{apart.sum():,} {lie} elsewhere than '{at.x}' and '{at.y}' say."
        yield about(dataset, "coordinates", at.y, apart, words, placed_by(at))


def _middles(dataset: Dataset) -> NDArray[np.float64]:
    """x and y of each row's shape, NaN where it has none; of single points without a shape being made of any."""
    if dataset.places is not None:
        return dataset.places.T
    assert dataset.shapes is not None
    lacking = shapely.is_missing(dataset.shapes) | shapely.is_empty(dataset.shapes)
    filled = np.where(lacking, shapely.Point(np.nan, np.nan), dataset.shapes)
    return shapely.get_coordinates(shapely.centroid(filled)).T


def _usual(values: NDArray[np.float64]) -> tuple[float, float]:
    low, high = np.quantile(values, [0.05, 0.95])
    middle, half = (low + high) / 2, (high - low) / 2
    return middle - FAR * half, middle + FAR * half
