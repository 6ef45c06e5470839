"""Workers killed and databases lost in the middle of work: a clear end, nothing half-made, and the next try succeeds."""

import http.cookiejar
import json
import os
import re
import subprocess
import sys
import threading
import time
import urllib.error
import urllib.request
from pathlib import Path

import numpy as np
import psycopg
import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import ROOT, Application, begin_sheet, kept, open_sheet, server, stage

pytestmark = pytest.mark.browser


def ask(query: str) -> list[tuple[object, ...]]:
    with psycopg.connect(server("driven"), autocommit=True) as connection:
        return connection.execute(query).fetchall()


def test_a_publish_whose_worker_is_killed_halfway_goes_on(page: Page, application: Application) -> None:
    open_sheet(page, "Carbon in the peat")
    stage(page, "Publish")
    published = int(str(ask("SELECT count(*) FROM editions_edition WHERE published IS NOT NULL")[0][0]))
    page.get_by_role("button", name=re.compile("tiles and publish")).click()
    for _ in range(200):
        if ask("SELECT count(*) FROM jobs_job WHERE kind = 'publish' AND state = 'running' AND done >= 2")[0][0]:
            break
        time.sleep(0.05)
    application.kill_worker()
    time.sleep(1)
    assert ask("SELECT count(*) FROM editions_edition WHERE published IS NOT NULL") == [(published,)], (
        "nothing half-made"
    )
    application.start_worker()
    expect(page.get_by_test_id("job").first).to_have_attribute("data-state", "done", timeout=120_000)
    assert ask("SELECT count(*) FROM editions_edition WHERE published IS NOT NULL") == [(published + 1,)]
    assert ask("SELECT count(*) FROM editions_edition WHERE published IS NULL") == [(0,)]
    assert list((application.folder / "files" / "staging").glob("*")) == []


def test_two_publishes_at_once_both_end_well(page: Page, application: Application) -> None:
    """The last step of the first waits for all parts of the second, longer than a worker may be silent."""
    other = page.context.new_page()
    other.goto("/")
    for one, title in ((page, "Carbon in the peat"), (other, "Money for restoration")):
        open_sheet(one, title)
        stage(one, "Publish")
        one.get_by_role("button", name=re.compile("tiles and publish")).click()
        expect(one.get_by_test_id("job")).to_be_visible()
    for one in (page, other):
        expect(one.get_by_test_id("job").first).to_have_attribute("data-state", "done", timeout=180_000)
    waiting = "SELECT count(*) FROM jobs_part p JOIN jobs_job j ON j.id = p.job_id WHERE j.state = 'done' AND p.state <> 'done'"
    assert int(str(ask(waiting)[0][0])) <= 2, "only the last parts, which end with their jobs"
    other.close()


def test_a_publish_is_stopped_by_its_owner(page: Page) -> None:
    open_sheet(page, "Carbon in the peat")
    stage(page, "Publish")
    page.get_by_role("button", name=re.compile("tiles and publish")).click()
    page.get_by_role("button", name="Stop").click()
    expect(page.get_by_test_id("job")).to_have_attribute("data-state", "stopped", timeout=30_000)
    assert ask("SELECT count(*) FROM editions_edition WHERE published IS NULL") == [(0,)]


def restart_database() -> None:
    """Stop the tests' own PostgreSQL and start it again, as an administrator does."""
    (folder,), (programs,) = (
        ask("SHOW data_directory")[0],
        ask("SELECT setting FROM pg_config WHERE name = 'BINDIR'")[0],
    )
    command = [f"{programs}/pg_ctl", "-D", str(folder), "-m", "fast", "-w", "restart", "-l", f"{folder}/server.log"]
    as_owner = ["runuser", "-u", "postgres", "--"] if os.getuid() == 0 else []
    subprocess.run([*as_owner, *command], check=True, capture_output=True, cwd="/", timeout=60)


