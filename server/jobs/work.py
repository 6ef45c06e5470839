"""Running long work so that it always ends in a state that people can read."""

import contextlib
import logging
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import timedelta
from typing import Any

from django.conf import settings
from django.db import InterfaceError, OperationalError, connection
from django.db.models import F, QuerySet
from django.db.models.functions import Greatest
from django.utils import timezone
from greylatch.errors import BadInput, Stopped
from greylatch.progress import Progress

from jobs.models import Job

log = logging.getLogger(__name__)
LIVE = (Job.State.WAITING, Job.State.RUNNING)
SILENT_TEXT = "The worker stopped halfway. Nothing was kept; start it again."
UNEXPECTED_TEXT = "Something unexpected went wrong here. It is in the server's log; nothing was kept."
Cleanup = Callable[[Job], None]
_cleanups: dict[str, Cleanup] = {}


def cleans_up(kind: str) -> Callable[[Cleanup], Cleanup]:
    """Register what removes the half-made parts of a kind of job when it does not end well."""

    def register(clean: Cleanup) -> Cleanup:
        _cleanups[kind] = clean
        return clean

    return register


def work(job: Job, body: Callable[[Progress], None]) -> None:
    """Do `body` as (a part of) `job`; it is given the function that reports progress.

    A job that has ended, or is asked to stop, is not begun. Bad input and stops end the job with their words; anything
    unexpected is logged and ends it with a general text. A lost database is let through, so that the queue tries again.
    """
    try:
        check_wanted(job)
        with _at_work(job):
            body(_reporter(job))
    except Stopped:
        finish(job, Job.State.STOPPED, "Stopped. Nothing was kept.")
    except BadInput as error:
        finish(job, Job.State.FAILED, str(error))
    except (OperationalError, InterfaceError):
        raise
    except Exception:
        log.exception("job %s (%s) failed", job.pk, job.kind)
        finish(job, Job.State.FAILED, UNEXPECTED_TEXT)


@contextmanager
def _at_work(job: Job) -> Iterator[None]:
    """Count this process among those at work on the job, and let the job be heard of while it lives, however long the work
    itself says nothing. A process that is killed stays counted, and is heard of no more."""
    live = Job.objects.filter(pk=job.pk)
    live.filter(state=Job.State.WAITING).update(state=Job.State.RUNNING)
    live.update(at_work=F("at_work") + 1, heard=timezone.now())
    over = threading.Event()

    def beat() -> None:
        while not over.wait(settings.JOB_SILENCE_SECONDS / 4):
            with contextlib.suppress(OperationalError, InterfaceError):  # it is tried again at the next beat
                still_here(job)
            connection.close()  # this thread's own

    thread = threading.Thread(target=beat, name=f"heart of {job.pk}", daemon=True)
    thread.start()
    try:
        yield
    finally:
        over.set()
        thread.join()
        with contextlib.suppress(OperationalError, InterfaceError):
            live.update(at_work=Greatest(F("at_work"), 1) - 1)


def still_here(job: Job) -> None:
    """Write down that the job was just heard of."""
    Job.objects.filter(pk=job.pk, state=Job.State.RUNNING).update(heard=timezone.now())


def _reporter(job: Job) -> Progress:
    """Progress written down a few times a second, and the wish to stop heard as often."""
    last = 0.0

    def report(done: int, total: int, what: str) -> None:
        nonlocal last
        now = time.monotonic()
        if now - last < 0.25 and done < total:
            return
        last = now
        Job.objects.filter(pk=job.pk).update(done=done, total=total, message=what, heard=timezone.now())
        check_wanted(job)

    return report


def check_wanted(job: Job) -> None:
    """Raise Stopped where a person asked for it, or where the job has ended otherwise."""
    state = Job.objects.filter(pk=job.pk).values_list("state", "stop_asked").first()
    if state is None or state[1] or state[0] not in LIVE:
        raise Stopped


def add_progress(job: Job, what: str) -> None:
    """One more of the job's parts is done, by whichever worker."""
    Job.objects.filter(pk=job.pk).update(done=F("done") + 1, message=what, heard=timezone.now())


def finish(job: Job, state: Job.State, message: str, result: dict[str, Any] | None = None) -> bool:
    """End a live job, once; whoever comes later changes nothing. Returns whether this call ended it."""
    changed = Job.objects.filter(pk=job.pk, state__in=LIVE).update(
        state=state,
        message=message[:1000],
        ended=timezone.now(),
        heard=timezone.now(),
        **({"result": {**job.result, **result}} if result is not None else {}),
    )
    if changed and state != Job.State.DONE and job.kind in _cleanups:
        _cleanups[job.kind](job)
    return bool(changed)


def sweep(jobs: QuerySet[Job] | None = None) -> int:
    """End the jobs that were being worked on and from which nothing was heard for long: their worker was killed. Returns how
    many."""
    limit = timezone.now() - timedelta(seconds=settings.JOB_SILENCE_SECONDS)
    silent = (Job.objects.all() if jobs is None else jobs).filter(
        state=Job.State.RUNNING, at_work__gt=0, heard__lt=limit
    )
    return sum(finish(job, Job.State.FAILED, SILENT_TEXT) for job in silent)
