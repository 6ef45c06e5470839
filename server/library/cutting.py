"""Cutting a raster into parts, to be taken away as one zip."""

import re
import zipfile
from pathlib import Path
from typing import Annotated
from uuid import UUID

from django.core.files import File
from django.core.files.storage import default_storage
from django.http import FileResponse, Http404, HttpRequest
from greylatch.errors import BadInput, Stopped
from greylatch.progress import Progress
from greylatch.rasters.cutting import PATTERN, Part, cut_into, planned_parts
from jobs.api import JobOut
from jobs.models import Job
from jobs.tidying import scratch
from jobs.work import Kind, begin, check_disk, finish
from ninja import Field, Router, Schema
from people.access import allowed_one, person

from library.files import local_path
from library.models import Dataset
from library.seen import current_dataset

router = Router(tags=["library"])
HOME = "cuts"
Some = Annotated[int, Field(ge=1, le=10_000)]


class CutIn(Schema):
    """Into how many columns and rows, or parts of which size (512x512, 2000x2000m, 0.5x0.5deg), under names like which."""

    columns: Some | None = None
    rows: Some | None = None
    size: str | None = Field(None, max_length=60)
    pattern: str = Field(PATTERN, max_length=120)


class CutView(Schema):
    """What a cut comes to: how many parts, in how many columns and rows, the names of the first and the last, and their pixels."""

    parts: int
    columns: int
    rows: int
    first: str
    last: str
    width: int
    height: int


@router.post("/datasets/{dataset_id}/cut/look", response=CutView, summary="What a cut of a raster comes to")
def look(request: HttpRequest, dataset_id: UUID, payload: CutIn) -> CutView:
    """Nothing is cut yet."""
    parts = _parts(current_dataset(request, dataset_id), payload)
    return CutView(
        parts=len(parts), columns=max(part.column for part in parts), rows=max(part.row for part in parts), first=parts[0].file,
        last=parts[-1].file, width=int(parts[0].window.width), height=int(parts[0].window.height),
    )  # fmt: skip


@router.post("/datasets/{dataset_id}/cut", response=JobOut, summary="Cut a raster into parts")
def start(request: HttpRequest, dataset_id: UUID, payload: CutIn) -> Job:
    """Starts a job that ends with a zip of GeoTIFFs, with an index of where each lies as GeoJSON and CSV. It is kept for a day."""
    dataset = current_dataset(request, dataset_id)
    _parts(dataset, payload)
    arguments = {"dataset": str(dataset.pk), **payload.model_dump()}
    return begin(person(request), "cut", f"Cut {dataset.title} into parts", arguments, 3 * dataset.newest.bytes)


@router.get("/jobs/{job_id}/file", summary="What a job has made, to be taken away")
def taken_away(request: HttpRequest, job_id: UUID) -> FileResponse:
    """The zip of a cut."""
    job = allowed_one(person(request), "see", Job, pk=job_id)
    name = job.result.get("file", "")
    if not name.startswith(f"{HOME}/") or not default_storage.exists(name):
        raise Http404
    return FileResponse(local_path(name).open("rb"), as_attachment=True, filename=job.result["name"])


def cut(job: Job, number: int, report: Progress) -> None:
    """Cut, pack, and keep the zip until it is fetched."""
    clean(job)  # of an earlier try that was cut off
    dataset = Dataset.objects.select_related("current").get(pk=job.arguments["dataset"])
    asked = CutIn.model_validate(job.arguments)
    check_disk(job.needed)
    with scratch() as folder:
        parts = cut_into(
            _path(dataset),
            folder / "parts",
            asked.columns,
            asked.rows,
            asked.size,
            asked.pattern,
            _name(dataset),
            report,
        )
        packed = folder / "parts.zip"
        # GeoTIFFs are packed in themselves.
        with zipfile.ZipFile(packed, "w", zipfile.ZIP_STORED) as archive:
            for file in sorted((folder / "parts").iterdir()):
                archive.write(file, file.name)
        name = f"{HOME}/{job.pk.hex}.zip"
        with packed.open("rb") as packed_file:
            default_storage.save(name, File(packed_file))
    words = f"{len(parts):,} parts of '{dataset.title}' are ready."
    if not finish(job, Job.State.DONE, words, {"file": name, "name": f"{_name(dataset)}.zip"}):
        raise Stopped


def clean(job: Job) -> None:
    """Remove what a cut that did not end well left behind."""
    default_storage.delete(f"{HOME}/{job.pk.hex}.zip")


def _parts(dataset: Dataset, asked: CutIn) -> list[Part]:
    return planned_parts(_path(dataset), asked.columns, asked.rows, asked.size, asked.pattern, _name(dataset))


def _path(dataset: Dataset) -> Path:
    if dataset.newest.raster is None:
        raise BadInput(f"'{dataset.title}' is not a raster.")
    return local_path(f"{dataset.newest.folder}/raster.tif")


def _name(dataset: Dataset) -> str:
    """The title as a file can be called."""
    return re.sub(r"[^\w-]+", "_", dataset.title).strip("_").lower()[:60] or "raster"


KIND = Kind({"cut": cut}, clean)
