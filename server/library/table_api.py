"""The rows of a dataset: reading and changing them, their history, new deliveries, and the tiles of their shapes."""

from collections.abc import Callable
from dataclasses import replace
from datetime import datetime
from typing import Annotated, Any
from uuid import UUID

import numpy as np
import pyarrow as pa
from django.contrib.auth.models import User
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from greylatch.errors import BadInput, Conflict
from greylatch.places.delivery import known_again_by
from greylatch.places.frame import Frame
from greylatch.places.grid import Tile
from greylatch.sheet.document import CrsText
from greylatch.sheet.layers import OtherName
from greylatch.sheet.parts import Condition, FieldName
from greylatch.tables.dataset import Dataset as Data
from greylatch.tables.edit import MAX_EDITS, Edit
from greylatch.tables.fieldtypes import plain
from greylatch.tables.summary import summarised
from jobs.api import JobOut
from jobs.models import Job
from jobs.work import LIVE, begin
from ninja import Field, Router, Schema
from numpy.typing import NDArray
from people.access import allowed, allowed_one, person
from pydantic import TypeAdapter, ValidationError
from sheets.sources import others_of, revisions_named

from library.derived import data_of
from library.editing import edit
from library.joining import remake
from library.models import Dataset, Revision, Upload
from library.quota import check_room
from library.redelivery import RedeliveryIn, RedeliveryView, look
from library.revisions import restore
from library.rows import rows_chosen
from library.seen import current_dataset
from library.shown import DatasetOut, FieldOut, fields_out, shown_to
from library.tasks import ROOM
from library.tiles import geometry_tile
from library.undoing import redo, undo

router = Router(tags=["tables"])
Count = Annotated[int, Field(ge=0, lt=2**31)]


class RowsOut(Schema):
    """A stretch of rows; the first entry of each is the feature's fid."""

    total: int
    fields: list[FieldOut]
    rows: list[list[Any]]


class EditsIn(Schema):
    """Changes that are made together."""

    edits: list[Edit] = Field(min_length=1, max_length=MAX_EDITS)


class Refused(Schema):
    """Why nothing was changed."""

    detail: str


class RevisionOut(Schema):
    """A state of a table: who made it of the one before, when, and how."""

    number: int
    change: str
    author: str
    created: datetime
    rows: int


@router.get("/datasets/{dataset_id}/rows", response=RowsOut, summary="Rows of a dataset")
def rows(
    request: HttpRequest,
    dataset_id: UUID,
    offset: Count = 0,
    limit: Count = 100,
    sort: FieldName = "",
    descending: bool = False,
    where: Condition = "",
    others: str = "",
) -> RowsOut:
    """At most 500 rows from `offset` on, sorted by a field where asked, missing values last, and only those that a condition takes.
    Beyond the end there are none; `total` is of those that are taken."""
    revision = current_dataset(request, dataset_id).newest
    if revision.raster is not None:
        raise BadInput("A raster has no rows.")
    data, order = _chosen(request, revision, sort, descending, where, others)
    total = len(data) if order is None else len(order)
    span = range(min(offset, total), min(total, offset + min(limit, 500)))
    picked = [int(order[i]) for i in span] if order is not None else list(span)
    table = data.columns.take(pa.array(picked, pa.int64())).to_pylist()
    return RowsOut(
        total=total, fields=fields_out(revision),
        rows=[[int(data.fids[row]), *(plain(value) for value in values.values())] for row, values in zip(picked, table, strict=True)],
    )  # fmt: skip


OTHERS = TypeAdapter(dict[OtherName, UUID])


def _chosen(
    request: HttpRequest, revision: Revision, sort: str, descending: bool, where: str, others: str
) -> tuple[Data, NDArray[np.int64] | None]:
    """The rows of a state, and which of them are asked for in which order; `others` is JSON of the datasets that the condition may name."""
    data = data_of(revision)
    try:
        asked = OTHERS.validate_json(others) if others else {}
    except ValidationError as error:
        raise BadInput("The datasets that a condition may name are JSON of names and ids.") from error
    if not asked:
        return data, rows_chosen(str(revision.pk), data, sort, descending, where)
    named = revisions_named(person(request), map(str, asked.values()))
    states = " ".join(f"{name} {named[str(pk)].pk}" for name, pk in sorted(asked.items()) if str(pk) in named)
    comparing = replace(data, others=others_of(person(request), asked))
    return data, rows_chosen(str(revision.pk), comparing, sort, descending, where, states)


@router.get("/datasets/{dataset_id}/position", summary="Where a row stands in the sorted table")
def position(
    request: HttpRequest, dataset_id: UUID, fid: Count, sort: FieldName = "", descending: bool = False, where: Condition = "",
    others: str = "",
) -> dict[str, int]:  # fmt: skip
    """The place of a feature, for scrolling to it; -1 for one that the condition does not take."""
    revision = current_dataset(request, dataset_id).newest
    data, order = _chosen(request, revision, sort, descending, where, others)
    row = data.row_of(fid)
    if order is None:
        return {"position": row}
    at = np.flatnonzero(order == row)
    return {"position": int(at[0]) if len(at) else -1}


@router.post("/datasets/{dataset_id}/edits", response={200: DatasetOut, 409: Refused}, summary="Change a table")
def edit_rows(request: HttpRequest, dataset_id: UUID, payload: EditsIn) -> tuple[int, DatasetOut | Refused]:
    """All changes as one revision, or none; 409 where a cell holds something else than its editor saw."""
    return _stepped(request, dataset_id, lambda dataset, who: edit(dataset, who, payload.edits))


