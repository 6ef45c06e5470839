"""Imports in the background."""

from celery import shared_task
from django.db import InterfaceError, OperationalError
from greylatch.progress import Progress
from jobs.models import Job
from jobs.work import finish, work

from library.intake import Corrections, take_in
from library.models import Upload
from library.store import discard


@shared_task(autoretry_for=(OperationalError, InterfaceError), retry_backoff=2, max_retries=6)
def import_upload(job_id: str, upload_id: str, corrections: dict[str, object]) -> None:
    """Import one upload. A database that goes away is waited for; the import then begins anew, so nothing is kept twice."""
    job = Job.objects.get(pk=job_id)

    def body(report: Progress) -> None:
        discard(job)  # of an earlier try that lost its database
        upload = Upload.objects.get(pk=upload_id)
        dataset = take_in(upload, Corrections.model_validate(corrections), report, job)
        if not finish(job, Job.State.DONE, f"'{dataset.title}' is in the library.", {"dataset": str(dataset.pk)}):
            dataset.delete()

    work(job, body)
