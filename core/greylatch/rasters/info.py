"""What a raster is: bands, reference system, nodata, distribution. Only GeoTIFF is opened, whatever the file claims."""

import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import asdict, dataclass, field
from pathlib import Path
from typing import Any

import numpy as np
import pyproj
import rasterio
from rasterio.dtypes import can_cast_dtype
from rasterio.errors import CRSError, RasterioError, RasterioIOError
from rasterio.io import DatasetReader
from rasterio.shutil import copy as copy_raster

from greylatch.classes.distribution import Distribution, distribution
from greylatch.errors import BadFile
from greylatch.places.bounds import Bounds
from greylatch.places.crs import LONLAT, lonlat_box, parse_crs, transformer_between
from greylatch.places.domain import crs_unit
from greylatch.places.frame import MERCATOR, Frame
from greylatch.places.stated import crs_name
from greylatch.rasters.unusual import make_usual, unusual
from greylatch.tables.fieldtypes import finite
from greylatch.wording import megabytes

__all__ = [
    "MAX_PIXELS",
    "RasterInfo",
    "check_all_pixels",
    "colour_of",
    "corrected",
    "open_raster",
    "raster_bounds",
    "raster_crs",
    "raster_info",
    "raster_resolution",
    "unplaced_raster_info",
]

MAX_PIXELS = 4_000_000_000
MAX_BLOCK = 256 * 1024**2
"""Bytes of one band of a block: a reader takes all of it at once."""


NOTHING = 1e-8
"""Degrees, a millimetre: a raster that is no wider or higher shows nothing."""


@dataclass(frozen=True)
class RasterInfo:
    """A raster in figures. `bounds` is west, south, east, north in degrees; `cell` the pixel size in units of the CRS;
    `nodata` is None where it is no finite number, of which `notes` then tells."""

    width: int
    height: int
    bands: int
    type: str
    colour: str
    nodata: float | None
    crs: str
    bounds: Bounds
    cell: tuple[float, float]
    mercator_resolution: float
    overviews: int
    first_band: Distribution
    low: float | None
    high: float | None
    notes: list[str] = field(default_factory=list)

    def as_json(self) -> dict[str, Any]:
        """Plain data for an answer in JSON, which knows no number that is not finite."""
        return finite(asdict(self))


def open_raster(path: str | Path, overview: int | None = None, placed: bool = True) -> DatasetReader:
    """An open GeoTIFF.

    Parameters
    ----------
    path : str | Path
        The file.
    overview : int | None
        Which overview to read; None reads the raster itself.
    placed : bool
        Whether data must say where on earth they lie.

    Returns
    -------
    DatasetReader

    Raises
    ------
    BadInput
        Where the file is none, holds what is no map's values, or is too large or cut into blocks too large to be read
        in parts; and, unless `placed` is false, where it has no place on earth.
    """
    options = {} if overview is None else {"OVERVIEW_LEVEL": overview}
    try:
        source = rasterio.open(path, driver="GTiff", sharing=False, **options)
    except (RasterioIOError, CRSError, ValueError) as error:
        problem = "is not a readable GeoTIFF" if Path(path).is_file() else "is not there"
        raise BadFile(f"{Path(path).name} {problem}.") from error
    try:
        _check_pixels(source, Path(path).name)
        if placed:
            _check_place(source, Path(path).name)
    except BaseException:
        source.close()
        raise
    return source


def _check_pixels(source: DatasetReader, name: str) -> None:
    """Refuse in words what cannot be read."""
    if source.count == 0:
        raise BadFile(f"{name} holds no band.")
    if source.width * source.height > MAX_PIXELS:
        raise BadFile(f"{name} has more than {MAX_PIXELS:,} pixels.", "Cut it into parts first.")
    high, wide = source.block_shapes[0]
    block = high * wide * np.dtype(source.dtypes[0].replace("complex_int16", "complex64")).itemsize
    if block > MAX_BLOCK:
        raise BadFile(
            f"{name} is cut into blocks of {wide:,} × {high:,} pixels, {megabytes(block)} each, which cannot be read in parts.",
            "Write it anew with tiles of 256 or 512 pixels.",
        )
    if source.dtypes[0].startswith("complex"):
        raise BadFile(f"{name} holds complex numbers.", "Make a band of their size or their angle first.")


