"""Cross-lists: kept, edited, exported and used again, for joins by key and for places by name."""

import csv
import io
from collections.abc import Sequence
from datetime import datetime
from typing import Annotated
from uuid import UUID

from django.db import IntegrityError, transaction
from django.http import HttpRequest, HttpResponse
from greylatch.errors import BadInput
from ninja import Field, Router, Schema
from people.access import Standing, allowed, allowed_one, maker, person, standings

from library.models import CrossList

router = Router(tags=["cross-lists"])
MOST = 20_000
COLUMNS = ("spelling", "means", "region", "means_region", "lon", "lat")
Word = Annotated[str, Field(max_length=1_000)]
PlaceAt = Annotated[list[Annotated[float, Field(ge=-180, le=180)]], Field(min_length=2, max_length=2)]
"""Longitude and latitude."""


class CrossEntry(Schema):
    """What a spelling stands for: an area's key or a place's name, in a region where names recur, or a place in degrees; '' and no
    place leaves it out."""

    spelling: Word
    means: Word = ""
    region: Word = ""
    means_region: Word = ""
    at: PlaceAt | None = None


class CrossListIn(Schema):
    """A list under a title."""

    title: str = Field(min_length=1, max_length=200)
    entries: list[CrossEntry] = Field(max_length=MOST)


class CrossListOut(CrossListIn, Standing):
    """A kept list."""

    id: UUID
    changed: datetime


@router.get("/cross-lists", response=list[CrossListOut], summary="My cross-lists")
def cross_lists(request: HttpRequest) -> list[CrossListOut]:
    """By title."""
    return _out(request, list(allowed(person(request), "see", CrossList).select_related("owner")))


@router.post("/cross-lists", response=CrossListOut, summary="Keep a cross-list")
def keep(request: HttpRequest, payload: CrossListIn) -> CrossListOut:
    """Under a title that no other of one's lists has."""
    return _saved(request, CrossList(owner=maker(request)), payload)


@router.put("/cross-lists/{list_id}", response=CrossListOut, summary="Change a cross-list")
def change(request: HttpRequest, list_id: UUID, payload: CrossListIn) -> CrossListOut:
    """Title and entries as a whole."""
    return _saved(request, allowed_one(person(request), "change", CrossList, pk=list_id), payload)


@router.delete("/cross-lists/{list_id}", summary="Remove a cross-list")
def remove(request: HttpRequest, list_id: UUID) -> dict[str, str]:
    """What was joined by it stays as it is."""
    allowed_one(person(request), "remove", CrossList, pk=list_id).delete()
    return {}


@router.get("/cross-lists/{list_id}/csv", summary="A cross-list as CSV")
def export(request: HttpRequest, list_id: UUID) -> HttpResponse:
    """As `join --cross-list` reads it: the first two columns are a spelling and what it stands for."""
    kept = allowed_one(person(request), "see", CrossList, pk=list_id)
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(COLUMNS)
    for entry in map(CrossEntry.model_validate, kept.entries):
        writer.writerow([entry.spelling, entry.means, entry.region, entry.means_region, *(entry.at or ("", ""))])
    answer = HttpResponse(out.getvalue(), content_type="text/csv; charset=utf-8")
    answer["Content-Disposition"] = 'attachment; filename="cross-list.csv"'
    return answer


def entries_of(cross_list: CrossList) -> list[CrossEntry]:
    """The entries of a kept list."""
    return [CrossEntry.model_validate(entry) for entry in cross_list.entries]


def _saved(request: HttpRequest, cross_list: CrossList, payload: CrossListIn) -> CrossListOut:
    twice = {(entry.spelling, entry.region) for entry in payload.entries}
    if len(twice) < len(payload.entries):
        raise BadInput("A spelling stands in the list twice.", "Take one of the two out.")
    cross_list.title = payload.title.strip()
    cross_list.entries = [entry.model_dump(mode="json") for entry in payload.entries]
    if not cross_list.title:
        raise BadInput("A list needs a title.")
    try:
        with transaction.atomic():
            cross_list.save()
    except IntegrityError as error:
        raise BadInput(f"You have a list called '{cross_list.title}' already.", "Give it another title.") from error
    return _out(request, [cross_list])[0]


def _out(request: HttpRequest, lists: Sequence[CrossList]) -> list[CrossListOut]:
    standing = standings(person(request), lists)
    return [
        CrossListOut(id=kept.pk, title=kept.title, entries=entries_of(kept), changed=kept.changed, **standing[kept.pk])
        for kept in lists
    ]
