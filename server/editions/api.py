"""Publishing, from the owner's side."""

from datetime import datetime
from typing import Annotated
from uuid import UUID

from django.conf import settings
from django.http import Http404, HttpRequest
from greylatch.edition.plan import Plan, plan_edition
from greylatch.errors import BadInput
from greylatch.sheet.document import Origin
from greylatch.sheet.document import Sheet as Document
from greylatch.tiles.archive import RasterFormat
from jobs.api import JobOut
from jobs.models import Job
from jobs.work import LIVE, begin
from library.quota import check_room
from ninja import Field, Router, Schema
from people.access import allowed_one, person
from sheets.keeping import document_of
from sheets.models import Sheet
from sheets.sources import finder, refuse_foreign, revisions_for

from editions.models import Address, Edition, Readers

router = Router(tags=["editions"])
Level = Annotated[int, Field(ge=-(2**31), lt=2**31)]
TILE_BYTES = 12_000
"""Of a tile of a map, about: what a publish takes of the disk is estimated by it."""


class PublishIn(Schema):
    """How to cut; null levels are chosen from the data."""

    size: int = Field(256, description="256 or 512 px")
    format: RasterFormat = Field("png", description="png or webp: the same pixels, WebP in smaller files")
    min_zoom: Level | None = None
    max_zoom: Level | None = None


class PlanOut(Schema):
    """What a publish would cut, at most; and the last level that the data would call for, where that is deeper than may be cut at once."""

    min_zoom: int
    max_zoom: int
    tiles: int
    deeper: int | None


class EditionOut(Schema):
    """A published edition."""

    number: int
    published: datetime
    current: bool
    address: str
    tiles: int
    min_zoom: int
    max_zoom: int
    size: int
    format: RasterFormat
    asked: PublishIn = Field(description="How it was asked to be cut, as the next one begins")
    crs: str
    files: list[str]


class EditionsOut(Schema):
    """All editions of a sheet and the address that never changes; null before the first publish."""

    address: str | None
    readers: Readers
    sites: list[str]
    editions: list[EditionOut]


class ReadersIn(Schema):
    """Who reads what stands at a sheet's address, and on whose pages; no sites: on anybody's."""

    readers: Readers
    sites: list[Origin] = Field([], max_length=50)


@router.post("/{sheet_id}/plan", response=PlanOut, summary="What a publish would cut")
def planned(request: HttpRequest, sheet_id: UUID, payload: PublishIn) -> PlanOut:
    """Levels and the number of tiles."""
    sheet = allowed_one(person(request), "see", Sheet, pk=sheet_id)
    plan = _plan(sheet, Document.model_validate(document_of(sheet)), payload)
    levels = plan.levels
    return PlanOut(min_zoom=levels.min_zoom, max_zoom=levels.max_zoom, tiles=plan.tiles, deeper=plan.deeper)


@router.post("/{sheet_id}/editions", response=JobOut, summary="Publish")
def start(request: HttpRequest, sheet_id: UUID, payload: PublishIn) -> Job:
    """Starts a job that ends with a new edition at the sheet's address; one at a time for a sheet."""
    sheet = allowed_one(person(request), "change", Sheet, pk=sheet_id)
    document = document_of(sheet)
    checked = Document.model_validate(document)
    refuse_foreign(sheet.owner, checked)
    planned = _plan(sheet, checked, payload)
    if Job.objects.filter(kind="publish", state__in=LIVE, result__sheet=str(sheet.pk)).exists():
        raise BadInput("This sheet is being published already.", "Wait for that, or stop it.")
    needed = planned.tiles * TILE_BYTES
    check_room(person(request), needed)
    arguments = {"sheet": str(sheet.pk), "document": document, **payload.model_dump()}
    return begin(
        person(request), "publish", f"Publish '{sheet.title}'", arguments, 3 * needed, known={"sheet": str(sheet.pk)}
    )


@router.get("/{sheet_id}/editions", response=EditionsOut, summary="Editions of a sheet")
def editions(request: HttpRequest, sheet_id: UUID) -> EditionsOut:
    """The newest first."""
    sheet = allowed_one(person(request), "see", Sheet, pk=sheet_id)
    address = Address.objects.filter(sheet=sheet).first()
    if address is None:
        return EditionsOut(address=None, readers=Readers.ANYONE, sites=[], editions=[])
    home = f"{settings.PUBLIC_ADDRESS}/e/{address.slug}/"
    return EditionsOut(
        address=home, readers=Readers(address.readers), sites=address.sites,
        editions=[
            EditionOut(
                number=edition.number, published=edition.published_at, current=edition.pk == address.current_id, address=f"{home}{edition.number}/",
                tiles=edition.described.get("tiles", 0), min_zoom=edition.min_zoom, max_zoom=edition.max_zoom, size=edition.size, format=edition.pictures,
                asked=_asked(edition), crs=edition.crs, files=edition.described.get("files", []),
            )
            for edition in sheet.editions.filter(published__isnull=False).select_related("job")
        ],
    )  # fmt: skip


@router.post("/{sheet_id}/editions/{number}/bring-back", response=EditionsOut, summary="Bring an edition back")
def bring_back(request: HttpRequest, sheet_id: UUID, number: Level) -> EditionsOut:
    """The address shows this edition from now on."""
    sheet = allowed_one(person(request), "change", Sheet, pk=sheet_id)
    edition = Edition.objects.filter(sheet=sheet, number=number, published__isnull=False).first()
    if edition is None:
        raise Http404
    Address.objects.filter(sheet=sheet).update(current=edition)
    return editions(request, sheet_id)


@router.put("/{sheet_id}/address", response=EditionsOut, summary="Say who reads a sheet's editions")
def set_readers(request: HttpRequest, sheet_id: UUID, payload: ReadersIn) -> EditionsOut:
    """From the next thing that is asked for on; what browsers hold already they hold. By the sheet's owner."""
    sheet = allowed_one(person(request), "share", Sheet, pk=sheet_id)
    if not Address.objects.filter(sheet=sheet).update(readers=payload.readers, sites=payload.sites):
        raise BadInput("This sheet has no address yet.", "Publish it first.")
    return editions(request, sheet_id)


def _asked(edition: Edition) -> PublishIn:
    """As its job was asked; what became of levels that nobody chose is asked of the data again."""
    asked = edition.job.arguments if edition.job else {}
    levels = {key: asked.get(key) for key in ("min_zoom", "max_zoom")}
    return PublishIn(size=edition.size, format=edition.pictures, **levels)


def _plan(sheet: Sheet, document: Document, payload: PublishIn) -> Plan:
    find = finder(revisions_for(sheet.owner, document))
    return plan_edition(document, find, payload.size, payload.min_zoom, payload.max_zoom, payload.format)