def _check_place(source: DatasetReader, name: str) -> None:
    """Refuse in words what has no place on earth."""
    points = source.gcps[0]
    if points and (source.crs is None or source.transform.is_identity):
        raise BadFile(
            f"{name} is placed by {len(points)} control points and not by a grid.", "Warp it onto a projection first."
        )
    if source.crs is None:
        raise BadFile(
            f"{name} says nothing about its projection.", "Give the file a coordinate reference system, or choose one."
        )
    if source.transform.is_identity or source.transform.is_degenerate:
        raise BadFile(
            f"{name} names its projection but not where in it the pixels lie.",
            "Give the file its transform, or a world file.",
        )
    if not np.isfinite((*source.bounds, *source.res)).all() or min(map(abs, source.res)) == 0:
        raise BadFile(f"The bounds of {name} are no numbers.", "Is its transform the right one?")
    raster_bounds(source)


def raster_crs(source: DatasetReader) -> pyproj.CRS:
    """The raster's CRS, checked as every other text that names one.

    Raises
    ------
    BadInput
    """
    try:
        return parse_crs(source.crs.to_wkt())
    except CRSError as error:
        raise BadFile("The raster's coordinate reference system cannot be read.") from error


def raster_bounds(source: DatasetReader) -> Bounds:
    """West, south, east, north in degrees; all the way round for a raster over the 180th meridian.

    Raises
    ------
    BadInput
    """
    west, east = sorted((source.bounds.left, source.bounds.right))
    south, north = sorted((source.bounds.bottom, source.bounds.top))
    crs = raster_crs(source)
    box = lonlat_box(crs, west, south, east, north)
    if box[2] - box[0] < NOTHING or box[3] - box[1] < NOTHING:
        raise BadFile(
            f"The whole raster is {east - west:g} by {north - south:g} units of {crs_name(crs)}: it covers no ground.",
            "Is its projection the right one?",
        )
    return box


def raster_info(path: str | Path, crs: str | None = None) -> RasterInfo:
    """Describe the GeoTIFF at `path`; the distribution comes from a reduced reading of the first band.

    Parameters
    ----------
    path : str | Path
        The file.
    crs : str | None
        Stands in for the file's own.

    Returns
    -------
    RasterInfo

    Raises
    ------
    BadInput
        For a file that is no GeoTIFF, or one that breaks off.
    """
    with corrected(path, crs) as placed_path, open_raster(placed_path) as source:
        figures = _figures(source, Path(path).name)
        bounds = raster_bounds(source)
        whole = source.crs.is_geographic and abs(source.bounds.right - source.bounds.left) >= 359
        if bounds[0] == -180 and bounds[2] == 180 and not whole:
            figures["notes"].append("The raster lies across the 180th meridian.")
        if odd := unusual(path):
            figures["notes"].append(odd)
        return RasterInfo(
            crs=crs_name(raster_crs(source)),
            bounds=bounds,
            mercator_resolution=raster_resolution(source, MERCATOR),
            **figures,
        )


def unplaced_raster_info(path: str | Path) -> dict[str, Any]:
    """What can be said of a GeoTIFF that does not say where it lies: as `RasterInfo.as_json`, with null for its
    place.

    Raises
    ------
    BadInput
        For a file that is no GeoTIFF, or one that breaks off.
    """
    with open_raster(path, placed=False) as source:
        figures = _figures(source, Path(path).name)
        try:
            _check_place(source, Path(path).name)
        except BadFile as error:
            figures["notes"].append(str(error))
        figures["first_band"] = asdict(figures["first_band"])
        return finite({**figures, "crs": None, "bounds": None, "mercator_resolution": None})


