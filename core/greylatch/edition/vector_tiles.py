"""Vector tiles of an edition: the shapes of each layer with their classes, and the labels as they were placed."""

from collections import defaultdict
from collections.abc import Collection
from dataclasses import replace
from functools import partial

import numpy as np

from greylatch.edition.archives import Archive, Lot, Tiles, vector_archive, vector_info
from greylatch.edition.live import open_from
from greylatch.lettering.anchored import AnchoredLabel
from greylatch.lettering.written import label_json
from greylatch.paint.passes import Composition, VectorPass
from greylatch.places.grid import Tile
from greylatch.progress import Progress
from greylatch.sheet.template import filled
from greylatch.symbols.by_hand import BY_HAND
from greylatch.symbols.ink import AS_THE_MARK, UNDRAWN
from greylatch.symbols.key import class_entries
from greylatch.tiles.archive import ArchiveInfo
from greylatch.tiles.mvt import Property, encode_points
from greylatch.tiles.shape_tiles import LAYER, shape_tile
from greylatch.tiles.style import LABEL_FIELDS, LABELS, VectorLayer

__all__ = ["feature_properties", "label_archives", "open_layers", "shape_archives"]

SMALLEST_PAGE = 320
"""Px of the smallest page that readers open."""


def shape_archives(composition: Composition, whole: ArchiveInfo) -> dict[str, Archive]:
    """An archive of vector tiles per layer of shapes, each drawn feature with its class. Layers that open styles show as pictures
    alone have none.

    Parameters
    ----------
    composition : Composition
        The passes and labels of the map.
    whole : ArchiveInfo
        What the archive of the whole map says of itself.

    Returns
    -------
    dict[str, Archive]
    """
    archives = {}
    for pass_ in composition.passes:
        first = open_from(pass_, whole.max_zoom)
        if not isinstance(pass_, VectorPass) or first is None or not np.isfinite(pass_.source.bounds).all():
            continue
        named = named_layer(pass_, first)
        info = vector_info(whole, pass_.layer.name, LAYER, named.fields, composition.frame, pass_.source.bounds)
        info = replace(info, min_zoom=max(info.min_zoom, first))
        cut = partial(shape_tile, pass_.source, drawn=pass_.ink.mark != UNDRAWN, properties=feature_properties(pass_))
        archives[named.source] = vector_archive(info, pass_.source.bounds, cut)
    return archives


def open_layers(composition: Composition, whole: ArchiveInfo, archives: Collection[str]) -> list[VectorLayer]:
    """The layers of shapes that an open style lists: those that have any of the `archives`, and those that come as pictures.

    Parameters
    ----------
    composition : Composition
        The passes and labels of the map.
    whole : ArchiveInfo
        What the archive of the whole map says of itself.
    archives : Collection[str]
        Names of the archives that are there.

    Returns
    -------
    list[VectorLayer]
    """
    layers = []
    for pass_ in composition.passes:
        if isinstance(pass_, VectorPass):
            first = open_from(pass_, whole.max_zoom)
            named = named_layer(pass_, first or 0)
            if first is None or named.source in archives:
                layers.append(named)
    return layers


def named_layer(vector: VectorPass, first: int) -> VectorLayer:
    """A layer of shapes as styles speak of it.

    Parameters
    ----------
    first : int
        The level from which on it has shapes.
    """
    return VectorLayer(
        vector.layer,
        vector.source.dataset.kind,
        tuple(vector.ink.palette),
        vector.ink.size is not None,
        vector.ink.ramp is not None,
        first,
    )


def label_archives(composition: Composition, whole: ArchiveInfo) -> dict[str, Archive]:
    """An archive with the labels of the whole map; none where nothing is lettered.

    Parameters
    ----------
    composition : Composition
        The passes and labels of the map.
    whole : ArchiveInfo
        What the archive of the whole map says of itself.

    Returns
    -------
    dict[str, Archive]
    """
    if not composition.lettered:
        return {}
    info = vector_info(whole, "Labels", LABELS, LABEL_FIELDS, composition.frame)
    info = replace(info, min_zoom=_first_lettered(composition, info))

    def tiles(lot: Lot, progress: Progress) -> Tiles:
        # The deepest levels have most labels: counted from there, lots have about the same to do.
        for z in lot.share(range(info.max_zoom, info.min_zoom - 1, -1)):
            progress(0, 1, f"labels of level {z}")
            yield from label_tiles(composition, info, z)

    return {LABELS: Archive(info, tiles)}


