"""The library: uploads with a preview, imports, datasets, joins."""

from collections.abc import Callable
from pathlib import PurePath
from typing import Annotated, Any
from uuid import UUID

from django.http import Http404, HttpRequest
from greylatch.errors import BadInput, printable
from greylatch.formats.bounded import bounded
from greylatch.formats.corrections import Corrections
from greylatch.formats.elsewhere import LikelyPlace, elsewhere
from greylatch.formats.first_rows import tried
from greylatch.formats.kinds import DELIMITED, ENDINGS, KINDS
from greylatch.formats.preview import Preview, preview
from greylatch.formats.simplified_look import SimplifiedLook, simplified_look
from greylatch.places.likely import Known
from greylatch.rules.language import LONGEST
from greylatch.tables.encodings import compared
from jobs.api import JobOut
from jobs.models import Job
from jobs.work import LIVE, begin
from ninja import Field, File, Router, Schema
from ninja.errors import HttpError
from ninja.files import UploadedFile
from people.access import allowed, allowed_one, maker, person, rights_of
from sheets.conditions import ConditionOut, Mistake

from library.files import named_as_sent
from library.joining import (
    JoinIn,
    JoinView,
    KeyPair,
    SidesIn,
    another_key,
    join_begun,
    join_view,
    keep_join,
    sides_begun,
)
from library.models import Dataset, Revision, Upload
from library.origin import Origin
from library.quota import check_room
from library.seen import current_dataset
from library.shown import DatasetOut, described, shown_to
from library.store import forget
from library.tasks import ROOM
from library.undoing import steps_of

router = Router(tags=["library"])
Count = Annotated[int, Field(ge=0, lt=2**31)]


class DatasetChange(Schema):
    """What can be said about a dataset."""

    title: str | None = Field(None, max_length=200)
    source: str | None = Field(None, max_length=500)
    credit: str | None = Field(None, max_length=500)
    licence: str | None = Field(None, max_length=200)
    dated: str | None = Field(None, max_length=40)


class UploadOut(Schema):
    """An upload and what is in it."""

    id: UUID
    preview: Preview


class ConditionTried(Schema):
    """A condition about the rows of an upload, read as corrected."""

    corrections: Corrections
    text: str = Field(max_length=LONGEST)


@router.post("/uploads", response=UploadOut, summary="Send a file")
def send(request: HttpRequest, file: UploadedFile = File(...)) -> UploadOut:
    """Keeps the file for a while and shows what is in it. Nothing is in the library yet."""
    name = printable(PurePath(file.name or "").name)[-200:]
    if PurePath(name).suffix.lower() not in ENDINGS:
        raise BadInput(
            f"Files that end in '{PurePath(name).suffix}' are not read.",
            f"{', '.join(dict.fromkeys(kind.title for kind in (DELIMITED, *KINDS)))} are.",
        )
    owner = maker(request)
    check_room(owner, file.size or 0)
    # The row first: a file that no row names would be nobody's.
    upload = Upload.objects.create(owner=owner, name=name, size=file.size or 0)
    try:
        upload.file.save(f"{upload.pk}{PurePath(name).suffix.lower()}", file, save=True)
        return UploadOut(id=upload.pk, preview=_preview(upload, Corrections()))
    except BaseException:
        upload.forget()
        raise


@router.post("/uploads/{upload_id}/preview", response=Preview, summary="Look at an upload with corrections")
def look(request: HttpRequest, upload_id: UUID, corrections: Corrections) -> Preview:
    """The same rows, read as corrected."""
    return _preview(allowed_one(person(request), "see", Upload, pk=upload_id), corrections)


@router.post("/uploads/{upload_id}/elsewhere", response=list[LikelyPlace], summary="Where else an upload may lie")
def look_elsewhere(request: HttpRequest, upload_id: UUID, corrections: Corrections) -> list[LikelyPlace]:
    """The same data under the likeliest systems, those first that put it where other data of the library are."""
    upload = allowed_one(person(request), "see", Upload, pk=upload_id)
    placed = allowed(person(request), "see", Dataset).filter(current__bounds__isnull=False).select_related("current")
    known = [Known(each.title, each.newest.crs.split(" ")[0], tuple(each.newest.bounds or ())) for each in placed[:20]]
    return _read(upload, elsewhere, corrections, known)


