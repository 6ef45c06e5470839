"""Keeping an installation: a backup restored elsewhere, and a start after anything that may have happened before."""

import contextlib
import hashlib
import json
import os
import re
import shutil
import signal
import subprocess
import time
import urllib.request
from collections.abc import Iterator
from pathlib import Path

import psycopg
import pytest
from playwright.sync_api import Page

from tests.browser.conftest import ROOT, Application, free_port, open_sheet, publish, server

pytestmark = pytest.mark.browser


def admin(application: Application, *arguments: str, **more: str) -> subprocess.CompletedProcess[str]:
    command = [str(ROOT / "bin" / "greylatch-admin"), *arguments]
    environment = {**application.environment, **more}
    return subprocess.run(command, env=environment, capture_output=True, text=True, timeout=180)


def answers(address: str, paths: list[str], cookie: str) -> dict[str, str]:
    """The digest of what every path answers, to the person whose cookie it is."""
    found = {}
    for path in paths:
        request = urllib.request.Request(f"{address}{path}", headers={"Cookie": cookie})
        found[path] = hashlib.sha256(urllib.request.urlopen(request).read()).hexdigest()
    return found


def test_a_backup_gives_the_same_answers_elsewhere(page: Page, application: Application, tmp_path: Path) -> None:
    open_sheet(page, "Carbon in the peat")
    publish(page, last_level=9)
    embed = page.get_by_test_id("embed-code").inner_text().split('src="')[1].split('"')[0].split("?")[0]
    number = page.request.get(f"{embed}edition.json").json()["number"]
    home = embed.removeprefix(application.address) + f"{number}/"
    files = page.request.get(f"{embed}edition.json").json()["files"]
    sheets = [one["id"] for one in page.request.get("/api/sheets").json()]
    datasets = list(page.request.get("/api/datasets").json())
    paths = [
        "/api/sheets",
        "/api/datasets",
        *(f"{home}{name}" for name in files),
        f"{home}map/9/217/169.png",
        f"{home}card?lon=-26.99&lat=52.03&zoom=10",
    ]
    paths += [f"/api/sheets/{one}/revisions/1" for one in sheets]
    paths += [f"/api/datasets/{one['id']}/rows?limit=500" for one in datasets if one["kind"] != "raster"]
    paths += [f"/api/revisions/{one['revision']}/tiles/9/217/169" for one in datasets if one["kind"] == "areas"]
    cookie = "; ".join(f"{one['name']}={one['value']}" for one in page.context.cookies())
    before = answers(application.address, paths, cookie)

    folder = tmp_path / "backup"
    done = admin(application, "backup", str(folder))
    assert done.returncode == 0, done.stderr
    again = admin(application, "backup", str(folder))
    assert (again.returncode != 0, "is there already" in again.stderr) == (True, True)

    with psycopg.connect(server("postgres"), autocommit=True) as connection:
        connection.execute("DROP DATABASE IF EXISTS restored WITH (FORCE)")
        connection.execute("CREATE DATABASE restored")
    run = tmp_path / "run"
    (run / "static").mkdir(parents=True)
    (run / "secret-key").write_text("another one")
    # Addresses stand in styles and TileJSON, so the second installation is reached under that of the first.
    environment = {**application.environment, "GREYLATCH_RUN": str(run), "GREYLATCH_DB_NAME": "restored"}
    refused = admin(application, "restore", str(folder))
    assert (refused.returncode != 0, "is not empty" in refused.stderr) == (True, True)
    done = admin(application, "restore", str(folder), GREYLATCH_RUN=str(run), GREYLATCH_DB_NAME="restored")
    assert done.returncode == 0, done.stderr
    assert (run / "secret-key").read_text() == (application.folder / "secret-key").read_text()
    second = Application(f"http://127.0.0.1:{free_port()}", environment, run)
    second.start_web()
    try:
        after = answers(second.address, paths, cookie)
    finally:
        second.stop()
    assert after == before
    assert len(after) > 30

    (folder / "files" / "datasets").rename(folder / "files" / "elsewhere")
    done = admin(application, "restore", str(folder), GREYLATCH_RUN=str(run), GREYLATCH_DB_NAME="restored")
    assert (done.returncode != 0, "is missing from the backup" in done.stderr) == (True, True)


