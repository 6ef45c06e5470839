"""Killing what does the work, at random moments, and looking at what is left.

    python -m bench.faults kills [--times N] [--seed S]      workers killed (-9) in imports, joins and publishes
    python -m bench.faults services [--times N] [--seed S]   Redis and PostgreSQL killed (-9) under a running worker

Each time what was begun is whole or absent, it goes on or ends in words, and after the sweep nothing is left behind. Wants a
PostgreSQL as the environment names it (GREYLATCH_DB_HOST and so on; bench/run starts one); makes a database of its own there.
"""

import argparse
import contextlib
import json
import os
import random
import shutil
import signal
import subprocess
import sys
import tempfile
import time
from collections import Counter
from collections.abc import Callable
from datetime import timedelta
from pathlib import Path
from typing import Any

ROOT = Path(__file__).parents[1]
NAME = "faults"


def prepare() -> Path:
    """An empty installation of our own: a database and a run folder. Sets the environment; Django is not loaded before."""
    import psycopg

    folder = Path(tempfile.mkdtemp(prefix="greylatch-faults-"))
    (folder / "secret-key").write_text("only for faults")
    os.environ |= {
        "GREYLATCH_RUN": str(folder), "GREYLATCH_DB_NAME": NAME, "DJANGO_SETTINGS_MODULE": "config.settings", "GREYLATCH_JOB_SILENCE": "3",
    }  # fmt: skip
    sys.path[:0] = [str(ROOT / "server"), str(ROOT / "demo")]
    e = os.environ
    reached = f"host={e['GREYLATCH_DB_HOST']} port={e['GREYLATCH_DB_PORT']} user={e['GREYLATCH_DB_USER']} password={e['GREYLATCH_DB_PASSWORD']}"
    with psycopg.connect(f"{reached} dbname=postgres", autocommit=True) as connection:
        connection.execute(f"DROP DATABASE IF EXISTS {NAME} WITH (FORCE)")
        connection.execute(f"CREATE DATABASE {NAME}")
    import django

    django.setup()
    from django.core.management import call_command

    call_command("migrate", interactive=False, verbosity=0)
    return folder