@router.post("/uploads/{upload_id}/condition", response=ConditionOut, summary="What a condition takes of an upload")
def try_condition(request: HttpRequest, upload_id: UUID, payload: ConditionTried) -> ConditionOut:
    """Of its first rows. Mistakes are an answer, not an error: the condition is being typed."""
    upload = allowed_one(person(request), "see", Upload, pk=upload_id)
    answer = _read(upload, tried, payload.corrections, payload.text)
    mistake = Mistake(problem=answer.problem, line=answer.line, column=answer.column, expected=answer.expected)
    return ConditionOut(
        taken=answer.taken, of=answer.of, mistake=mistake if answer.taken is None else None, whole=answer.whole
    )


@router.post("/uploads/{upload_id}/simplified", response=SimplifiedLook, summary="An upload with fewer vertices")
def look_simplified(request: HttpRequest, upload_id: UUID, corrections: Corrections) -> SimplifiedLook:
    """How many vertices are left of its first rows, and a part of them before and after."""
    upload = allowed_one(person(request), "see", Upload, pk=upload_id)
    return _read(upload, simplified_look, corrections)


class EncodingOut(Schema):
    """Encodings under which some lines read alike, and how; `fits` says whether every byte of them stands for something."""

    encodings: list[str]
    lines: list[str]
    fits: bool


@router.post("/uploads/{upload_id}/encodings", response=list[EncodingOut], summary="How an upload reads by encoding")
def look_at_encodings(request: HttpRequest, upload_id: UUID) -> list[EncodingOut]:
    """The rows in which they differ; nothing where they don't."""
    upload = allowed_one(person(request), "see", Upload, pk=upload_id)
    return [EncodingOut(**vars(seen)) for seen in _read(upload, compared)]


def _read(upload: Upload, work: Callable[..., Any], *asked: Any) -> Any:
    """What `work` finds in the file. Http404 where it was brought in or left out while somebody looked."""
    path = upload.path
    try:
        with named_as_sent(path, upload.name):
            return bounded(path, work, path, *asked)
    except (FileNotFoundError, BadInput) as error:
        if not path.exists():
            raise Http404 from error
        raise


class MosaicIn(Schema):
    """Rasters that become one, the first over the others where they overlap."""

    uploads: list[UUID] = Field(min_length=2, max_length=500)
    corrections: Corrections


@router.post("/uploads/mosaic", response=JobOut, summary="Bring several rasters in as one")
def bring_in_together(request: HttpRequest, payload: MosaicIn) -> Job:
    """Starts a job whose result names the dataset. The uploads are gone when the job has ended."""
    uploads = [allowed_one(person(request), "see", Upload, pk=pk) for pk in dict.fromkeys(payload.uploads)]
    if len(uploads) < 2:
        raise BadInput("A mosaic is made of two rasters or more.")
    if any(upload.job is not None and upload.job.state in LIVE for upload in uploads):
        raise BadInput("One of these files is being brought in already.", "Wait for that, or stop it.")
    size = sum(upload.size for upload in uploads)
    check_room(person(request), size)
    first, *others = uploads
    arguments = {
        "upload": str(first.pk), "also": [str(other.pk) for other in others],
        "corrections": payload.corrections.model_dump(mode="json"),
    }  # fmt: skip
    return begin(
        person(request), "import", f"Mosaic of {len(uploads)} rasters", arguments, 2 * ROOM * size,
        making=lambda job: Upload.objects.filter(pk__in=[upload.pk for upload in uploads]).update(job=job),
    )  # fmt: skip


@router.post("/uploads/{upload_id}/import", response=JobOut, summary="Bring an upload into the library")
def bring_in(request: HttpRequest, upload_id: UUID, corrections: Corrections) -> Job:
    """Starts a job whose result names the dataset. The upload is gone when the job has ended."""
    upload = allowed_one(person(request), "see", Upload, pk=upload_id)
    if upload.job is not None and upload.job.state in LIVE:
        raise BadInput("This file is being brought in already.", "Wait for that, or stop it.")
    check_room(person(request), upload.size)
    arguments = {"upload": str(upload.pk), "corrections": corrections.model_dump(mode="json")}
    return begin(
        person(request), "import", f"Import of {upload.name}", arguments, ROOM * upload.size,
        making=lambda job: Upload.objects.filter(pk=upload.pk).update(job=job),
    )  # fmt: skip


