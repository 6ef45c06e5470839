"""What stands for a layer's shapes where they are too many to be sent: pictures under a symbology, and what lies at a place of them."""

import hashlib
from collections import OrderedDict
from collections.abc import Mapping
from uuid import UUID

import numpy as np
from django.core.cache import caches
from django.http import Http404, HttpRequest, HttpResponse
from greylatch.errors import BadInput
from greylatch.paint.clusters import cluster_at
from greylatch.paint.hits import hit
from greylatch.paint.passes import Composition, GatheredPass, Pass, VectorPass, pass_of
from greylatch.paint.picture import paint
from greylatch.paint.repaint import repaint
from greylatch.places.frame import Frame
from greylatch.places.grid import Tile
from greylatch.places.view import View
from greylatch.readings.kinds import AnyReading
from greylatch.sheet.document import CrsText, Furniture
from greylatch.sheet.layers import MOST_OTHERS, DatasetName, Layer, OtherName
from greylatch.sheet.parts import Condition
from greylatch.sheet.symbology import Clusters, Symbology
from greylatch.tiles.image import is_empty, png
from library.models import Revision
from library.seen import current_dataset
from library.tiles import level_of
from ninja import Router, Schema
from numpy.typing import NDArray
from people.access import person
from pydantic import Field

from sheets.sources import finder, revisions_named

router = Router(tags=["drawing"])
SIZES = (256, 512, 1024)
KEPT = 32
"""Of how many layers a process remembers the ink."""
_passes: OrderedDict[tuple[UUID, str, str], Pass] = OrderedDict()
PICTURES = 24
"""Of how many places a process remembers the picture, up to 4 MB each."""
_pictures: OrderedDict[tuple[UUID, View], tuple[VectorPass, NDArray[np.uint8]]] = OrderedDict()


class LevelOut(Schema):
    """The first level whose tiles of shapes are all small enough to be sent; further away there are pictures."""

    level: int


class Look(Schema):
    """How a dataset is drawn: what of a layer a picture of it alone depends on."""

    symbology: Symbology
    filter: Condition = ""
    reading: AnyReading | None = None
    others: dict[OtherName, DatasetName] = Field({}, max_length=MOST_OTHERS)

    def name_with(self, others: Mapping[str, Revision]) -> str:
        """Another one for another look, and where the datasets that it names are in another state."""
        said = self.model_dump_json() + "".join(f"{name} {others[name].pk}" for name in sorted(others))
        return hashlib.sha256(said.encode()).hexdigest()[:32]


class PlaceIn(Schema):
    """(x, y) of a projection, seen at `resolution` units to a px, drawn under a look."""

    look: Look
    x: float
    y: float
    resolution: float = Field(gt=0)
    crs: CrsText = "EPSG:3857"


class FeatureOut(Schema):
    """The feature that is seen at a place; null for none. Where several are seen as one, the box in the projection that they lie in."""

    fid: int | None
    box: list[float] | None = None


@router.get("/pictures/{dataset_id}/{z}/{x}/{y}", summary="A tile of a layer as a picture")
def picture_tile(
    request: HttpRequest, dataset_id: UUID, z: int, x: int, y: int, look: str, size: int = 256, crs: CrsText = "EPSG:3857", ratio: int = 1
) -> HttpResponse:  # fmt: skip
    """PNG of a dataset under a look given as JSON (see `Look`), in the tile matrix set of a projection, `ratio` px to one of the screen;
    204 where it does not reach."""
    return _tile(request, dataset_id, Tile(z, x, y), Look.model_validate_json(look), size, crs, ratio)


@router.post("/pictures/{dataset_id}/{z}/{x}/{y}", summary="A tile of a layer whose look is too long for an address")
def picture_tile_posted(
    request: HttpRequest, dataset_id: UUID, z: int, x: int, y: int, payload: Look, size: int = 256, crs: CrsText = "EPSG:3857", ratio: int = 1
) -> HttpResponse:  # fmt: skip
    """The same."""
    return _tile(request, dataset_id, Tile(z, x, y), payload, size, crs, ratio)


