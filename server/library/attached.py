"""Pictures of features: sent, kept with whose they are, and found again for cards and editions."""

from collections import defaultdict
from collections.abc import Mapping
from typing import Annotated
from uuid import UUID

from django.contrib.auth.models import User
from django.core.files.base import ContentFile
from django.http import FileResponse, Http404, HttpRequest
from greylatch.doubts.doubt import Doubt
from greylatch.errors import BadInput
from greylatch.reading.attached import LARGEST, Attached, AttachedTo, ReadyPicture, ready_picture, rows_called
from greylatch.sheet.parts import FieldName
from greylatch.wording import counted
from ninja import Field, File, Form, Router, Schema
from ninja.files import UploadedFile
from people.access import Verb, allowed_one, person

from library.derived import data_of
from library.files import local_path
from library.models import AttachedPicture, Dataset, Revision
from library.quota import check_room
from library.seen import current_dataset

router = Router(tags=["tables"])
MOST, MOST_OF_ONE = 20_000, 20
"""Pictures of a dataset, and of one feature."""
Credit = Annotated[str, Field(max_length=300)]
Words = Annotated[str, Field(max_length=500)]


class PictureOut(Schema):
    """A picture of a feature: its id names its addresses."""

    id: UUID
    fid: int
    width: int
    height: int
    credit: str
    text: str


class PictureChange(Schema):
    """Whose a picture is, and what it shows."""

    credit: Credit | None = None
    text: Words | None = None


@router.get("/datasets/{dataset_id}/pictures", response=list[PictureOut], summary="Pictures of a dataset's features")
def pictures(request: HttpRequest, dataset_id: UUID) -> list[AttachedPicture]:
    """In the order in which they came."""
    return list(current_dataset(request, dataset_id).pictures.all())


@router.post("/datasets/{dataset_id}/pictures", response=list[PictureOut], summary="Attach a picture")
def attach(
    request: HttpRequest, dataset_id: UUID, file: File[UploadedFile], fid: int | None = Form(None, ge=0, lt=2**53), field: FieldName = Form(""),
    credit: Credit = Form(""),
) -> list[AttachedPicture]:  # fmt: skip
    """PNG, JPEG or WebP: to the feature `fid`, or to those whose value in `field` is the file's name without its ending, whatever its
    case, accents and blanks."""
    dataset = current_dataset(request, dataset_id, "change")
    if dataset.newest.raster is not None:
        raise BadInput("A raster has no rows.")
    name = (file.name or "picture").rsplit("/", 1)[-1]
    if (file.size or 0) > LARGEST:
        raise BadInput(f"{name} is larger than {LARGEST // 1_000_000} MB.")
    fids = _named(dataset, field, name) if fid is None else [fid]
    if fid is not None:
        data_of(dataset.newest).row_of(fid)  # which says so where there is none
    ready = ready_picture(file.read(), name)
    check_room(dataset.owner, ready.size * len(fids))
    if dataset.pictures.count() + len(fids) > MOST:
        raise BadInput(f"A dataset has at most {MOST:,} pictures.")
    kept = []
    for each in fids:
        if dataset.pictures.filter(fid=each).count() >= MOST_OF_ONE:
            raise BadInput(f"A row has at most {MOST_OF_ONE} pictures.")
        kept.append(keep_picture(dataset, each, ready, credit.strip(), person(request)))
    return kept


def keep_picture(dataset: Dataset, fid: int, ready: ReadyPicture, credit: str, author: User) -> AttachedPicture:
    """A picture of a feature, kept; the same one a second time is the first."""
    kept, _ = AttachedPicture.objects.get_or_create(
        dataset=dataset, fid=fid, name=ready.name,
        defaults={
            "file": ContentFile(ready.full, ready.name), "thumb": ContentFile(ready.thumb, f"thumb-{ready.name}"), "width": ready.width,
            "height": ready.height, "bytes": ready.size, "credit": credit, "author": author,
        },
    )  # fmt: skip
    return kept


@router.patch("/pictures/{picture_id}", response=PictureOut, summary="Say whose a picture is")
def describe(request: HttpRequest, picture_id: UUID, payload: PictureChange) -> AttachedPicture:
    """And what it shows."""
    kept = _picture(request, picture_id, "change")
    for name, value in payload.model_dump(exclude_none=True).items():
        setattr(kept, name, value.strip())
    kept.save(update_fields=["credit", "text"])
    return kept


@router.delete("/pictures/{picture_id}", response={204: None}, summary="Take a picture away")
def remove(request: HttpRequest, picture_id: UUID) -> tuple[int, None]:
    """Editions that show it have it themselves."""
    _picture(request, picture_id, "change").forget()
    return 204, None


@router.get("/pictures/{picture_id}/thumb", summary="A picture, small")
def thumb(request: HttpRequest, picture_id: UUID) -> FileResponse:
    """As WebP."""
    return _sent(_picture(request, picture_id, "see").thumb.name)


@router.get("/pictures/{picture_id}/full", summary="A picture")
def full(request: HttpRequest, picture_id: UUID) -> FileResponse:
    """As WebP."""
    return _sent(_picture(request, picture_id, "see").file.name)


def attached_to(revisions: Mapping[str, Revision]) -> dict[str, AttachedTo]:
    """The pictures of datasets, by dataset and fid."""
    out: dict[str, dict[int, list[Attached]]] = {}
    for name, revision in revisions.items():
        by_fid: dict[int, list[Attached]] = defaultdict(list)
        for each in AttachedPicture.objects.filter(dataset=revision.dataset_id):
            by_fid[each.fid].append(
                Attached(each.name, local_path(str(each.file.name)), each.width, each.height, each.credit, each.text)
            )
        if by_fid:
            out[name] = dict(by_fid)
    return dict(out)


def pictures_without_credit(dataset: Dataset) -> list[Doubt]:
    """A doubt about features with pictures of which nobody says whose they are."""
    fids = sorted(set(dataset.pictures.filter(credit="").values_list("fid", flat=True)))
    return (
        [Doubt("no credit", "", tuple(fids), f"{counted(len(fids), 'row')} with pictures without a credit.")]
        if fids
        else []
    )


def _named(dataset: Dataset, field: str, name: str) -> list[int]:
    if not field:
        raise BadInput("Choose the field that names the rows.")
    rows = rows_called(data_of(dataset.newest), field, name)
    if not rows:
        raise BadInput(f"No row's {field} is '{name.rsplit('.', 1)[0]}'.")
    return rows[:MOST_OF_ONE]


def _picture(request: HttpRequest, pk: UUID, verb: Verb) -> AttachedPicture:
    kept = AttachedPicture.objects.filter(pk=pk).first()
    if kept is None:
        raise Http404
    # Whoever may see or change the dataset may do so with its pictures.
    allowed_one(person(request), verb, Dataset, pk=kept.dataset_id)
    return kept


def _sent(name: str | None) -> FileResponse:
    answer = FileResponse(local_path(str(name)).open("rb"), content_type="image/webp")
    answer["Cache-Control"] = "private, max-age=31536000, immutable"
    return answer
