"""Long work always ends in a state that people can read, or goes on."""

import time
import uuid
from collections.abc import Callable
from datetime import timedelta
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.db import OperationalError
from django.test import Client
from django.utils import timezone
from greylatch.errors import BadInput, Stopped
from jobs.models import Job, Part
from jobs.work import (
    MEMORY_TEXT,
    SILENT_TEXT,
    TRIES,
    UNEXPECTED_TEXT,
    Kind,
    QueueAway,
    add_progress,
    begin,
    check_wanted,
    finish,
    run,
    still_here,
    sweep,
)

from tests.server.conftest import fetch, send

Body = Callable[[Any], int | None]


class Steps:
    """What the parts of the tests' own kind of job do."""

    first: Body = staticmethod(lambda report: None)
    second: Body = staticmethod(lambda report: None)
    done: list[tuple[str, int]] = []
    cleaned: list[Any] = []


def _step(name: str) -> Callable[[Job, int, Any], int | None]:
    def step(job: Job, number: int, report: Any) -> int | None:
        Steps.done.append((name, number))
        return getattr(Steps, name)(report)

    return step


def _last(job: Job, number: int, report: Any) -> None:
    Steps.done.append(("last", number))
    finish(job, Job.State.DONE, "Done.", {"a": 1})


KIND = Kind(
    {"first": _step("first"), "second": _step("second"), "last": _last}, lambda job: Steps.cleaned.append(job.pk)
)


