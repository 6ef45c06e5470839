"""The library: uploads with a preview, imports, datasets, their rows and geometry tiles, joins."""

from datetime import datetime
from pathlib import PurePath
from typing import Annotated, Any
from uuid import UUID

import pyarrow as pa
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from greylatch.errors import BadInput, printable
from greylatch.formats.bounded import bounded
from greylatch.formats.intake import Corrections, Preview, preview
from greylatch.places.frame import Frame
from greylatch.places.grid import Tile
from greylatch.sheet.document import CrsText, FieldName
from greylatch.tables.fieldtypes import plain
from jobs.api import JobOut
from jobs.work import LIVE, begin
from ninja import Field, File, Router, Schema
from ninja.errors import HttpError
from ninja.files import UploadedFile
from people.access import own, person

from library.files import local_path
from library.joining import JoinIn, JoinView, join_view, keep_join
from library.models import Dataset, Revision, Upload
from library.quota import check_room
from library.rows import rows_sorted
from library.store import data_of, forget
from library.tasks import ROOM
from library.tiles import geometry_tile

router = Router(tags=["library"])
Count = Annotated[int, Field(ge=0, lt=2**31)]
ENDINGS = {".csv", ".tsv", ".txt", ".geojson", ".json", ".zip", ".tif", ".tiff"}


class FieldOut(Schema):
    """A field and how many of its values are missing."""

    name: str
    type: str
    missing: int


class DatasetOut(Schema):
    """A dataset as it stands."""

    id: UUID
    revision: UUID
    title: str
    kind: str
    source: str
    credit: str
    rows: int
    fields: list[FieldOut]
    crs: str
    crs_reason: str
    bounds: list[float] | None
    notes: list[str]
    raster: dict[str, Any] | None
    join: dict[str, Any] | None
    file_name: str
    created: datetime


class DatasetChange(Schema):
    """What can be said about a dataset."""

    title: str | None = Field(None, max_length=200)
    source: str | None = Field(None, max_length=500)
    credit: str | None = Field(None, max_length=500)


class UploadOut(Schema):
    """An upload and what is in it."""

    id: UUID
    preview: Preview


class RowsOut(Schema):
    """A stretch of rows; the first entry of each is its row number, which is the feature's id."""

    total: int
    fields: list[FieldOut]
    rows: list[list[Any]]


@router.post("/uploads", response=UploadOut, summary="Send a file")
def send(request: HttpRequest, file: UploadedFile = File(...)):
    """Keeps the file for a while and shows what is in it. Nothing is in the library yet."""
    name = printable(PurePath(file.name or "").name)[-200:]
    if PurePath(name).suffix.lower() not in ENDINGS:
        raise BadInput(
            f"Files that end in '{PurePath(name).suffix}' are not read.",
            "CSV, GeoJSON, zipped Shapefile and GeoTIFF are.",
        )
    check_room(person(request), file.size or 0)
    # The row first: a file that no row names would be nobody's.
    upload = Upload.objects.create(owner=person(request), name=name, size=file.size or 0)
    try:
        upload.file.save(f"{upload.pk}{PurePath(name).suffix.lower()}", file, save=True)
        return UploadOut(id=upload.pk, preview=_preview(upload, Corrections()))
    except BaseException:
        upload.forget()
        raise


@router.post("/uploads/{upload_id}/preview", response=Preview, summary="Look at an upload with corrections")
def look(request: HttpRequest, upload_id: UUID, corrections: Corrections):
    """The same rows, read as corrected."""
    return _preview(own(Upload, person(request), pk=upload_id), corrections)


@router.post("/uploads/{upload_id}/import", response=JobOut, summary="Bring an upload into the library")
def bring_in(request: HttpRequest, upload_id: UUID, corrections: Corrections):
    """Starts a job whose result names the dataset. The upload is gone when the job has ended."""
    upload = own(Upload, person(request), pk=upload_id)
    if upload.job is not None and upload.job.state in LIVE:
        raise BadInput("This file is being brought in already.", "Wait for that, or stop it.")
    check_room(person(request), upload.size)
    arguments = {"upload": str(upload.pk), "corrections": corrections.model_dump(mode="json")}
    return begin(
        person(request), "import", f"Import of {upload.name}", arguments, ROOM * upload.size,
        made=lambda job: Upload.objects.filter(pk=upload.pk).update(job=job),
    )  # fmt: skip


@router.delete("/uploads/{upload_id}", summary="Forget an upload")
def forget_upload(request: HttpRequest, upload_id: UUID):
    """Removes the file."""
    own(Upload, person(request), pk=upload_id).forget()
    return {}


@router.get("/datasets", response=list[DatasetOut], summary="My datasets")
def datasets(request: HttpRequest):
    """The newest first."""
    mine = Dataset.objects.filter(owner=person(request), current__isnull=False).select_related("current")
    return [described(one) for one in mine]


@router.get("/datasets/{dataset_id}", response=DatasetOut, summary="A dataset")
def dataset(request: HttpRequest, dataset_id: UUID):
    """Everything known about it."""
    return described(_dataset(request, dataset_id))


