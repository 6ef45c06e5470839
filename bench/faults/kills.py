"""Workers killed in the middle of imports, new deliveries, joins and publishes."""

import contextlib
import os
import random
import shutil
import signal
import time
from collections import Counter
from collections.abc import Callable
from datetime import timedelta
from typing import Any

from bench.faults.installation import begun, left_behind, prepare, sample

KINDS = ("import", "publish", "join", "redelivery")


def work_off(job_pk: Any) -> None:
    """Do the parts of a job one after the other, as a worker does."""
    import uuid

    from jobs.models import Job, Part
    from jobs.work import LIVE, run

    while Job.objects.filter(pk=job_pk, state__in=LIVE).exists():
        part = Part.objects.filter(job=job_pk, state="waiting").order_by("pk").first()
        if part is None:
            return
        run(part.pk, uuid.uuid4())


def in_a_child(work: Callable[[], None], killed_after: float | None) -> bool:
    """Do `work` in a process of its own, killed after so many seconds; returns whether it ended before."""
    from django.db import connections

    connections.close_all()
    child = os.fork()
    if child == 0:
        code = 1
        try:
            os.setsid()
            work()
            code = 0
        finally:
            os._exit(code)
    began = time.monotonic()
    while True:
        ended, status = os.waitpid(child, os.WNOHANG)
        if ended:
            return os.waitstatus_to_exitcode(status) == 0
        if killed_after is not None and time.monotonic() - began >= killed_after:
            with contextlib.suppress(ProcessLookupError):  # it may not have a group of its own yet
                os.killpg(child, signal.SIGKILL)
            with contextlib.suppress(ProcessLookupError):
                os.kill(child, signal.SIGKILL)
            os.waitpid(child, 0)
            return False
        time.sleep(0.002)


def kills(times: int, seed: int) -> int:
    """Workers killed at random moments. Returns how often something was wrong."""
    folder = prepare()
    from jobs import tasks, work
    from jobs.models import Job, Part
    from jobs.tidying import tidy
    from library.derived import data_of
    from library.joining import JoinIn, keep_join
    from library.models import Dataset

    rng = random.Random(seed)
    tasks.run_part.delay = lambda part: None  # type: ignore[method-assign]
    have = sample(rng)
    join = JoinIn(areas=have["areas"].pk, table=have["table"].pk, area_key="name", table_key="name", fields=["w"])
    usual: dict[str, float] = {}
    seen: Counter[str] = Counter()
    wrong: list[str] = []
    for n in range(-len(KINDS), times):
        kind = KINDS[n % len(KINDS)]
        before = set(Dataset.objects.values_list("pk", flat=True))
        job = begun(kind, have) if kind != "join" else None
        what = (
            (lambda: keep_join(have["owner"], have["areas"], have["table"], join))
            if job is None
            else (lambda job=job: work_off(job.pk))
        )
        began = time.monotonic()
        ended = in_a_child(what, None if n < 0 else rng.uniform(0, usual[kind]))
        if n < 0:
            usual[kind] = time.monotonic() - began
        # The time after which a silent worker is missed has passed.
        Part.objects.filter(state="running").update(heard=work.timezone.now() - timedelta(hours=1))
        work.sweep()
        state = Job.objects.get(pk=job.pk).state if job else "done" if ended else "absent"
        seen[f"{kind}: {'ended before' if ended else 'killed'}"] += n >= 0
        if state in work.LIVE:
            tidy(-1)
            in_a_child(what, None)
            state = Job.objects.get(pk=job.pk).state
        if job and state != "done":
            wrong.append(f"{n} {kind}: the job ended as {state}: {Job.objects.get(pk=job.pk).message}")
        tidy(-1)
        born = Dataset.objects.exclude(pk__in=before)
        wrong += [f"{n} {kind}: {trouble}" for trouble in left_behind(folder, have)]
        if len(born) != (0 if kind in ("publish", "redelivery") else 1 if job or ended else 0) and not (
            kind == "join" and len(born) <= 1
        ):
            wrong.append(f"{n} {kind}: {len(born)} datasets")
        if kind == "redelivery":
            values = set(
                data_of(Dataset.objects.select_related("current__dataset").get(pk=have["table"].pk).current)
                .columns["w"]
                .to_pylist()
            )
            if values != {have["turn"]}:
                wrong.append(f"{n} {kind}: rows of {len(values)} deliveries")
        for dataset in born:
            if dataset.current is None or len(data_of(dataset.current)) != dataset.current.rows:
                wrong.append(f"{n} {kind}: half a dataset")
    print(f"{times} kills, seed {seed}: {dict(seen)}; {len(wrong)} wrong")
    print("\n".join(wrong))
    shutil.rmtree(folder, ignore_errors=True)
    return len(wrong)
