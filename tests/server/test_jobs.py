"""Long work always ends in a state that people can read."""

import time
from datetime import timedelta
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.db import OperationalError
from django.test import Client
from django.utils import timezone
from greylatch.errors import BadInput, Stopped
from jobs.models import Job
from jobs.work import SILENT_TEXT, UNEXPECTED_TEXT, add_progress, check_wanted, finish, still_here, sweep, work

from tests.server.conftest import fetch, send


@pytest.fixture
def job(isla: User) -> Job:
    return Job.objects.create(owner=isla, kind="test", title="A test")


def state(job: Job) -> tuple[str, str]:
    job.refresh_from_db()
    return job.state, job.message


def test_a_job_runs_and_reports(job: Job) -> None:
    def body(report: Any) -> None:
        assert state(job)[0] == "running"
        report(3, 3, "three of three")

    work(job, body)
    assert state(job) == ("running", "three of three")
    assert (job.done, job.total) == (3, 3)


@pytest.mark.parametrize(
    ("error", "ended", "words"),
    [
        (BadInput("Line 3 is odd."), "failed", "Line 3 is odd."),
        (Stopped(), "stopped", "Stopped. Nothing was kept."),
        (RuntimeError("secret path /etc"), "failed", UNEXPECTED_TEXT),
    ],
)
def test_errors_end_it_with_words(job: Job, error: Exception, ended: str, words: str) -> None:
    def body(report: Any) -> None:
        raise error

    work(job, body)
    assert state(job) == (ended, words)
    assert job.ended is not None


def test_a_lost_database_is_let_through_so_that_the_queue_tries_again(job: Job) -> None:
    def body(report: Any) -> None:
        raise OperationalError("gone")

    with pytest.raises(OperationalError):
        work(job, body)
    assert state(job)[0] == "running"


def test_a_stop_is_heard_at_the_next_report(job: Job) -> None:
    def body(report: Any) -> None:
        Job.objects.filter(pk=job.pk).update(stop_asked=True)
        report(1, 1, "one")
        raise AssertionError("went on")

    work(job, body)
    assert state(job)[0] == "stopped"


def test_a_job_that_has_ended_is_not_begun_again(job: Job) -> None:
    finish(job, Job.State.FAILED, "before")
    began = []
    work(job, lambda report: began.append(1))
    assert (began, state(job)) == ([], ("failed", "before"))


def test_a_job_ends_once(job: Job) -> None:
    assert finish(job, Job.State.DONE, "first", {"a": 1})
    assert not finish(job, Job.State.FAILED, "second")
    assert state(job) == ("done", "first")
    assert job.result == {"a": 1}


def test_results_are_added_to_what_the_job_knew(isla: User) -> None:
    job = Job.objects.create(owner=isla, kind="test", title="t", result={"sheet": "x"})
    finish(job, Job.State.DONE, "done", {"edition": 2})
    job.refresh_from_db()
    assert job.result == {"sheet": "x", "edition": 2}


def test_parts_add_up_whoever_does_them(job: Job) -> None:
    for _ in range(3):
        add_progress(Job.objects.get(pk=job.pk), "cutting")
    assert state(job) == ("waiting", "cutting")
    assert job.done == 3


def test_silent_jobs_are_ended_and_waiting_ones_wait(isla: User, settings: Any) -> None:
    settings.JOB_SILENCE_SECONDS = 10
    long_ago = timezone.now() - timedelta(seconds=11)
    silent, waiting, heard = (
        Job.objects.create(owner=isla, kind="test", title=t, state=s)
        for t, s in (("a", "running"), ("b", "waiting"), ("c", "running"))
    )
    Job.objects.filter(pk__in=(silent.pk, waiting.pk)).update(heard=long_ago, at_work=1)
    assert sweep() == 1
    assert state(silent) == ("failed", SILENT_TEXT)
    assert (state(waiting)[0], state(heard)[0]) == ("waiting", "running")


def test_a_job_that_queues_between_its_parts_is_not_lost(job: Job, owner: Client, settings: Any) -> None:
    """Two publishes at once: the last step of one waits, unheard of, until all parts of the other are done."""
    settings.JOB_SILENCE_SECONDS = 10
    work(job, lambda report: None)
    job.refresh_from_db()
    assert (job.state, job.at_work) == ("running", 0)
    Job.objects.filter(pk=job.pk).update(heard=timezone.now() - timedelta(hours=1))
    assert sweep() == 0
    assert send(owner, f"/jobs/{job.pk}/stop")[1]["state"] == "stopped", "and nobody has to be at work to stop it"


def test_parts_at_work_are_counted_also_when_they_fail(job: Job) -> None:
    def body(report: Any) -> None:
        assert Job.objects.get(pk=job.pk).at_work == 1
        work(job, lambda report: None)
        assert Job.objects.get(pk=job.pk).at_work == 1
        raise OperationalError("the database restarts")

    with pytest.raises(OperationalError):
        work(job, body)
    assert Job.objects.get(pk=job.pk).at_work == 0


def test_a_waiting_job_is_stopped_at_once(owner: Client, job: Job) -> None:
    _, told = send(owner, f"/jobs/{job.pk}/stop")
    assert (told["state"], told["message"]) == ("stopped", "Stopped. Nothing was kept.")
    with pytest.raises(Stopped):
        check_wanted(job)


def test_a_running_job_is_asked_to_stop(owner: Client, job: Job) -> None:
    Job.objects.filter(pk=job.pk).update(state="running", at_work=1)
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
    job: Job, monkeypatch: pytest.MonkeyPatch, settings: Any
) -> None:
    settings.JOB_SILENCE_SECONDS = 0.2
    beats: list[Any] = []
    monkeypatch.setattr("jobs.work.still_here", lambda one: beats.append(one.pk))
    work(job, lambda report: time.sleep(0.5))
    assert len(beats) >= 3
    assert set(beats) == {job.pk}
    before = len(beats)
    time.sleep(0.15)
    assert len(beats) == before, "and no longer"


def test_a_heart_survives_a_database_that_is_away(job: Job, monkeypatch: pytest.MonkeyPatch, settings: Any) -> None:
    settings.JOB_SILENCE_SECONDS = 0.1
    beats: list[Any] = []

    def away(one: Job) -> None:
        beats.append(one.pk)
        raise OperationalError("the database restarts")

    monkeypatch.setattr("jobs.work.still_here", away)
    work(job, lambda report: time.sleep(0.3))
    assert len(beats) >= 3


def test_a_beat_writes_the_time_of_running_jobs_only(job: Job) -> None:
    Job.objects.filter(pk=job.pk).update(state=Job.State.RUNNING, heard=timezone.now() - timedelta(minutes=5))
    still_here(job)
    job.refresh_from_db()
    assert timezone.now() - job.heard < timedelta(seconds=5)
    old = timezone.now() - timedelta(minutes=5)
    Job.objects.filter(pk=job.pk).update(state=Job.State.DONE, heard=old)
    still_here(job)
    job.refresh_from_db()
    assert job.heard == old
