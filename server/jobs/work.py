"""Running long work so that it always ends in a state that people can read, or goes on.

The database knows every part that is still to be done. Messages of the queue only wake workers: a lost one is sent again, one
that comes twice finds its part claimed. A worker that is killed is missed after a while and its part done again.
"""

import contextlib
import errno
import logging
import shutil
import threading
import time
import uuid
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import timedelta
from typing import Any

from config.away import DATABASE_AWAY
from django.conf import settings
from django.contrib.auth.models import User
from django.db import connection, transaction
from django.db.models import F, Q, QuerySet
from django.utils import timezone
from django.utils.module_loading import import_string
from greylatch.errors import BadInput, GreyLatchError, Stopped, printable
from greylatch.progress import Progress
from greylatch.wording import megabytes
from kombu.exceptions import OperationalError as BrokerAway
from redis.exceptions import RedisError

from jobs.models import Job, Part

log = logging.getLogger(__name__)
LIVE = (Job.State.WAITING, Job.State.RUNNING)
TRIES = 3
"""How often a part is begun whose worker is killed each time: what kills workers is not tried for ever."""
SILENT_TEXT = "The worker stopped halfway, more than once. Nothing was kept; start it again."
UNEXPECTED_TEXT = "Something unexpected went wrong here. It is in the server's log; nothing was kept."
MEMORY_TEXT = "There is not enough memory for this. Nothing was kept."
QUEUE_TEXT = "The queue of long work is away for a moment. Nothing was begun; try again soon."
QUEUE_AWAY = (BrokerAway, RedisError, ConnectionError, TimeoutError)


class QueueAway(GreyLatchError):
    """Work can't be begun just now."""


# Given the job, the number of the part and where to report progress; returns of how many parts the next stage is.
Step = Callable[[Job, int, Progress], int | None]


@dataclass(frozen=True)
class Kind:
    """A kind of long work: its stages in their order, and what removes half-made parts of one that does not end well."""

    stages: dict[str, Step]
    clean: Callable[[Job], None]

    def after(self, stage: str) -> str | None:
        """The stage that follows."""
        names = list(self.stages)
        at = names.index(stage) + 1
        return names[at] if at < len(names) else None


def kind_of(job: Job) -> Kind | None:
    """The kind of a job, as settings name it; None for one that is not known any more."""
    place = settings.JOB_KINDS.get(job.kind)
    return import_string(place) if place else None


def known_kind(job: Job) -> Kind:
    """The kind of a job that is to be done."""
    kind = kind_of(job)
    assert kind is not None, job.kind
    return kind


def begin(
    owner: User, kind: str, title: str, arguments: dict[str, Any], needed: int = 0,
    making: Callable[[Job], object] | None = None, known: dict[str, Any] | None = None,
) -> Job:  # fmt: skip
    """A new job of a kind, with a worker called. `known` is what its result says from the start; `making` is told of it before
    any worker is.

    Raises BadInput where the disk has not the `needed` bytes, QueueAway where no worker can be called; nothing is begun then.
    """
    check_disk(needed)
    with transaction.atomic():
        job = Job.objects.create(
            owner=owner, kind=kind, title=title[:300], arguments=arguments, needed=needed, result=known or {}
        )
        part = Part.objects.create(job=job, stage=next(iter(known_kind(job).stages)), number=0)
        if making is not None:
            making(job)
    if not call(part):
        job.delete()
        raise QueueAway(QUEUE_TEXT)
    job.refresh_from_db()
    return job


def call(part: Part) -> bool:
    """Call a worker for a part; false while the queue is away."""
    from jobs.tasks import run_part

    Part.objects.filter(pk=part.pk).update(sent=timezone.now())
    try:
        run_part.delay(part.pk)
    except QUEUE_AWAY:
        Part.objects.filter(pk=part.pk).update(sent=None)
        return False
    return True


def run(part_pk: int, claim: uuid.UUID) -> None:
    """Do a part, unless somebody else does or its job has ended. `claim` marks this try.

    Bad input and stops end the job with their words, so do a full disk and a lack of memory; anything unexpected is logged
    and ends it with a general text. A lost database is let through, so that the same try is made again.
    """
    part = _claimed(part_pk, claim)
    if part is None:
        return
    job = part.job
    try:
        check_wanted(job)
        with _heartbeat(part):
            more = known_kind(job).stages[part.stage](job, part.number, _reporter(job, part))
        _go_on(part, more)
    except Stopped:
        finish(job, Job.State.STOPPED, "Stopped. Nothing was kept.")
    except BadInput as error:
        finish(job, Job.State.FAILED, str(error))
    except DATABASE_AWAY:
        raise
    except MemoryError:
        finish(job, Job.State.FAILED, MEMORY_TEXT)
    except Exception as error:
        if isinstance(error, OSError) and error.errno in (errno.ENOSPC, errno.EDQUOT):
            finish(job, Job.State.FAILED, full_disk(job.needed))
            return
        log.exception("job %s (%s) failed", job.pk, job.kind)
        finish(job, Job.State.FAILED, UNEXPECTED_TEXT)


