"""Vector tiles of an edition: the shapes of each layer with their classes, and the labels as they were placed."""

from collections import defaultdict
from collections.abc import Callable, Collection
from dataclasses import replace

import numpy as np

from greylatch.edition.archives import Archive, Lot, Tiles, vector_archive, vector_info
from greylatch.edition.live import open_from
from greylatch.lettering.anchored import AnchoredLabel
from greylatch.paint.passes import Composition, VectorPass, label_decimals
from greylatch.places.grid import Tile
from greylatch.progress import Progress
from greylatch.symbols.ink import UNDRAWN
from greylatch.symbols.key import class_entries
from greylatch.tables.dataset import texts as texts_of
from greylatch.tiles.archive import ArchiveInfo
from greylatch.tiles.mvt import Property, encode_points
from greylatch.tiles.shape_tiles import LAYER, shape_tile
from greylatch.tiles.style import LABEL_FIELDS, LABELS, VectorLayer


def shape_archives(composition: Composition, whole: ArchiveInfo) -> dict[str, Archive]:
    """An archive of vector tiles per layer of shapes, each drawn feature with its class. Layers that open styles show as pictures
    alone have none."""
    archives = {}
    for one in composition.passes:
        first = open_from(one, whole.max_zoom)
        if not isinstance(one, VectorPass) or first is None or not np.isfinite(one.source.bounds).all():
            continue
        named = named_layer(one, first)
        info = vector_info(whole, one.layer.name, LAYER, named.fields, composition.frame, one.source.bounds)
        info = replace(info, min_zoom=max(info.min_zoom, first))
        archives[named.source] = vector_archive(info, one.source.bounds, _shape_tile_of(one))
    return archives


def open_layers(composition: Composition, whole: ArchiveInfo, archives: Collection[str]) -> list[VectorLayer]:
    """The layers of shapes that an open style lists: those that have any of the `archives`, and those that come as pictures."""
    layers = []
    for one in composition.passes:
        if isinstance(one, VectorPass):
            first = open_from(one, whole.max_zoom)
            named = named_layer(one, first or 0)
            if first is None or named.source in archives:
                layers.append(named)
    return layers


def named_layer(one: VectorPass, first: int) -> VectorLayer:
    """A layer of shapes as styles speak of it; `first` is the level from which on it has shapes."""
    return VectorLayer(one.layer, one.source.dataset.kind, tuple(one.ink.palette), one.ink.radius is not None, first)


def _shape_tile_of(one: VectorPass) -> Callable[[Tile], bytes]:
    properties = feature_properties(one)
    drawn = one.ink.index != UNDRAWN
    return lambda tile: shape_tile(one.source, tile, drawn, properties)


def label_archives(composition: Composition, whole: ArchiveInfo) -> dict[str, Archive]:
    """An archive with the labels of the whole map; none where nothing is lettered."""
    if not composition.lettered:
        return {}
    info = vector_info(whole, "Labels", LABELS, LABEL_FIELDS, composition.frame)
    # Small pages show the whole map further away than the first level of its tiles.
    info = replace(info, min_zoom=max(0, info.min_zoom - 1))

    def tiles(lot: Lot, progress: Progress) -> Tiles:
        # The deepest levels have most labels: counted from there, lots have about the same to do.
        for z in lot.share(range(info.max_zoom, info.min_zoom - 1, -1)):
            progress(0, 1, f"labels of level {z}")
            yield from label_tiles(composition, info, z)

    return {LABELS: Archive(info, tiles)}


def label_tiles(composition: Composition, info: ArchiveInfo, z: int) -> Tiles:
    """Every label of a level as a point, in one tile.

    Readers of vector tiles show level z on tiles 512 px wide, so labels are placed for the ground that a px has there.
    """
    ids = [layer.id for layer, _ in composition.lettered]
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
        owners = np.arange(len(inside))
        yield tile, encode_points(LABELS, places, owners, info.grid.tile_bounds(tile), range(len(inside)), properties)


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