def _figures(source: DatasetReader, name: str) -> dict[str, Any]:
    """What the pixels themselves say."""
    shrink = max(1, int(max(source.width, source.height) / 1024))
    try:
        sample = source.read(
            1, out_shape=(max(1, source.height // shrink), max(1, source.width // shrink)), masked=True
        )
    except RasterioError as error:
        raise BadFile(f"{name} breaks off: not all of its pixels can be read.") from error
    numbers = np.ma.filled(sample.astype(np.float64), np.nan).ravel()
    there = numbers[np.isfinite(numbers)]
    low, high = (float(v) for v in np.percentile(there, [2, 98])) if len(there) else (None, None)
    nodata = source.nodata
    notes = []
    if nodata is not None and not np.isfinite(nodata):
        notes.append(f"Pixels without data are marked by {'NaN' if np.isnan(nodata) else 'an infinite number'}.")
        nodata = None
    return {
        "width": source.width, "height": source.height, "bands": source.count, "type": source.dtypes[0], "colour": colour_of(source),
        "nodata": nodata, "cell": source.res, "overviews": len(source.overviews(1)), "first_band": distribution(numbers), "low": low,
        "high": high, "notes": notes,
    }  # fmt: skip


@contextmanager
def corrected(path: str | Path, crs: str | None = None, nodata: float | None = None) -> Iterator[Path]:
    """The raster at `path`, or a copy of it: made plain where it is unusual, and with what is said of it by hand.

    Parameters
    ----------
    path : str | Path
        The file.
    crs : str | None
        The reference system of the coordinates, in place of the file's own.
    nodata : float | None
        The value of pixels that hold nothing, in place of the file's own.

    Returns
    -------
    Iterator[Path]

    Raises
    ------
    BadInput
        For a CRS that names none, and a value that no pixel can have.
    """
    odd = unusual(path)
    if crs is None and nodata is None and not odd:
        yield Path(path)
        return
    chosen = None if crs is None else parse_crs(crs)
    with tempfile.TemporaryDirectory(prefix="greylatch-") as folder:
        if odd:
            plain = Path(folder) / "plain"
            plain.mkdir()
            make_usual(path, plain / Path(path).name)
            path = plain / Path(path).name
        if chosen is None and nodata is None:
            yield Path(path)
            return
        copy = Path(folder) / Path(path).name
        try:
            # A new file, not the same bytes: to write into one whose structure is broken ends the process.
            check_all_pixels(path, placed=False)
            with open_raster(path, placed=False) as source:
                _check_value(source, nodata)
                copy_raster(source, copy, driver="GTiff", bigtiff="IF_SAFER")
            with rasterio.open(copy, "r+", driver="GTiff") as target:
                if chosen is not None:
                    target.crs = chosen.to_wkt()
                if nodata is not None:
                    target.nodata = nodata
        except (RasterioError, CRSError, ValueError) as error:
            raise BadFile(f"{Path(path).name} cannot be corrected so: {error}.") from error
        yield copy


def _check_value(source: DatasetReader, value: float | None) -> None:
    if value is not None and not all(can_cast_dtype(value, kind) for kind in source.dtypes):
        raise BadFile(
            f"No pixel of type {source.dtypes[0]} holds {value:g}.", "No data is a value that pixels can have."
        )


def colour_of(source: DatasetReader) -> str:
    """'palette', 'rgba', 'rgb' or 'one band'."""
    names = [interpretation.name for interpretation in source.colorinterp]
    if names[0] == "palette" and source.dtypes[0] == "uint8":
        return "palette"
    bytes_each = source.dtypes[0] in ("uint8", "uint16")
    if source.count >= 4 and bytes_each and names[3] == "alpha":
        return "rgba"
    coloured = names[:3] == ["red", "green", "blue"] or source.dtypes[0] == "uint8"
    return "rgb" if source.count >= 3 and bytes_each and coloured else "one band"


def raster_resolution(source: DatasetReader, frame: Frame) -> float:
    """Units per px of `frame` at which the raster's middle shows one source pixel per screen pixel.

    Parameters
    ----------
    source : DatasetReader
        The open raster.
    frame : Frame
        Where the map lies.

    Returns
    -------
    float
    """
    left, bottom, right, top = source.bounds
    x, y = (left + right) / 2, (bottom + top) / 2
    cell_x, cell_y = source.res
    across = np.array([x - cell_x / 2, x + cell_x / 2, x, x])
    down = np.array([y, y, y - cell_y / 2, y + cell_y / 2])
    crs = raster_crs(source)
    lon, lat = transformer_between(crs, LONLAT).transform(across, down, errcheck=False)
    # One cell is small, so the middle may lie on the 180th meridian but its sides are never half a turn apart.
    lon = lon[0] + (lon - lon[0] + 180) % 360 - 180
    if frame.domain.family == "cylinder":
        lat = np.clip(lat, -85, 85)
    mx, my = transformer_between(LONLAT, frame.crs).transform(lon, lat, errcheck=False)
    with np.errstate(invalid="ignore"):
        area = np.hypot(mx[1] - mx[0], my[1] - my[0]) * np.hypot(mx[3] - mx[2], my[3] - my[2])
    if np.isfinite(area) and area > 0:
        return float(area**0.5)
    return max(abs(cell_x), abs(cell_y)) / crs_unit(crs) * frame.unit


def check_all_pixels(path: str | Path, placed: bool = True) -> None:
    """Read every block once.

    Parameters
    ----------
    path : str | Path
        The file.
    placed : bool
        Whether data must say where on earth they lie.

    Raises
    ------
    BadInput
        Where the file breaks off.
    """
    with open_raster(path, placed=placed) as source:
        for _, window in source.block_windows(1):
            try:
                source.read(window=window)
            except RasterioError as error:
                raise BadFile(
                    f"{Path(path).name} breaks off at row {window.row_off}, column {window.col_off}: its pixels cannot be read.",
                    "Fetch the file again.",
                ) from error
