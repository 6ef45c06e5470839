"""Vector tiles of an edition: the shapes of each layer with their classes, and the labels as they were placed."""

import json
from collections import defaultdict
from collections.abc import Callable, Iterator
from itertools import chain
from pathlib import Path
from typing import Any

from greylatch.lettering.anchored import AnchoredLabel
from greylatch.paint.passes import Composition, VectorPass
from greylatch.symbols.ink import UNDRAWN
from greylatch.symbols.key import class_entries
from greylatch.tables.dataset import text_of
from greylatch.tiles.archive import ArchiveInfo, open_archive
from greylatch.tiles.matrix import Bounds, Tile, lonlat_bounds, resolution_of, tile_at, tile_bounds, tiles_over
from greylatch.tiles.style import LABEL_FIELDS, LABELS, VectorLayer
from library.models import Revision
from library.tiles import BUFFER, EXTENT, LAYER, attribute_tile, point_tile

DEEPEST = 14
"""Clients draw vector tiles beyond their last level; at 14 a tile unit is 0.6 m on the ground."""

STEP = 50
"""Tiles between two words on how far it is."""
Told = Callable[[str], None]


def vector_info(
    whole: ArchiveInfo, name: str, layer: str, fields: dict[str, str], bounds: Bounds | None = None
) -> ArchiveInfo:
    """What an archive of vector tiles with one `layer` says of itself; `whole` is that of the map's own tiles."""
    return ArchiveInfo(
        name, "pbf", whole.min_zoom, min(whole.max_zoom, DEEPEST),
        lonlat_bounds(bounds) if bounds else whole.bounds, whole.attribution, 512, ({"id": layer, "fields": fields},),
    )  # fmt: skip


def write_shapes(
    composition: Composition, whole: ArchiveInfo, revisions: dict[str, Revision], out: Path, told: Told
) -> tuple[list[VectorLayer], dict[str, ArchiveInfo]]:
    """An archive of vector tiles per layer of shapes, each feature with its class. Returns the layers that the style lists,
    and what each archive says of itself, by its name. Layers of which nothing is drawn have none."""
    layers, infos = [], {}
    for one in composition.passes:
        if not isinstance(one, VectorPass):
            continue
        named = VectorLayer(one.layer, one.source.dataset.kind, tuple(one.ink.palette), one.ink.radius is not None)
        info = vector_info(whole, one.layer.name, LAYER, named.fields, one.source.bounds)
        tiles = shape_tiles(one, info, revisions[one.layer.dataset])
        if _write(out / f"{named.source}.pmtiles", info, tiles, told):
            layers.append(named)
            infos[named.source] = info
    return layers, infos


def write_labels(composition: Composition, whole: ArchiveInfo, out: Path, told: Told) -> dict[str, ArchiveInfo]:
    """An archive with the labels of the whole map; none where nothing is lettered."""
    info = vector_info(whole, "Labels", LABELS, LABEL_FIELDS)
    return {LABELS: info} if _write(out / f"{LABELS}.pmtiles", info, label_tiles(composition, info), told) else {}


def _write(path: Path, info: ArchiveInfo, tiles: Iterator[tuple[Tile, bytes]], told: Told) -> bool:
    """Write an archive and say so, unless there is nothing to write."""
    first = next(tiles, None)
    if first is None:
        return False
    with open_archive(path, info) as sink:
        for done, (tile, data) in enumerate(chain([first], tiles), 1):
            sink.add(tile, data)
            if done % STEP == 0:
                told(f"{done:,} tiles of {info.name}")
    return True


def shape_tiles(one: VectorPass, info: ArchiveInfo, revision: Revision) -> Iterator[tuple[Tile, bytes]]:
    """The tiles of a layer of shapes that are not empty."""
    properties = [json.dumps(p) for p in feature_properties(one)]
    for z in range(info.min_zoom, info.max_zoom + 1):
        for tile in tiles_over(one.source.bounds, z):
            rows = drawn_rows(one, tile_bounds(tile))
            data = attribute_tile(revision, *tile, rows, [properties[i] for i in rows]) if rows else b""
            if data:
                yield tile, data


def label_tiles(composition: Composition, info: ArchiveInfo) -> Iterator[tuple[Tile, bytes]]:
    """Every label as a point, in one tile of each level.

    Readers of vector tiles show level z on tiles 512 px wide, so labels are placed for the ground that a px has there.
    """
    ids = [layer.id for layer, _ in composition.lettered]
    for z in range(info.min_zoom, info.max_zoom + 1):
        tiles: dict[Tile, list[AnchoredLabel]] = defaultdict(list)
        for one in composition.labels(resolution_of(z + 1)):
            tiles[tile_at(one.x, one.y, z)].append(one)
        for tile, inside in tiles.items():
            properties = [
                {"layer": ids[one.layer], "row": one.feature, "text": one.text, "anchor": one.anchor, "gap": round(one.gap, 3)}
                for one in inside
            ]  # fmt: skip
            places = [(one.x, one.y) for one in inside]
            yield tile, point_tile(LABELS, *tile, places, [json.dumps(p) for p in properties])


def drawn_rows(one: VectorPass, bounds: Bounds) -> list[int]:
    """The rows that are drawn within a tile or its buffer."""
    pad = (bounds[2] - bounds[0]) * BUFFER / EXTENT
    near = one.source.within((bounds[0] - pad, bounds[1] - pad, bounds[2] + pad, bounds[3] + pad))
    return [int(row) for row in near if one.ink.index[row] != UNDRAWN]


def feature_properties(one: VectorPass) -> list[dict[str, Any]]:
    """Per row what an open file carries of the drawing: palette position, class number and limits, value, radius, label."""
    found = one.ink.classification
    lettering = one.layer.lettering
    labels = one.source.dataset.columns[lettering.field].to_pylist() if lettering else None
    values = one.ink.values
    out: list[dict[str, Any]] = []
    texts = [entry.text for entry in class_entries(one.layer, one.ink)]
    for i, position in enumerate(one.ink.index.tolist()):
        made: dict[str, Any] = {"ink": position}
        if found and position < len(found.classes):
            made |= {"class": position + 1, "class_text": texts[position]}
        elif found:
            made |= {"class": None, "class_text": "no data"}
        if values is not None and values[i] == values[i] and abs(values[i]) != float("inf"):
            made["value"] = float(values[i])
        if one.ink.radius is not None:
            made["radius"] = round(float(one.ink.radius[i]), 2)
        if labels is not None and lettering is not None:
            made["label"] = text_of(labels[i], lettering.decimals)
        out.append({key: value for key, value in made.items() if value is not None or key == "class"})
    return out
