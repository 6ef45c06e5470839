"""Vector tiles of an edition: the shapes of each layer with their classes, and the labels as they were placed."""

from collections import defaultdict
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

import numpy as np

from greylatch.edition.archives import Told, vector_info, write_tiles
from greylatch.lettering.anchored import AnchoredLabel
from greylatch.paint.passes import Composition, VectorPass, label_decimals
from greylatch.places.grid import Tile
from greylatch.symbols.ink import UNDRAWN
from greylatch.symbols.key import class_entries
from greylatch.tables.dataset import text_of
from greylatch.tiles.archive import ArchiveInfo
from greylatch.tiles.mvt import Value, encode_points
from greylatch.tiles.shape_tiles import LAYER, shape_tile
from greylatch.tiles.style import LABEL_FIELDS, LABELS, VectorLayer


def write_shapes(
    composition: Composition, whole: ArchiveInfo, out: Path, told: Told
) -> tuple[list[VectorLayer], dict[str, ArchiveInfo]]:
    """An archive of vector tiles per layer of shapes, each feature with its class. Returns the layers that the style lists,
    and what each archive says of itself, by its name. Layers of which nothing is drawn have none."""
    layers, infos = [], {}
    for one in composition.passes:
        if not isinstance(one, VectorPass):
            continue
        named = VectorLayer(one.layer, one.source.dataset.kind, tuple(one.ink.palette), one.ink.radius is not None)
        bounds = one.source.bounds if np.isfinite(one.source.bounds).all() else None
        info = vector_info(whole, one.layer.name, LAYER, named.fields, composition.frame, bounds)
        if bounds and write_tiles(out, named.source, info, shape_tiles(one, info), told):
            layers.append(named)
            infos[named.source] = info
    return layers, infos


def write_labels(composition: Composition, whole: ArchiveInfo, out: Path, told: Told) -> dict[str, ArchiveInfo]:
    """An archive with the labels of the whole map; none where nothing is lettered."""
    info = vector_info(whole, "Labels", LABELS, LABEL_FIELDS, composition.frame)
    # Small pages show the whole map further away than the first level of its tiles.
    info = replace(info, min_zoom=max(0, info.min_zoom - 1))
    return {LABELS: info} if write_tiles(out, LABELS, info, label_tiles(composition, info), told) else {}


def shape_tiles(one: VectorPass, info: ArchiveInfo) -> Iterator[tuple[Tile, bytes]]:
    """The tiles of a layer of shapes that are not empty, each drawn feature with its properties."""
    properties = feature_properties(one)
    drawn = one.ink.index != UNDRAWN
    for z in range(info.min_zoom, info.max_zoom + 1):
        for tile in info.grid.tiles_over(one.source.bounds, z):
            data = shape_tile(one.source, tile, drawn, properties)
            if data:
                yield tile, data


def label_tiles(composition: Composition, info: ArchiveInfo) -> Iterator[tuple[Tile, bytes]]:
    """Every label as a point, in one tile of each level.

    Readers of vector tiles show level z on tiles 512 px wide, so labels are placed for the ground that a px has there.
    """
    ids = [layer.id for layer, _ in composition.lettered]
    for z in range(info.min_zoom, info.max_zoom + 1):
        tiles: dict[Tile, list[AnchoredLabel]] = defaultdict(list)
        for one in composition.labels(info.grid.resolution(z + 1)):
            tiles[info.grid.tile_at(one.x, one.y, z)].append(one)
        for tile, inside in tiles.items():
            properties: list[dict[str, Value | None]] = [
                {"layer": ids[one.layer], "row": one.feature, "text": one.text, "anchor": one.anchor, "gap": round(one.gap, 3),
                 "dx": round(one.dx, 2), "dy": round(one.dy, 2)}
                for one in inside
            ]  # fmt: skip
            places = np.array([(one.x, one.y) for one in inside])
            numbers = range(len(inside))
            yield (
                tile,
                encode_points(LABELS, places, np.arange(len(inside)), info.grid.tile_bounds(tile), numbers, properties),
            )


def feature_properties(one: VectorPass) -> list[dict[str, Value | None]]:
    """Per row what an open file carries of the drawing: palette position, class number and limits, value, radius, label."""
    found = one.ink.classification
    lettering = one.layer.lettering
    labels = one.source.dataset.columns[lettering.field].to_pylist() if lettering else None
    values = one.ink.values
    out: list[dict[str, Value | None]] = []
    texts = [entry.text for entry in class_entries(one.layer, one.ink)]
    for i, position in enumerate(one.ink.index.tolist()):
        made: dict[str, Value | None] = {"ink": position}
        if found and position < len(found.classes):
            made |= {"class": position + 1, "class_text": texts[position]}
        elif found:
            made |= {"class": None, "class_text": "no data"}
        if values is not None and values[i] == values[i] and abs(values[i]) != float("inf"):
            made["value"] = float(values[i])
        if one.ink.radius is not None:
            made["radius"] = round(float(one.ink.radius[i]), 2)
        if labels is not None and lettering is not None:
            made["label"] = text_of(labels[i], label_decimals(one.source.dataset, lettering))
        out.append({key: value for key, value in made.items() if value is not None or key == "class"})
    return out
