"""The command that cuts a raster."""

import argparse
import sys

from greylatch.places.frame import Frame
from greylatch.rasters.info import corrected
from greylatch.tiles.raster_pyramid import cut_raster

__all__ = ["progress_line"]


def cut(arguments: argparse.Namespace) -> None:
    """Cut a GeoTIFF into tiles, with progress on standard error where that is a terminal."""
    frame = Frame.of_matrix_set(arguments.matrix_set)
    with corrected(arguments.raster, arguments.crs) as raster:
        summary = cut_raster(
            raster, arguments.out, arguments.size, arguments.min_zoom, arguments.max_zoom, arguments.resampling, progress=progress_line, frame=frame,
            format=arguments.format, rows=arguments.rows,
        )  # fmt: skip
    print(f"{summary['tiles']:,} tiles, levels {summary['min_zoom']} to {summary['max_zoom']}: {arguments.out}")


def progress_line(done: int, total: int, what: str) -> None:
    """One line that is written over.

    Parameters
    ----------
    done : int
        How much of it is done.
    total : int
        How much there is to do.
    what : str
        What is being done.
    """
    if sys.stderr.isatty():
        print(f"\r{done}/{total} · {what}", end="\n" if done == total else "", file=sys.stderr, flush=True)
