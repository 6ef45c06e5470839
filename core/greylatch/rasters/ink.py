"""Raster ink: pixels to colours."""

from functools import lru_cache
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray
from rasterio.io import DatasetReader

from greylatch.colour.ramps import ramp_colours
from greylatch.errors import BadInput
from greylatch.places.view import View
from greylatch.rasters.info import colour_of, open_raster, raster_info
from greylatch.rasters.shade import hillshade, multidirectional
from greylatch.rasters.window import ground_cell, read_part, warp
from greylatch.sheet.parts import RampChoice
from greylatch.sheet.symbology import Hillshade, Picture, RasterRamp, RasterSymbology
from greylatch.wording import counted

__all__ = ["Rgba", "coloured", "draw_raster", "stretch_ends"]

Rgba = NDArray[np.uint8]


def draw_raster(path: str | Path, symbology: RasterSymbology, view: View, resampling: str = "bilinear") -> Rgba | None:
    """The raster's picture for `view`: (height, width, 4) uint8, straight alpha, 0 for no data.

    None where the raster does not reach into it.

    Parameters
    ----------
    path : str | Path
        The file.
    symbology : RasterSymbology
        How the layer is drawn.
    view : View
        What is shown, and how large.
    resampling : str
        'nearest' or 'bilinear'.

    Returns
    -------
    Rgba | None
    """
    with open_raster(path) as source:
        if isinstance(symbology, Picture):
            return _picture(source, view, resampling)
        band = symbology.band if isinstance(symbology, RasterRamp) else 1
        if band > source.count:
            raise BadInput(f"The raster has {counted(source.count, 'band')}, and band {band} was asked for.")
        part = read_part(source, view, [band])
        if part is None:
            return None
        surface, valid = part.data[0].astype(np.float32), part.mask > 0
        if isinstance(symbology, Hillshade):
            cell = ground_cell(part.transform, source.crs, surface.shape[0] / 2)
            surface = np.where(valid, surface, np.float32(np.nan))
            if symbology.light == "four":
                surface = multidirectional(surface, cell, symbology.altitude, symbology.exaggeration)
            else:
                surface = hillshade(surface, cell, symbology.azimuth, symbology.altitude, symbology.exaggeration)
            valid = np.isfinite(surface)
        moved, there = warp(surface[None], valid, part, source.crs, view, resampling)
    if isinstance(symbology, Hillshade):
        return _grey(moved[0], there)
    low, high = stretch_ends(str(path), symbology)
    return coloured(moved[0], there, low, high, symbology.ramp)


def coloured(values: NDArray[np.floating], there: NDArray[np.bool_], low: float, high: float, ramp: RampChoice) -> Rgba:
    """Values through 256 steps of a ramp between `low` and `high`; transparent where nothing is `there`.

    Parameters
    ----------
    values : NDArray[np.floating]
        The values; what is not finite is missing.
    there : NDArray[np.bool_]
        Where there is any data.
    low : float
        The value of the ramp's beginning.
    high : float
        The value of the ramp's end.
    ramp : RampChoice
        The ramp by name, its direction and its replaced colours.

    Returns
    -------
    Rgba
    """
    table = ramp_table(ramp.model_dump_json())
    span = (high - low) or 1.0
    position = np.nan_to_num(np.clip((values - low) / span, 0, 1)) * 255
    out = np.empty((*values.shape, 4), dtype=np.uint8)
    out[..., :3] = table[np.round(position).astype(np.uint8)]
    out[..., 3] = np.where(there, 255, 0)
    return out


@lru_cache(maxsize=64)
def ramp_table(ramp_json: str) -> NDArray[np.uint8]:
    """(256, 3) colours of a ramp, given as its JSON so that it can be remembered."""
    colours = ramp_colours(RampChoice.model_validate_json(ramp_json), 256)
    return np.array([[int(c[i : i + 2], 16) for i in (1, 3, 5)] for c in colours], dtype=np.uint8)


def stretch_ends(path: str, symbology: RasterRamp) -> tuple[float, float]:
    """The values at both ends of the ramp: those given, or the 2nd and 98th percentile.

    Parameters
    ----------
    path : str
        The file.
    symbology : RasterRamp
        How the layer is drawn.

    Returns
    -------
    tuple[float, float]
    """
    if symbology.low is not None and symbology.high is not None:
        return symbology.low, symbology.high
    low, high = _percentiles(path)
    return (symbology.low if symbology.low is not None else low), (
        symbology.high if symbology.high is not None else high
    )


def _to_bytes(data: NDArray[Any], path: str) -> Rgba:
    """Colours of 16 bits in 8, the first band's 2nd and 98th percentile at the ends for all bands alike."""
    low, high = _percentiles(path)
    span = (high - low) or 1.0
    return np.clip((data.astype(np.float32) - low) / span * 255, 0, 255).astype(np.uint8)


@lru_cache(maxsize=64)
def _percentiles(path: str) -> tuple[float, float]:
    info = raster_info(path)
    if info.low is None or info.high is None:
        raise BadInput(f"{Path(path).name} holds no data at all.")
    return info.low, info.high


def _grey(values: NDArray[np.floating], there: NDArray[np.bool_]) -> Rgba:
    out = np.empty((*values.shape, 4), dtype=np.uint8)
    out[..., :3] = np.where(there, np.nan_to_num(values) + 0.5, 0).astype(np.uint8)[..., None]
    out[..., 3] = np.where(there, 255, 0)
    return out


def _picture(source: DatasetReader, view: View, resampling: str) -> Rgba | None:
    colour = colour_of(source)
    bands = [1, 2, 3] if colour in ("rgb", "rgba") else [1]
    part = read_part(source, view, bands)
    if part is None:
        return None
    how = "nearest" if colour == "palette" else resampling
    data = part.data
    if colour in ("rgb", "rgba") and data.dtype != np.uint8:
        data = _to_bytes(data, source.name)
    moved, there = warp(data, part.mask > 0, part, source.crs, view, how)
    if colour == "one band" and (part.data.dtype != np.uint8 or source.tags(1, ns="IMAGE_STRUCTURE").get("NBITS")):
        return coloured(moved[0], there, *_percentiles(source.name), RampChoice(name="slate", reverse=True))
    if colour == "palette":
        table = np.zeros((256, 4), dtype=np.uint8)
        for value, rgba in source.colormap(1).items():
            table[value] = rgba
        out = table[moved[0]]
        out[..., 3] = np.where(there, out[..., 3], 0)
        return out
    out = np.empty((view.height, view.width, 4), dtype=np.uint8)
    out[..., :3] = np.moveaxis(moved, 0, -1)
    out[..., 3] = np.where(there, 255, 0)
    return out