@pytest.fixture(autouse=True)
def steps(settings: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    settings.JOB_KINDS = {**settings.JOB_KINDS, "test": "tests.server.test_jobs.KIND"}
    for name in ("first", "second"):
        monkeypatch.setattr(Steps, name, staticmethod(lambda report: None))
    Steps.done, Steps.cleaned = [], []


@pytest.fixture
def sent(monkeypatch: pytest.MonkeyPatch) -> list[int]:
    """Calls for workers, which nobody hears: the parts whose worker was called."""
    called: list[int] = []
    monkeypatch.setattr("jobs.tasks.run_part.delay", lambda part: called.append(part))
    return called


@pytest.fixture
def job(isla: User) -> Job:
    return Job.objects.create(owner=isla, kind="test", title="A test")


@pytest.fixture
def part(job: Job) -> Part:
    return Part.objects.create(job=job, stage="first", number=0)


def state(job: Job) -> tuple[str, str]:
    job.refresh_from_db()
    return job.state, job.message


def set_first(monkeypatch: pytest.MonkeyPatch, body: Body) -> None:
    monkeypatch.setattr(Steps, "first", staticmethod(body))


def test_a_job_goes_through_its_stages(isla: User, monkeypatch: pytest.MonkeyPatch) -> None:
    set_first(monkeypatch, lambda report: 3)
    job = begin(isla, "test", "A test", {"x": 1}, known={"sheet": "s"})
    assert state(job) == ("done", "Done.")
    assert Steps.done == [("first", 0), ("second", 0), ("second", 1), ("second", 2), ("last", 0)]
    assert (job.result, job.arguments) == ({"sheet": "s", "a": 1}, {"x": 1})
    assert job.ended is not None
    assert Steps.cleaned == []


def test_a_part_reports(job: Job, part: Part, sent: list[int], monkeypatch: pytest.MonkeyPatch) -> None:
    def body(report: Any) -> None:
        assert state(job)[0] == "running"
        report(3, 3, "three of three\0")

    set_first(monkeypatch, body)
    run(part.pk, uuid.uuid4())
    assert state(job) == ("running", "three of three�")
    assert (job.done, job.total) == (3, 3)
    assert sent == [job.parts.get(stage="second").pk], "the next stage was called for"


@pytest.mark.parametrize(
    ("error", "ended", "words"),
    [
        (BadInput("Line 3 is odd\0."), "failed", "Line 3 is odd�."),
        (Stopped(), "stopped", "Stopped. Nothing was kept."),
        (RuntimeError("secret path /etc\0"), "failed", UNEXPECTED_TEXT),
        (MemoryError(), "failed", MEMORY_TEXT),
        (OSError(28, "No space left on device"), "failed", "The server's disk is full"),
    ],
)
def test_errors_end_it_with_words(
    job: Job, part: Part, error: Exception, ended: str, words: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    def body(report: Any) -> None:
        raise error

    set_first(monkeypatch, body)
    run(part.pk, uuid.uuid4())
    assert state(job)[0] == ended
    assert state(job)[1].startswith(words)
    assert job.ended is not None
    assert Steps.cleaned == [job.pk]


def test_a_full_disk_is_told_with_what_is_needed(isla: User) -> None:
    with pytest.raises(BadInput, match=r"this needs about 5,000.0 GB, and .* are free"):
        begin(isla, "test", "A test", {}, needed=5 * 10**12)
    assert not Job.objects.filter(kind="test").exists()


def test_a_lost_database_is_let_through_and_the_same_try_is_made_again(
    job: Job, part: Part, sent: list[int], monkeypatch: pytest.MonkeyPatch
) -> None:
    def body(report: Any) -> None:
        raise OperationalError("gone")

    set_first(monkeypatch, body)
    claim = uuid.uuid4()
    with pytest.raises(OperationalError):
        run(part.pk, claim)
    assert state(job)[0] == "running"
    run(part.pk, uuid.uuid4())
    assert len(Steps.done) == 1, "nobody else may take it"
    set_first(monkeypatch, lambda report: None)
    run(part.pk, claim)
    part.refresh_from_db()
    assert (part.state, part.tries) == ("done", 1)


def test_a_stop_is_heard_at_the_next_report(job: Job, part: Part, monkeypatch: pytest.MonkeyPatch) -> None:
    def body(report: Any) -> None:
        Job.objects.filter(pk=job.pk).update(stop_asked=True)
        report(1, 1, "one")
        raise AssertionError("went on")

    set_first(monkeypatch, body)
    run(part.pk, uuid.uuid4())
    assert state(job)[0] == "stopped"


def test_a_job_that_has_ended_is_not_begun_again(job: Job, part: Part) -> None:
    finish(job, Job.State.FAILED, "before")
    run(part.pk, uuid.uuid4())
    assert (Steps.done, state(job)) == ([], ("failed", "before"))


def test_a_job_ends_once(job: Job) -> None:
    assert finish(job, Job.State.DONE, "first", {"a": 1})
    assert not finish(job, Job.State.FAILED, "second")
    assert state(job) == ("done", "first")
    assert job.result == {"a": 1}


def test_parts_add_up_whoever_does_them(job: Job) -> None:
    for _ in range(3):
        add_progress(Job.objects.get(pk=job.pk), "cutting")
    assert state(job) == ("waiting", "cutting")
    assert job.done == 3


def test_a_queue_that_is_away_begins_nothing(isla: User, monkeypatch: pytest.MonkeyPatch) -> None:
    def refused(part: int) -> None:
        raise ConnectionRefusedError

    monkeypatch.setattr("jobs.tasks.run_part.delay", refused)
    with pytest.raises(QueueAway):
        begin(isla, "test", "A test", {})
    assert not Job.objects.filter(kind="test").exists()


def test_a_message_that_was_lost_is_sent_again(job: Job, part: Part, sent: list[int], settings: Any) -> None:
    settings.JOB_SILENCE_SECONDS = 10
    assert (sweep(), sent) == (1, [part.pk]), "never sent"
    assert sweep() == 0, "sent just now"
    Part.objects.filter(pk=part.pk).update(sent=timezone.now() - timedelta(seconds=11))
    assert (sweep(), sent) == (1, [part.pk] * 2)


def test_a_message_that_comes_twice_does_no_harm(job: Job, part: Part, sent: list[int]) -> None:
    for _ in range(3):
        run(part.pk, uuid.uuid4())
    assert Steps.done == [("first", 0)]


def test_a_part_whose_worker_was_killed_is_done_again_but_not_for_ever(
    job: Job, part: Part, sent: list[int], settings: Any
) -> None:
    settings.JOB_SILENCE_SECONDS = 10
    for tries in range(1, TRIES + 1):
        Part.objects.filter(pk=part.pk).update(
            state="running", claim=uuid.uuid4(), tries=tries, heard=timezone.now() - timedelta(seconds=11)
        )
        assert sweep() >= 1
        part.refresh_from_db()
        assert part.state == ("waiting" if tries < TRIES else "running")
    assert state(job) == ("failed", SILENT_TEXT)
    assert Steps.cleaned == [job.pk]


def test_a_worker_that_was_given_up_for_dead_changes_nothing_any_more(
    job: Job, part: Part, sent: list[int], monkeypatch: pytest.MonkeyPatch
) -> None:
    def body(report: Any) -> None:
        Part.objects.filter(pk=part.pk).update(claim=uuid.uuid4())  # somebody else has it now

    set_first(monkeypatch, body)
    run(part.pk, uuid.uuid4())
    part.refresh_from_db()
    assert part.state == "running"
    assert not job.parts.filter(stage="second").exists()


def test_a_job_that_queues_between_its_parts_is_not_lost(job: Job, part: Part, owner: Client, sent: list[int]) -> None:
    """Two publishes at once: the last step of one waits, unheard of, until all parts of the other are done."""
    run(part.pk, uuid.uuid4())
    assert sweep() == 0
    assert state(job)[0] == "running"
    assert send(owner, f"/jobs/{job.pk}/stop")[1]["state"] == "stopped", "and nobody has to be at work to stop it"


def test_a_waiting_job_is_stopped_at_once(owner: Client, job: Job) -> None:
    _, told = send(owner, f"/jobs/{job.pk}/stop")
    assert (told["state"], told["message"]) == ("stopped", "Stopped. Nothing was kept.")
    with pytest.raises(Stopped):
        check_wanted(job)


def test_a_running_job_is_asked_to_stop(owner: Client, job: Job, part: Part) -> None:
    Job.objects.filter(pk=job.pk).update(state="running")
    Part.objects.filter(pk=part.pk).update(state="running")
    assert send(owner, f"/jobs/{job.pk}/stop")[1]["state"] == "running"
    job.refresh_from_db()
    assert job.stop_asked


def test_stopping_an_ended_job_changes_nothing(owner: Client, job: Job) -> None:
    finish(job, Job.State.DONE, "done")
    assert send(owner, f"/jobs/{job.pk}/stop")[1]["state"] == "done"
    job.refresh_from_db()
    assert not job.stop_asked


def test_the_newest_jobs_come_first(owner: Client, isla: User) -> None:
    for i in range(33):
        Job.objects.create(owner=isla, kind="test", title=f"T{i}")
    _, told = fetch(owner, "/jobs")
    assert len(told) == 30
    assert told[0]["title"] == "T32"


def test_a_job_that_is_not_there(owner: Client) -> None:
    assert fetch(owner, "/jobs/00000000-0000-0000-0000-000000000000")[0] == 404
    assert fetch(owner, "/jobs/nonsense")[0] == 422


def test_long_silent_work_is_heard_of_while_its_process_lives(
    job: Job, part: Part, monkeypatch: pytest.MonkeyPatch, settings: Any, sent: list[int]
) -> None:
    settings.JOB_SILENCE_SECONDS = 0.2
    beats: list[Any] = []
    monkeypatch.setattr("jobs.work.still_here", lambda one: beats.append(one.pk))
    set_first(monkeypatch, lambda report: time.sleep(0.5))
    run(part.pk, uuid.uuid4())
    assert len(beats) >= 3
    assert set(beats) == {part.pk}
    before = len(beats)
    time.sleep(0.15)
    assert len(beats) == before, "and no longer"


def test_a_heart_survives_a_database_that_is_away(
    job: Job, part: Part, monkeypatch: pytest.MonkeyPatch, settings: Any, sent: list[int]
) -> None:
    settings.JOB_SILENCE_SECONDS = 0.1
    beats: list[Any] = []

    def away(one: Part) -> None:
        beats.append(one.pk)
        raise OperationalError("the database restarts")

    monkeypatch.setattr("jobs.work.still_here", away)
    set_first(monkeypatch, lambda report: time.sleep(0.3))
    run(part.pk, uuid.uuid4())
    assert len(beats) >= 3


def test_a_beat_writes_the_time_of_running_parts_only(job: Job, part: Part) -> None:
    old = timezone.now() - timedelta(minutes=5)
    for given, beats in (("running", True), ("done", False)):
        Part.objects.filter(pk=part.pk).update(state=given, heard=old)
        still_here(part)
        part.refresh_from_db()
        assert (timezone.now() - part.heard < timedelta(seconds=5)) == beats
