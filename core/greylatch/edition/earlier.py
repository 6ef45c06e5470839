"""Editions published by earlier versions, carried forward: their files stay as they are, and today's page shows them."""

from collections.abc import Mapping
from typing import Any

from greylatch.edition.description import EditionPage, PageLayer, PageTiles
from greylatch.edition.plan import WHOLE
from greylatch.places.described import described
from greylatch.places.frame import MERCATOR

__all__ = ["carried_forward"]


def carried_forward(page: Mapping[str, Any]) -> EditionPage:
    """What an edition of any version says of itself, as today's page reads it. Before pages drew by themselves an edition was the
    tiles of the whole map; before there were projections it lay in Web Mercator, and its tiles were PNG."""
    west, south, east, north = page["bounds"]
    first = {
        "format": "png", "drawn_bounds": list(page["bounds"]), "frame": described(MERCATOR), "start": None, "scales": None,
        "box": list(MERCATOR.box_of((west, south, east, north))), "labels": None, "layers": [_whole(page)],
    }  # fmt: skip
    return EditionPage.model_validate({**first, **page})


def _whole(page: Mapping[str, Any]) -> PageLayer:
    packed = f"{WHOLE}.pmtiles" in page["files"]
    tiles = PageTiles(
        archive=f"{WHOLE}.pmtiles" if packed else f"{WHOLE}.zip", format=page.get("format", "png"), min_zoom=page["min_zoom"],
        max_zoom=page["max_zoom"], size=page["size"],
    )  # fmt: skip
    return PageLayer(
        id=WHOLE, kind="raster", blend="normal", opacity=1.0, shapes=None, ink=None, cards=None, pictures=tiles
    )
