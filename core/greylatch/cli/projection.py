"""Commands about where a map lies: reproject, suggest-projection."""

import argparse
from collections.abc import Callable
from dataclasses import asdict, replace
from pathlib import Path

import numpy as np
import pyproj
import shapely

from greylatch.cli.printing import print_json
from greylatch.errors import BadInput
from greylatch.formats.files import read_file
from greylatch.formats.geoparquet import write_geoparquet
from greylatch.formats.kinds import file_kind
from greylatch.formats.written_by_gdal import write_geopackage
from greylatch.places.crs import LONLAT
from greylatch.places.frame import Frame
from greylatch.places.suggest import suggest_projections
from greylatch.tables.dataset import Dataset, Shapes

__all__ = ["elsewhere", "reproject", "suggest"]

_WRITERS: dict[str, Callable[[Dataset, Path], None]] = {".parquet": write_geoparquet, ".gpkg": write_geopackage}


def reproject(arguments: argparse.Namespace) -> None:
    """Write a file's shapes or pixels in another projection."""
    frame, out = Frame.named(arguments.to), Path(arguments.out)
    if file_kind(arguments.file).holds == "raster":
        _reproject_raster(arguments, frame, out)
        return
    if out.suffix.lower() not in _WRITERS:
        raise BadInput(f"Shapes are written as {' or '.join(_WRITERS)}, not as '{out.suffix}'.")
    data, beyond = elsewhere(_placed(arguments.file, arguments.crs), frame)
    _WRITERS[out.suffix.lower()](data, out)
    print(f"{len(data):,} {data.kind} in {frame.name}: {out}{beyond}")


def elsewhere(data: Dataset, frame: Frame) -> tuple[Dataset, str]:
    """A dataset in another projection, and in words how much of it lies beyond that.

    Parameters
    ----------
    data : Dataset
        Areas, lines or points.
    frame : Frame
        The projection.

    Returns
    -------
    tuple[Dataset, str]

    Raises
    ------
    BadInput
        For a bare table, and where all lies beyond.
    """
    if data.shapes is None or data.crs is None:
        raise BadInput("A table without shapes lies nowhere.")
    shapes = frame.project(data.shapes, data.crs)
    lost = int((shapely.is_empty(shapes) & ~shapely.is_empty(data.shapes)).sum())
    if lost == len(shapes):
        raise BadInput(f"Everything lies beyond the limits of {frame.name}.")
    beyond = f"; {lost:,} lie beyond the projection's limits" if lost else ""
    return replace(data, geometry=shapes, system=frame.crs), beyond


def _reproject_raster(arguments: argparse.Namespace, frame: Frame, out: Path) -> None:
    from greylatch.rasters.info import corrected
    from greylatch.rasters.reproject import reproject_raster

    if out.suffix.lower() not in (".tif", ".tiff"):
        raise BadInput(f"A raster is written as .tif, not as '{out.suffix}'.")
    with corrected(arguments.file, arguments.crs) as raster:
        width, height = reproject_raster(raster, frame, out)
    print(f"{width:,} × {height:,} px in {frame.name}: {out}")


def suggest(arguments: argparse.Namespace) -> None:
    """Print which projections suit a file, and why."""
    suggestions = suggest_projections(*_ground(arguments))
    if arguments.json:
        print_json([asdict(suggestion) for suggestion in suggestions])
        return
    for suggestion in suggestions:
        print(
            f"{suggestion.name}\n  {suggestion.crs}\n  {suggestion.reason}"
            + (" Equal-area." if suggestion.equal_area else "")
        )


def _ground(arguments: argparse.Namespace) -> tuple[Shapes, pyproj.CRS]:
    if file_kind(arguments.file).holds != "raster":
        data = _placed(arguments.file, arguments.crs)
        assert data.shapes is not None and data.crs is not None
        return data.shapes, data.crs
    from greylatch.rasters.info import corrected, open_raster, raster_bounds

    with corrected(arguments.file, arguments.crs) as raster, open_raster(raster) as source:
        return np.array([shapely.box(*raster_bounds(source))], dtype=object), LONLAT


def _placed(file: str, crs: str | None) -> Dataset:
    data = read_file(file, crs=crs).dataset
    if data.shapes is None or data.crs is None:
        raise BadInput(f"{Path(file).name} holds no shapes.")
    return data
