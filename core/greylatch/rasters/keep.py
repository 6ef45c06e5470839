"""How Grey Latch itself keeps rasters: as cloud optimised GeoTIFFs with overviews."""

from pathlib import Path

import numpy as np
import rasterio
from rasterio.errors import RasterioError
from rasterio.shutil import copy as copy_raster

from greylatch.errors import BadInput
from greylatch.rasters.info import RasterInfo, check_all_pixels, corrected, open_raster, raster_info
from greylatch.rasters.unusual import unusual

__all__ = ["keep_as_cog"]


def keep_as_cog(path: str | Path, out: str | Path, crs: str | None = None, nodata: float | None = None) -> RasterInfo:
    """Write the GeoTIFF at `path` as a cloud optimised one to `out`, every pixel read.

    Parameters
    ----------
    path : str | Path
        The file.
    out : str | Path
        Where to write it.
    crs : str | None
        Stands in for the file's own.
    nodata : float | None
        The value of pixels that hold nothing; None leaves what the file says.

    Returns
    -------
    RasterInfo
        What it holds.

    Raises
    ------
    BadInput
        For a file that breaks off.
    """
    with corrected(path, crs, nodata) as source_path:
        check_all_pixels(source_path)
        try:
            with open_raster(source_path) as raster:
                copy_raster(
                    raster, out, driver="COG", compress="DEFLATE", predictor=_predictor(raster), resampling=_resampling(raster),
                    bigtiff="IF_SAFER",
                )  # fmt: skip
        except RasterioError as error:
            raise BadInput(f"{Path(path).name} cannot be read to its end: {error}.") from error
    info = raster_info(out)
    if odd := unusual(path):
        info.notes.append(odd)
    return info


def _predictor(raster: rasterio.DatasetReader) -> str:
    bits = raster.tags(1, ns="IMAGE_STRUCTURE").get("NBITS")
    if bits and int(bits) not in (8, 16, 32, 64):
        return "NO"  # differences are taken of whole bytes only
    return "FLOATING_POINT" if np.dtype(raster.dtypes[0]).kind == "f" else "STANDARD"


def _resampling(raster: rasterio.DatasetReader) -> str:
    """Means of neighbours, but not of numbers that stand for something: palettes and single bits."""
    bits = raster.tags(1, ns="IMAGE_STRUCTURE").get("NBITS")
    return "nearest" if raster.colorinterp[0].name == "palette" or bits == "1" else "average"