@router.post(
    "/datasets/{dataset_id}/undo", response={200: DatasetOut, 409: Refused}, summary="Undo my last change of a table"
)
def undo_change(request: HttpRequest, dataset_id: UUID) -> tuple[int, DatasetOut | Refused]:
    """Also one of an earlier session, and also where others changed something else since; 409 where they wrote over it. It can be done
    again."""
    return _stepped(request, dataset_id, undo)


@router.post("/datasets/{dataset_id}/redo", response={200: DatasetOut, 409: Refused}, summary="Do again what I undid")
def redo_change(request: HttpRequest, dataset_id: UUID) -> tuple[int, DatasetOut | Refused]:
    """Until I change something else."""
    return _stepped(request, dataset_id, redo)


def _stepped(
    request: HttpRequest, dataset_id: UUID, step: Callable[[Dataset, User], Dataset]
) -> tuple[int, DatasetOut | Refused]:
    """What became of a dataset by a step of the one who asks."""
    who = person(request)
    try:
        return 200, shown_to(who, step(current_dataset(request, dataset_id, "change"), who))
    except Conflict as error:
        return 409, Refused(detail=str(error))


@router.post("/datasets/{dataset_id}/restore", response=DatasetOut, summary="Go back to an earlier state of a table")
def restore_state(request: HttpRequest, dataset_id: UUID, number: Count) -> DatasetOut:
    """As a change of its own, which can be undone."""
    return shown_to(person(request), restore(current_dataset(request, dataset_id, "change"), person(request), number))


@router.get("/datasets/{dataset_id}/history", response=list[RevisionOut], summary="Who changed what, and when")
def history(request: HttpRequest, dataset_id: UUID) -> list[RevisionOut]:
    """The newest first, at most 500."""
    revisions = current_dataset(request, dataset_id).revisions.select_related("author").order_by("-number")[:500]
    return [
        RevisionOut(
            number=revision.number, change=revision.change, author=revision.author.get_username() if revision.author else "", created=revision.created,
            rows=revision.rows,
        )
        for revision in revisions
    ]  # fmt: skip


@router.get("/revisions/{revision_id}/tiles/{z}/{x}/{y}", summary="A geometry tile")
def tile(
    request: HttpRequest, revision_id: UUID, z: Count, x: Count, y: Count, crs: CrsText = "EPSG:3857"
) -> HttpResponse:
    """A Mapbox Vector Tile with the row as the feature's id and nothing else, in the tile matrix set of a projection. It never
    changes."""
    revisions = Revision.objects.select_related("dataset")
    revision = get_object_or_404(revisions, pk=revision_id, dataset__in=allowed(person(request), "see", Dataset))
    data = geometry_tile(revision, Frame.named(crs), Tile(z, x, y))
    answer = HttpResponse(data, content_type="application/vnd.mapbox-vector-tile", status=200 if data else 204)
    answer["Cache-Control"] = "private, max-age=31536000, immutable"
    return answer


@router.get("/datasets/{dataset_id}/redelivery/keys", response=list[str], summary="By what rows may be known again")
def redelivery_keys(request: HttpRequest, dataset_id: UUID) -> list[str]:
    """The fields, the likeliest first."""
    return known_again_by(data_of(current_dataset(request, dataset_id, "change").newest))


@router.post(
    "/datasets/{dataset_id}/redelivery/look", response=RedeliveryView, summary="What a new delivery would change"
)
def look_at_redelivery(request: HttpRequest, dataset_id: UUID, payload: RedeliveryIn) -> RedeliveryView:
    """Compares the rows by a key field; nothing is changed by it."""
    dataset = current_dataset(request, dataset_id, "change")
    return look(person(request), dataset, allowed_one(person(request), "see", Upload, pk=payload.upload), payload)


@router.post("/datasets/{dataset_id}/redelivery", response=JobOut, summary="Replace the rows by a new delivery")
def redeliver(request: HttpRequest, dataset_id: UUID, payload: RedeliveryIn) -> Job:
    """Starts a job. Rows with the same key keep their fids; what draws the dataset goes on."""
    dataset, upload = (
        current_dataset(request, dataset_id, "change"),
        allowed_one(person(request), "see", Upload, pk=payload.upload),
    )
    if upload.job is not None and upload.job.state in LIVE:
        raise BadInput("This file is being brought in already.", "Wait for that, or stop it.")
    check_room(person(request), upload.size)
    arguments = {"dataset": str(dataset.pk), **payload.model_dump(mode="json")}
    return begin(
        person(request), "redelivery", f"New delivery of {dataset.title}", arguments, ROOM * upload.size,
        making=lambda job: Upload.objects.filter(pk=upload.pk).update(job=job),
    )  # fmt: skip


@router.post("/datasets/{dataset_id}/remake", response=DatasetOut, summary="Join anew")
def remake_join(request: HttpRequest, dataset_id: UUID) -> DatasetOut:
    """From what its parents hold now, by the cross-reference that was settled."""
    return shown_to(person(request), remake(current_dataset(request, dataset_id, "change"), person(request)))


class CommonOut(Schema):
    """A value and in how many rows it stands."""

    value: str
    rows: int


class SummaryOut(Schema):
    """A field at a glance."""

    name: str
    filled: int
    different: int
    low: str
    high: str
    mean: str
    bars: list[int]
    commonest: list[CommonOut]


@router.get("/datasets/{dataset_id}/summary", response=list[SummaryOut], summary="The fields of a dataset at a glance")
def summary(request: HttpRequest, dataset_id: UUID) -> list[SummaryOut]:
    """For the heads of their columns."""
    revision = current_dataset(request, dataset_id).newest
    if revision.raster is not None:
        raise BadInput("A raster has no rows.")
    out = []
    for field in summarised(data_of(revision).described()):
        commonest = [CommonOut(value=value, rows=rows) for value, rows in field.commonest]
        out.append(SummaryOut(**{**vars(field), "commonest": commonest}))
    return out