@router.patch("/datasets/{dataset_id}", response=DatasetOut, summary="Say more about a dataset")
def change(request: HttpRequest, dataset_id: UUID, given: DatasetChange):
    """Title, source and credit."""
    found = _dataset(request, dataset_id)
    for name, value in given.model_dump(exclude_none=True).items():
        if name == "title" and not value.strip():
            raise BadInput("A dataset needs a title.")
        setattr(found, name, value.strip()[:500])
    found.save()
    return described(found)


@router.delete("/datasets/{dataset_id}", summary="Remove a dataset")
def remove(request: HttpRequest, dataset_id: UUID):
    """Takes it out of the library for good. One that a published edition uses stays."""
    found = _dataset(request, dataset_id)
    if Revision.objects.filter(dataset=found, editions__published__isnull=False).exists():
        raise HttpError(409, f"'{found.title}' is part of a published edition, so it stays.")
    forget(found)
    return {}


@router.get("/datasets/{dataset_id}/rows", response=RowsOut, summary="Rows of a dataset")
def rows(
    request: HttpRequest,
    dataset_id: UUID,
    offset: Count = 0,
    limit: Count = 100,
    sort: FieldName = "",
    descending: bool = False,
):
    """At most 500 rows from `offset` on, sorted by a field where asked; missing values come last. Beyond the end there are none."""
    revision = _dataset(request, dataset_id).current
    if revision.raster is not None:
        raise BadInput("A raster has no rows.")
    data = data_of(revision)
    order = rows_sorted(str(revision.pk), data.columns, sort, descending) if sort else None
    span = range(min(offset, len(data)), min(len(data), offset + min(limit, 500)))
    picked = [int(order[i]) for i in span] if order is not None else list(span)
    table = data.columns.take(pa.array(picked, pa.int64())).to_pylist()
    return RowsOut(
        total=len(data), fields=revision.fields,
        rows=[[row, *(plain(value) for value in values.values())] for row, values in zip(picked, table, strict=True)],
    )  # fmt: skip


@router.get("/datasets/{dataset_id}/position", summary="Where a row stands in the sorted table")
def position(
    request: HttpRequest, dataset_id: UUID, row: Count, sort: FieldName = "", descending: bool = False
) -> dict[str, int]:
    """The place of feature `row`, for scrolling to it."""
    revision = _dataset(request, dataset_id).current
    if not 0 <= row < revision.rows:
        raise BadInput(f"There is no row {row}.")
    if not sort:
        return {"position": row}
    order = rows_sorted(str(revision.pk), data_of(revision).columns, sort, descending)
    return {"position": int((order == row).argmax())}


@router.get("/revisions/{revision_id}/tiles/{z}/{x}/{y}", summary="A geometry tile")
def tile(request: HttpRequest, revision_id: UUID, z: Count, x: Count, y: Count, crs: CrsText = "EPSG:3857"):
    """A Mapbox Vector Tile with the row as the feature's id and nothing else, in the tile matrix set of a projection. It never
    changes."""
    revisions = Revision.objects.select_related("dataset")
    revision = get_object_or_404(revisions, pk=revision_id, dataset__owner=person(request))
    data = geometry_tile(revision, Frame.named(crs), Tile(z, x, y))
    answer = HttpResponse(data, content_type="application/vnd.mapbox-vector-tile", status=200 if data else 204)
    answer["Cache-Control"] = "private, max-age=31536000, immutable"
    return answer


@router.post("/joins/look", response=JoinView, summary="How a table would fit")
def look_at_join(request: HttpRequest, given: JoinIn):
    """The match from both sides, with suggestions for spellings that found no area."""
    return join_view(_dataset(request, given.areas), _dataset(request, given.table), given)


@router.post("/joins", response=DatasetOut, summary="Join")
def join(request: HttpRequest, given: JoinIn):
    """Keeps the joined areas as a new dataset, which remembers what it was made from."""
    return described(keep_join(person(request), _dataset(request, given.areas), _dataset(request, given.table), given))


def described(one: Dataset) -> DatasetOut:
    """A dataset with its current revision."""
    revision = one.current
    assert revision is not None
    return DatasetOut(
        id=one.pk, revision=revision.pk, title=one.title, kind=one.kind, source=one.source, credit=one.credit, rows=revision.rows,
        fields=[FieldOut(**field) for field in revision.fields], crs=revision.crs, crs_reason=revision.crs_reason, bounds=revision.bounds,
        notes=revision.notes, raster=revision.raster, join=revision.join, file_name=revision.file_name, created=one.created,
    )  # fmt: skip


def _dataset(request: HttpRequest, pk: UUID) -> Dataset:
    return own(Dataset.objects.select_related("current").filter(current__isnull=False), person(request), pk=pk)


def _preview(upload: Upload, given: Corrections) -> Preview:
    path = local_path(upload.file.name)
    return bounded(path, preview, path, upload.name, given)
