"""Whether areas on a map can be compared: how differently its projection enlarges them."""

import numpy as np
import shapely

from greylatch.errors import CannotDraw
from greylatch.paint.sources import Find, VectorSource
from greylatch.places.crs import LONLAT, transformer_between
from greylatch.places.distortion import areal_scale
from greylatch.places.suggest import keeps_areas, suggest_projections
from greylatch.sheet.document import Projection, Sheet
from greylatch.sheet.layers import Layer
from greylatch.sheet.projection import frame_of
from greylatch.sheet.symbology import Symbols

__all__ = ["in_true_areas", "uneven"]

UNEVEN = 1.25
"""How many times larger one area may be drawn than another of the same size. Common practice: a quarter more can be seen."""
SHOWN = 80.0
"""Latitude beyond which hardly any area is classed, and Web Mercator grows without end."""
CORNERS = 5
"""Places along each side of the data's box where that is asked."""


def uneven(sheet: Sheet, find: Find) -> float | None:
    """How many times larger the map draws areas at one end of its classed areas than at another; None where it has none, keeps
    areas, or hardly changes them.

    Parameters
    ----------
    sheet : Sheet
        The sheet.
    find : Find
        Gives the source of a dataset's name in a frame.

    Returns
    -------
    float | None
    """
    frame = frame_of(sheet)
    source = _classed_areas(sheet, find)
    if source is None or source.dataset.crs is None or keeps_areas(frame.crs):
        return None
    west, south, east, north = shapely.total_bounds(source.dataset.shapes)
    x, y = np.meshgrid(np.linspace(west, east, CORNERS), np.linspace(south, north, CORNERS))
    lon, lat = transformer_between(source.dataset.crs, LONLAT).transform(x.ravel(), y.ravel(), errcheck=False)
    places = np.column_stack([lon, np.clip(lat, -SHOWN, SHOWN)])[np.isfinite(lon) & np.isfinite(lat)]
    scale = areal_scale(frame, places)
    ratio = float(np.nanmax(scale) / np.nanmin(scale)) if np.isfinite(scale).any() else 1.0
    return ratio if ratio >= UNEVEN else None


def in_true_areas(sheet: Sheet, find: Find) -> Sheet:
    """The sheet in the first projection that keeps areas of those that suit its classed areas.

    Parameters
    ----------
    sheet : Sheet
        The sheet.
    find : Find
        Gives the source of a dataset's name in a frame.

    Returns
    -------
    Sheet
    """
    source = _classed_areas(sheet, find)
    if source is None or source.dataset.shapes is None or source.dataset.crs is None:
        return sheet
    suited = [
        suggestion
        for suggestion in suggest_projections(source.dataset.shapes, source.dataset.crs)
        if suggestion.equal_area
    ]
    return sheet.model_copy(update={"projection": Projection(crs=suited[0].crs)}) if suited else sheet


def shows_rates(layer: Layer) -> bool:
    """Whether the colours of a layer stand for numbers, which an area's size should not outweigh."""
    if not isinstance(layer.symbology, Symbols):
        return False
    looks = (layer.symbology, *layer.symbology.rules)
    return any(look.encodings.colour is not None and look.encodings.colour.by != "category" for look in looks)


def _classed_areas(sheet: Sheet, find: Find) -> VectorSource | None:
    """The data of the uppermost layer with classes as the colours of areas."""
    for layer in sheet.layers:
        if sheet.shown(layer) and shows_rates(layer):
            source = _found(layer, find, sheet)
            if source is not None:
                return source
    return None


def _found(layer: Layer, find: Find, sheet: Sheet) -> VectorSource | None:
    try:
        source = find(layer.dataset, frame_of(sheet))
    except CannotDraw:  # which is a finding of its own
        return None
    return source if isinstance(source, VectorSource) and source.dataset.kind == "areas" else None
