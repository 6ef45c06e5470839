"""Installations made before: what they hold is there after the migrations."""

import json
from pathlib import Path
from typing import Any

import pytest
import shapely
from django.contrib.auth.models import User
from django.core.files.storage import default_storage
from django.db import connection
from django.db.migrations.executor import MigrationExecutor
from django.test import Client
from editions.models import Address, Edition
from greylatch.formats.geoparquet import write_geoparquet
from greylatch.tables.dataset import fields
from library.derived import data_of, forget_derived
from library.files import remove_folder, store_folder
from library.models import Dataset
from sheets.models import Sheet

from tests.server.conftest import fetch, send

BEFORE = [("jobs", "0002_at_work"), ("library", "0001_initial"), ("editions", "0001_initial")]


def test_jobs_under_way_end_in_words_and_sizes_are_measured(owner: Client, isla: User, sheet: Sheet) -> None:
    send(owner, f"/sheets/{sheet.pk}/editions", {"max_zoom": 8})
    sizes = dict(Edition.objects.values_list("pk", "bytes"))
    assert all(sizes.values())
    with connection.cursor() as cursor:
        cursor.execute("SET CONSTRAINTS ALL IMMEDIATE")
    executor = MigrationExecutor(connection)
    latest = [node for node in executor.loader.graph.leaf_nodes() if node[0] in ("jobs", "library", "editions")]
    executor.migrate(BEFORE)
    old = executor.loader.project_state(BEFORE).apps
    for state in ("waiting", "running", "done"):
        old.get_model("jobs", "Job").objects.create(owner_id=isla.pk, kind="publish", title=f"Job {state}", state=state)
    with connection.cursor() as cursor:
        cursor.execute("SET CONSTRAINTS ALL IMMEDIATE")
    executor = MigrationExecutor(connection)
    executor.migrate(latest)
    told = {one["title"]: one for one in fetch(owner, "/jobs")[1]}
    assert [told[f"Job {state}"]["state"] for state in ("waiting", "running", "done")] == ["failed", "failed", "done"]
    assert "brought up to date" in told["Job running"]["message"]
    assert dict(Edition.objects.values_list("pk", "bytes")) == sizes


@pytest.fixture
def older(owner: Client, sheet: Sheet) -> Sheet:
    """A published sheet whose documents are of the first version, as databases hold them."""
    document: dict[str, Any] = json.loads(json.dumps(sheet.revisions.first().document))
    document.pop("pictures_from")
    document["version"] = 1
    for layer in document["layers"]:
        layer["key"].pop("unit")
        layer["card"] = "### {{name}}{{#carbon_t}} with {{carbon_t}} t{{/carbon_t}}" if layer["id"] == "carbon" else ""
    carbon = next(one for one in document["layers"] if one["id"] == "carbon")
    carbon["key"]["entries"] = {"class-0": "little"}
    colour = carbon["symbology"]["encodings"]["colour"]
    carbon["symbology"] = {"kind": "classed", **{name: colour[name] for name in ("classing", "ramp", "no_data")}}
    sheet.revisions.update(document=document)
    send(owner, f"/sheets/{sheet.pk}/editions", {"max_zoom": 8})
    Edition.objects.filter(sheet=sheet).update(document=document)
    return sheet


def test_documents_of_the_first_version_go_on(owner: Client, visitor: Client, older: Sheet) -> None:
    _, told = fetch(owner, f"/sheets/{older.pk}")
    carbon = next(one for one in told["document"]["layers"] if one["id"] == "carbon")
    assert told["document"]["version"] == 4
    assert carbon["card"] == "### {{ name }}{% if carbon_t %} with {{ carbon_t }} t{% endif %}"
    home = f"/e/{Address.objects.get(sheet=older).slug}"
    key = visitor.get(f"{home}/edition.json").json()["key"]
    assert [one["sections"][0]["entries"][-2]["text"] for one in key if one["layer"] == "carbon"] == ["little"]
    box = {"west": -28, "south": 51, "east": -26, "north": 53}
    places = visitor.get(f"{home}/1/features", box).json()["features"]
    assert {one["layer"] for one in places} == {"carbon"}
    cards = [visitor.get(f"{home}/1/card", {**one, "zoom": 9}).json()["cards"] for one in places[:3]]
    assert any(" with " in one["html"] for found in cards for one in found)
    status, kept = send(owner, f"/sheets/{older.pk}", {"base": told["revision"], "document": told["document"]}, "put")
    assert (status, kept["revision"]) == (200, told["revision"] + 1)


