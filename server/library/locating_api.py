"""Places by name: looked up, decided by hand, kept as points."""

from uuid import UUID

from django.http import HttpRequest
from greylatch.errors import BadInput
from greylatch.places.likely_fields import likely_fields
from ninja import Router, Schema
from people.access import maker, person

from library.derived import data_of
from library.locating import LocateIn, PlacesView, keep_located, places_view
from library.seen import current_dataset
from library.shown import DatasetOut, shown_to

router = Router(tags=["places"])


class PairIn(Schema):
    """A table and a gazetteer."""

    table: UUID
    gazetteer: UUID


class NameFieldsOut(Schema):
    """Fields of names and of regions in both; '' where there are none."""

    name: str
    region: str
    gazetteer_name: str
    gazetteer_region: str


@router.post("/places/fields", response=NameFieldsOut, summary="Which fields hold the same names")
def fields(request: HttpRequest, payload: PairIn) -> NameFieldsOut:
    """By the names that both have."""
    table, gazetteer = current_dataset(request, payload.table), current_dataset(request, payload.gazetteer)
    if "raster" in (table.kind, gazetteer.kind):
        raise BadInput("A raster has no names.")
    return NameFieldsOut(**vars(likely_fields(data_of(table.newest), data_of(gazetteer.newest))))


@router.post("/places/look", response=PlacesView, summary="Where the names of a table are")
def look(request: HttpRequest, payload: LocateIn) -> PlacesView:
    """In a gazetteer of the library, with what was decided so far."""
    table, gazetteer = current_dataset(request, payload.table), current_dataset(request, payload.gazetteer)
    return places_view(person(request), table, gazetteer, payload)


@router.post("/places", response=DatasetOut, summary="Keep a table's rows at the places of their names")
def keep(request: HttpRequest, payload: LocateIn) -> DatasetOut:
    """As a new dataset of points. Rows whose names were not found stay in it, without a place."""
    table, gazetteer = current_dataset(request, payload.table), current_dataset(request, payload.gazetteer)
    return shown_to(person(request), keep_located(maker(request), table, gazetteer, payload))
