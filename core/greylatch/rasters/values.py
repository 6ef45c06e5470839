"""The numbers of a raster's band, for classes and figures."""

from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from rasterio.errors import RasterioError
from rasterio.windows import Window

from greylatch.errors import BadFile, BadInput
from greylatch.rasters.info import open_raster

__all__ = ["MOST", "band_values"]

MOST = 4_000_000
"""Pixels up to which all are taken."""
ROWS = 512
"""Rows that are read at once."""


def band_values(path: str | Path, band: int = 1) -> tuple[NDArray[np.float64], str]:
    """The pixels of a band as float64, NaN where there are no data, row by row; and what is to be said of them.

    Of more than four million pixels every second, third, … of every such row is taken, evenly over the whole raster.

    Parameters
    ----------
    path : str | Path
        A GeoTIFF.
    band : int
        Counted from 1.

    Returns
    -------
    tuple[NDArray[np.float64], str]

    Raises
    ------
    BadInput
        For a band that there is not, of complex numbers, or a file that breaks off.
    """
    with open_raster(path, placed=False) as source:
        if not 1 <= band <= source.count:
            there = "one band" if source.count == 1 else f"{source.count} bands"
            raise BadInput(f"{Path(path).name} has {there}, and band {band} was asked for.")
        if source.dtypes[band - 1].startswith("complex"):
            raise BadInput(f"Band {band} holds complex numbers, which have no order.")
        step = max(1, int(np.ceil(np.sqrt(source.width * source.height / MOST))))
        parts = []
        try:
            for top in range(0, source.height, ROWS):
                window = Window(0, top, source.width, min(ROWS, source.height - top))
                pixels = source.read(band, window=window, masked=True)[-top % step :: step, ::step]
                parts.append(np.ma.filled(pixels.astype(np.float64), np.nan).ravel())
        except RasterioError as error:
            raise BadFile(f"{Path(path).name} breaks off: not all of its pixels can be read.") from error
    note = f"Of every {step} × {step} pixels one was taken." if step > 1 else ""
    return np.concatenate(parts), note
