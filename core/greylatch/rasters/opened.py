"""Rasters that stay open from one picture to the next: what was read and unpacked of them is not read and unpacked again."""

import os
import threading
from collections import OrderedDict
from pathlib import Path

from rasterio.io import DatasetReader

from greylatch.rasters.info import open_raster

__all__ = ["opened"]

KEPT = 4
"""Of how many rasters a thread keeps the last. No two threads, and no two processes, read from one."""
_mine = threading.local()


def opened(path: str | Path) -> DatasetReader:
    """An open GeoTIFF, to be read at once and not to be closed; a file that was replaced is opened anew.

    Parameters
    ----------
    path : str | Path
        The file.

    Returns
    -------
    DatasetReader

    Raises
    ------
    BadInput
        As `open_raster` does.
    """
    known: OrderedDict[tuple[str | int, ...], DatasetReader] = _mine.__dict__.setdefault("known", OrderedDict())
    try:
        state = os.stat(path)
    except OSError:
        return open_raster(path)
    key = (os.getpid(), str(path), state.st_ino, state.st_size, state.st_mtime_ns)
    if key in known:
        known.move_to_end(key)
        return known[key]
    known[key] = open_raster(path)
    while len(known) > KEPT:
        known.popitem(last=False)[1].close()
    return known[key]
