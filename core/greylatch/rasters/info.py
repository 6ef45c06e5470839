"""What a raster is: bands, reference system, nodata, distribution. Only GeoTIFF is opened, whatever the file claims."""

from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any

import numpy as np
import rasterio
from rasterio.errors import RasterioError, RasterioIOError
from rasterio.io import DatasetReader
from rasterio.warp import transform_bounds

from greylatch.classes.distribution import Distribution, distribution
from greylatch.errors import BadInput
from greylatch.places.crs import WEB_MERCATOR, crs_name, parse_crs

MAX_PIXELS = 4_000_000_000


@dataclass(frozen=True)
class RasterInfo:
    """A raster in figures. `bounds` is west, south, east, north in degrees; `cell` the pixel size in units of the CRS."""

    width: int
    height: int
    bands: int
    type: str
    colour: str
    nodata: float | None
    crs: str
    bounds: tuple[float, float, float, float]
    cell: tuple[float, float]
    mercator_resolution: float
    overviews: int
    first_band: Distribution
    low: float | None
    high: float | None

    def as_json(self) -> dict[str, Any]:
        """Plain data for an answer in JSON."""
        return asdict(self)


def open_raster(path: str | Path, overview: int | None = None) -> DatasetReader:
    """An open GeoTIFF. Raises BadInput where the file is none, has no place on earth or is too large."""
    options = {} if overview is None else {"OVERVIEW_LEVEL": overview}
    try:
        source = rasterio.open(path, driver="GTiff", sharing=False, **options)
    except RasterioIOError as error:
        problem = "is not a readable GeoTIFF" if Path(path).is_file() else "is not there"
        raise BadInput(f"{Path(path).name} {problem}.") from error
    if source.crs is None:
        source.close()
        raise BadInput(
            f"{Path(path).name} says nothing about its projection.",
            "Give the file a coordinate reference system first.",
        )
    if source.width * source.height > MAX_PIXELS:
        source.close()
        raise BadInput(f"{Path(path).name} has more than {MAX_PIXELS:,} pixels.", "Cut it into parts first.")
    return source


def raster_info(path: str | Path) -> RasterInfo:
    """Describe the GeoTIFF at `path`; the distribution comes from a reduced reading of the first band.

    Raises BadInput for a file that is no GeoTIFF, or one that breaks off.
    """
    with open_raster(path) as source:
        shrink = max(1, int(max(source.width, source.height) / 1024))
        try:
            sample = source.read(
                1, out_shape=(max(1, source.height // shrink), max(1, source.width // shrink)), masked=True
            )
        except RasterioError as error:
            raise BadInput(f"{Path(path).name} breaks off: not all of its pixels can be read.") from error
        numbers = np.ma.filled(sample.astype(np.float64), np.nan).ravel()
        finite = numbers[np.isfinite(numbers)]
        low, high = (float(v) for v in np.percentile(finite, [2, 98])) if len(finite) else (None, None)
        bounds = transform_bounds(source.crs, "EPSG:4326", *source.bounds, densify_pts=21)
        return RasterInfo(
            source.width, source.height, source.count, source.dtypes[0], colour_of(source), source.nodata,
            crs_name(parse_crs(source.crs.to_wkt())), bounds, source.res, mercator_resolution(source),
            len(source.overviews(1)), distribution(numbers), low, high,
        )  # fmt: skip


def colour_of(source: DatasetReader) -> str:
    """'palette', 'rgba', 'rgb' or 'one band'."""
    names = [one.name for one in source.colorinterp]
    if names[0] == "palette":
        return "palette"
    if source.count >= 4 and source.dtypes[0] == "uint8" and names[3] == "alpha":
        return "rgba"
    return "rgb" if source.count >= 3 and source.dtypes[0] == "uint8" else "one band"


def mercator_resolution(source: DatasetReader) -> float:
    """Web Mercator metres per pixel at which the raster's middle shows one source pixel per screen pixel."""
    left, bottom, right, top = source.bounds
    x, y = (left + right) / 2, (bottom + top) / 2
    cell_x, cell_y = source.res
    west, south, east, north = transform_bounds(
        source.crs, WEB_MERCATOR.to_wkt(), x - cell_x / 2, y - cell_y / 2, x + cell_x / 2, y + cell_y / 2
    )
    return float(((east - west) * (north - south)) ** 0.5)


def check_all_pixels(path: str | Path) -> None:
    """Read every block once. Raises BadInput where the file breaks off."""
    with open_raster(path) as source:
        for _, window in source.block_windows(1):
            try:
                source.read(window=window)
            except RasterioError as error:
                raise BadInput(
                    f"{Path(path).name} breaks off at row {window.row_off}, column {window.col_off}: its pixels cannot be read.",
                    "Fetch the file again.",
                ) from error
