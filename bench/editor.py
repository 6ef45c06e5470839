"""The application with one dataset and one sheet of it, in Chromium: for what a benchmark asks of the editor."""

import os
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from bench.database import new_database
from tests.browser.conftest import FLAGS, Application

ADDRESS = "http://127.0.0.1:8899"
LOAD = """
import sys
from django.contrib.auth import get_user_model
from greylatch.formats.about import About
from greylatch.formats.files import read_file
from library.store import keep_vector
from sheets.keeping import create
owner = get_user_model().objects.create_user("isla", password="peat-and-heather")
file, title, field = sys.argv[1:]
kept = keep_vector(owner, title, read_file(file), file.rsplit("/")[-1], About(source="made up"))
symbology = {"kind": "symbols", "encodings": {"colour": {"by": "classes", "classing": {"field": field, "method": "quantile", "classes": 5}, "ramp": {"name": "heather"}}}}
layer = {"id": "it", "name": title, "dataset": str(kept.pk), "symbology": symbology}
create(owner, {"title": title, "layers": [layer], "view": {"lon": -27, "lat": 52, "zoom": 9}})
"""


@contextmanager
def application_in(folder: Path) -> Iterator[Application]:
    """The application on a database of its own, with nobody in it yet; stopped afterwards."""
    folder.chmod(0o755)
    (folder / "static").mkdir()
    (folder / "secret-key").write_text("only for a benchmark")
    new_database("measured")
    environment = {
        **os.environ,
        "GREYLATCH_RUN": str(folder),
        "GREYLATCH_ADDRESS": ADDRESS,
        "GREYLATCH_DB_NAME": "measured",
    }
    application = Application(ADDRESS, environment, folder)
    application.manage("migrate", "--no-input", "-v", "0")
    try:
        yield application
    finally:
        application.stop()


def sign_in(page: Page) -> None:
    """As the person whose data are shown."""
    page.goto(ADDRESS)
    page.get_by_label("Name").fill("isla")
    page.get_by_label("Password").fill("peat-and-heather")
    page.get_by_role("button", name="Sign in").click()


@contextmanager
def editor(folder: Path, file: Path, title: str, field: str) -> Iterator[Page]:
    """The list of sheets, on which there is one of a file's features by classes of a field."""
    with application_in(folder) as application, sync_playwright() as playwright:
        code = f"import sys; sys.argv = ['', {str(file)!r}, {title!r}, {field!r}]\n{LOAD}"
        application.manage("shell", "-v", "0", "-c", code)
        application.start_web()
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800}, base_url=ADDRESS)
        sign_in(page)
        page.get_by_role("button", name=title).first.wait_for()
        yield page
        browser.close()
