"""A publish as the queue runs it: freeze, then shards on any number of workers, then gather."""

from typing import Any

from greylatch.edition.cutting import cut_lot, lots_of
from greylatch.errors import Stopped
from greylatch.progress import Progress
from greylatch.sheet.document import Sheet as Document
from jobs.models import Job
from jobs.tidying import scratch
from jobs.work import Kind, add_progress, check_wanted, finish
from sheets.models import Sheet

from editions.models import Edition
from editions.publish import Cutting, complete, discard, freeze, opened
from editions.staging import SHARD, clear_staging, keep_lot


def begin_edition(job: Job, number: int, report: Progress) -> int:
    """Freeze the sheet; returns into how many lots it is cut."""
    arguments = job.arguments
    edition = Edition.objects.filter(job=job).first()
    if edition is None:
        sheet = Sheet.objects.get(pk=arguments["sheet"])
        document = Document.model_validate(arguments["document"])
        how = Cutting(
            size=arguments["size"],
            format=arguments.get("format", "png"),
            min_zoom=arguments["min_zoom"],
            max_zoom=arguments["max_zoom"],
        )
        edition = freeze(sheet, document, job, how)
    lots = len(lots_of(opened(edition.pk)))
    Job.objects.filter(pk=job.pk).update(total=lots + 1, done=0)
    return lots


def cut(job: Job, number: int, report: Progress) -> None:
    """One lot of every archive."""
    plan = opened(edition_of(job).pk)
    with scratch() as folder:
        cut_lot(plan, lots_of(plan)[number], folder, lambda done, total, what: check_wanted(job))
        keep_lot(job, number, folder)
    add_progress(job, "cutting tiles")


def gather(job: Job, number: int, report: Progress) -> None:
    """The last step: everything becomes visible at once."""
    total = job.total

    def last(result: dict[str, Any]) -> None:
        text = f"Edition {result['edition']} is published: {result['tiles']:,} tiles."
        if not finish(job, Job.State.DONE, text, result):
            raise Stopped

    complete(edition_of(job), job, lambda done, _, what: report(max(0, total - 1), total, what), last)
    clear_staging(job)


def edition_of(job: Job) -> Edition:
    """The unfinished edition of a job; Stopped where it was discarded."""
    edition = Edition.objects.filter(job=job, published=None).first()
    if edition is None:
        raise Stopped
    return edition


KIND = Kind({"freeze": begin_edition, SHARD: cut, "gather": gather}, discard)
