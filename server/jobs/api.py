"""Looking at long work, and stopping it."""

from datetime import datetime
from typing import Any
from uuid import UUID

from django.db.models import QuerySet
from django.http import HttpRequest
from ninja import Router, Schema
from people.access import allowed_one, person

from jobs.models import Job, Part
from jobs.work import LIVE, finish, sweep

router = Router(tags=["jobs"])


class JobOut(Schema):
    """A piece of long work."""

    id: UUID
    kind: str
    title: str
    state: str
    done: int
    total: int
    message: str
    result: dict[str, Any]
    created: datetime
    ended: datetime | None


@router.get("", response=list[JobOut], summary="My latest jobs")
def jobs(request: HttpRequest) -> QuerySet[Job]:
    """The last 30, the newest first."""
    mine = Job.objects.filter(owner=person(request))
    sweep(mine)
    return mine[:30]


@router.get("/{job_id}", response=JobOut, summary="A job")
def job(request: HttpRequest, job_id: UUID) -> Job:
    """How far it is, or how it ended."""
    sweep(Job.objects.filter(owner=person(request), pk=job_id))
    return allowed_one(person(request), "see", Job, pk=job_id)


@router.post("/{job_id}/stop", response=JobOut, summary="Stop a job")
def stop(request: HttpRequest, job_id: UUID) -> Job:
    """Asks its workers to stop; a job on which none is at work ends at once. Stopping an ended job changes nothing."""
    job = allowed_one(person(request), "change", Job, pk=job_id)
    Job.objects.filter(pk=job.pk, state__in=LIVE).update(stop_asked=True)
    job.refresh_from_db()
    if not job.parts.filter(state=Part.State.RUNNING).exists():
        finish(job, Job.State.STOPPED, "Stopped. Nothing was kept.")
    job.refresh_from_db()
    return job
