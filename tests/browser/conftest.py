"""The real application on ports of its own, and Debian's Chromium to drive it."""

import http.server
import os
import re
import signal
import socket
import subprocess
import sys
import threading
import time
import urllib.request
from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Browser, Page, expect, sync_playwright
from vaskerry.service import served

ROOT = Path(__file__).parents[2]
FLAGS = [
    "--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
    "--disable-component-update", "--disable-sync", "--font-render-hinting=none", "--force-color-profile=srgb",
]  # fmt: skip
NAME, PASSWORD = "isla", "peat-and-heather"


@dataclass
class Application:
    """Web server and worker as processes, on a database of their own."""

    address: str
    environment: dict[str, str]
    folder: Path
    service: str = ""
    """Where the stand-in for services of others is."""
    processes: dict[str, subprocess.Popen[bytes]] = field(default_factory=dict)

    def manage(self, *arguments: str) -> None:
        self.told(*arguments)

    def told(self, *arguments: str) -> str:
        """What a management command writes."""
        command = [sys.executable, ROOT / "server" / "manage.py", *arguments]
        return subprocess.run(command, env=self.environment, check=True, stdout=subprocess.PIPE, text=True).stdout

    def start_web(self) -> None:
        host = self.address.removeprefix("http://")
        self._start(
            "web",
            [
                sys.executable,
                "-m",
                "gunicorn",
                "config.wsgi",
                "-b",
                host,
                "-w",
                "2",
                "-k",
                "gthread",
                "--threads",
                "4",
                "--timeout",
                "180",
            ],
        )
        for _ in range(150):
            try:
                urllib.request.urlopen(f"{self.address}/api/session")
                return
            except OSError:
                time.sleep(0.2)
        raise RuntimeError((self.folder / "web.log").read_text()[-2000:])

    def start_worker(self) -> None:
        self._start(
            "worker",
            [
                sys.executable,
                "-m",
                "celery",
                "-A",
                "config",
                "worker",
                "-B",
                "-c",
                "2",
                "-l",
                "WARNING",
                "--without-mingle",
                "--without-gossip",
            ],
        )

    def kill_worker(self) -> None:
        """As a machine that loses power: no farewell to anybody."""
        os.killpg(self.processes["worker"].pid, signal.SIGKILL)
        self.processes.pop("worker").wait()

    def stop(self) -> None:
        for process in self.processes.values():
            os.killpg(process.pid, signal.SIGTERM)
        for process in self.processes.values():
            process.wait(20)

    def _start(self, name: str, command: list[str]) -> None:
        log = (self.folder / f"{name}.log").open("ab")
        self.processes[name] = subprocess.Popen(
            command, cwd=ROOT / "server", env=self.environment, stdout=log, stderr=log, start_new_session=True
        )


@pytest.fixture(scope="session")
def application(tmp_path_factory: pytest.TempPathFactory, demo: Path) -> Iterator[Application]:
    import psycopg

    folder = tmp_path_factory.mktemp("application")
    (folder / "static").mkdir()
    (folder / "demo").symlink_to(demo)
    (folder / "secret-key").write_text("only for tests")
    port = free_port()
    redis = os.environ["GREYLATCH_REDIS"].rsplit("/", 1)[0]
    environment = {
        **os.environ, "GREYLATCH_RUN": str(folder), "GREYLATCH_ADDRESS": f"http://127.0.0.1:{port}", "GREYLATCH_DB_NAME": "driven",
        "GREYLATCH_REDIS": f"{redis}/5", "GREYLATCH_JOB_SILENCE": "8",
    }  # fmt: skip
    with psycopg.connect(server("postgres"), autocommit=True) as connection:
        connection.execute("DROP DATABASE IF EXISTS driven WITH (FORCE)")
        connection.execute("CREATE DATABASE driven")
    stand_in = served(demo)
    threading.Thread(target=stand_in.serve_forever, daemon=True).start()
    environment["GREYLATCH_SERVICES_INSIDE"] = f"127.0.0.1:{stand_in.server_port}"
    made = Application(
        environment["GREYLATCH_ADDRESS"], environment, folder, f"http://127.0.0.1:{stand_in.server_port}"
    )
    made.manage("migrate", "--no-input", "-v", "0")
    made.manage("load_demo", "--register", "4000")
    made.start_web()
    made.start_worker()
    yield made
    made.stop()
    stand_in.shutdown()


def free_port() -> int:
    """A port that nobody listens at."""
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        return int(free.getsockname()[1])


def server(database: str) -> str:
    """How to reach the tests' own PostgreSQL."""
    e = os.environ
    return f"host={e['GREYLATCH_DB_HOST']} port={e['GREYLATCH_DB_PORT']} user={e['GREYLATCH_DB_USER']} password={e['GREYLATCH_DB_PASSWORD']} dbname={database}"


@pytest.fixture(scope="session")
def chromium() -> Iterator[Browser]:
    # Playwright's loop would make Django believe that it runs inside of asynchronous code.
    os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "1"
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        yield browser
        browser.close()


@pytest.fixture(scope="session")
def kept_session() -> dict[str, Any]:
    """What a browser keeps of who has signed in: of one test for those after it."""
    return {}


