"""A reading as a cartographer would begin it: cells and dots of a size that suits the data."""

import math

import numpy as np
import shapely

from greylatch.encodings.by_classes import ColourByClasses
from greylatch.errors import BadInput
from greylatch.places.crs import LONLAT, reproject
from greylatch.readings.centres import Centres
from greylatch.readings.contours import Contours
from greylatch.readings.dots import Dots
from greylatch.readings.grid import VALUE, Grid
from greylatch.readings.kinds import AnyReading
from greylatch.readings.rounds import Rounds
from greylatch.sheet.parts import Classing
from greylatch.tables.dataset import Dataset, fields

__all__ = ["begun", "begun_contours", "colours_of_cells", "said"]

ACROSS = 24
"""Cells from one side of the data to the other, about."""
DOTS = 3_000
CONTOURS = 15
METRES = 111_320.0
"""Of a degree of latitude, about (ISO 80000-3's nautical mile times 60)."""


def begun(by: str, dataset: Dataset) -> AnyReading:
    """A reading of a kind, with what suits a dataset.

    Parameters
    ----------
    by : str
        'centres', 'hexagon', 'square', 'dots' or 'rounds'.
    dataset : Dataset
        The data.

    Returns
    -------
    AnyReading

    Raises
    ------
    BadInput
        For data that cannot be read so, and for another kind.
    """
    if by == "centres":
        reading: AnyReading = Centres()
    elif by in ("hexagon", "square"):
        reading = Grid(shape="hexagon" if by == "hexagon" else "square", size=_cell(dataset))
    elif by == "dots":
        reading = _dots(dataset)
    elif by == "rounds":
        reading = Rounds(metres=_cell(dataset) / 2)
    else:
        raise BadInput(f"Features are not drawn as '{by}'.")
    reading.kind_of(dataset.kind)
    return reading


def begun_contours(low: float, high: float) -> Contours:
    """Contours of a surface that lies mostly between two values.

    Parameters
    ----------
    low : float
        The one.
    high : float
        The other.

    Returns
    -------
    Contours

    Examples
    --------
    >>> begun_contours(3, 470).interval
    50.0
    """
    return Contours(interval=said(max(high - low, abs(high) * 1e-6, 1e-9) / CONTOURS))


def colours_of_cells() -> ColourByClasses:
    """The colours that cells begin with: classes of what they hold."""
    return ColourByClasses(classing=Classing(field=VALUE, method="quantile"))


def _cell(dataset: Dataset) -> float:
    assert dataset.shapes is not None and dataset.crs is not None
    west, south, east, north = shapely.total_bounds(reproject(dataset.shapes, dataset.crs, LONLAT))
    if not np.isfinite([west, south, east, north]).all():
        return 1_000.0
    wide = (east - west) * METRES * max(0.1, math.cos(math.radians((south + north) / 2)))
    return said(max(wide, (north - south) * METRES, 1_000.0) / ACROSS)


def _dots(dataset: Dataset) -> Dots:
    numeric = [each.name for each in fields(dataset.columns) if each.type in ("number", "integer")]
    counts = [name for name in numeric if dataset.meaning(name).kind == "count"] or numeric
    if not counts:
        raise BadInput(
            "There is no field of numbers that dots could stand for.", "Calculate one, or correct what the fields hold."
        )
    total = float(np.nansum(np.abs(dataset.columns[counts[0]].to_numpy().astype(np.float64))))
    return Dots(field=counts[0], each=said(max(total, 1.0) / DOTS))


def said(number: float) -> float:
    """The nearest of 1, 2 and 5 times a power of ten that is no smaller.

    >>> said(1340), said(0.03)
    (2000.0, 0.05)
    """
    power = 10.0 ** math.floor(math.log10(number))
    return next(float(f"{step * power:.6g}") for step in (1, 2, 5, 10) if step * power >= number * (1 - 1e-9))
