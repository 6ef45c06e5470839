"""The library: uploads with a preview, imports, datasets, joins."""

from collections.abc import Callable
from datetime import datetime
from pathlib import PurePath
from typing import Annotated, Any
from uuid import UUID

from django.contrib.auth.models import User
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
from greylatch.sheet.layers import Layer
from greylatch.sheet.lettering import Lettering
from greylatch.sheet.parts import Colour
from greylatch.symbols.starting import HUES, first_layer, first_lettering
from greylatch.tables.encodings import compared
from greylatch.tables.fieldtypes import FieldType
from greylatch.tables.meaning import MeaningKind
from jobs.api import JobOut
from jobs.models import Job
from jobs.work import LIVE, begin
from ninja import Field, File, Router, Schema
from ninja.errors import HttpError
from ninja.files import UploadedFile
from people.access import Standing, Verb, allowed, allowed_one, maker, person, rights, rights_of
from sheets.conditions import ConditionOut, Mistake

from library.files import named_as_sent
from library.joining import JoinIn, JoinView, KeysOut, SidesIn, join_view, keep_join, keys_guessed, parents_changed
from library.models import Dataset, Revision, Upload
from library.origin import Origin
from library.quota import check_room
from library.seen import current_dataset
from library.store import forget
from library.tasks import ROOM
from library.undoing import Steps, steps_of

router = Router(tags=["library"])
Count = Annotated[int, Field(ge=0, lt=2**31)]


class MeaningOut(Schema):
    """What a field means, and why that was guessed."""

    kind: MeaningKind
    unit: str
    decimals: int | None
    missing: list[float | str]
    reason: str


class FieldOut(Schema):
    """A field, how many of its values are missing, and what it means."""

    name: str
    type: FieldType
    missing: int
    meaning: MeaningOut


class OriginOut(Schema):
    """The service that a dataset was fetched from: of which kind and at which address, when last, how often again, and why it could
    not be fetched lately."""

    kind: str
    address: str
    fetched: datetime
    every: str
    trouble: str


class DatasetOut(Standing):
    """A dataset as it stands. Tiles of its shapes are those of the revision `shapes`, in which one changed last. `starting` is the layer
    that shows it before anybody has said how, `lettering` the first labels of it."""

    id: UUID
    revision: UUID
    shapes: UUID
    title: str
    kind: str
    source: str
    credit: str
    licence: str
    dated: str
    origin: OriginOut | None
    vetted: datetime | None
    vetted_by: str | None
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
    can_undo: bool
    can_redo: bool
    parents_changed: bool
    starting: Layer
    hues: list[Colour]
    lettering: Lettering | None


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
    return ConditionOut(taken=answer.taken, of=answer.of, mistake=mistake if answer.taken is None else None)


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


@router.post("/joins/keys", response=KeysOut, summary="Which fields two datasets are likely to be joined by")
def keys_of_join(request: HttpRequest, payload: SidesIn) -> KeysOut:
    """By the values that both have."""
    return keys_guessed(current_dataset(request, payload.areas), current_dataset(request, payload.table))


@router.post("/joins/look", response=JoinView, summary="How a table would fit")
def look_at_join(request: HttpRequest, payload: JoinIn) -> JoinView:
    """The match from both sides, with suggestions for spellings that found no area."""
    return join_view(current_dataset(request, payload.areas), current_dataset(request, payload.table), payload)


@router.post("/joins", response=DatasetOut, summary="Join")
def join(request: HttpRequest, payload: JoinIn) -> DatasetOut:
    """Keeps the joined areas as a new dataset, which remembers what it was made from."""
    areas, table = current_dataset(request, payload.areas), current_dataset(request, payload.table)
    return shown_to(person(request), keep_join(maker(request), areas, table, payload))


def shown_to(person: User, dataset: Dataset) -> DatasetOut:
    """A dataset as `person` sees it."""
    return described(dataset, rights(person, dataset), steps_of(person, [dataset.pk])[dataset.pk])


def described(dataset: Dataset, may: list[Verb], own: Steps) -> DatasetOut:
    """A dataset with its current revision, what the one who asks may do with it, and what of it they did themselves."""
    revision = dataset.current
    assert revision is not None
    fields = [FieldOut.model_validate(field) for field in revision.fields]
    return DatasetOut(
        id=dataset.pk, revision=revision.pk, shapes=revision.shapes_id, title=dataset.title, kind=dataset.kind, source=dataset.source, credit=dataset.credit, rows=revision.rows,
        origin=_origin(dataset), licence=dataset.licence, dated=dataset.dated, owner=dataset.owner.get_username(), may=may,
        vetted_by=dataset.vetted_by.get_username() if dataset.vetted_by else None, vetted=dataset.vetted,
        fields=fields, crs=revision.crs, crs_reason=revision.crs_reason, bounds=revision.bounds,
        notes=revision.notes, raster=revision.raster, join=revision.join, file_name=revision.file_name, created=dataset.created,
        can_undo=bool(own.undo), can_redo=bool(own.redo), parents_changed=parents_changed(dataset),
        hues=list(HUES.get(dataset.holds, ())),
        starting=first_layer(str(dataset.pk), dataset.title, dataset.holds, (revision.raster or {}).get("colour")),
        lettering=first_lettering([(field.name, field.type, field.meaning.kind) for field in fields], dataset.holds),
    )  # fmt: skip


def _origin(dataset: Dataset) -> OriginOut | None:
    origin = Origin.of(dataset)
    if origin is None:
        return None
    return OriginOut(
        kind=origin.kind, address=origin.address, fetched=origin.fetched, every=origin.every, trouble=origin.trouble
    )


def _preview(upload: Upload, corrections: Corrections) -> Preview:
    view: Preview = _read(upload, preview, upload.name, corrections)
    # What a service says of its data is known as what a file says of itself.
    origin = Origin.of(upload)
    for name, words in origin.said.items() if origin else ():
        if not (getattr(corrections, name) or (name != "title" and getattr(view, name))):
            setattr(view, name, words)
    return view
