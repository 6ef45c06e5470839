"""Editions published by earlier versions, carried forward: their files stay as they are, and today's page shows them."""

from collections.abc import Mapping
from typing import Any

from greylatch.edition.description import EditionPage, PageLayer, PageTiles
from greylatch.edition.plan import WHOLE
from greylatch.places.described import described
from greylatch.places.frame import MERCATOR


def carried_forward(told: Mapping[str, Any]) -> EditionPage:
    """What an edition of any version says of itself, as today's page reads it. Before pages drew by themselves an edition was the
    tiles of the whole map; before there were projections it lay in Web Mercator, and its tiles were PNG."""
    west, south, east, north = told["bounds"]
    first = {
        "format": "png", "drawn_bounds": list(told["bounds"]), "frame": described(MERCATOR), "start": None, "scales": None,
        "box": list(MERCATOR.box_of((west, south, east, north))), "labels": None, "layers": [_whole(told)],
    }  # fmt: skip
    return EditionPage.model_validate({**first, **told})


def _whole(told: Mapping[str, Any]) -> PageLayer:
    packed = f"{WHOLE}.pmtiles" in told["files"]
    tiles = PageTiles(
        archive=f"{WHOLE}.pmtiles" if packed else f"{WHOLE}.zip", format=told.get("format", "png"), min_zoom=told["min_zoom"],
        max_zoom=told["max_zoom"], size=told["size"],
    )  # fmt: skip
    return PageLayer(
        id=WHOLE, kind="raster", blend="normal", opacity=1.0, shapes=None, ink=None, cards=None, pictures=tiles
    )
