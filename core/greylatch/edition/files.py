"""Files of an edition that follow from the map alone, and take a while to write: open files, and the picture of the whole."""

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any

from greylatch.edition.plan import Plan
from greylatch.edition.vector_tiles import feature_properties
from greylatch.formats.written_geojson import write_geojson
from greylatch.paint.furniture import furnished
from greylatch.paint.passes import VectorPass
from greylatch.paint.picture import paint
from greylatch.tiles.image import png
from greylatch.tiles.map_pyramid import map_bounds
from greylatch.tiles.view import whole_view

__all__ = ["files_of"]

PICTURE = "picture.png"
WIDEST, HIGHEST = 1200, 900
"""Px of the picture of the whole map that stands where no script can run."""


def files_of(plan: Plan) -> dict[str, Callable[[Path], None]]:
    """By name, what writes each to a path: a GeoJSON per layer of shapes, with what the key says of each feature; the picture."""
    files: dict[str, Callable[[Path], None]] = {PICTURE: partial(_write_picture, plan)}
    for pass_ in plan.composition.passes:
        if isinstance(pass_, VectorPass):
            files[f"{pass_.layer.id}.geojson"] = partial(_write_features, pass_)
    return files


def _write_features(vector: VectorPass, path: Path) -> None:
    properties = feature_properties(vector) if vector.ink.classification else {}
    extra: dict[str, list[Any]] = {
        name: properties[name].listed() for name in ("class", "class_text", "value") if name in properties
    }
    write_geojson(vector.source.dataset, path, extra or None)


def _write_picture(plan: Plan, path: Path) -> None:
    """The whole map on its ground with what stands on it, as PNG, no larger than `WIDEST` × `HIGHEST` px."""
    composition = plan.composition
    west, south, east, north = map_bounds(composition)
    wide, high = max(east - west, 1e-9), max(north - south, 1e-9)
    scale = min(WIDEST / wide, HIGHEST / high)
    width, height = max(320, round(wide * scale)), max(200, round(high * scale))
    view = whole_view(composition, width, height)
    path.write_bytes(png(furnished(paint(composition, view), plan.sheet, view)))