@router.delete("/uploads/{upload_id}", summary="Forget an upload")
def forget_upload(request: HttpRequest, upload_id: UUID) -> dict[str, str]:
    """Removes the file."""
    allowed_one(person(request), "remove", Upload, pk=upload_id).forget()
    return {}


@router.get("/datasets", response=list[DatasetOut], summary="My datasets")
def datasets(request: HttpRequest) -> list[DatasetOut]:
    """The newest first."""
    mine = allowed(person(request), "see", Dataset).filter(current__isnull=False)
    seen = list(mine.select_related("current", "owner", "vetted_by"))
    may, steps = rights_of(person(request), seen), steps_of(person(request), [dataset.pk for dataset in seen])
    return [described(dataset, may[dataset.pk], steps[dataset.pk]) for dataset in seen]


@router.get("/datasets/{dataset_id}", response=DatasetOut, summary="A dataset")
def dataset(request: HttpRequest, dataset_id: UUID) -> DatasetOut:
    """Everything known about it."""
    return shown_to(person(request), current_dataset(request, dataset_id))


@router.patch("/datasets/{dataset_id}", response=DatasetOut, summary="Say more about a dataset")
def change(request: HttpRequest, dataset_id: UUID, payload: DatasetChange) -> DatasetOut:
    """Title, source, credit, terms of use, date."""
    dataset = current_dataset(request, dataset_id, "change")
    for name, value in payload.model_dump(exclude_none=True).items():
        if name == "title" and not value.strip():
            raise BadInput("A dataset needs a title.")
        setattr(dataset, name, value.strip()[:500])
    dataset.save()
    return shown_to(person(request), dataset)


@router.delete("/datasets/{dataset_id}", summary="Remove a dataset")
def remove(request: HttpRequest, dataset_id: UUID) -> dict[str, str]:
    """Takes it out of the library for good. One that a published edition uses stays."""
    dataset = current_dataset(request, dataset_id, "remove")
    if Revision.objects.filter(dataset=dataset, editions__published__isnull=False).exists():
        raise HttpError(409, f"'{dataset.title}' is part of a published edition, so it stays.")
    forget(dataset)
    return {}


@router.post("/joins/begun", response=JoinIn, summary="How two datasets are joined at first")
def begin_join(request: HttpRequest, payload: SidesIn) -> JoinIn:
    """What is likeliest joined to what, where it is not chosen, by the values that both have."""
    areas, table = (None if pk is None else current_dataset(request, pk) for pk in (payload.areas, payload.table))
    return join_begun(*sides_begun(person(request), areas, table, payload.arrived))


@router.post("/joins/key", response=KeyPair, summary="One more key of a join")
def begin_key(request: HttpRequest, payload: JoinIn) -> KeyPair:
    """Of the fields that are no key yet those that hold most of the same."""
    return another_key(current_dataset(request, payload.areas), current_dataset(request, payload.table), payload)


@router.post("/joins/look", response=JoinView, summary="How a table would fit")
def look_at_join(request: HttpRequest, payload: JoinIn) -> JoinView:
    """The match from both sides, with suggestions for spellings that found no area."""
    return join_view(current_dataset(request, payload.areas), current_dataset(request, payload.table), payload)


@router.post("/joins", response=DatasetOut, summary="Join")
def join(request: HttpRequest, payload: JoinIn) -> DatasetOut:
    """Keeps the joined areas as a new dataset, which remembers what it was made from."""
    areas, table = current_dataset(request, payload.areas), current_dataset(request, payload.table)
    return shown_to(person(request), keep_join(maker(request), areas, table, payload))


def _preview(upload: Upload, corrections: Corrections) -> Preview:
    view: Preview = _read(upload, preview, upload.name, corrections)
    # What a service says of its data is known as what a file says of itself.
    origin = Origin.of(upload)
    for name, words in origin.said.items() if origin else ():
        if not (getattr(corrections, name) or (name != "title" and getattr(view, name))):
            setattr(view, name, words)
    return view
