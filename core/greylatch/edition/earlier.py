"""Editions published by earlier versions, carried forward: their files stay as they are, and today's page shows them."""

from collections.abc import Mapping
from typing import Any

from greylatch.edition.description import EditionPage, PageLayer, PageTiles
from greylatch.edition.plan import WHOLE
from greylatch.places.described import described
from greylatch.places.frame import MERCATOR
from greylatch.sheet.layers import Effects

__all__ = ["carried_forward"]


def carried_forward(page: Mapping[str, Any]) -> EditionPage:
    """What an edition of any version says of itself, as today's page reads it. Before pages drew by themselves an edition was the
    tiles of the whole map; before there were projections it lay in Web Mercator, and its tiles were PNG."""
    west, south, east, north = page["bounds"]
    first = {
        "format": "png", "drawn_bounds": list(page["bounds"]), "frame": described(MERCATOR), "start": None, "scales": None,
        "groups": [], "box": list(MERCATOR.box_of((west, south, east, north))), "labels": None, "layers": [_whole(page)],
    }  # fmt: skip
    carried = {**first, **page}
    # Before layers had effects and groups, and marks several strokes, a key was one list of entries or a ramp.
    layers = [{"effects": {}, "group": None, **_as_dict(layer)} for layer in carried["layers"]]
    return EditionPage.model_validate({**carried, "layers": layers, "key": [_key(part) for part in carried["key"]]})


def _key(part: Mapping[str, Any]) -> Mapping[str, Any]:
    if "sections" in part:
        return part
    entries = [{**entry, "mark": mark_from_earlier(entry["mark"])} for entry in part["entries"]]
    ramp = part.get("ramp")
    sections = [{"heading": "", "entries": entries, "ramp": [], "ends": [], "square": None}] if entries else []
    if ramp:
        sections.append(
            {"heading": "", "entries": [], "ramp": ramp["colours"], "ends": [ramp["low"], ramp["high"]], "square": None}
        )
    return {**{name: part[name] for name in ("layer", "title", "unit", "kind")}, "sections": sections}


def mark_from_earlier(mark: Mapping[str, Any]) -> Mapping[str, Any]:
    """A mark that had one stroke, as today's have any number.

    >>> look = {"fill": "#aabbcc", "fill_opacity": 1, "stroke": "#000000", "stroke_width": 2, "stroke_opacity": 1, "radius": 3}
    >>> mark_from_earlier(look)["strokes"]
    [{'colour': '#000000', 'width': 2, 'opacity': 1}]
    """
    if "stroke" not in mark:
        return mark
    line = {"colour": mark["stroke"], "width": mark["stroke_width"], "opacity": mark["stroke_opacity"]}
    strokes = [line] if mark["stroke_width"] > 0 else []
    return {**{name: mark[name] for name in ("fill", "fill_opacity", "radius")}, "strokes": strokes}


def _as_dict(layer: PageLayer | Mapping[str, Any]) -> Mapping[str, Any]:
    return layer.model_dump() if isinstance(layer, PageLayer) else layer


def _whole(page: Mapping[str, Any]) -> PageLayer:
    packed = f"{WHOLE}.pmtiles" in page["files"]
    tiles = PageTiles(
        archive=f"{WHOLE}.pmtiles" if packed else f"{WHOLE}.zip", format=page.get("format", "png"), min_zoom=page["min_zoom"],
        max_zoom=page["max_zoom"], size=page["size"],
    )  # fmt: skip
    return PageLayer(
        id=WHOLE,
        kind="raster",
        blend="normal",
        opacity=1.0,
        effects=Effects(),
        group=None,
        shapes=None,
        ink=None,
        cards=None,
        pictures=tiles,
    )