def sign_in(page: Page) -> None:
    """As somebody does who comes to the application."""
    page.goto("/")
    page.get_by_label("Name").fill(NAME)
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("heading", name="Sheets").wait_for()


@pytest.fixture
def page(chromium: Browser, application: Application, kept_session: dict[str, Any]) -> Iterator[Page]:
    """A page of a person who has signed in. Errors in the page's script fail the test."""
    context = chromium.new_context(
        viewport={"width": 1280, "height": 800}, base_url=application.address, storage_state=kept_session.get("state")
    )
    context.set_default_timeout(12_000)
    made = context.new_page()
    troubles: list[str] = []
    made.on("pageerror", lambda error: troubles.append(str(error)))
    if context.request.get("/api/session").json()["name"] == NAME:
        made.goto("/")
        made.get_by_role("heading", name="Sheets").wait_for()
    else:  # the first, and those after one that has signed out
        sign_in(made)
        kept_session["state"] = context.storage_state()
    before = sheet_of(made)["document"]
    yield made
    if made.request.get("/api/sheets").ok:  # not of one who has signed out
        as_it_was(made, before)
    context.close()
    assert troubles == []


def sheet_of(page: Page) -> Any:
    """The demo's first sheet as the server keeps it."""
    sheets = page.request.get("/api/sheets").json()
    sheet = next(sheet["id"] for sheet in sheets if sheet["title"].startswith("Carbon in the peat"))
    return page.request.get(f"/api/sheets/{sheet}").json()


def token_of(page: Page) -> str:
    """What a change has to carry."""
    return next(cookie["value"] for cookie in page.context.cookies() if cookie["name"] == "csrftoken")


def as_it_was(page: Page, before: Any) -> None:
    """Whatever becomes of a test, those after it find the sheet as it was."""
    # What the page has not kept yet would come after it.
    page.goto("about:blank")
    for _ in range(5):
        now = sheet_of(page)
        if now["document"] == before:
            return
        body = {"base": now["revision"], "document": before}
        answer = page.request.put(f"/api/sheets/{now['id']}", data=body, headers={"X-CSRFToken": token_of(page)})
        # What the page had sent is kept when the server comes to it, perhaps only now.
        assert answer.ok or answer.status == 409, answer.text()
    assert sheet_of(page)["document"] == before


def drawn(page: Page) -> None:
    """Wait until the map shows all its ink and tiles."""
    page.locator("[data-testid=map][data-inked=true][data-idle=true]").wait_for(timeout=30_000)
    page.wait_for_timeout(600)


def open_sheet(page: Page, title: str) -> None:
    page.get_by_role("button", name=title).first.click()
    drawn(page)


def begin_sheet(page: Page, title: str) -> None:
    page.get_by_role("button", name="Begin a sheet").click()
    page.get_by_label("Title of the sheet").fill(title)


def stage(page: Page, name: str) -> None:
    page.get_by_role("tablist", name="Course").get_by_role("tab", name=name).click()


def choose(page: Page, label: str, option: str, exact: bool = True) -> None:
    """Choose by the keys: of a slow press, the list takes the entry that has opened under the pointer."""
    page.get_by_role("combobox", name=label, exact=True).press("Enter")
    page.get_by_role("option", name=option, exact=exact).first.click()


def kept(page: Page) -> None:
    """Wait until the last change is kept by the server."""
    page.wait_for_timeout(450)
    page.get_by_role("status").filter(has_text="kept").first.wait_for()


def publish(page: Page, last_level: int) -> None:
    """Publish the open sheet down to a level, and wait for the edition."""
    stage(page, "Publish")
    page.get_by_label("Last level").fill(str(last_level))
    page.get_by_label("Last level").press("Enter")
    page.wait_for_timeout(500)
    editions = page.get_by_role("list", name="Editions").get_by_role("link", name=re.compile(r"^Edition \d+"))
    before = editions.count()  # of a publish before this one the job is done already
    page.get_by_role("button", name=re.compile("tiles and publish")).click()
    expect(editions).to_have_count(before + 1, timeout=120_000)
    expect(page.get_by_test_id("job")).to_have_attribute("data-state", "done")
    expect(page.get_by_role("list", name="Editions")).to_contain_text("at the address")


@dataclass
class Elsewhere:
    """A web site of somebody else, on a port of its own."""

    folder: Path
    address: str

    def put(self, name: str, content: str) -> str:
        """Write a file; returns its address."""
        (self.folder / name).write_text(content, "utf-8")
        return f"{self.address}/{name}"


class _Quiet(http.server.SimpleHTTPRequestHandler):
    def log_message(self, *_: object) -> None:
        """Say nothing."""


@pytest.fixture
def elsewhere(tmp_path: Path) -> Iterator[Elsewhere]:
    site = http.server.ThreadingHTTPServer(("127.0.0.1", 0), lambda *a: _Quiet(*a, directory=str(tmp_path)))
    threading.Thread(target=site.serve_forever, daemon=True).start()
    yield Elsewhere(tmp_path, f"http://127.0.0.1:{site.server_port}")
    site.shutdown()