def test_a_database_that_restarts_during_an_import(page: Page, tmp_path: Path) -> None:
    """The server is really restarted while shapes are being kept; the job waits and then brings the whole file in, once.

    A lock of the test's own on the table of revisions holds the import in the middle, however quick the machine
    is; the restart takes the lock away with everything else.
    """
    rng = np.random.default_rng(1)
    places = rng.uniform((-27.4, 51.8), (-26.6, 52.2), (20_000, 2))
    rows = "\n".join(f"{i},{lon:.5f},{lat:.5f}" for i, (lon, lat) in enumerate(places))
    (tmp_path / "many.csv").write_text(f"n,lon,lat\n{rows}\n")
    begin_sheet(page, "Many")
    page.get_by_role("tab", name="Bring in a file").click()
    page.get_by_test_id("file").set_input_files(tmp_path / "many.csv")
    with psycopg.connect(server("driven")) as holding:
        holding.execute("LOCK TABLE library_revision IN EXCLUSIVE MODE")
        page.get_by_role("button", name="Bring in points").click()
        for _ in range(400):
            if ask("SELECT count(*) FROM pg_locks WHERE NOT granted AND relation = 'library_revision'::regclass")[0][0]:
                break
            time.sleep(0.05)
        else:
            raise AssertionError("the import did not come to its revision")
        assert ask("SELECT count(*) FROM library_dataset WHERE title = 'Many' AND current_id IS NOT NULL") == [(0,)]
        started = ask("SELECT pg_postmaster_start_time()")
        restart_database()
        assert ask("SELECT pg_postmaster_start_time()") > started
        holding.close()
    expect(page.get_by_test_id("job")).to_have_attribute("data-state", "done", timeout=90_000)
    assert ask(
        "SELECT r.rows FROM library_revision r JOIN library_dataset d ON d.current_id = r.id WHERE d.title = 'Many'"
    ) == [(20_000,)]
    assert ask("SELECT count(*) FROM library_dataset WHERE title = 'Many'") == [(1,)]


def test_a_change_that_could_not_be_kept_is_sent_again(page: Page) -> None:
    """The database is stopped and started; the editor says that it is away, and keeps the change once it is back."""
    begin_sheet(page, "Kept all the same")
    kept(page)
    folder, programs = (
        str(ask("SHOW data_directory")[0][0]),
        str(ask("SELECT setting FROM pg_config WHERE name = 'BINDIR'")[0][0]),
    )
    as_owner = ["runuser", "-u", "postgres", "--"] if os.getuid() == 0 else []
    options = str(Path(folder, "postmaster.opts").read_text()).split(None, 1)[1] if os.access(folder, os.R_OK) else ""
    control = [*as_owner, f"{programs}/pg_ctl", "-D", folder, "-w", "-m", "fast"]
    subprocess.run([*control, "stop"], check=True, capture_output=True, cwd="/", timeout=60)
    try:
        page.get_by_label("Title of the sheet").fill("Kept after all")
        expect(page.get_by_role("status").filter(has_text="away for a moment").first).to_be_visible(timeout=15_000)
        assert page.request.get("/api/sheets").status == 503
        assert page.request.get("/e/none/").status == 503
        assert page.evaluate("dispatchEvent(new Event('beforeunload', {cancelable: true}))") is False, (
            "leaving is asked about"
        )
    finally:
        start = [*control, "-l", f"{folder}/server.log"]
        given = (
            ["-o", " ".join(part.strip('"') for part in options.replace(f'"-D" "{folder}"', "").split())]
            if options
            else []
        )
        subprocess.run([*start, *given, "start"], check=True, capture_output=True, cwd="/", timeout=60)
    expect(page.get_by_role("status").filter(has_text="kept").first).to_be_visible(timeout=20_000)
    assert ask("SELECT title FROM sheets_sheet WHERE title LIKE 'Kept%'") == [("Kept after all",)]


def test_thirty_guesses_at_once_get_no_further_than_ten(application: Application) -> None:
    """From thirty threads at a running server, all beginning together: no more than ten passwords are looked at."""
    start = threading.Barrier(30)
    answers: list[int] = []

    def guess(i: int) -> None:
        jar = http.cookiejar.CookieJar()
        opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(jar))
        opener.open(f"{application.address}/api/session").read()
        token = next(cookie.value for cookie in jar if cookie.name == "csrftoken")
        body = json.dumps({"name": "guessed", "password": f"guess number {i}"}).encode()
        headers = {"Content-Type": "application/json", "X-CSRFToken": str(token)}
        start.wait()
        try:
            answers.append(
                opener.open(urllib.request.Request(f"{application.address}/api/session", body, headers)).status
            )
        except urllib.error.HTTPError as error:
            answers.append(error.code)

    threads = [threading.Thread(target=guess, args=(i,)) for i in range(30)]
    for one in threads:
        one.start()
    for one in threads:
        one.join()
    assert set(answers) <= {403, 429}
    assert answers.count(403) <= 10
    psycopg.connect(server("driven"), autocommit=True).execute("DELETE FROM axes_accessattempt")


def test_workers_killed_at_random_moments() -> None:
    """Nine out of the two hundred of `bench/faults`: whole or absent, and nothing left behind."""
    command = [sys.executable, "-m", "bench.faults", "kills", "--times", "9"]
    done = subprocess.run(command, cwd=ROOT, capture_output=True, text=True, timeout=300)
    assert done.returncode == 0, done.stdout + done.stderr[-2000:]