def sample(rng: random.Random) -> dict[str, Any]:
    """A person with areas, a table and a sheet, and a file to bring in."""
    import numpy as np
    import pyarrow as pa
    import pyproj
    import shapely
    from django.contrib.auth import get_user_model
    from greylatch.formats.files import ReadResult
    from greylatch.tables.dataset import Dataset
    from library.store import keep_vector
    from sheets.keeping import create

    owner = get_user_model().objects.create_user("faults", password="peat-and-heather")
    squares = np.array(
        [
            shapely.box(-27 + i % 20 / 50, 52 + i // 20 / 50, -26.985 + i % 20 / 50, 52.015 + i // 20 / 50)
            for i in range(200)
        ]
    )
    names = [f"Area {i}" for i in range(200)]
    areas = Dataset(pa.table({"name": names, "v": list(range(200))}), "areas", squares, pyproj.CRS(4326))
    table = Dataset(pa.table({"name": names, "w": [i * 2 for i in range(200)]}), "table")
    kept = {
        name: keep_vector(owner, name, ReadResult(data, ""), f"{name}.csv")
        for name, data in (("areas", areas), ("table", table))
    }
    layer = {
        "id": "a",
        "name": "A",
        "dataset": str(kept["areas"].pk),
        "symbology": {"kind": "classed", "classing": {"field": "v"}},
        "card": "{{ name }}",
    }
    sheet = create(owner, {"version": 2, "title": "Faults", "layers": [layer]})
    rows = "\n".join(f"{i},{rng.uniform(-27, -26):.5f},{rng.uniform(51, 52):.5f}" for i in range(5_000))
    return {"owner": owner, "sheet": sheet, "file": f"n,lon,lat\n{rows}\n".encode(), **kept}


def begun(kind: str, have: dict[str, Any]) -> Any:
    """A job of a kind, as its address begins it; nobody is called to do it."""
    from django.core.files.base import ContentFile
    from jobs.work import begin
    from library.models import Upload
    from sheets.keeping import document_of

    if kind == "import":
        upload = Upload.objects.create(owner=have["owner"], name="many.csv", size=len(have["file"]))
        upload.file.save(f"{upload.pk}.csv", ContentFile(have["file"]))
        arguments = {"upload": str(upload.pk), "corrections": {}}
        return begin(
            have["owner"], kind, "t", arguments, made=lambda job: Upload.objects.filter(pk=upload.pk).update(job=job)
        )
    sheet = have["sheet"]
    given = {"sheet": str(sheet.pk), "document": document_of(sheet), "size": 256, "min_zoom": None, "max_zoom": 11}
    return begin(have["owner"], kind, "t", given, known={"sheet": str(sheet.pk)})


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
    from library.joining import JoinIn, keep_join
    from library.models import Dataset

    rng = random.Random(seed)
    tasks.run_part.delay = lambda part: None  # type: ignore[method-assign]
    have = sample(rng)
    join = JoinIn(areas=have["areas"].pk, table=have["table"].pk, area_key="name", table_key="name", fields=["w"])
    usual: dict[str, float] = {}
    seen: Counter[str] = Counter()
    wrong: list[str] = []
    for n in range(-3, times):
        kind = ("import", "publish", "join")[n % 3]
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
        made = Dataset.objects.exclude(pk__in=before)
        wrong += [f"{n} {kind}: {one}" for one in left_behind(folder, have)]
        if len(made) != (0 if kind == "publish" else 1 if job or ended else 0) and not (
            kind == "join" and len(made) <= 1
        ):
            wrong.append(f"{n} {kind}: {len(made)} datasets")
        for dataset in made:
            if dataset.current is None or dataset.current.features.count() != dataset.current.rows:
                wrong.append(f"{n} {kind}: half a dataset")
    print(f"{times} kills, seed {seed}: {dict(seen)}; {len(wrong)} wrong")
    print("\n".join(wrong))
    shutil.rmtree(folder, ignore_errors=True)
    return len(wrong)


def left_behind(folder: Path, have: dict[str, Any]) -> list[str]:
    """What is there and should not be, and what is named and is not there whole."""
    import hashlib

    from django.core.files.storage import default_storage
    from editions.models import Address, Edition
    from library.models import Dataset, Revision, Upload
    from pmtiles.reader import MemorySource, Reader, all_tiles

    found = []
    named = {one.folder for one in Revision.objects.all()} | {one.folder for one in Edition.objects.all()}
    for home in ("datasets", "editions"):
        stored = (
            {f"{home}/{one}" for one in default_storage.listdir(home)[0]} if default_storage.exists(home) else set()
        )
        found += [f"{one} belongs to nothing" for one in stored - named]
        found += [f"{one} is not there" for one in named - stored if one.startswith(home)]
    for place in ("scratch", "staging"):
        found += [f"{one} was left" for one in (folder / place).glob("*")]
    if (
        Dataset.objects.filter(current=None).exists()
        or Edition.objects.filter(published=None).exists()
        or Upload.objects.exists()
    ):
        found.append("something half-made is in the database")
    address = Address.objects.filter(sheet=have["sheet"]).select_related("current").first()
    if address and address.current:
        edition = address.current
        with default_storage.open(f"{edition.folder}/map.pmtiles") as file:
            tiles = list(all_tiles(MemorySource(file.read())))
        if len(tiles) != edition.described["tiles"]:
            found.append("the edition has other tiles than it says")
        digests = {hashlib.sha256(data).hexdigest() for _, data in tiles}
        known = have.setdefault("digests", digests)
        if digests != known:
            found.append("the edition is another one than before")
        with default_storage.open(f"{edition.folder}/map.pmtiles") as file:
            assert Reader(MemorySource(file.read())).header()["clustered"]
        for name in edition.described["files"]:
            if not default_storage.exists(f"{edition.folder}/{name}"):
                found.append(f"{name} of the edition is not there")
            elif name.endswith(".json"):
                with default_storage.open(f"{edition.folder}/{name}") as file:
                    json.load(file)
    return found


def services(times: int, seed: int) -> int:
    """Redis and PostgreSQL killed in turn under a worker with two jobs. Returns how often something was wrong."""
    home = Path(tempfile.mkdtemp(prefix="greylatch-services-"))
    home.chmod(0o711)
    redis_port, pg_port = _free_port(), _free_port()
    started = _Services(home, redis_port, pg_port)
    started.postgres()
    started.redis()
    os.environ |= {
        "GREYLATCH_DB_HOST": "127.0.0.1", "GREYLATCH_DB_PORT": str(pg_port), "GREYLATCH_DB_USER": "greylatch", "GREYLATCH_DB_PASSWORD": "faults",
        "GREYLATCH_REDIS": f"redis://127.0.0.1:{redis_port}/0",
    }  # fmt: skip
    folder = prepare()
    from django.db import InterfaceError, OperationalError, connections
    from jobs.models import Job
    from jobs.work import LIVE, QueueAway, sweep
    from library.models import Dataset

    rng = random.Random(seed)
    have = sample(rng)
    log = (home / "worker.log").open("ab")
    worker = subprocess.Popen(
        [sys.executable, "-m", "celery", "-A", "config", "worker", "-B", "-c", "2", "-l", "WARNING", "--without-mingle", "--without-gossip"],
        cwd=ROOT / "server", env=dict(os.environ), stdout=log, stderr=log, start_new_session=True,
    )  # fmt: skip
    wrong: list[str] = []
    ended: Counter[str] = Counter()

    def patiently(ask: Callable[[], Any]) -> Any:
        for _ in range(200):
            try:
                return ask()
            except (OperationalError, InterfaceError):
                connections.close_all()
                time.sleep(0.1)
        raise RuntimeError("the database did not come back")

    try:
        for n in range(times):
            which = ("redis", "postgres")[n % 2]
            before = patiently(lambda: Dataset.objects.filter(current__isnull=False).count())
            jobs = []
            for kind in ("import", "publish"):
                try:
                    jobs.append(patiently(lambda kind=kind: begun(kind, have)))
                except QueueAway:
                    ended[f"{kind}: refused in words"] += 1
            time.sleep(rng.uniform(0, 2.5))
            started.kill(which)
            time.sleep(rng.uniform(0, 1.5))
            if which == "redis":
                try:
                    jobs.append(patiently(lambda: begun("import", have)))
                except QueueAway:
                    ended["import while Redis was away: refused in words"] += 1
            getattr(started, which)()
            limit = time.monotonic() + 90
            live = [job.pk for job in jobs]
            while live and time.monotonic() < limit:
                time.sleep(0.3)
                live = patiently(
                    lambda live=live: list(Job.objects.filter(pk__in=live, state__in=LIVE).values_list("pk", flat=True))
                )
            for job in jobs:
                state = patiently(lambda job=job: Job.objects.get(pk=job.pk).state)
                ended[f"{which}: {job.kind} {state}"] += 1
                if state != "done":
                    wrong.append(
                        f"{n} {which}: {job.kind} is {state}: {patiently(lambda job=job: Job.objects.get(pk=job.pk).message)}"
                    )
            imports = sum(
                job.kind == "import" and patiently(lambda job=job: Job.objects.get(pk=job.pk).state) == "done"
                for job in jobs
            )
            after = patiently(lambda: Dataset.objects.filter(current__isnull=False).count())
            if after - before != imports:
                wrong.append(f"{n} {which}: {after - before} datasets from {imports} imports")
        patiently(sweep)
        from jobs.tidying import tidy
        from library.models import Upload

        Upload.objects.filter(job=None).delete()  # of those that were refused; a day later they go by themselves
        tidy(-1)
        wrong += left_behind(folder, have)
    finally:
        os.killpg(worker.pid, signal.SIGKILL)
        started.end()
    print(f"{times} kills of Redis and PostgreSQL, seed {seed}: {dict(ended)}; {len(wrong)} wrong")
    print("\n".join(wrong))
    if not wrong:
        shutil.rmtree(folder, ignore_errors=True)
    return len(wrong)


class _Services:
    """Redis and PostgreSQL of our own, to be killed."""

    def __init__(self, home: Path, redis_port: int, pg_port: int) -> None:
        self.home, self.redis_port, self.pg_port = home, redis_port, pg_port
        self.bin = Path("/usr/lib/postgresql/15/bin")
        self.data = home / "pg"
        self.redis_process: subprocess.Popen[bytes] | None = None

    def _as_owner(self, *command: str) -> subprocess.CompletedProcess[bytes]:
        before = ["setpriv", "--reuid=postgres", "--regid=postgres", "--init-groups"] if os.getuid() == 0 else []
        return subprocess.run([*before, *command], cwd="/", capture_output=True, check=False)

    def postgres(self) -> None:
        if not self.data.exists():
            self.data.mkdir(mode=0o700)
            word = self.home / "word"
            word.write_text("faults")
            if os.getuid() == 0:
                shutil.chown(self.data, "postgres", "postgres")
                shutil.chown(word, "postgres")
            self._as_owner(
                str(self.bin / "initdb"),
                "-D",
                str(self.data),
                "-U",
                "greylatch",
                "--auth=scram-sha-256",
                f"--pwfile={word}",
                "-E",
                "UTF8",
                "--locale=C.UTF-8",
            )
        options = f"-c listen_addresses=127.0.0.1 -c port={self.pg_port} -c unix_socket_directories=''"
        for _ in range(50):
            done = self._as_owner(
                str(self.bin / "pg_ctl"),
                "-D",
                str(self.data),
                "-w",
                "-t",
                "60",
                "-l",
                str(self.data / "server.log"),
                "-o",
                options,
                "start",
            )
            if done.returncode == 0:
                return
            time.sleep(0.2)
        raise RuntimeError(done.stderr.decode())

    def redis(self) -> None:
        command = [
            "redis-server",
            "--bind",
            "127.0.0.1",
            "--port",
            str(self.redis_port),
            "--save",
            "",
            "--dir",
            str(self.home),
        ]
        self.redis_process = subprocess.Popen(command, stdout=subprocess.DEVNULL)
        time.sleep(0.3)

    def kill(self, which: str) -> None:
        if which == "redis" and self.redis_process:
            self.redis_process.kill()
            self.redis_process.wait()
        elif which == "postgres":
            main = int((self.data / "postmaster.pid").read_text().splitlines()[0])
            os.kill(main, signal.SIGKILL)

    def end(self) -> None:
        self.kill("redis")
        self._as_owner(str(self.bin / "pg_ctl"), "-D", str(self.data), "-m", "immediate", "stop")
        shutil.rmtree(self.home, ignore_errors=True)


def _free_port() -> int:
    import socket

    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        return int(free.getsockname()[1])


def main() -> int:
    """Run from the command line."""
    given = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    given.add_argument("what", choices=("kills", "services"))
    given.add_argument("--times", type=int, default=200)
    given.add_argument("--seed", type=int, default=random.SystemRandom().randrange(2**32))
    options = given.parse_args()
    return 1 if {"kills": kills, "services": services}[options.what](options.times, options.seed) else 0


if __name__ == "__main__":
    sys.exit(main())
