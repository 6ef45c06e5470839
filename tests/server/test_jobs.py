"""Long work always ends in a state that people can read."""

from datetime import timedelta
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.db import OperationalError
from django.test import Client
from django.utils import timezone
from greylatch.errors import BadInput, Stopped
from jobs.models import Job
from jobs.work import SILENT_TEXT, UNEXPECTED_TEXT, add_progress, check_wanted, finish, sweep, work

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
    Job.objects.filter(pk__in=(silent.pk, waiting.pk)).update(heard=long_ago)
    assert sweep() == 1
    assert state(silent) == ("failed", SILENT_TEXT)
    assert (state(waiting)[0], state(heard)[0]) == ("waiting", "running")


def test_a_waiting_job_is_stopped_at_once(owner: Client, job: Job) -> None:
    _, told = send(owner, f"/jobs/{job.pk}/stop")
    assert (told["state"], told["message"]) == ("stopped", "Stopped before it began.")
    with pytest.raises(Stopped):
        check_wanted(job)


def test_a_running_job_is_asked_to_stop(owner: Client, job: Job) -> None:
    Job.objects.filter(pk=job.pk).update(state="running")
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
