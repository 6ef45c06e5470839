"""Two workers without a common disk: what one cuts the other gathers, through a storage that speaks S3 (moto, a stand-in)."""

import os
import time
from collections.abc import Iterator
from pathlib import Path
from uuid import UUID

import boto3
import psycopg
import pytest
from moto.server import ThreadedMotoServer

from tests.browser.conftest import Application, free_port, server

BUCKET = "maps"
PUBLISH = """
from django.test import Client
from sheets.models import Sheet
sheet = Sheet.objects.get(title__startswith="Carbon in the peat")
client = Client(HTTP_HOST="127.0.0.1")
client.force_login(sheet.owner)
print(client.post(f"/api/sheets/{sheet.pk}/editions", {"max_zoom": 10}, content_type="application/json").json()["id"])
"""


@pytest.fixture
def storage() -> Iterator[dict[str, str]]:
    stand_in = ThreadedMotoServer("127.0.0.1", 0)
    stand_in.start()
    host, port = stand_in.get_host_and_port()
    keys = {"AWS_ACCESS_KEY_ID": "made-up", "AWS_SECRET_ACCESS_KEY": "made-up", "AWS_DEFAULT_REGION": "eu-west-1"}
    endpoint = f"http://{host}:{port}"
    client = boto3.client(
        "s3",
        endpoint_url=endpoint,
        region_name="eu-west-1",
        aws_access_key_id="made-up",
        aws_secret_access_key="made-up",
    )
    client.create_bucket(Bucket=BUCKET, CreateBucketConfiguration={"LocationConstraint": "eu-west-1"})
    yield {**keys, "GREYLATCH_S3_BUCKET": BUCKET, "GREYLATCH_S3_ENDPOINT": endpoint}
    stand_in.stop()


@pytest.fixture
def machines(tmp_path: Path, storage: dict[str, str], demo: Path) -> Iterator[tuple[Application, Application]]:
    """The first serves and works, the second only works."""
    redis = os.environ["GREYLATCH_REDIS"].rsplit("/", 1)[0]
    common = {
        **os.environ, **storage, "GREYLATCH_ADDRESS": f"http://127.0.0.1:{free_port()}", "GREYLATCH_DB_NAME": "apart",
        "GREYLATCH_REDIS": f"{redis}/6", "GREYLATCH_JOB_SILENCE": "6", "GREYLATCH_SECRET_KEY": "only for tests",
    }  # fmt: skip
    with psycopg.connect(server("postgres"), autocommit=True) as connection:
        connection.execute("DROP DATABASE IF EXISTS apart WITH (FORCE)")
        connection.execute("CREATE DATABASE apart")
    made = []
    for name in ("first", "second"):
        folder = tmp_path / name
        folder.mkdir()
        (folder / "static").mkdir()
        (folder / "demo").symlink_to(demo)
        made.append(Application(common["GREYLATCH_ADDRESS"], {**common, "GREYLATCH_RUN": str(folder)}, folder))
    made[0].manage("migrate", "--no-input", "-v", "0")
    made[0].manage("load_demo")
    yield made[0], made[1]
    for one in made:
        one.stop()


def ask(question: str, *values: object) -> list[tuple[object, ...]]:
    with psycopg.connect(server("apart"), autocommit=True) as connection:
        return connection.execute(question, values).fetchall()


def test_an_edition_is_cut_by_two_and_survives_the_loss_of_one(machines: tuple[Application, Application]) -> None:
    first, second = machines
    second.start_worker()
    job = UUID(first.told("shell", "-v", "0", "-c", PUBLISH).strip())
    until("SELECT 1 FROM jobs_part WHERE job_id = %s AND stage = 'shard' AND state = 'done' OFFSET 1", job)
    # What the second has cut so far lies in the storage; the first has to go on from there.
    first.start_worker()
    until("SELECT 1 FROM jobs_part WHERE job_id = %s AND stage = 'shard' AND state = 'done' OFFSET 3", job)
    second.kill_worker()
    until("SELECT 1 FROM jobs_job WHERE id = %s AND state NOT IN ('waiting', 'running')", job)
    assert ask("SELECT state, message FROM jobs_job WHERE id = %s", job)[0][0] == "done"
    assert (first.folder / "derived").exists() and (second.folder / "derived").exists(), "both had the data"
    assert [one for machine in machines for one in (machine.folder / "files").rglob("*")] == [], (
        "the storage has all files"
    )
    (told,) = ask("SELECT described FROM editions_edition WHERE published IS NOT NULL")[0]
    published = first.told("shell", "-v", "0", "-c", COUNT).split()
    assert published == [str(told["tiles"]), "True", "0"]  # type: ignore[index]


COUNT = """
import time

from django.core.files.storage import default_storage
from editions.models import Edition
from library.files import local_path
from pmtiles.reader import MmapSource, all_tiles
edition = Edition.objects.get(published__isnull=False)
tiles = len(list(all_tiles(MmapSource(local_path(f"{edition.folder}/map.pmtiles").open("rb")))))
whole = all(default_storage.exists(f"{edition.folder}/{name}") for name in edition.described["files"])
# What was staged is cleared once the edition can be seen.
for _ in range(60):
    left = len(default_storage.listdir("staging")[0])
    if not left:
        break
    time.sleep(0.5)
print(tiles, whole, left)
"""


def until(question: str, *values: object) -> None:
    """Wait until the database has an answer."""
    for _ in range(600):
        if ask(question, *values):
            return
        time.sleep(0.2)
    raise AssertionError(question)
