"""Redis and PostgreSQL killed under a running worker."""

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
from pathlib import Path
from typing import Any

from bench.faults.installation import ROOT, begun, left_behind, prepare, sample


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
        [ROOT / "machine" / "again.sh", sys.executable, "-m", "celery", "-A", "config", "worker", "-B", "-c", "2", "-l", "WARNING",
         "--without-mingle", "--without-gossip"],
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
