"""Vector tiles of an edition: the shapes of each layer with their classes, and the labels as they were placed."""

from collections import defaultdict
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

import numpy as np

from greylatch.edition.archives import Told, vector_info, write_tiles
from greylatch.edition.live import open_from
from greylatch.lettering.anchored import AnchoredLabel
from greylatch.paint.passes import Composition, VectorPass, label_decimals
from greylatch.places.grid import Tile
from greylatch.symbols.ink import UNDRAWN
from greylatch.symbols.key import class_entries
from greylatch.tables.dataset import texts as texts_of
from greylatch.tiles.archive import ArchiveInfo
from greylatch.tiles.mvt import Property, encode_points
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
        first = open_from(one, whole.max_zoom)
        named = VectorLayer(
            one.layer, one.source.dataset.kind, tuple(one.ink.palette), one.ink.radius is not None, first or 0
        )
        if first is None:
            layers.append(named)  # there are pictures of it alone
            continue
        bounds = one.source.bounds if np.isfinite(one.source.bounds).all() else None
        info = vector_info(whole, one.layer.name, LAYER, named.fields, composition.frame, bounds)
        info = replace(info, min_zoom=max(info.min_zoom, first))
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
            properties = {
                "layer": Property.of([ids[one.layer] for one in inside]), "row": Property.of([one.feature for one in inside]),
                "text": Property.of([one.text for one in inside]), "anchor": Property.of([one.anchor for one in inside]),
                "gap": Property.of([round(one.gap, 3) for one in inside]), "dx": Property.of([round(one.dx, 2) for one in inside]),
                "dy": Property.of([round(one.dy, 2) for one in inside]),
            }  # fmt: skip
            places = np.array([(one.x, one.y) for one in inside])
            numbers = range(len(inside))
            yield (
                tile,
                encode_points(LABELS, places, np.arange(len(inside)), info.grid.tile_bounds(tile), numbers, properties),
            )


def feature_properties(one: VectorPass) -> dict[str, Property]:
    """What open files carry of the drawing, by row: palette position, class number and limits, value, radius, label."""
    found, ink = one.ink.classification, one.ink
    position = ink.index.astype(np.int32)
    made = {"ink": Property(position, range(256))}
    if found:
        n = len(found.classes)
        texts = [entry.text for entry in class_entries(one.layer, ink)]
        made["class"] = Property(np.where(position < n, position, -1), range(1, n + 1))
        made["class_text"] = Property(np.minimum(position, n), [*texts, "no data"])
    if ink.values is not None:
        made["value"] = Property.of_numbers(ink.values)
    if ink.radius is not None:
        made["radius"] = Property.of_numbers(np.asarray(np.round(ink.radius, 2), dtype=np.float64))
    lettering, data = one.layer.lettering, one.source.dataset
    if lettering is not None:
        made["label"] = Property.of(texts_of(data.columns, lettering.field, label_decimals(data, lettering)))
    return made
