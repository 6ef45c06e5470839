"""An empty installation of our own, something to do in it, and what may be left behind."""

import json
import os
import random
import sys
import tempfile
from pathlib import Path
from typing import Any

ROOT = Path(__file__).parents[2]
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
    from greylatch.formats.result import ReadResult
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
        "symbology": {"kind": "symbols", "encodings": {"colour": {"by": "classes", "classing": {"field": "v"}}}},
        "card": "{{ name }}",
    }
    sheet = create(owner, {"version": 3, "title": "Faults", "layers": [layer]})
    rows = "\n".join(f"{i},{rng.uniform(-27, -26):.5f},{rng.uniform(51, 52):.5f}" for i in range(5_000))
    return {"owner": owner, "sheet": sheet, "file": f"n,lon,lat\n{rows}\n".encode(), **kept}


def begun(kind: str, have: dict[str, Any]) -> Any:
    """A job of a kind, as its address begins it; nobody is called to do it."""
    from django.core.files.base import ContentFile
    from jobs.work import begin
    from library.models import Upload
    from sheets.keeping import document_of

    if kind == "redelivery":
        # Each delivery has numbers of its own, the same in every row.
        have["turn"] = have.get("turn", 0) + 1
        data = ("name,w\n" + "".join(f"Area {i},{have['turn']}\n" for i in range(200))).encode()
        upload = Upload.objects.create(owner=have["owner"], name="later.csv", size=len(data))
        upload.file.save(f"{upload.pk}.csv", ContentFile(data))
        how = {"dataset": str(have["table"].pk), "upload": str(upload.pk), "key": "name"}
        return begin(
            have["owner"], kind, "t", how, making=lambda job: Upload.objects.filter(pk=upload.pk).update(job=job)
        )
    if kind == "import":
        upload = Upload.objects.create(owner=have["owner"], name="many.csv", size=len(have["file"]))
        upload.file.save(f"{upload.pk}.csv", ContentFile(have["file"]))
        arguments = {"upload": str(upload.pk), "corrections": {}}
        return begin(
            have["owner"], kind, "t", arguments, making=lambda job: Upload.objects.filter(pk=upload.pk).update(job=job)
        )
    sheet = have["sheet"]
    how = {"sheet": str(sheet.pk), "document": document_of(sheet), "size": 256, "min_zoom": None, "max_zoom": 11}
    return begin(have["owner"], kind, "t", how, known={"sheet": str(sheet.pk)})


def left_behind(folder: Path, have: dict[str, Any]) -> list[str]:
    """What is there and should not be, and what is named and is not there whole."""
    import hashlib

    from django.core.files.storage import default_storage
    from editions.models import Address, Edition
    from library.models import Dataset, Revision, Upload
    from pmtiles.reader import MemorySource, Reader, all_tiles

    troubles = []
    named = {name.folder for name in Revision.objects.all()} | {name.folder for name in Edition.objects.all()}
    for home in ("datasets", "editions"):
        stored = (
            {f"{home}/{name}" for name in default_storage.listdir(home)[0]} if default_storage.exists(home) else set()
        )
        troubles += [f"{name} belongs to nothing" for name in stored - named]
        troubles += [f"{name} is not there" for name in named - stored if name.startswith(home)]
    for place in (folder / "scratch", folder / "files" / "staging"):
        troubles += [f"{name} was left" for name in place.glob("*")]
    if (
        Dataset.objects.filter(current=None).exists()
        or Edition.objects.filter(published=None).exists()
        or Upload.objects.exists()
    ):
        troubles.append("something half-made is in the database")
    address = Address.objects.filter(sheet=have["sheet"]).select_related("current").first()
    if address and address.current:
        edition = address.current
        with default_storage.open(f"{edition.folder}/map.pmtiles") as file:
            tiles = list(all_tiles(MemorySource(file.read())))
        if len(tiles) != edition.described["tiles"]:
            troubles.append("the edition has other tiles than it says")
        digests = {hashlib.sha256(data).hexdigest() for _, data in tiles}
        known = have.setdefault("digests", digests)
        if digests != known:
            troubles.append("the edition is another one than before")
        with default_storage.open(f"{edition.folder}/map.pmtiles") as file:
            assert Reader(MemorySource(file.read())).header()["clustered"]
        for name in edition.described["files"]:
            if not default_storage.exists(f"{edition.folder}/{name}"):
                troubles.append(f"{name} of the edition is not there")
            elif name.endswith(".json"):
                with default_storage.open(f"{edition.folder}/{name}") as file:
                    json.load(file)
    return troubles
