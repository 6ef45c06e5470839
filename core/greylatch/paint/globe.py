"""A picture of a projection itself: its outline, a graticule, and true circles coloured by how large they are drawn."""

from typing import Any

import numpy as np
import pyarrow as pa

from greylatch.paint.passes import compose
from greylatch.paint.picture import paint
from greylatch.paint.sources import Source, VectorSource
from greylatch.places.crs import LONLAT
from greylatch.places.distortion import areal_scale, circles
from greylatch.places.frame import Frame
from greylatch.places.graticule import graticule
from greylatch.places.view import View
from greylatch.rasters.colouring import Rgba
from greylatch.sheet.document import Sheet
from greylatch.tables.dataset import Dataset

__all__ = ["distortion_picture"]

BREAKS = [0.8, 0.95, 1.05, 1.25, 2.0]
"""Areal scales between the colours: much and somewhat too small, true within a twentieth, and too large by degrees."""
COLOURS = ["#35698c", "#8fb3c4", "#e9e5d6", "#e3b878", "#c77a3a", "#8f3b1f"]
FURTHER = 8.0
"""How many times the true size circles are drawn at most: larger ones would only cover the map."""


def distortion_picture(frame: Frame, width: int, height: int) -> Rgba:
    """(height, width, 4) uint8: the whole of what a projection shows, with circles of 400 km every 30 degrees.

    Parameters
    ----------
    frame : Frame
        Where the map lies.
    width : int
        Px.
    height : int
        Px.

    Returns
    -------
    Rgba
    """
    middles, rings = circles()
    scale = areal_scale(frame, middles)
    drawn = np.isfinite(scale) & (scale <= FURTHER)
    outline = np.array([frame.outline], dtype=object)
    sources: dict[str, Source] = {
        "sea": VectorSource(Dataset(pa.table({"n": [1]}), "areas", outline, frame.crs), frame),
        "circles": VectorSource(Dataset(pa.table({"scale": scale[drawn]}), "areas", rings[drawn], LONLAT), frame),
        "graticule": VectorSource(_lines(frame), frame),
    }
    classing = {"field": "scale", "method": "manual", "classes": len(BREAKS) + 1, "breaks": [*BREAKS, FURTHER + 1]}
    looks: dict[str, dict[str, Any]] = {
        "circles": {
            "symbol": {"strokes": [{"colour": "#4a4a46", "width": 0.6}]},
            "encodings": {"colour": {"by": "classes", "classing": classing, "ramp": {"replaced": dict(enumerate(COLOURS))}}},
        },
        "graticule": {"symbol": {"strokes": [{"colour": "#9aa6a8", "width": 0.5}]}},
        "sea": {"symbol": {"fill": "#eef2f2", "strokes": [{"colour": "#7d8a8c", "width": 0.8}]}},
    }  # fmt: skip
    layers = [
        {"id": name, "name": name, "dataset": name, "symbology": {"kind": "symbols", **look}}
        for name, look in looks.items()
    ]
    sheet = Sheet.model_validate({"version": 3, "title": "Distortion", "layers": layers, "furniture": {"ground": None}})
    composition = compose(sheet, lambda name, _: sources[name])
    west, south, east, north = frame.outline.bounds
    pad = 0.02 * max(east - west, north - south)
    return paint(composition, View.fitted(frame, (west - pad, south - pad, east + pad, north + pad), width, height))


def _lines(frame: Frame) -> Dataset:
    lines = np.array([line.shape for line in graticule(frame, 30.0)], dtype=object)
    return Dataset(pa.table({"n": np.arange(len(lines))}), "lines", lines, frame.crs)
