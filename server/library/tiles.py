"""Geometry tiles: shapes with nothing but their fid, cut for each state of what lies in them and kept for good."""

from functools import lru_cache
from uuid import UUID

import numpy as np
import pyproj
import shapely
from django.core.cache import caches
from django.db.models import Q
from greylatch.errors import BadInput
from greylatch.paint.sources import VectorSource
from greylatch.places.frame import MERCATOR, Frame
from greylatch.places.grid import Tile
from greylatch.tiles.density import shapes_from
from greylatch.tiles.shape_tiles import reach_of_tile, shape_tile
from numpy.typing import NDArray

from library.derived import source_of
from library.models import Revision, Shape

CUT = 3
"""Of which make the tiles are: counted on when they are cut in another way, so that none of the old ones is served."""
EVERYWHERE = 1_000
"""Shapes changed at once from which on it is not asked where: all tiles are cut anew."""


def geometry_tile(revision: Revision, frame: Frame, tile: Tile) -> bytes:
    """The Mapbox Vector Tile 2.1; empty bytes where there is nothing. Raises BadInput for a tile or shapes that are not there."""
    if not frame.grid.has(tile):
        raise BadInput(f"There is no tile {tile.z}/{tile.x}/{tile.y}.")
    if revision.raster is not None:
        raise BadInput("A raster has no shapes.")
    kept = caches["tiles"]
    state = tile_state(revision, frame, tile)
    key = f"shapes/{CUT}/{state}/{frame.digest}/{tile.z}/{tile.x}/{tile.y}"
    data = kept.get(key)
    if data is None:
        source = source_of(revision, frame)
        assert isinstance(source, VectorSource)
        data = shape_tile(source, tile)
        kept.set(key, data)
    return bytes(data)


def level_of(revision: Revision, placed: VectorSource | None = None, frame: Frame = MERCATOR) -> int:
    """The first level from which on all tiles of the revision's shapes are small enough to be sent. Kept, since it takes a look at
    every vertex; `placed` are the revision's shapes in the frame, where somebody has them at hand. Raises BadInput for a raster."""
    key = f"level/{CUT}/{revision.shapes_id}/{frame.digest}"
    level = caches["tiles"].get(key)
    if level is None:
        source = placed or source_of(revision, frame)
        if not isinstance(source, VectorSource):
            raise BadInput(f"'{revision.dataset.title}' has no shapes.")
        level = shapes_from(source)
        caches["tiles"].set(key, level)
    return int(level)


def tile_state(revision: Revision, frame: Frame, tile: Tile) -> UUID:
    """The revision in which something that the tile shows came, went or moved last."""
    states, which, boxes = _changes(revision.shapes_id, frame)
    ground = frame.grid.tile_bounds(tile)
    west, south, east, north = ground if revision.dataset.kind == "points" else reach_of_tile(ground)
    there = (boxes[:, 0] <= east) & (boxes[:, 2] >= west) & (boxes[:, 1] <= north) & (boxes[:, 3] >= south)
    return states[int(which[there].max(initial=0))]


@lru_cache(maxsize=256)
def _changes(shapes: UUID, frame: Frame) -> tuple[list[UUID], NDArray[np.intp], NDArray[np.float64]]:
    """The states up to one of the shapes; and of all that came and went after the first, which state and the box in the frame."""
    last = Revision.objects.get(pk=shapes)
    states = list(Revision.objects.filter(dataset=last.dataset_id, number__lte=last.number).order_by("number"))
    boxes = [np.empty((0, 4)), *(_boxes(state.pk, frame) for state in states[1:])]
    which = np.repeat(np.arange(len(states)), [len(box) for box in boxes])
    return [state.pk for state in states], which, np.concatenate(boxes)


@lru_cache(maxsize=4_096)
def _boxes(state: UUID, frame: Frame) -> NDArray[np.float64]:
    """The boxes of what a revision changed, as it was before and as it is then."""
    revision = Revision.objects.get(pk=state)
    number = revision.number
    changed = Shape.objects.filter(Q(since=number) | Q(until=number, until__isnull=False), dataset=revision.dataset_id)
    wkbs = [bytes(wkb) for wkb in changed.values_list("wkb", flat=True)[: EVERYWHERE + 1]]
    if len(wkbs) > EVERYWHERE:
        return np.array([[-np.inf, -np.inf, np.inf, np.inf]])
    if not wkbs or revision.projjson is None:
        return np.empty((0, 4))
    boxes = shapely.bounds(frame.project(shapely.from_wkb(wkbs), pyproj.CRS.from_json_dict(revision.projjson)))
    return boxes[np.isfinite(boxes).all(axis=1)]
