"""Sheets: keeping and going back."""

from datetime import datetime
from typing import Annotated
from uuid import UUID

from django.db import transaction
from django.db.models import QuerySet
from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from editions.publish import forget_editions
from greylatch.sheet.document import Sheet as Document
from greylatch.sheet.reading import parse_sheet
from ninja import Field, Router, Schema
from people.access import Standing, allowed, allowed_one, maker, person, standings

from sheets.keeping import Stale, create, document_of, keep
from sheets.models import Sheet, SheetRevision
from sheets.sources import refuse_foreign

router = Router(tags=["sheets"])


class SheetLine(Standing):
    """A sheet in a list."""

    id: UUID
    title: str
    revision: int
    changed: datetime


class SheetOut(Standing):
    """A sheet with its document."""

    id: UUID
    revision: int
    document: Document


class SheetIn(Schema):
    """A document to be kept after the revision that it started from."""

    base: int = Field(ge=0, lt=2**31)
    document: Document


class Kept(Schema):
    """The revision under which a document was kept."""

    revision: int


class StaleOut(Schema):
    """A refused save, with the document as it stands."""

    detail: str
    revision: int
    document: Document


class RevisionLine(Schema):
    """A revision in the history."""

    number: int
    created: datetime


@router.get("", response=list[SheetLine], summary="My sheets")
def sheets(request: HttpRequest) -> list[SheetLine]:
    """Mine and those that are shared with me; the one changed last comes first."""
    seen = list(allowed(person(request), "see", Sheet).select_related("owner"))
    standing = standings(person(request), seen)
    return [
        SheetLine(
            id=sheet.pk, title=sheet.title, revision=sheet.revision, changed=sheet.changed,
            **standing[sheet.pk],
        )
        for sheet in seen
    ]  # fmt: skip


@router.post("", response=SheetOut, summary="Begin a sheet")
def begin(request: HttpRequest, document: Document) -> SheetOut:
    """A new sheet with this document."""
    refuse_foreign(person(request), document)
    return _out(request, create(maker(request), document.model_dump(mode="json")))


@router.get("/{sheet_id}", response=SheetOut, summary="A sheet")
def sheet(request: HttpRequest, sheet_id: UUID) -> SheetOut:
    """Its newest document."""
    return _out(request, allowed_one(person(request), "see", Sheet, pk=sheet_id))


@router.put("/{sheet_id}", response={200: Kept, 409: StaleOut}, summary="Keep a change")
def save(request: HttpRequest, sheet_id: UUID, payload: SheetIn) -> tuple[int, Kept | StaleOut]:
    """Refused with both versions in hand where somebody kept another change meanwhile."""
    sheet = allowed_one(person(request), "change", Sheet, pk=sheet_id)
    parse_sheet(payload.document.model_dump(mode="json"))
    refuse_foreign(person(request), payload.document, Document.model_validate(document_of(sheet)))
    try:
        return 200, Kept(revision=keep(sheet, payload.base, payload.document, person(request)).revision)
    except Stale as stale:
        return 409, StaleOut(
            detail=str(stale), revision=stale.sheet.revision, document=Document.model_validate(document_of(stale.sheet))
        )


@router.delete("/{sheet_id}", summary="Remove a sheet")
def remove(request: HttpRequest, sheet_id: UUID) -> dict[str, str]:
    """Takes the sheet, its history and its editions away for good."""
    sheet = allowed_one(person(request), "remove", Sheet, pk=sheet_id)
    with transaction.atomic():
        forget_editions(sheet)
        sheet.delete()
    return {}


@router.get("/{sheet_id}/revisions", response=list[RevisionLine], summary="History of a sheet")
def revisions(request: HttpRequest, sheet_id: UUID) -> QuerySet[SheetRevision]:
    """The last 200 revisions, the newest first."""
    return allowed_one(person(request), "see", Sheet, pk=sheet_id).revisions.all()[:200]


@router.get("/{sheet_id}/revisions/{number}", response=SheetOut, summary="A sheet as it was")
def revision(request: HttpRequest, sheet_id: UUID, number: Annotated[int, Field(ge=0, lt=2**31)]) -> SheetOut:
    """The document of one revision."""
    sheet = allowed_one(person(request), "see", Sheet, pk=sheet_id)
    get_object_or_404(sheet.revisions, number=number)
    return _out(request, sheet, number)


def _out(request: HttpRequest, sheet: Sheet, number: int | None = None) -> SheetOut:
    document = Document.model_validate(document_of(sheet, number))
    return SheetOut(
        id=sheet.pk,
        revision=number or sheet.revision,
        document=document,
        **standings(person(request), [sheet])[sheet.pk],
    )
