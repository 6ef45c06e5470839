"""Services of others and the tagged store: what they offer, what is fetched from them, and when again."""

from uuid import UUID

from django.conf import settings
from django.http import HttpRequest
from django.utils import timezone
from greylatch.errors import BadInput
from greylatch.services.tile_mosaic import levels_for, proposed_level
from jobs.api import JobOut
from jobs.models import Job
from jobs.work import begin
from library.origin import Every, Origin
from library.seen import current_dataset
from library.shown import DatasetOut, shown_to
from ninja import Router, Schema
from people.access import maker, person

from services.fetching import host_of
from services.kinds import Address, AnyAsked, Box, layer_at, offer_at
from services.store import StoreAsked, StoreCount, counts, offered
from services.tasks import EVERY, refresh

router = Router(tags=["services"])


class AddressIn(Schema):
    """The address of a service."""

    address: Address


class AllowedOut(Schema):
    """Hosts whose services may be asked, `*` for every public one; and services within this network, whole."""

    hosts: list[str]
    addresses: list[str]


class CollectionOut(Schema):
    """A collection of features; `filtered` says whether the service takes conditions."""

    id: str
    title: str
    description: str
    bounds: list[float] | None
    credit: str
    licence: str
    filtered: bool


class TileLayerOut(Schema):
    """A layer of tiles."""

    id: str
    title: str
    description: str
    bounds: list[float] | None
    credit: str
    crs: str


class ServiceOut(Schema):
    """What is at an address: collections, layers of tiles, or a file of GeoJSON."""

    host: str
    collections: list[CollectionOut]
    layers: list[TileLayerOut]
    file: bool


class TilesIn(Schema):
    """A place of a layer of tiles."""

    address: Address
    layer: str
    bounds: Box


class TileLevelOut(Schema):
    """A level that covers the place with so many tiles: its name, ground units of a pixel, pixels in all; one is `proposed`."""

    name: str
    resolution: float
    tiles: int
    width: int
    height: int
    proposed: bool


class FetchIn(Schema):
    """What to fetch."""

    asked: AnyAsked


class TimetableIn(Schema):
    """How often a dataset asks its service again by itself."""

    every: Every


class TagOffered(Schema):
    """A name of tags of the store: how many features carry it, and its commonest values."""

    name: str
    features: int
    values: list[str]


@router.get("/services", response=AllowedOut, summary="Which services are allowed here")
def allowed(request: HttpRequest) -> AllowedOut:
    """As whoever runs this installation has set it."""
    maker(request)
    return AllowedOut(hosts=list(settings.SERVICES), addresses=[f"http://{each}" for each in settings.SERVICES_INSIDE])


@router.post("/services/look", response=ServiceOut, summary="What a service offers")
def look(request: HttpRequest, payload: AddressIn) -> ServiceOut:
    """Only of hosts that are allowed here, and never within a private network."""
    maker(request)
    offer = offer_at(payload.address.strip())
    return ServiceOut(
        host=host_of(payload.address), file=offer.file,
        collections=[CollectionOut(**{**vars(each), "bounds": each.bounds and list(each.bounds)}) for each in offer.collections],
        layers=[TileLayerOut(**{**vars(each), "bounds": each.bounds and list(each.bounds)}) for each in offer.layers],
    )  # fmt: skip


@router.post("/services/levels", response=list[TileLevelOut], summary="In which levels tiles of a place can be taken")
def levels(request: HttpRequest, payload: TilesIn) -> list[TileLevelOut]:
    """Those with no more tiles than are taken at once, the coarsest first."""
    maker(request)
    west, south, east, north = payload.bounds
    excerpts = levels_for(layer_at(payload.address, payload.layer), (west, south, east, north))
    proposed = proposed_level(excerpts)
    return [
        TileLevelOut(
            name=each.level.name, resolution=each.level.resolution, tiles=each.tiles, width=each.size[0], height=each.size[1],
            proposed=each is proposed,
        )
        for each in excerpts
    ]  # fmt: skip


@router.post("/services/fetch", response=JobOut, summary="Fetch from a service")
def fetch(request: HttpRequest, payload: FetchIn) -> Job:
    """Starts a job whose result names an upload, which is looked at and brought in like a file."""
    asked = payload.asked
    words = "Ask the store" if asked.kind == "store" else f"Fetch from {host_of(asked.address)}"
    return begin(maker(request), "fetch", words, {"asked": asked.model_dump(mode="json")})


@router.post("/datasets/{dataset_id}/refresh", response=JobOut, summary="Fetch a dataset again")
def refresh_dataset(request: HttpRequest, dataset_id: UUID) -> Job:
    """From its service, by the same question and with the same corrections."""
    return refresh(person(request), current_dataset(request, dataset_id, "change"))


@router.put("/datasets/{dataset_id}/timetable", response=DatasetOut, summary="How often a dataset is fetched again")
def timetable(request: HttpRequest, dataset_id: UUID, payload: TimetableIn) -> DatasetOut:
    """Every hour, day or week, or only on request."""
    dataset = current_dataset(request, dataset_id, "change")
    origin = Origin.of(dataset)
    if origin is None:
        raise BadInput(f"'{dataset.title}' came from no service.")
    following = timezone.now() + EVERY[payload.every] if payload.every else None
    dataset.origin = origin.model_copy(update={"every": payload.every, "next": following}).kept()
    dataset.save(update_fields=["origin"])
    return shown_to(person(request), dataset)


@router.get("/store/tags", response=list[TagOffered], summary="The tags of the store")
def tags(request: HttpRequest) -> list[dict[str, object]]:
    """The commonest first."""
    maker(request)
    return offered()


@router.post("/store/count", response=StoreCount, summary="How many features carry some tags")
def count(request: HttpRequest, payload: StoreAsked) -> StoreCount:
    """In an area, before any are taken."""
    return counts(maker(request), payload)
