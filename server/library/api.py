"""The library: uploads with a preview, imports, datasets, their rows and geometry tiles, joins."""

from datetime import datetime
from pathlib import PurePath
from typing import Any
from uuid import UUID

from django.conf import settings
from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from greylatch.errors import BadInput
from greylatch.tables.fieldtypes import plain
from jobs.api import JobOut
from jobs.models import Job
from ninja import File, Router, Schema
from ninja.errors import HttpError
from ninja.files import UploadedFile
from people.access import own, person

from library.files import remove_folder
from library.intake import Corrections, Preview, preview
from library.joining import JoinIn, JoinView, join_view, keep_join
from library.models import Dataset, Revision, Upload
from library.rows import rows_sorted
from library.store import data_of
from library.tasks import import_upload
from library.tiles import geometry_tile

router = Router(tags=["library"])
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

    title: str | None = None
    source: str | None = None
    credit: str | None = None


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
    name = PurePath(file.name or "").name
    if PurePath(name).suffix.lower() not in ENDINGS:
        raise BadInput(
            f"Files that end in '{PurePath(name).suffix}' are not read.",
            "CSV, GeoJSON, zipped Shapefile and GeoTIFF are.",
        )
    if (file.size or 0) > settings.MAX_UPLOAD:
        raise HttpError(413, f"The file is larger than {settings.MAX_UPLOAD // 1024**2:,} MB.")
    upload = Upload(owner=person(request), name=name[-255:], size=file.size or 0)
    upload.file.save(f"{upload.pk}{PurePath(name).suffix.lower()}", file, save=True)
    try:
        return UploadOut(id=upload.pk, preview=preview(upload, Corrections()))
    except BadInput:
        _forget(upload)
        raise


@router.post("/uploads/{upload_id}/preview", response=Preview, summary="Look at an upload with corrections")
def look(request: HttpRequest, upload_id: UUID, corrections: Corrections):
    """The same rows, read as corrected."""
    return preview(own(Upload, person(request), pk=upload_id), corrections)


@router.post("/uploads/{upload_id}/import", response=JobOut, summary="Bring an upload into the library")
def bring_in(request: HttpRequest, upload_id: UUID, corrections: Corrections):
    """Starts a job whose result names the dataset."""
    upload = own(Upload, person(request), pk=upload_id)
    job = Job.objects.create(owner=person(request), kind="import", title=f"Import of {upload.name}")
    import_upload.delay(str(job.pk), str(upload.pk), corrections.model_dump())
    job.refresh_from_db()
    return job


@router.delete("/uploads/{upload_id}", summary="Forget an upload")
def forget(request: HttpRequest, upload_id: UUID):
    """Removes the file."""
    _forget(own(Upload, person(request), pk=upload_id))
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
    folders = list(found.revisions.values_list("folder", flat=True))
    with transaction.atomic():
        Dataset.objects.filter(pk=found.pk).update(current=None)
        found.delete()
        # Files go only once the database has let go of them for good.
        transaction.on_commit(lambda: [remove_folder(folder) for folder in folders])
    return {}


@router.get("/datasets/{dataset_id}/rows", response=RowsOut, summary="Rows of a dataset")
def rows(
    request: HttpRequest, dataset_id: UUID, offset: int = 0, limit: int = 100, sort: str = "", descending: bool = False
):
    """At most 500 rows from `offset` on, sorted by a field where asked; missing values come last."""
    revision = _dataset(request, dataset_id).current
    if revision.raster is not None:
        raise BadInput("A raster has no rows.")
    data = data_of(revision)
    order = rows_sorted(str(revision.pk), data.columns, sort, descending) if sort else None
    span = range(max(0, offset), min(len(data), max(0, offset) + min(max(limit, 0), 500)))
    picked = [int(order[i]) for i in span] if order is not None else list(span)
    table = data.columns.take(picked).to_pylist()
    return RowsOut(
        total=len(data), fields=revision.fields,
        rows=[[row, *(plain(value) for value in values.values())] for row, values in zip(picked, table, strict=True)],
    )  # fmt: skip


@router.get("/datasets/{dataset_id}/position", summary="Where a row stands in the sorted table")
def position(
    request: HttpRequest, dataset_id: UUID, row: int, sort: str = "", descending: bool = False
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
def tile(request: HttpRequest, revision_id: UUID, z: int, x: int, y: int):
    """A Mapbox Vector Tile with the row as the feature's id and nothing else. It never changes."""
    revisions = Revision.objects.select_related("dataset")
    revision = get_object_or_404(revisions, pk=revision_id, dataset__owner=person(request))
    data = geometry_tile(revision, z, x, y)
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


def _forget(upload: Upload) -> None:
    upload.file.delete(save=False)
    upload.delete()
