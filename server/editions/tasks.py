"""A publish as the queue runs it: freeze, then shards on any number of workers, then gather."""

from celery import chord, shared_task
from django.db import InterfaceError, OperationalError
from django.utils import timezone
from greylatch.errors import Stopped
from greylatch.progress import Progress
from greylatch.sheet.document import Sheet as Document
from jobs.models import Job
from jobs.work import add_progress, check_wanted, finish, work
from sheets.models import Sheet

from editions.models import Edition
from editions.publish import complete, cut_shard, freeze, shards_of, staging

again = {"autoretry_for": (OperationalError, InterfaceError), "retry_backoff": 2, "max_retries": 6}


@shared_task(**again)
def publish(
    job_id: str, sheet_id: str, document: dict[str, object], size: int, min_zoom: int | None, max_zoom: int | None
) -> None:
    """Freeze the sheet and hand out its shards."""
    job = Job.objects.get(pk=job_id)

    def body(report: Progress) -> None:
        edition = Edition.objects.filter(job=job).first()
        if edition is None:
            sheet = Sheet.objects.get(pk=sheet_id)
            edition = freeze(sheet, Document.model_validate(document), job, size, min_zoom, max_zoom)
        staging(edition).mkdir(parents=True, exist_ok=True)
        lots = len(shards_of(edition))
        Job.objects.filter(pk=job.pk).update(total=lots + 1, done=0)
        chord([shard.s(job_id, number) for number in range(lots)])(gather.si(job_id))

    work(job, body)


@shared_task(**again)
def shard(job_id: str, number: int) -> None:
    """One lot of blocks. Ends at once where the job has ended."""
    job = Job.objects.get(pk=job_id)

    def body(report: Progress) -> None:
        cut_shard(edition_of(job), number, lambda done, total, what: still_wanted(job))
        add_progress(job, "cutting tiles")

    work(job, body)


@shared_task(**again)
def gather(job_id: str) -> None:
    """The last step: everything becomes visible at once."""
    job = Job.objects.get(pk=job_id)

    def body(report: Progress) -> None:
        made = complete(edition_of(job), lambda done, total, what: still_wanted(job, what))
        finish(job, Job.State.DONE, f"Edition {made['edition']} is published: {made['tiles']:,} tiles.", made)

    work(job, body)


def edition_of(job: Job) -> Edition:
    """The unfinished edition of a job; Stopped where it was discarded."""
    edition = Edition.objects.filter(job=job).first()
    if edition is None:
        raise Stopped
    return edition


def still_wanted(job: Job, what: str | None = None) -> None:
    """Tell that work goes on, and stop where that was asked for. The count of shards is left to `add_progress`."""
    check_wanted(job)
    Job.objects.filter(pk=job.pk).update(heard=timezone.now(), **({"message": what} if what else {}))
