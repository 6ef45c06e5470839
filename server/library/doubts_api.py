"""What is doubtful about a dataset: told, mended at a press, or accepted with a reason; each can be taken back."""

from datetime import datetime
from uuid import UUID

from django.http import HttpRequest
from greylatch.doubts.doubt import Doubt
from greylatch.errors import BadInput
from ninja import Field, Router, Schema
from people.access import person

from library.attached import pictures_without_credit
from library.derived import data_of
from library.doubts import doubts_of
from library.editing import edit
from library.models import AcceptedDoubt, Dataset
from library.seen import current_dataset
from library.shown import DatasetOut, shown_to

router = Router(tags=["doubts"])
SHOWN = 500
"""Rows of a doubt that are named."""


class AcceptedOut(Schema):
    """Why a doubt was taken as it is, by whom, and when."""

    reason: str
    author: str
    created: datetime


class DoubtOut(Schema):
    """What a careful reader would ask about some rows, by their feature ids; `field` is '' where it is about whole rows or shapes;
    `mending` says what can be done about it at one press, '' for nothing."""

    id: str
    kind: str
    field: str
    rows: list[int]
    of: int
    text: str
    mending: str
    accepted: AcceptedOut | None


class ReasonIn(Schema):
    """Why a doubt is taken as it is."""

    reason: str = Field(min_length=1, max_length=500)


@router.get("/datasets/{dataset_id}/doubts", response=list[DoubtOut], summary="What is doubtful about a dataset")
def doubts(request: HttpRequest, dataset_id: UUID) -> list[DoubtOut]:
    """Of its current state, as far as rows can be shown one by one; those that were accepted come last."""
    dataset = current_dataset(request, dataset_id)
    accepted = {each.doubt: each for each in AcceptedDoubt.objects.filter(dataset=dataset).select_related("author")}
    listed = [_told(doubt, accepted.get(doubt.id)) for doubt in _found(dataset)]
    return sorted(listed, key=lambda doubt: doubt.accepted is not None)


@router.post("/datasets/{dataset_id}/doubts/{doubt}/mend", response=DatasetOut, summary="Mend what is doubtful")
def mend(request: HttpRequest, dataset_id: UUID, doubt: str) -> DatasetOut:
    """What the doubt's `mending` says, as one step of the table's history."""
    dataset = current_dataset(request, dataset_id, "change")
    asked = _asked(dataset, doubt)
    if asked.mending is None:
        raise BadInput("Nothing can be done about this at one press.", "Edit the cells, or accept it with a reason.")
    edits = asked.mending.edits(data_of(dataset.newest), asked.rows)
    return shown_to(person(request), edit(dataset, person(request), edits))


@router.post("/datasets/{dataset_id}/doubts/{doubt}/accept", response=list[DoubtOut], summary="Accept what is doubtful")
def accept(request: HttpRequest, dataset_id: UUID, doubt: str, payload: ReasonIn) -> list[DoubtOut]:
    """With a reason; it counts for these rows, and not for others that come to be doubted alike."""
    dataset = current_dataset(request, dataset_id, "change")
    asked = _asked(dataset, doubt)
    if not payload.reason.strip():
        raise BadInput("Say why it is right as it is.")
    AcceptedDoubt.objects.update_or_create(
        dataset=dataset, doubt=asked.id, defaults={"reason": payload.reason.strip(), "author": person(request)}
    )
    return doubts(request, dataset_id)


@router.delete("/datasets/{dataset_id}/doubts/{doubt}/accept", response=list[DoubtOut], summary="Doubt it again")
def doubt_again(request: HttpRequest, dataset_id: UUID, doubt: str) -> list[DoubtOut]:
    """Takes an acceptance back."""
    AcceptedDoubt.objects.filter(dataset=current_dataset(request, dataset_id, "change"), doubt=doubt).delete()
    return doubts(request, dataset_id)


def _found(dataset: Dataset) -> list[Doubt]:
    if dataset.newest.raster is not None:
        raise BadInput("A raster has no rows.")
    return [*doubts_of(dataset.newest), *pictures_without_credit(dataset)]


def _asked(dataset: Dataset, doubt: str) -> Doubt:
    asked = next((each for each in _found(dataset) if each.id == doubt), None)
    if asked is None:
        raise BadInput("That is not doubtful any more.")
    return asked


def _told(doubt: Doubt, accepted: AcceptedDoubt | None) -> DoubtOut:
    by = None
    if accepted is not None:
        author = accepted.author.username if accepted.author else ""
        by = AcceptedOut(reason=accepted.reason, author=author, created=accepted.created)
    return DoubtOut(
        id=doubt.id, kind=doubt.kind, field=doubt.field, rows=list(doubt.rows[:SHOWN]), of=len(doubt.rows), text=doubt.text,
        mending=doubt.mending.words if doubt.mending else "", accepted=by,
    )  # fmt: skip
