"""A raster at a glance, before it is kept: a small picture of it, and how the values of each band are spread."""

import base64
import io
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from PIL import Image
from rasterio.errors import RasterioError

from greylatch.errors import BadFile
from greylatch.rasters.info import open_raster
from greylatch.tables.figures import histogram, mean

__all__ = ["BandGlance", "RasterGlance", "raster_glance"]

SIDE, BARS, BANDS = 320, 48, 12
"""Pixels of the longer side that are looked at; bars of a histogram; bands that are shown."""
TRIMMED = (2, 98)
"""Per cent between which grey goes from dark to light, so that a few outliers don't make all of it one grey."""


@dataclass(frozen=True)
class BandGlance:
    """A band: least, greatest and mean of the values that were looked at, the part of pixels that hold none, and how many values fall into each
    of equal parts between least and greatest. Numbers are None where no pixel holds any."""

    name: str
    low: float | None
    high: float | None
    mean: float | None
    missing: float
    bars: list[int]


@dataclass(frozen=True)
class RasterGlance:
    """A PNG in base64, and the bands; `colours` is how many the palette has, 0 without one."""

    picture: str
    bands: list[BandGlance]
    colours: int


def raster_glance(path: str | Path) -> RasterGlance:
    """What a raster looks like, of every so many pixels of it.

    Parameters
    ----------
    path : str | Path
        The file.

    Returns
    -------
    RasterGlance

    Raises
    ------
    BadFile
        For one that cannot be read.
    """
    with open_raster(path, placed=False) as source:
        scale = min(1.0, SIDE / max(source.width, source.height))
        shape = max(1, round(source.height * scale)), max(1, round(source.width * scale))
        count = min(source.count, BANDS)
        try:
            read = source.read(list(range(1, count + 1)), out_shape=(count, *shape), masked=True)
            covers = source.dataset_mask(out_shape=shape)
        except RasterioError as error:
            raise BadFile(f"{Path(path).name} breaks off: not all of its pixels can be read.") from error
        values = [_numbers(band) for band in read]
        names = [source.descriptions[i] or source.colorinterp[i].name for i in range(count)]
        try:
            palette = dict(source.colormap(1))
        except ValueError:
            palette = {}
        kinds = [each.name for each in source.colorinterp]
    colour = "palette" if palette else "rgb" if kinds[:3] == ["red", "green", "blue"] else "grey"
    pixels = _picture(read, values, colour, palette, covers)
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "PNG")
    bands = [_band(name, each) for name, each in zip(names, values, strict=True)]
    return RasterGlance(base64.b64encode(out.getvalue()).decode(), bands, len(palette))


def _numbers(band: "np.ma.MaskedArray") -> NDArray[np.float64]:
    """Values as numbers, NaN where there is none."""
    out = np.where(np.ma.getmaskarray(band), np.nan, band.data.astype(np.float64))
    return np.where(np.isfinite(out), out, np.nan)


def _band(name: str, values: NDArray[np.float64]) -> BandGlance:
    there = values[np.isfinite(values)]
    missing = 1 - there.size / values.size
    if there.size == 0:
        return BandGlance(name, None, None, None, missing, [])
    low, high = float(there.min()), float(there.max())
    bars, _ = histogram(there, BARS)
    return BandGlance(name, low, high, mean(there), missing, bars.tolist())


def _picture(
    read: "np.ma.MaskedArray", values: list[NDArray[np.float64]], colour: str,
    palette: dict[int, tuple[int, ...]], covers: NDArray[np.uint8],
) -> NDArray[np.uint8]:  # fmt: skip
    """Red, green, blue and cover."""
    of = values[:3] if colour == "rgb" and len(values) >= 3 else values[:1]
    if colour == "palette":
        table = np.zeros((max(palette) + 1, 4), np.uint8)
        for index, entry in palette.items():
            table[index] = (*entry[:3], entry[3] if len(entry) > 3 else 255)
        out = table[np.clip(read.data[0].astype(np.int64), 0, len(table) - 1)]
    else:
        whole = colour == "rgb" and read.dtype == np.uint8
        shades = [each if whole else _stretched(each) for each in of] * (3 // len(of))
        opaque = np.full(values[0].shape, 255.0)
        out = np.stack([*(np.nan_to_num(shade) for shade in shades), opaque], axis=-1).astype(np.uint8)
    # As on the map: what one band lacks is there as long as another has it.
    seen = np.isfinite(of).any(axis=0) & (covers > 0)
    return np.ascontiguousarray(np.where(seen[..., None], out, 0).astype(np.uint8))


def _stretched(values: NDArray[np.float64]) -> NDArray[np.float64]:
    there = values[np.isfinite(values)]
    if there.size == 0:
        return values
    low, high = np.percentile(there, TRIMMED)
    if high <= low:
        low, high = there.min(), max(there.max(), there.min() + 1)
    return np.clip((values - low) / (high - low), 0, 1) * 255
