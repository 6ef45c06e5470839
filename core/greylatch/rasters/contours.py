"""Contours: lines of equal height through the middles of a raster's pixels."""

import math
from pathlib import Path
from typing import Any

import contourpy
import numpy as np
import pyarrow as pa
import pyproj
import shapely
from numpy.typing import NDArray
from rasterio.enums import Resampling
from rasterio.errors import RasterioError

from greylatch.errors import BadFile, BadInput
from greylatch.rasters.info import open_raster
from greylatch.readings.contours import HEIGHT, INDEX, NUMBERED, Contours
from greylatch.tables.dataset import Dataset
from greylatch.tables.meaning import Meaning
from greylatch.wording import counted

__all__ = ["contour_lines"]

MOST_PIXELS = 16_000_000
"""Beyond, lines run through the means of several pixels: finer ones would be heavier than any map can show."""
MOST_LEVELS = 1_000


def contour_lines(path: str | Path, contours: Contours) -> Dataset:
    """The contours of a band in the raster's own system; one row for each height, from the lowest.

    Lines run straight through each square of four pixels, by marching squares (contourpy); they end where there are no data.

    Parameters
    ----------
    path : str | Path
        A GeoTIFF.
    contours : Contours
        Band, interval, base, and which are index lines.

    Returns
    -------
    Dataset

    Raises
    ------
    BadInput
        For a band that there is not, an interval that gives no line or more than a thousand heights, and a file that breaks off.
    """
    name = Path(path).name
    with open_raster(path) as source:
        if not 1 <= contours.band <= source.count:
            raise BadInput(f"{name} has {counted(source.count, 'band')}, and band {contours.band} was asked for.")
        step = max(1, math.ceil(math.sqrt(source.width * source.height / MOST_PIXELS)))
        shape = (math.ceil(source.height / step), math.ceil(source.width / step))
        try:
            values = source.read(
                contours.band,
                out_shape=shape,
                resampling=Resampling.average if step > 1 else Resampling.nearest,
                masked=True,
            )
        except RasterioError as error:
            raise BadFile(f"{name} breaks off: not all of its pixels can be read.") from error
        transform, crs = source.transform, pyproj.CRS.from_wkt(source.crs.to_wkt())
        wide, high = source.width / shape[1], source.height / shape[0]
    heights = np.ma.masked_invalid(values.astype(np.float64))
    numbers = _levels(heights, contours, name)
    # A value stands in the middle of its pixel.
    columns, rows = (np.arange(shape[1]) + 0.5) * wide, (np.arange(shape[0]) + 0.5) * high
    marching = contourpy.contour_generator(
        columns, rows, heights, name="serial", line_type=contourpy.LineType.ChunkCombinedOffset
    )
    there, lines = [], []
    for number in numbers.tolist():
        # One chunk: all places one after the other, and where among them each line begins.
        traced: Any = marching.lines(contours.base + number * contours.interval)
        places, begins = traced[0][0], traced[1][0]
        if places is None:
            continue
        x, y = transform @ (places[:, 0], places[:, 1])
        owner = np.repeat(np.arange(len(begins) - 1), np.diff(begins.astype(np.intp)))
        pieces = shapely.linestrings(np.column_stack([x, y]), indices=owner)
        there.append(number)
        lines.append(shapely.multilinestrings(pieces) if len(pieces) > 1 else pieces[0])
    if not lines:
        raise BadInput(f"No contour at this interval runs through {name}.", "Choose a smaller interval.")
    return Dataset(
        _columns(np.array(there), contours),
        "lines",
        np.array(lines, dtype=object),
        crs,
        meanings={HEIGHT: Meaning("measure"), NUMBERED: Meaning("measure")},
    )


def _levels(heights: NDArray[np.float64], contours: Contours, name: str) -> NDArray[np.int64]:
    """How many intervals above the base each line lies that may run through the values."""
    known = np.ma.compressed(heights)
    if not len(known):
        raise BadInput(f"Band {contours.band} of {name} holds no data at all.")
    least, greatest = float(known.min()), float(known.max())
    first, last = (
        math.ceil((least - contours.base) / contours.interval),
        math.floor((greatest - contours.base) / contours.interval),
    )
    if last - first >= MOST_LEVELS:
        raise BadInput(
            f"That would be {last - first + 1:,} heights; at most {MOST_LEVELS:,} are drawn.",
            "Choose a larger interval.",
        )
    return np.arange(first, last + 1, dtype=np.int64)


def _columns(numbers: NDArray[np.int64], contours: Contours) -> pa.Table:
    heights = np.round(contours.base + numbers * contours.interval, 9)
    index = numbers % contours.index == 0 if contours.index else np.zeros(len(numbers), dtype=bool)
    return pa.table({HEIGHT: heights, INDEX: index, NUMBERED: pa.array(heights, mask=~index)})
