"""Two people, a visitor, and the demo in a database of its own; jobs run at once, in the same process."""

import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from config.celery import app as celery_app
from django.contrib.auth import get_user_model
from django.contrib.auth.models import User
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from library.models import Dataset
from people.management.commands.load_demo import load
from people.models import Member, Role, Team
from sheets.models import Sheet


@pytest.fixture(scope="session", autouse=True)
def at_once() -> Iterator[None]:
    celery_app.conf.task_always_eager = True
    yield
    celery_app.conf.task_always_eager = False


@pytest.fixture(scope="session", autouse=True)
def own_files(tmp_path_factory: pytest.TempPathFactory) -> Iterator[None]:
    """Files, staging and cached tiles of the tests stay among the tests."""
    from django.conf import settings
    from django.test.utils import override_settings

    folder = tmp_path_factory.mktemp("run")
    caches = {**settings.CACHES, "tiles": {**settings.CACHES["tiles"], "LOCATION": folder / "tiles"}}
    with override_settings(RUN=folder, MEDIA_ROOT=folder / "files", CACHES=caches, TILE_CACHE=folder / "tiles"):
        yield


@pytest.fixture(scope="session", autouse=True)
def quick_passwords() -> Iterator[None]:
    """What keeps passwords safe makes each a second slower; Django's own advice for tests is a hash that does not."""
    from django.test.utils import override_settings

    with override_settings(PASSWORD_HASHERS=["django.contrib.auth.hashers.MD5PasswordHasher"]):
        yield


@pytest.fixture(scope="session")
def django_db_setup(
    django_db_setup: None, django_db_blocker: Any, demo: Path, own_files: None, quick_passwords: None
) -> None:
    """The demo belongs to Isla; Odd is a stranger."""
    with django_db_blocker.unblock():
        isla = get_user_model().objects.create_user("isla", password="peat-and-heather")
        get_user_model().objects.create_user("odd", password="sand-and-gravel")
        load(isla, demo)


@pytest.fixture
def isla(db: None) -> User:
    return User.objects.get(username="isla")


@pytest.fixture
def owner(isla: User) -> Client:
    client = Client()
    client.force_login(isla)
    return client


@pytest.fixture
def team(isla: User) -> Team:
    made = Team.objects.create(name="Survey")
    Member.objects.create(team=made, person=isla, role=Role.KEEPER)
    return made


@pytest.fixture
def brann(team: Team) -> User:
    someone = User.objects.create_user("brann")
    Member.objects.create(team=team, person=someone, role=Role.MAKER)
    return someone


@pytest.fixture
def maker(brann: User) -> Client:
    client = Client()
    client.force_login(brann)
    return client


@pytest.fixture
def reader(team: Team) -> Client:
    someone = User.objects.create_user("runa")
    Member.objects.create(team=team, person=someone, role=Role.READER)
    client = Client()
    client.force_login(someone)
    return client


@pytest.fixture
def stranger(db: None) -> Client:
    client = Client()
    client.force_login(User.objects.get(username="odd"))
    return client


@pytest.fixture
def visitor(db: None) -> Client:
    return Client()


@pytest.fixture
def sheet(isla: User) -> Sheet:
    return isla.sheets.get(title__startswith="Carbon")


@pytest.fixture
def named(isla: User) -> dict[str, Dataset]:
    """Isla's datasets by title."""
    return {one.title: one for one in isla.datasets.all()}


def send(client: Client, path: str, body: Any = None, method: str = "post") -> tuple[int, Any]:
    """Status and JSON of a call with a JSON body."""
    answer = getattr(client, method)(
        f"/api{path}", json.dumps(body) if body is not None else None, content_type="application/json"
    )
    kind = answer.headers.get("Content-Type", "")
    return answer.status_code, answer.json() if kind.startswith("application/json") else answer.content


def fetch(client: Client, path: str, **query: Any) -> tuple[int, Any]:
    """Status and JSON of a GET."""
    answer = client.get(f"/api{path}", query)
    kind = answer.headers.get("Content-Type", "")
    return answer.status_code, answer.json() if kind.startswith("application/json") else answer.content


def upload(client: Client, name: str, data: bytes) -> tuple[int, Any]:
    """Status and answer of an upload: a preview."""
    answer = client.post("/api/uploads", {"file": SimpleUploadedFile(name, data)})
    return answer.status_code, answer.json()


def bring_in(client: Client, name: str, data: bytes, **corrections: Any) -> dict[str, Any]:
    """The job of an upload that is imported at once."""
    status, told = upload(client, name, data)
    assert status == 200, told
    status, job = send(client, f"/uploads/{told['id']}/import", corrections)
    assert status == 200, job
    return job


POINTS = "name,n,share,day,kept\n" + "".join(
    f"Ard {i},{i},{i / 4},2026-05-{i + 1:02},{'yes' if i % 2 else 'no'}\n" for i in range(20)
)


@pytest.fixture
def wells(owner: Client) -> Dataset:
    """Twenty points over two degrees."""
    rows = [f"{line},{-27 + i / 10:.1f},{52 - i / 20:.2f}" for i, line in enumerate(POINTS.splitlines()[1:])]
    body = "\n".join([f"{POINTS.splitlines()[0]},lon,lat", *rows]).encode()
    job = bring_in(owner, "wells.csv", body)
    return Dataset.objects.select_related("current").get(pk=job["result"]["dataset"])


def shared(client: Client, thing: Any, team: Team, change: bool = False) -> None:
    status, told = send(client, f"/shares/{thing.pk}", {"team": str(team.pk), "may_change": change})
    assert status == 200, told
