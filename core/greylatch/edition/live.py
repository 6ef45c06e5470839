"""The layers of a readers' page: those that it draws by itself, from shapes and ink, and those that come as tiles."""

import gzip
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import partial
from pathlib import Path

import numpy as np

from greylatch.edition.archives import DEEPEST, Archive, vector_archive, vector_info
from greylatch.edition.asked import write_columns
from greylatch.edition.cards import write_cards
from greylatch.edition.description import LabelLineStyle, LabelStyle, PageLabels, PageLayer, PageTiles
from greylatch.edition.faces import face_file, letters_by_face
from greylatch.edition.plan import Plan
from greylatch.paint.passes import Composition, GatheredPass, Pass, VectorPass
from greylatch.sheet.layers import Effects, Layer
from greylatch.sheet.symbology import Clusters
from greylatch.symbols.ink import UNDRAWN
from greylatch.symbols.packed import packed_ink
from greylatch.tiles.archive import ArchiveInfo
from greylatch.tiles.density import OPEN_FEATURE, shapes_from
from greylatch.tiles.raster_pyramid import Levels
from greylatch.tiles.shape_tiles import LAYER, shape_tile
from greylatch.tiles.style import LABELS, pictures_of

__all__ = ["HOME", "live_from", "live_shapes", "open_from", "page_labels", "tiled_layers", "write_live"]

LIVE_FEATURES = 1_000_000
"""More features than these are not drawn live: their ink alone is a megabyte."""
LIVE_VERTICES = 5_000_000
"""More vertices are not either: they would be tens of megabytes for a reader who goes everywhere."""
ASKED_FEATURES = 200_000
"""More are chosen from only where their shapes are drawn anyway: from afar, all of them would be one tile of megabytes."""
HOME = "live"
"""Folder of what the page draws from."""
Told = Callable[[str], None]


@dataclass(frozen=True)
class Tiled:
    """A layer that comes as pictures, alone and as it is before it is blended, down to the level `last`."""

    composition: Composition
    last: int


def live_from(pass_: Pass, last: int) -> int | None:
    """The first level at which a page draws a layer of a map that ends at the level `last` by itself; None for rasters and what is
    too heavy at all of them.

    Parameters
    ----------
    pass_ : Pass
        The drawing pass of the layer.
    last : int
        The deepest level of the map's pictures.

    Returns
    -------
    int | None
    """
    if not isinstance(pass_, VectorPass) or len(pass_.ink.mark) > LIVE_FEATURES:
        return None
    if pass_.source.vertices > LIVE_VERTICES:
        return None
    first = shapes_from(pass_.source)
    return first if first <= shape_levels(last) else None


def open_from(pass_: Pass, last: int) -> int | None:
    """The same for readers of open styles, whose tiles carry more; also what the page does not draw live.

    Parameters
    ----------
    pass_ : Pass
        The drawing pass of the layer.
    last : int
        The deepest level of the map's pictures.

    Returns
    -------
    int | None
    """
    if not isinstance(pass_, VectorPass):
        return None
    first = shapes_from(pass_.source, OPEN_FEATURE)
    return first if first <= min(DEEPEST, last) else None


def shape_levels(last: int) -> int:
    """The deepest level of shapes of a map whose pictures end at the level `last`: a tile of shapes is shown as large as four of
    the pictures' next level, and is clear two levels further."""
    return max(0, min(DEEPEST, last - 1))


def tiled_layers(composition: Composition, levels: Levels) -> dict[str, Tiled]:
    """Each layer that comes as pictures at any of the levels, on the page or to readers of open styles, by the name of its archive.

    Parameters
    ----------
    composition : Composition
        The passes and labels of the map.
    levels : Levels
        First and last level.

    Returns
    -------
    dict[str, Tiled]
    """
    tiled = {}
    for pass_ in composition.passes:
        live, open_style = live_from(pass_, levels.max_zoom), open_from(pass_, levels.max_zoom)
        firsts = [levels.max_zoom if first is None else first for first in (live, open_style)]
        last = min(max(firsts), levels.max_zoom)
        if None in (live, open_style) or (last > 0 and last >= levels.min_zoom):
            alone = Composition([_alone(pass_)], [], composition.furniture, composition.frame)
            tiled[pictures_of(pass_.layer)] = Tiled(alone, last)
    return tiled


def _alone(pass_: Pass) -> Pass:
    return replace(
        pass_,
        layer=pass_.layer.model_copy(
            update={"opacity": 1.0, "blend": "normal", "effects": Effects(), "group": None, "scales": None}
        ),
    )


def write_live(plan: Plan, there: dict[str, ArchiveInfo], out: Path, progress: Told) -> list[PageLayer]:
    """Write ink and cards of the layers that are drawn live into the folder `out`; returns all layers from the bottom
    up. Layers of which nothing is drawn are left out.

    Parameters
    ----------
    plan : Plan
        The sheet to be published, and how.
    there : dict[str, ArchiveInfo]
        The archives that have any tile.
    out : Path
        The folder of the edition.
    progress : Told
        Hears what is being written.

    Returns
    -------
    list[PageLayer]
    """
    layers = [_layer(plan, pass_, there, out, progress) for pass_ in plan.composition.passes]
    return [layer for layer in layers if layer.shapes or layer.pictures]


