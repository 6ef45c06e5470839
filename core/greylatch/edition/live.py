"""The layers of a readers' page: those that it draws by itself, from shapes and ink, and those that come as tiles."""

from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

import numpy as np
import shapely
from numpy.typing import NDArray

from greylatch.edition.archives import Told, vector_info, write_tiles
from greylatch.edition.cards import write_cards
from greylatch.edition.description import LabelStyle, PageLabels, PageLayer
from greylatch.edition.plan import Plan
from greylatch.lettering.type import LEADING
from greylatch.paint.passes import Composition, Pass, VectorPass
from greylatch.places.grid import Tile
from greylatch.symbols.ink import UNDRAWN
from greylatch.symbols.packed import packed_ink
from greylatch.tiles.archive import ArchiveInfo
from greylatch.tiles.shape_tiles import LAYER, shape_tile
from greylatch.tiles.style import LABELS

LIVE_FEATURES = 1_000_000
"""More features than these are not drawn live: their ink alone is a megabyte."""
LIVE_VERTICES = 5_000_000
"""More vertices are not either: they would be tens of megabytes for a reader who goes everywhere."""
HOME = "live"
"""Folder of what the page draws from."""


def drawn_live(one: Pass) -> bool:
    """Whether a page draws a layer by itself; rasters and what is too heavy come as tiles."""
    if not isinstance(one, VectorPass) or len(one.ink.index) > LIVE_FEATURES:
        return False
    return int(shapely.get_num_coordinates(one.source.shapes).sum()) <= LIVE_VERTICES


def tiled_layers(composition: Composition) -> dict[str, Composition]:
    """Each layer that comes as tiles, alone and as it is before it is blended, by the name of its archive."""
    return {
        tiled_name(one): Composition([_alone(one)], [], composition.furniture, composition.frame)
        for one in composition.passes
        if not drawn_live(one)
    }


def tiled_name(one: Pass) -> str:
    """The name of the archive of a layer that comes as tiles."""
    return f"{HOME}/tiles-{one.layer.id}"


def _alone(one: Pass) -> Pass:
    return replace(one, layer=one.layer.model_copy(update={"opacity": 1.0, "blend": "normal"}))


def write_live(plan: Plan, tiled: dict[str, ArchiveInfo], out: Path, told: Told) -> list[PageLayer]:
    """Write shapes, ink and cards of the layers that are drawn live into the folder `out`; returns all layers from the bottom
    up. `tiled` are the archives of the others that have any tile. Layers of which nothing is drawn are left out."""
    archives: dict[str, tuple[str, ArchiveInfo]] = {}
    layers: list[PageLayer] = []
    live = [one for one in plan.composition.passes if isinstance(one, VectorPass) and drawn_live(one)]
    for one in plan.composition.passes:
        layer = one.layer
        if not (isinstance(one, VectorPass) and drawn_live(one)):
            name = tiled_name(one)
            if name in tiled:
                info = tiled[name]
                layers.append(PageLayer(
                    id=layer.id, kind="raster", blend=layer.blend, opacity=layer.opacity, archive=f"{name}{info.ending}", format=info.format,
                    min_zoom=info.min_zoom, max_zoom=info.max_zoom, size=info.tile_size, ink=None, cards=None,
                ))  # fmt: skip
            continue
        if layer.dataset not in archives:
            sharing = [other for other in live if other.layer.dataset == layer.dataset]
            archives[layer.dataset] = _write_shapes(plan, sharing, out, told)
        archive, info = archives[layer.dataset]
        if not archive or not one.ink.drawn:
            continue
        data = one.source.dataset
        ink = f"{HOME}/ink-{layer.id}.bin"
        (out / ink).write_bytes(packed_ink(one.ink, data.kind, data.fids))
        if layer.card:
            told(f"cards of {layer.name}")
        layers.append(PageLayer(
            id=layer.id, kind=data.kind, blend=layer.blend, opacity=layer.opacity, archive=archive, format="pbf", min_zoom=info.min_zoom,
            max_zoom=info.max_zoom, size=512, ink=ink, cards=write_cards(plan.sheet, one, out) if layer.card else None,
        ))  # fmt: skip
    return layers


def page_labels(plan: Plan, sources: dict[str, ArchiveInfo]) -> PageLabels | None:
    """Where the page finds labels and how it sets them; None where there are none."""
    info = sources.get(LABELS)
    if info is None:
        return None
    styles = {}
    for layer, _ in plan.composition.lettered:
        style = layer.lettering
        assert style is not None
        styles[layer.id] = LabelStyle(
            size=style.size,
            halo=style.halo,
            colour=style.colour,
            halo_colour=style.halo_colour,
            leading=LEADING * style.size,
        )
    return PageLabels(archive=f"{LABELS}{info.ending}", min_zoom=info.min_zoom, max_zoom=info.max_zoom, styles=styles)


def _write_shapes(plan: Plan, sharing: list[VectorPass], out: Path, told: Told) -> tuple[str, ArchiveInfo]:
    """Write the shapes that any of the layers draws, which share a source; the archive's name is empty where there is none."""
    first = sharing[0]
    bounds = first.source.bounds if np.isfinite(first.source.bounds).all() else None
    info = vector_info(plan.info, first.layer.name, LAYER, {}, plan.frame, bounds)
    # A tile of a level is shown 512 px wide, as large as four of the map's next level.
    info = replace(
        info, min_zoom=max(0, info.min_zoom - 1), max_zoom=max(0, min(info.max_zoom, plan.levels.max_zoom - 1))
    )
    drawn = np.any([one.ink.index != UNDRAWN for one in sharing], axis=0)
    name = f"{HOME}/shapes-{first.layer.id}"
    written = bounds is not None and write_tiles(out, name, info, _tiles(first, drawn, info), told)
    return f"{name}{info.ending}" if written else "", info


def _tiles(one: VectorPass, drawn: NDArray[np.bool_], info: ArchiveInfo) -> Iterator[tuple[Tile, bytes]]:
    for z in range(info.min_zoom, info.max_zoom + 1):
        for tile in info.grid.tiles_over(one.source.bounds, z):
            data = shape_tile(one.source, tile, drawn)
            if data:
                yield tile, data
