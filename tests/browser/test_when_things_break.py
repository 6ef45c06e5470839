"""Workers killed and databases lost in the middle of work: a clear end, nothing half-made, and the next try succeeds."""

import os
import re
import subprocess
import time
from pathlib import Path

import numpy as np
import psycopg
import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Application, begin_sheet, open_sheet, server, stage

pytestmark = pytest.mark.browser


def ask(query: str) -> list[tuple[object, ...]]:
    with psycopg.connect(server("driven"), autocommit=True) as connection:
        return connection.execute(query).fetchall()


def test_a_publish_whose_worker_is_killed_halfway(page: Page, application: Application) -> None:
    open_sheet(page, "Carbon in the peat")
    stage(page, "Publish")
    published = ask("SELECT count(*) FROM editions_edition WHERE published IS NOT NULL")
    page.get_by_role("button", name=re.compile("tiles and publish")).click()
    for _ in range(200):
        if ask("SELECT count(*) FROM jobs_job WHERE kind = 'publish' AND state = 'running' AND done >= 2")[0][0]:
            break
        time.sleep(0.05)
    application.kill_worker()
    job = page.get_by_test_id("job")
    expect(job).to_have_attribute("data-state", "failed", timeout=30_000)
    expect(job).to_contain_text("The worker stopped halfway. Nothing was kept; start it again.")
    assert ask("SELECT count(*) FROM editions_edition WHERE published IS NULL") == [(0,)]
    assert ask("SELECT count(*) FROM editions_edition WHERE published IS NOT NULL") == published
    assert list((application.folder / "staging").glob("*")) == []
    application.start_worker()
    page.get_by_label("Last level").fill("9")
    page.get_by_label("Last level").press("Enter")
    page.get_by_role("button", name=re.compile("tiles and publish")).click()
    expect(page.get_by_test_id("job")).to_have_attribute("data-state", "done", timeout=90_000)


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
    assert ask("SELECT count(*) FROM jobs_job WHERE kind = 'publish' AND at_work > 0 AND state = 'done'") == [(0,)]
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
    """The server is really restarted while shapes are being kept; the job waits and then brings the whole file in, once."""
    rng = np.random.default_rng(1)
    places = rng.uniform((-27.4, 51.8), (-26.6, 52.2), (60_000, 2))
    rows = "\n".join(f"{i},{lon:.5f},{lat:.5f}" for i, (lon, lat) in enumerate(places))
    (tmp_path / "many.csv").write_text(f"n,lon,lat\n{rows}\n")
    begin_sheet(page, "Many")
    page.get_by_role("tab", name="Bring in a file").click()
    page.get_by_test_id("file").set_input_files(tmp_path / "many.csv")
    page.get_by_role("button", name="Bring in points").click()
    halfway = "SELECT count(*) FROM jobs_job WHERE title = 'Import of many.csv' AND state = 'running' AND done > 2000"
    for _ in range(400):
        if ask(halfway)[0][0]:
            break
        time.sleep(0.05)
    started = ask("SELECT pg_postmaster_start_time()")
    restart_database()
    assert ask("SELECT pg_postmaster_start_time()") > started
    assert ask("SELECT count(*) FROM library_dataset WHERE title = 'Many' AND current_id IS NOT NULL") == [(0,)]
    expect(page.get_by_test_id("job")).to_have_attribute("data-state", "done", timeout=90_000)
    assert ask(
        "SELECT count(*) FROM library_feature f JOIN library_revision r ON r.id = f.revision_id "
        "JOIN library_dataset d ON d.id = r.dataset_id WHERE d.title = 'Many'"
    ) == [(60_000,)]
    assert ask("SELECT count(*) FROM library_dataset WHERE title = 'Many'") == [(1,)]
