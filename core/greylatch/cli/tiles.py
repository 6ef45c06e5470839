"""The command that cuts a raster."""

import argparse
import sys

from greylatch.places.frame import Frame
from greylatch.rasters.info import in_crs
from greylatch.tiles.raster_pyramid import cut_raster


def cut(given: argparse.Namespace) -> None:
    """Cut a GeoTIFF into tiles, with progress on standard error where that is a terminal."""
    frame = Frame.of_matrix_set(given.matrix_set)
    with in_crs(given.raster, given.crs) as raster:
        made = cut_raster(
            raster, given.out, given.size, given.min_zoom, given.max_zoom, given.resampling, progress=progress_line, frame=frame,
            format=given.format, rows=given.rows,
        )  # fmt: skip
    print(f"{made['tiles']:,} tiles, levels {made['min_zoom']} to {made['max_zoom']}: {given.out}")


def progress_line(done: int, total: int, what: str) -> None:
    """One line that is written over."""
    if sys.stderr.isatty():
        print(f"\r{done}/{total} · {what}", end="\n" if done == total else "", file=sys.stderr, flush=True)