def _first_lettered(composition: Composition, info: ArchiveInfo) -> int:
    """The first level of labels: small pages show the whole map, however much further away that is than the first level of its
    tiles, and labels that were placed for a closer view would lie on one another there."""
    if composition.bounds is None:
        return info.min_zoom
    west, south, east, north = composition.bounds
    side = max(east - west, north - south)
    seen_whole = (z for z in range(info.min_zoom, 0, -1) if side / info.grid.resolution(z + 1) <= SMALLEST_PAGE)
    return min(max(0, info.min_zoom - 1), next(seen_whole, 0))


def label_tiles(composition: Composition, info: ArchiveInfo, z: int) -> Tiles:
    """Every label of a level as a point, in one tile.

    Readers of vector tiles show level z on tiles 512 px wide, so labels are placed for the ground that a px has there.
    """
    ids = [layer.id for layer, _ in composition.lettered]
    lettered = [layer.lettering for layer, _ in composition.lettered]
    asked = [wanted for _, wanted in composition.lettered]
    tiles: dict[Tile, list[AnchoredLabel]] = defaultdict(list)
    for label in composition.labels(info.grid.resolution(z + 1)):
        tiles[info.grid.tile_at(label.label.x, label.label.y, z)].append(label)
    for tile, inside in tiles.items():
        labels = [each.label for each in inside]
        frames = [lettering.frame if (lettering := lettered[label.layer]) else None for label in labels]
        properties = {
            "layer": Property.of([ids[label.layer] for label in labels]), "row": Property.of([label.feature for label in labels]),
            "text": Property.of([label.text for label in labels]), "anchor": Property.of([each.anchor for each in inside]),
            "gap": Property.of([round(each.gap, 3) for each in inside]), "turn": Property.of([round(label.turn, 1) for label in labels]),
            "set": Property.of([label_json(label, frame, asked[label.layer].styles, asked[label.layer].edge) for label, frame in zip(labels, frames, strict=True)]),
        }  # fmt: skip
        places = np.array([(label.x, label.y) for label in labels])
        owners = np.arange(len(inside))
        yield tile, encode_points(LABELS, places, owners, info.grid.tile_bounds(tile), range(len(inside)), properties)


def feature_properties(vector: VectorPass) -> dict[str, Property]:
    """What open files carry of the drawing, by row: palette position, class number and limits, value, radius, label."""
    ink = vector.ink
    position = np.minimum(ink.mark, len(ink.palette)).astype(np.int32)
    properties = {"ink": Property(position, range(len(ink.palette) + 1))}
    sections = [section for section in ink.sections if section.channel not in ("symbol", *BY_HAND)]
    if sections and ink.entry is not None:
        entries = class_entries(vector.layer, ink)
        texts = [entry.text for entry in entries]
        known = np.array([not raw.no_data for section in ink.sections for raw in section.entries] + [False])
        properties["class"] = Property(np.where(known[ink.entry], ink.entry, -1), range(1, len(entries) + 1))
        properties["class_text"] = Property(ink.entry, texts)
    if ink.values is not None:
        properties["value"] = Property.of_numbers(ink.values)
    if ink.size is not None:
        properties["radius"] = Property.of_numbers(np.asarray(np.round(ink.size, 2), dtype=np.float64))
    if ink.ramp is not None:
        # Whole numbers that know less than zero first: among those that don't, −1 is the largest there is.
        positions = ink.ramp.astype(np.int32)
        properties["colour"] = Property(np.where(positions == AS_THE_MARK, -1, positions), ink.colours)
    lettering, data = vector.layer.lettering, vector.source.dataset
    if lettering is not None:
        properties["label"] = Property.of(filled(lettering.lines[0].text, data))
    return properties
