"""Imports in the background."""

from pathlib import Path
from typing import Any

from greylatch.errors import Stopped
from greylatch.formats.bounded import bounded
from greylatch.formats.corrections import Corrections, said_of
from greylatch.formats.intake import Taken, take_in, title_of
from greylatch.progress import Progress
from greylatch.rasters.mosaic import mosaic
from jobs.models import Job
from jobs.tidying import scratch
from jobs.work import Kind, check_disk, finish

from library.files import named_as_sent
from library.models import Dataset, Upload
from library.origin import Origin
from library.redelivery import RedeliveryIn, deliver
from library.store import discard, keep_folder

ROOM = 4
"""Bytes of disk that an import may take for each of the file: as it is read, and as it is kept."""


def bring_in(job: Job, number: int, report: Progress) -> None:
    """Import uploads, which are removed with the end of the job, however it ends. Begun anew, it leaves no second dataset."""
    discard(job)  # of an earlier try that was cut off
    upload = Upload.objects.get(pk=job.arguments["upload"])
    others = [Upload.objects.get(pk=pk) for pk in job.arguments.get("also", [])]
    corrections = Corrections.model_validate(job.arguments["corrections"])
    path = upload.path
    check_disk(job.needed)
    report(0, 0, "reading the file")

    def last(dataset: Dataset) -> None:
        if not finish(job, Job.State.DONE, f"'{dataset.title}' is in the library.", {"dataset": str(dataset.pk)}):
            raise Stopped
        for each in (upload, *others):
            each.forget()

    with scratch() as folder:
        if others:
            taken = _put_together(job, [upload, *others], corrections, folder)
        else:
            with named_as_sent(path, upload.name):
                taken = bounded(path, take_in, path, corrections, folder)
        title = corrections.title or title_of(upload.name)
        keep_folder(
            upload.owner,
            title,
            folder,
            taken,
            upload.name,
            said_of(corrections),
            None,
            report,
            job,
            last,
            origin_of(upload, corrections),
        )


def origin_of(upload: Upload, corrections: Corrections) -> dict[str, Any] | None:
    """From which service a dataset comes, with how its answer was corrected, so that it can be asked again."""
    origin = Origin.of(upload)
    return None if origin is None else origin.model_copy(update={"corrections": corrections}).kept()


def _put_together(job: Job, uploads: list[Upload], corrections: Corrections, folder: Path) -> Taken:
    """Several rasters as one, in place of a file."""
    with scratch() as beside:
        whole = beside / "mosaic.tif"
        largest = max(uploads, key=lambda each: each.size).path
        notes = bounded(
            largest, mosaic, [each.path for each in uploads], whole, [each.name for each in uploads], corrections.nodata
        )
        check_disk(job.needed)
        taken = bounded(whole, take_in, whole, corrections.model_copy(update={"nodata": None}), folder)
    return taken.model_copy(update={"notes": [*notes, *taken.notes]})


def clean(job: Job) -> None:
    """Remove what an import that did not end well left behind, the file that was sent among it."""
    discard(job)
    for upload in Upload.objects.filter(job=job):
        upload.forget()


def redeliver(job: Job, number: int, report: Progress) -> None:
    """Put an upload in the place of a dataset's rows."""
    upload = Upload.objects.get(pk=job.arguments["upload"])
    asked = RedeliveryIn.model_validate(job.arguments)
    dataset = Dataset.objects.select_related("current").get(pk=job.arguments["dataset"])
    check_disk(job.needed)
    report(0, 0, "reading the file")

    def last(changed: Dataset) -> None:
        words = f"'{changed.title}' holds the new delivery."
        if not finish(job, Job.State.DONE, words, {"dataset": str(changed.pk)}):
            raise Stopped
        upload.forget()

    with scratch() as folder:
        deliver(dataset, upload.owner, upload, asked, folder, last)


KIND = Kind({"read": bring_in}, clean)
REDELIVERY = Kind({"read": redeliver}, clean)