def _tile(
    request: HttpRequest, dataset_id: UUID, tile: Tile, look: Look, size: int, crs: str, ratio: int
) -> HttpResponse:  # fmt: skip
    dataset = current_dataset(request, dataset_id)
    frame = Frame.named(crs)
    if not frame.grid.has(tile) or size not in SIZES or ratio not in (1, 2):
        raise Http404
    others = revisions_named(person(request), look.others.values())
    name = look.name_with(others)
    key = f"picture-tile/3/{dataset.newest.pk}/{name}/{frame.digest}/{tile.z}/{tile.x}/{tile.y}/{size}/{ratio}"
    data = caches["tiles"].get(key)
    if data is None:
        pass_ = layer_pass(dataset.newest, look, frame, others)
        picture = _painted(dataset.pk, pass_, View.of_tile(frame, tile, size, ratio))
        data = b"" if is_empty(picture) else png(picture)
        caches["tiles"].set(key, data)
    answer = HttpResponse(data, content_type="image/png") if data else HttpResponse(status=204)
    answer["Cache-Control"] = "private, max-age=86400"
    return answer


def _painted(dataset: UUID, pass_: Pass, view: View) -> NDArray[np.uint8]:
    """A picture of a layer alone. Of what this process painted last of the same place only the features are painted again that have
    changed: of a break that is dragged those that go over to another class."""
    before = _pictures.get((dataset, view))
    picture = None
    if before is not None and isinstance(pass_, VectorPass):
        picture = repaint(before[1], before[0], pass_, view)
    if picture is None:
        picture = paint(Composition([pass_], [], Furniture(), view.frame), view, ground=False)
    if isinstance(pass_, VectorPass):
        _pictures[dataset, view] = pass_, picture
        _pictures.move_to_end((dataset, view))
        while len(_pictures) > PICTURES:
            _pictures.popitem(last=False)
    return picture


@router.get("/shapes/{dataset_id}/level", response=LevelOut, summary="From which level on shapes are sent")
def level_of_shapes(request: HttpRequest, dataset_id: UUID, crs: CrsText = "EPSG:3857") -> LevelOut:
    """Of the dataset's current state in a projection."""
    dataset = current_dataset(request, dataset_id)
    return LevelOut(level=level_of(dataset.newest, frame=Frame.named(crs)))


@router.post("/shapes/{dataset_id}/at", response=FeatureOut, summary="The feature at a place of a picture")
def feature_at(request: HttpRequest, dataset_id: UUID, payload: PlaceIn) -> FeatureOut:
    """As it is drawn under a look."""
    dataset = current_dataset(request, dataset_id)
    others = revisions_named(person(request), payload.look.others.values())
    pass_ = layer_pass(dataset.newest, payload.look, Frame.named(payload.crs), others)
    if isinstance(pass_, GatheredPass) and isinstance(pass_.look, Clusters):
        cluster = cluster_at(pass_.source, pass_.look, payload.x, payload.y, payload.resolution)
        if cluster is None:
            return FeatureOut(fid=None)
        first, count, box = cluster
        return FeatureOut(
            fid=int(pass_.source.dataset.fids[first]) if count == 1 else None, box=None if count == 1 else list(box)
        )
    if not isinstance(pass_, VectorPass):
        raise BadInput(f"'{dataset.title}' has no shapes.")
    row = hit(pass_, payload.x, payload.y, payload.resolution)
    return FeatureOut(fid=None if row is None else int(pass_.source.dataset.fids[row]))


def layer_pass(revision: Revision, look: Look, frame: Frame, others: dict[str, Revision]) -> Pass:
    """A dataset's state under a look, ready to be drawn; remembered, since a map asks for many tiles of it."""
    name = str(revision.dataset_id)
    key = revision.pk, look.name_with(others), frame.digest
    if key in _passes:
        _passes.move_to_end(key)
        return _passes[key]
    layer = Layer(id="layer", name="Layer", dataset=name, **dict(look))
    pass_ = pass_of(layer, finder({**others, name: revision}), frame)
    _passes[key] = pass_
    while len(_passes) > KEPT:
        _passes.popitem(last=False)
    return pass_
