"""Raster ink: pixels to colours. A kind of ink that is made of one band is one entry of `INKS`."""

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray
from rasterio.io import DatasetReader

from greylatch.errors import BadInput
from greylatch.places.view import View
from greylatch.rasters.colouring import Rgba, by_class, by_name, coloured, grey
from greylatch.rasters.figures import band_classes, percentiles, stretch_ends
from greylatch.rasters.info import colour_of
from greylatch.rasters.opened import opened
from greylatch.rasters.shade import hillshade, multidirectional, slope
from greylatch.rasters.window import ground_cell, read_part, warp
from greylatch.sheet.parts import RampChoice
from greylatch.sheet.symbology import (
    Hillshade,
    NamedValues,
    Picture,
    RasterClasses,
    RasterRamp,
    RasterSymbology,
    Slope,
)
from greylatch.wording import counted

__all__ = ["draw_raster"]

Surface = NDArray[np.floating]
There = NDArray[np.bool_]
Cell = tuple[float, float]


@dataclass(frozen=True)
class BandInk:
    """How one band becomes colours: `colours` of (values, where there are any, the symbology, the raster's path), after `surface` of
    (elevations, the cell in metres, the symbology) where what is drawn is not the values themselves. Values that only stand for
    something are not `mixed`."""

    colours: Callable[[Surface, There, Any, str], Rgba]
    surface: Callable[[Surface, Cell, Any], Surface] | None = None
    mixed: bool = True


def _relief(elevation: Surface, cell: Cell, look: Hillshade) -> Surface:
    if look.light == "four":
        return multidirectional(elevation, cell, look.altitude, look.exaggeration)
    return hillshade(elevation, cell, look.azimuth, look.altitude, look.exaggeration)


def _classed(values: Surface, there: There, look: RasterClasses, path: str) -> Rgba:
    return by_class(values, there, np.array(band_classes(path, look.band, look.classing).breaks), look.ramp)


INKS: dict[type, BandInk] = {
    Hillshade: BandInk(lambda values, there, look, path: grey(values, there), _relief),
    Slope: BandInk(
        lambda values, there, look, path: coloured(values, there, look.low, look.high, look.ramp),
        lambda elevation, cell, look: slope(elevation, cell),
    ),
    RasterRamp: BandInk(
        lambda values, there, look, path: coloured(values, there, *stretch_ends(path, look), look.ramp)
    ),
    RasterClasses: BandInk(_classed),
    NamedValues: BandInk(lambda values, there, look, path: by_name(values, there, look.values), mixed=False),
}


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
    source = opened(path)
    if isinstance(symbology, Picture):
        return _picture(source, view, resampling)
    inked, band = INKS[type(symbology)], getattr(symbology, "band", 1)
    if band > source.count:
        raise BadInput(f"The raster has {counted(source.count, 'band')}, and band {band} was asked for.")
    part = read_part(source, view, [band], mixed=inked.mixed)
    if part is None:
        return None
    surface, valid = part.data[0].astype(np.float32), part.mask > 0
    if not valid.any():
        return None
    if inked.surface is not None:
        cell = ground_cell(part.transform, source.crs, surface.shape[0] / 2)
        surface = inked.surface(np.where(valid, surface, np.float32(np.nan)), cell, symbology)
        valid = np.isfinite(surface)
    moved, there = warp(surface[None], valid, part, source.crs, view, resampling if inked.mixed else "nearest")
    return inked.colours(moved[0], there, symbology, str(path))


def _to_bytes(data: NDArray[Any], path: str) -> Rgba:
    """Colours of 16 bits in 8, the first band's 2nd and 98th percentile at the ends for all bands alike."""
    low, high = percentiles(path)
    span = (high - low) or 1.0
    return np.clip((data.astype(np.float32) - low) / span * 255, 0, 255).astype(np.uint8)


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
        return coloured(moved[0], there, *percentiles(source.name), RampChoice(name="slate", reverse=True))
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