def _claimed(part_pk: int, claim: uuid.UUID) -> Part | None:
    """The part, claimed for this try; None where it is not to be had."""
    mine = Q(state=Part.State.WAITING) | Q(state=Part.State.RUNNING, claim=claim)
    with transaction.atomic():
        part = (
            Part.objects.select_for_update(of=("self",)).select_related("job__owner").filter(mine, pk=part_pk).first()
        )
        if part is None or part.job.state not in LIVE:
            return None
        if part.claim != claim:
            part.tries += 1
        part.state, part.claim, part.heard = Part.State.RUNNING, claim, timezone.now()
        part.save(update_fields=["state", "claim", "heard", "tries"])
        Job.objects.filter(pk=part.job_id, state=Job.State.WAITING).update(state=Job.State.RUNNING)
    return part


def _go_on(part: Part, more: int | None) -> None:
    """Write down that a part is done, and begin the next stage where it was the last of its own."""
    job = part.job
    begun: list[Part] = []
    with transaction.atomic():
        state = Job.objects.select_for_update().values_list("state", flat=True).filter(pk=job.pk).first()
        if not Part.objects.filter(pk=part.pk, claim=part.claim).update(state=Part.State.DONE) or state not in LIVE:
            return
        following = known_kind(job).after(part.stage)
        if following and not job.parts.filter(stage=part.stage).exclude(state=Part.State.DONE).exists():
            begun = Part.objects.bulk_create(Part(job=job, stage=following, number=n) for n in range(more or 1))
    for begun_job in begun:
        call(begun_job)  # one that can't be sent now is sent by the next sweep


@contextmanager
def _heartbeat(part: Part) -> Iterator[None]:
    """Let the part be heard of while its process lives, however long the work itself says nothing."""
    over = threading.Event()

    def beat() -> None:
        while not over.wait(settings.JOB_SILENCE_SECONDS / 4):
            with contextlib.suppress(*DATABASE_AWAY):  # it is tried again at the next beat
                still_here(part)
            connection.close()  # this thread's own

    thread = threading.Thread(target=beat, name=f"heart of part {part.pk}", daemon=True)
    thread.start()
    try:
        yield
    finally:
        over.set()
        thread.join()


def still_here(part: Part) -> None:
    """Write down that the part was just heard of."""
    Part.objects.filter(pk=part.pk, claim=part.claim, state=Part.State.RUNNING).update(heard=timezone.now())


def _reporter(job: Job, part: Part) -> Progress:
    """Progress written down a few times a second, and the wish to stop heard as often."""
    last = 0.0

    def report(done: int, total: int, what: str) -> None:
        nonlocal last
        now = time.monotonic()
        if now - last < 0.25 and done < total:
            return
        last = now
        Job.objects.filter(pk=job.pk).update(done=done, total=total, message=printable(what)[:1000])
        still_here(part)
        check_wanted(job)

    return report


def check_wanted(job: Job) -> None:
    """Raise Stopped where a person asked for it, or where the job has ended otherwise."""
    state = Job.objects.filter(pk=job.pk).values_list("state", "stop_asked").first()
    if state is None or state[1] or state[0] not in LIVE:
        raise Stopped


def add_progress(job: Job, what: str) -> None:
    """One more of the job's parts is done, by whichever worker."""
    Job.objects.filter(pk=job.pk).update(done=F("done") + 1, message=what)


def finish(job: Job, state: Job.State, message: str, result: dict[str, Any] | None = None) -> bool:
    """End a live job, once; whoever comes later changes nothing. Returns whether this call ended it."""
    changed = Job.objects.filter(pk=job.pk, state__in=LIVE).update(
        state=state,
        message=printable(message)[:1000],
        ended=timezone.now(),
        **({"result": {**job.result, **result}} if result is not None else {}),
    )
    kind = kind_of(job)
    if changed and state != Job.State.DONE and kind is not None:
        kind.clean(job)
    return bool(changed)


def sweep(jobs: QuerySet[Job] | None = None) -> int:
    """Set right what was lost: parts whose worker is heard of no more are done again or, after `TRIES`, end their job; parts
    for which no message may be under way any more are sent again. Returns how many parts it was."""
    limit = timezone.now() - timedelta(seconds=settings.JOB_SILENCE_SECONDS)
    open_parts = Part.objects.filter(job__state__in=LIVE).select_related("job")
    if jobs is not None:
        open_parts = open_parts.filter(job__in=jobs)
    sent = 0
    for part in open_parts.filter(state=Part.State.RUNNING, heard__lt=limit):
        if part.tries >= TRIES:
            sent += finish(part.job, Job.State.FAILED, SILENT_TEXT)
        else:
            same = Part.objects.filter(pk=part.pk, claim=part.claim, heard__lt=limit)
            sent += same.update(state=Part.State.WAITING, claim=None, sent=None)
    for part in open_parts.filter(Q(sent__isnull=True) | Q(sent__lt=limit), state=Part.State.WAITING).order_by("pk"):
        if not call(part):
            break
        sent += 1
    return sent


def check_disk(needed: int) -> None:
    """Raise BadInput where the disk has not so many bytes."""
    settings.MEDIA_ROOT.mkdir(parents=True, exist_ok=True)
    if needed and shutil.disk_usage(settings.MEDIA_ROOT).free < needed:
        raise BadInput(full_disk(needed))


def full_disk(needed: int) -> str:
    """What is said when the disk is full."""
    free = shutil.disk_usage(settings.MEDIA_ROOT).free
    return (
        f"The server's disk is full: this needs about {megabytes(needed)}, and {megabytes(free)} are free. Nothing was kept; "
        "remove what is not needed any more, or ask for a larger disk."
    )