@pytest.fixture
def own_run(tmp_path: Path) -> Iterator[dict[str, str]]:
    """The environment of an installation that nobody has started yet."""
    outside = {name: value for name, value in os.environ.items() if not name.startswith(("GREYLATCH_", "PG"))}
    tmp_path.chmod(0o755)
    yield {**outside, "GREYLATCH_RUN": str(tmp_path / "run"), "GREYLATCH_PORT": str(free_port())}
    for pid in still_running(str(tmp_path / "run")):
        with contextlib.suppress(ProcessLookupError):
            os.kill(pid, signal.SIGKILL)
    shutil.rmtree(tmp_path / "run", ignore_errors=True)


def begin(environment: dict[str, str]) -> subprocess.Popen[bytes]:
    # As from a terminal: a shell that puts the tests into the background has INT ignored, and so would all that they start.
    return subprocess.Popen(
        [str(ROOT / "bin" / "start")], env=environment, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, start_new_session=True,
        preexec_fn=lambda: signal.signal(signal.SIGINT, signal.SIG_DFL),
    )  # fmt: skip


def said(process: subprocess.Popen[bytes], words: str, seconds: float = 120) -> str:
    """What a start says up to some words; fails where it ends before."""
    assert process.stdout
    heard, limit = "", time.monotonic() + seconds
    while time.monotonic() < limit:
        line = process.stdout.readline().decode()
        heard += line
        if words in line:
            return heard
        if not line and process.poll() is not None:
            break
    raise AssertionError(f"'{words}' was not said:\n{heard}")


def still_running(run: str) -> dict[int, str]:
    """The processes that were started for an installation, by their environment, this one and its children's tools left out."""
    found = {}
    for process in Path("/proc").glob("[0-9]*"):
        with contextlib.suppress(OSError):
            if f"GREYLATCH_RUN={run}".encode() in (process / "environ").read_bytes().split(b"\0"):
                found[int(process.name)] = (process / "cmdline").read_bytes().replace(b"\0", b" ").decode()[:120]
    return found


def main_worker(run: str) -> int | None:
    """The process that hands long work to its children: the one that `again.sh` began."""
    for pid, command in still_running(run).items():
        if "celery" in command and "again.sh" not in command:
            with contextlib.suppress(OSError, StopIteration):
                status = Path(f"/proc/{pid}/status").read_text().splitlines()
                parent = int(next(line for line in status if line.startswith("PPid:")).split()[1])
                if b"again.sh" in Path(f"/proc/{parent}/cmdline").read_bytes():
                    return pid
    return None


def test_a_start_goes_on_after_anything_and_leaves_nothing_running(own_run: dict[str, str]) -> None:
    """Cut off while the database is made, while the demo is loaded, killed with everything running, without its sheets; ended by
    TERM, by INT, and by INT twice."""
    run = own_run["GREYLATCH_RUN"]
    # Cut off in the middle of making the database: half a cluster is there.
    first = begin(own_run)
    said(first, "Creating the database")
    time.sleep(0.4)
    os.killpg(first.pid, signal.SIGKILL)
    first.wait()
    # Cut off in the middle of loading the demo, by TERM: everything stops at once.
    second = begin(own_run)
    said(second, "Making the Vaskerry Isles")
    time.sleep(3)
    second.terminate()
    assert second.wait(60) == 0
    assert still_running(run) == {}
    # Whole now; then killed itself, with all that it started still running.
    third = begin(own_run)
    said(third, "Ctrl-C stops everything")
    refused = subprocess.run([str(ROOT / "bin" / "start")], env=own_run, capture_output=True, text=True, timeout=180)
    assert (refused.returncode, "running already" in refused.stderr) == (1, True)
    # A worker that ends by itself, as one does whose queue vanishes at the wrong moment, is begun again.
    worker = main_worker(run)
    os.kill(worker, signal.SIGKILL)
    deadline = time.monotonic() + 90
    while (again := main_worker(run)) in (worker, None) and time.monotonic() < deadline:
        time.sleep(0.3)
    assert again not in (worker, None) and third.poll() is None
    third.kill()
    third.wait()
    assert still_running(run) != {}
    # The next start clears that away, whatever became of the demo's sheets, and ends by INT pressed twice.
    fourth = begin(own_run)
    text = said(fourth, "Ctrl-C stops everything")
    assert "Making the Vaskerry Isles" not in text
    address = re.search(r"http://[\d.:]+", text)
    assert address
    assert json.loads(urllib.request.urlopen(f"{address.group()}/api/session").read())["name"] is None
    fourth.send_signal(signal.SIGINT)
    time.sleep(0.3)
    fourth.send_signal(signal.SIGINT)
    assert fourth.wait(60) == 0
    assert still_running(run) == {}