def test_the_files_say_what_the_key_says(visitor: Client, older: Sheet) -> None:
    home = f"/e/{Address.objects.get(sheet=older).slug}"
    key = next(one for one in visitor.get(f"{home}/edition.json").json()["key"] if one["layer"] == "carbon")
    texts = {one["text"] for one in key["sections"][0]["entries"]}
    assert "little" in texts
    answer = visitor.get(f"{home}/1/carbon.geojson")
    properties = [one["properties"] for one in json.loads(b"".join(answer.streaming_content))["features"]]
    assert {one["class_text"] for one in properties} == texts
    assert all(one["value"] > 0 for one in properties if one["class"])


def test_an_edition_of_before_is_shown_by_the_page_of_today(owner: Client, visitor: Client, sheet: Sheet) -> None:
    """As they were published before pages drew by themselves, and before there were projections: tiles of the whole map."""
    send(owner, f"/sheets/{sheet.pk}/editions", {"max_zoom": 8})
    edition = Edition.objects.get(sheet=sheet)
    later = {"layers", "labels", "frame", "box", "start", "scales", "format", "drawn_bounds"}
    described = {name: value for name, value in edition.described.items() if name not in later}
    new = {"index.html", "edition.json", "picture.png"}
    described["files"] = [name for name in described["files"] if name not in new]
    for folder in ("page", "live", "cards"):
        remove_folder(f"{edition.folder}/{folder}")
    for name in new:
        default_storage.delete(f"{edition.folder}/{name}")
    Edition.objects.update(described=described)
    home = f"/e/{Address.objects.get(sheet=sheet).slug}"
    page = visitor.get(f"{home}/")
    assert f'<base href="{home}/1/">' in page.text and "<h1" in page.text and "Carbon, t per ha of peat" in page.text
    told = visitor.get(f"{home}/edition.json").json()
    assert [(one["shapes"], one["pictures"]["archive"], one["pictures"]["max_zoom"]) for one in told["layers"]] == [
        (None, "map.pmtiles", 8)
    ]
    assert (told["frame"]["matrix_set"], told["format"], told["labels"]) == ("WebMercatorQuad", "png", None)
    for name, kind in (("reader.js", "text/javascript"), ("reader.css", "text/css"), ("letters.woff", "font/woff")):
        answer = visitor.get(f"{home}/1/page/{name}")
        assert (answer.status_code, answer.headers["Content-Type"].split(";")[0]) == (200, kind)
        assert "max-age=600" in answer.headers["Cache-Control"]
    assert visitor.get(f"{home}/1/page/nothing.js").status_code == 404
    assert visitor.get(f"{home}/1/live/ink-carbon.bin").status_code == 404
    box = {"west": -28, "south": 51, "east": -26, "north": 53}
    first = visitor.get(f"{home}/1/features", box).json()["features"][0]
    assert visitor.get(f"{home}/1/card", {**first, "zoom": 9}).json()["cards"]


def test_rows_that_were_files_are_put_on_record(
    owner: Client, isla: User, named: dict[str, Dataset], tmp_path: Path
) -> None:
    """A library as it was kept before: one Parquet file per revision, the row's position as its number."""
    tables = [one for one in named.values() if one.kind != "raster"]
    before = {one.pk: data_of(one.current) for one in tables}
    with connection.cursor() as cursor:
        cursor.execute("SET CONSTRAINTS ALL IMMEDIATE")
    executor = MigrationExecutor(connection)
    latest = [node for node in executor.loader.graph.leaf_nodes() if node[0] == "library"]
    executor.migrate([("library", "0003_shapes_are_derived")])
    old = executor.loader.project_state([("library", "0003_shapes_are_derived")]).apps.get_model("library", "Revision")
    for dataset in tables:
        folder = tmp_path / str(dataset.pk)
        folder.mkdir()
        write_geoparquet(before[dataset.pk], folder / "data.parquet")
        store_folder(folder, f"datasets/{dataset.pk}")
        known = [
            {"name": one.name, "type": one.type, "missing": one.missing} for one in fields(before[dataset.pk].columns)
        ]
        old.objects.filter(dataset_id=dataset.pk).update(folder=f"datasets/{dataset.pk}", fields=known)
        forget_derived(dataset.pk)
    executor = MigrationExecutor(connection)
    executor.migrate(latest)
    for dataset in Dataset.objects.filter(pk__in=before).select_related("current__dataset"):
        after, was = data_of(dataset.current), before[dataset.pk]
        assert after.columns.equals(was.columns)
        assert (after.kind, after.crs, after.fids.tolist()) == (was.kind, was.crs, list(range(len(was))))
        assert after.shapes is None or (shapely.to_wkb(after.shapes) == shapely.to_wkb(was.shapes)).all()
        assert (dataset.next_fid, dataset.current.author, dataset.current.folder) == (len(was), isla, "")
    assert fetch(owner, f"/datasets/{named['Dip wells'].pk}/history")[1][0]["change"] == "Delivered as dip_wells.csv."