def _layer(plan: Plan, pass_: Pass, there: dict[str, ArchiveInfo], out: Path, progress: Told) -> PageLayer:
    layer, shapes, ink, cards, columns, drawn_from = pass_.layer, None, None, None, None, None
    if isinstance(pass_, VectorPass) and _is_live(pass_, plan):
        shapes = _tiles_there(_shapes_name(pass_, plan), there)
        if shapes:
            ink = f"{HOME}/ink-{layer.id}.bin"
            data = pass_.source.dataset
            (out / ink).write_bytes(gzip.compress(packed_ink(pass_.ink, data.kind, data.fids), mtime=0))
            if write_columns(plan.sheet, pass_, plan.frame, out / f"{HOME}/columns-{layer.id}.bin"):
                columns = f"{HOME}/columns-{layer.id}.bin"
            drawn_from = shapes_from(pass_.source)
        if shapes and layer.card:
            progress(f"cards of {layer.name}")
            cards = write_cards(plan.sheet, pass_, out, plan.attached.get(pass_.layer.dataset, {}))
    kind = pass_.source.dataset.kind if isinstance(pass_, VectorPass) else "raster"
    closest, farthest = plan.composition.range_of(layer)
    return PageLayer(
        id=layer.id, kind=kind, blend=layer.blend, opacity=layer.opacity, effects=layer.effects, group=layer.group, shapes=shapes, ink=ink, cards=cards,
        columns=columns, drawn_from=drawn_from, name=layer.name,
        pictures=_tiles_there(pictures_of(layer), there), closest=closest, farthest=farthest,
        opens=isinstance(pass_, GatheredPass) and isinstance(pass_.look, Clusters),
    )  # fmt: skip


def _tiles_there(name: str, there: dict[str, ArchiveInfo]) -> PageTiles | None:
    return page_tiles(name, there[name]) if name in there else None


def page_tiles(name: str, info: ArchiveInfo) -> PageTiles:
    """An archive in the folder of an edition, as its page finds it."""
    return PageTiles(
        archive=f"{name}{info.ending}",
        format=info.format,
        min_zoom=info.min_zoom,
        max_zoom=info.max_zoom,
        size=info.tile_size,
    )


def page_labels(plan: Plan, there: dict[str, ArchiveInfo]) -> PageLabels | None:
    """Where the page finds labels and how it sets them; None where there are none.

    Parameters
    ----------
    plan : Plan
        The sheet to be published, and how.
    there : dict[str, ArchiveInfo]
        What the archives say of themselves that have any tile.

    Returns
    -------
    PageLabels | None
    """
    if LABELS not in there:
        return None
    styles = {}
    for layer, _ in plan.composition.lettered:
        style = layer.lettering
        assert style is not None
        styles[layer.id] = LabelStyle(
            lines=[LabelLineStyle(size=line.size, colour=line.colour, spacing=line.spacing) for line in style.lines],
            halo=style.halo,
            halo_colour=style.halo_colour,
            opacity=style.opacity,
            shadow=style.shadow,
            frame=style.frame,
        )
    lettered = [wanted for _, wanted in plan.composition.lettered]
    faces = {face.name: face_file(face) for face in letters_by_face(lettered)}
    reach = max(wanted.reach for wanted in lettered)
    return PageLabels(tiles=page_tiles(LABELS, there[LABELS]), reach=reach, styles=styles, faces=faces)


def live_shapes(plan: Plan) -> dict[str, Archive]:
    """Archives of the shapes of layers that the page draws, with nothing but their fids; layers of the same data share one."""
    archives = {}
    for pass_ in plan.composition.passes:
        if isinstance(pass_, VectorPass) and _is_live(pass_, plan):
            sharing = _sharing(pass_, plan)
            drawn = np.any([other.ink.mark != UNDRAWN for other in sharing], axis=0)
            info = _shapes_info(sharing[0], plan)
            archives[_shapes_name(pass_, plan)] = vector_archive(
                info, pass_.source.bounds, partial(shape_tile, pass_.source, drawn=drawn)
            )
    return archives


def _is_live(vector: VectorPass, plan: Plan) -> bool:
    """Whether the page draws a layer by itself at any level."""
    there = vector.ink.drawn > 0 and bool(np.isfinite(vector.source.bounds).all())
    return there and (_is_asked(vector, plan) or live_from(vector, plan.levels.max_zoom) is not None)


def _is_asked(vector: VectorPass, plan: Plan) -> bool:
    """Whether readers choose among the features of a layer, and so see them by themselves at all levels, at least while they do."""
    few = len(vector.source.dataset) <= ASKED_FEATURES and vector.source.vertices <= LIVE_VERTICES
    return few and any(plan.sheet.reader.asks(other.layer.id) for other in _sharing(vector, plan))


def _sharing(vector: VectorPass, plan: Plan) -> list[VectorPass]:
    """The layers of the same rows, from the bottom up."""
    passes = (other for other in plan.composition.passes if isinstance(other, VectorPass))
    rows = _rows_of(vector.layer)
    return [other for other in passes if _rows_of(other.layer) == rows]


def _rows_of(layer: Layer) -> tuple[object, ...]:
    """Which rows a layer draws."""
    return layer.dataset, layer.filter, layer.reading, layer.others if layer.filter else {}


def _shapes_name(vector: VectorPass, plan: Plan) -> str:
    return f"{HOME}/shapes-{_sharing(vector, plan)[0].layer.id}"


def _shapes_info(vector: VectorPass, plan: Plan) -> ArchiveInfo:
    info = vector_info(plan.info, vector.layer.name, LAYER, {}, plan.frame, vector.source.bounds)
    last = shape_levels(plan.levels.max_zoom)
    first = 0 if _is_asked(vector, plan) else shapes_from(vector.source)
    return replace(info, min_zoom=min(last, max(0, info.min_zoom - 1, first)), max_zoom=last)
