"""Publishing: an edition is whole or absent, and never changes."""

import gzip
import io
import json
import shutil
import uuid
import zipfile
from collections.abc import Iterator
from datetime import timedelta
from pathlib import Path
from typing import Any

import mapbox_vector_tile
import numpy as np
import pytest
from django.conf import settings
from django.core.files.storage import default_storage
from django.test import Client
from django.utils import timezone
from editions import publish, staging
from editions.models import Address, Edition
from greylatch.cli.main import main
from greylatch.edition import cutting
from greylatch.sheet.document import Sheet as Document
from greylatch.sheet.layers import Layer
from jobs.models import Job
from jobs.work import SILENT_TEXT, TRIES, sweep
from library.files import local_path
from library.models import Dataset
from PIL import Image
from pmtiles.reader import MemorySource, Reader, all_tiles
from pytest_django import DjangoAssertNumQueries
from sheets.keeping import keep
from sheets.models import Sheet

from tests.server.conftest import bring_in, fetch, send


def cut(owner: Client, sheet: Sheet, **more: Any) -> dict[str, Any]:
    status, job = send(owner, f"/sheets/{sheet.pk}/editions", {"max_zoom": 9, **more})
    assert status == 200, job
    return job


def content(answer: Any) -> bytes:
    return b"".join(answer.streaming_content) if answer.streaming else answer.content


@pytest.fixture
def home(owner: Client, sheet: Sheet) -> str:
    assert cut(owner, sheet)["state"] == "done"
    return f"/e/{Address.objects.get(sheet=sheet).slug}"


def test_levels_and_tiles_are_planned_from_the_data(owner: Client, sheet: Sheet) -> None:
    _, told = send(owner, f"/sheets/{sheet.pk}/plan", {})
    assert (told["min_zoom"], told["max_zoom"]) == (8, 12)
    assert send(owner, f"/sheets/{sheet.pk}/plan", {"min_zoom": 9, "max_zoom": 4})[0] == 422
    assert send(owner, f"/sheets/{sheet.pk}/plan", {"max_zoom": 22})[0] == 422
    assert send(owner, f"/sheets/{sheet.pk}/plan", {"size": 300})[0] == 422


def test_visitors_read_an_edition(home: str, visitor: Client) -> None:
    told = visitor.get(f"{home}/edition.json").json()
    assert (told["number"], told["base"]) == (1, f"{home}/1/")
    assert [part["layer"] for part in told["key"]] == ["wells", "carbon"]
    page = visitor.get(f"{home}/")
    assert page.status_code == 200
    assert "frame-ancestors" not in page.headers["Content-Security-Policy"]
    assert "X-Frame-Options" not in page.headers
    tile = visitor.get(f"{home}/1/map/9/217/169.png")
    assert tile.headers["Access-Control-Allow-Origin"] == "*"
    assert "immutable" in tile.headers["Cache-Control"]
    rgba = np.asarray(Image.open(io.BytesIO(tile.content)).convert("RGBA"))
    assert rgba.shape == (256, 256, 4)
    assert rgba[..., 3].min() == 0
    assert visitor.get(f"{home}/1/map/9/0/0.png").status_code == 204
    assert visitor.get(f"{home}/2/map/9/217/169.png").status_code == 404
    assert visitor.get(f"{home}/1/../../settings").status_code == 404


def test_files_are_open_formats(home: str, visitor: Client, owner: Client, sheet: Sheet) -> None:
    files = fetch(owner, f"/sheets/{sheet.pk}/editions")[1]["editions"][0]["files"]
    assert files == [
        "below.json", "below.pmtiles", "carbon.geojson", "edition.json", "index.html", "isles.geojson", "labels.json", "labels.pmtiles",
        "map.json", "map.pmtiles", "map.zip", "picture.png", "pictures-relief.json", "pictures-relief.pmtiles", "shapes-carbon.json", "shapes-carbon.pmtiles", "shapes-isles.json",
        "shapes-isles.pmtiles", "shapes-wells.json", "shapes-wells.pmtiles", "sheet.json", "style.json", "wells.geojson",
    ]  # fmt: skip
    collection = json.loads(content(visitor.get(f"{home}/1/carbon.geojson")))
    classes = [f["properties"]["class"] for f in collection["features"]]
    assert len(classes) == 214
    assert set(classes) == {None, 1, 2, 3, 4, 5, 6}
    archive = content(visitor.get(f"{home}/1/map.pmtiles"))
    tiles = {tuple(zxy) for zxy, _ in all_tiles(MemorySource(archive))}
    names = zipfile.ZipFile(io.BytesIO(content(visitor.get(f"{home}/1/map.zip")))).namelist()
    assert {f"{z}/{x}/{y}.png" for z, x, y in tiles} | {"tilejson.json"} == set(names)
    assert Reader(MemorySource(archive)).header()["min_zoom"] == 8
    assert json.loads(content(visitor.get(f"{home}/1/map.json")))["maxzoom"] == 9


def test_archives_are_read_in_place_by_ranges(home: str, visitor: Client) -> None:
    whole = content(visitor.get(f"{home}/1/map.pmtiles"))
    part = visitor.get(f"{home}/1/map.pmtiles", headers={"Range": "bytes=0-126"})
    assert (part.status_code, part.content) == (206, whole[:127])
    assert part.headers["Content-Range"] == f"bytes 0-126/{len(whole)}"
    assert visitor.get(f"{home}/1/map.pmtiles", headers={"Range": "bytes=-5"}).content == whole[-5:]
    assert visitor.get(f"{home}/1/map.pmtiles", headers={"Range": f"bytes={len(whole)}-"}).status_code == 416


def test_vector_tiles_and_their_style_agree(home: str, visitor: Client) -> None:
    """Style specification version 8: every expression names a property that the tiles carry."""
    style = json.loads(content(visitor.get(f"{home}/1/style.json")))
    assert style["version"] == 8
    fill = next(one for one in style["layers"] if one["id"] == "shapes-carbon-fill")
    match = fill["paint"]["fill-color"]
    assert match[:2] == ["match", ["get", "ink"]]
    address = style["sources"][fill["source"]]["tiles"][0]
    assert address.startswith(f"{settings.PUBLIC_ADDRESS}{home}/1/shapes-carbon/")
    layer = tile_at(visitor, address, 8, 108, 84)[fill["source-layer"]]
    properties = [feature["properties"] for feature in layer["features"]]
    assert {p["ink"] for p in properties} <= set(range(7))
    assert all({"class_text", "label"} <= set(p) for p in properties)


def tile_at(visitor: Client, address: str, z: int, x: int, y: int) -> dict[str, Any]:
    place = address.removeprefix(settings.PUBLIC_ADDRESS).format(z=z, x=x, y=y)
    return mapbox_vector_tile.decode(visitor.get(place).content)


def test_every_source_has_a_tilejson_at_whole_addresses(home: str, visitor: Client) -> None:
    """TileJSON 3.0: `vector_layers` name what is in the tiles; readers know nothing of the place that a file came from."""
    style = json.loads(content(visitor.get(f"{home}/1/style.json")))
    assert set(style["sources"]) == {"below", "labels", "shapes-carbon", "shapes-isles", "shapes-wells"}
    for name, source in style["sources"].items():
        told = visitor.get(f"{home}/1/{name}.json").json()
        assert (told["tilejson"], told["tiles"], told["maxzoom"]) == ("3.0.0", source["tiles"], 9)
        if source["type"] == "raster":
            assert (told["tileSize"], "vector_layers" in told) == (256, False)
            tile = told["tiles"][0].removeprefix(settings.PUBLIC_ADDRESS).format(z=9, x=217, y=169)
            assert visitor.get(tile).content[:4] == b"\x89PNG"
            continue
        (listed,) = told["vector_layers"]
        found = tile_at(visitor, told["tiles"][0], 8, 108, 84)[listed["id"]]["features"]
        assert {key for one in found for key in one["properties"]} <= set(listed["fields"])
    told = visitor.get(f"{home}/1/map.json").json()
    assert told["tiles"] == [f"{settings.PUBLIC_ADDRESS}{home}/1/map/{{z}}/{{x}}/{{y}}.png"]
    assert visitor.get(f"{home}/1/shapes-nothing.json").status_code == 404
    assert visitor.get(f"{home}/9/style.json").status_code == 404


def test_labels_are_in_one_tile_each(home: str, visitor: Client, sheet: Sheet) -> None:
    """At level 9 every label once, in whichever of the tiles over the isles its anchor lies."""
    address = visitor.get(f"{home}/1/labels.json").json()["tiles"][0]
    layers = [tile_at(visitor, address, 9, x, y).get("labels") for x in range(214, 220) for y in range(166, 172)
              if visitor.get(address.removeprefix(settings.PUBLIC_ADDRESS).format(z=9, x=x, y=y)).content]  # fmt: skip
    labels = [one["properties"] for layer in layers if layer for one in layer["features"]]
    assert {"Hallan", "Kellasay", "Sunder", "Pellay"} <= {one["text"] for one in labels}
    assert len({(one["layer"], one["row"]) for one in labels}) == len(labels)
    assert {one["anchor"] for one in labels} <= {"left", "right", "top", "bottom"}
    assert all(one["gap"] > 0 for one in labels)


def test_glyphs_are_open_to_all(visitor: Client) -> None:
    answer = visitor.get("/glyphs/Source Sans 3 Medium/0-255.pbf")
    assert (answer.status_code, answer.headers["Access-Control-Allow-Origin"]) == (200, "*")
    for wrong in ("Another Face/0-255", "Source Sans 3 Medium/0-256", "Source Sans 3 Medium/65536-65791"):
        assert visitor.get(f"/glyphs/{wrong}.pbf").status_code == 404


def test_a_layer_of_which_nothing_is_drawn_does_not_stop_a_publish(
    owner: Client, sheet: Sheet, visitor: Client
) -> None:
    job = bring_in(owner, "sinks.csv", b"lon,lat,flow\n-27.1,52.1,-3\n-27.2,52.0,0\n")
    document = Document.model_validate(sheet.revisions.first().document)
    layer = {
        "id": "sinks", "name": "Sinks", "dataset": job["result"]["dataset"],
        "symbology": {"kind": "symbols", "encodings": {"size": {"by": "value", "field": "flow"}}}, "lettering": {"lines": [{"text": "{flow}"}]},
    }  # fmt: skip
    document.layers.insert(0, Layer.model_validate(layer))
    keep(sheet, 1, document, sheet.owner)
    assert cut(owner, sheet)["state"] == "done"
    home = f"/e/{Address.objects.get(sheet=sheet).slug}/1"
    assert "shapes-sinks" not in visitor.get(f"{home}/style.json").json()["sources"]
    assert json.loads(content(visitor.get(f"{home}/sinks.geojson")))["features"]


def test_cards_of_a_place(home: str, visitor: Client) -> None:
    collection = json.loads(content(visitor.get(f"{home}/1/carbon.geojson")))
    import shapely

    place = shapely.geometry.shape(collection["features"][50]["geometry"]).representative_point()
    cards = visitor.get(f"{home}/1/card", {"lon": place.x, "lat": place.y, "zoom": 14}).json()["cards"]
    assert cards[-1]["layer"] == "carbon"
    assert collection["features"][50]["properties"]["name"] in cards[-1]["html"]
    assert visitor.get(f"{home}/1/card", {"lon": 0, "lat": 0, "zoom": 9}).json()["cards"] == []
    assert visitor.get(f"{home}/1/card", {"lon": "x"}).status_code == 400


def test_an_edition_stays_as_it_was_while_the_sheet_changes(
    home: str, visitor: Client, owner: Client, sheet: Sheet
) -> None:
    before = content(visitor.get(f"{home}/1/map.pmtiles"))
    document = Document.model_validate(sheet.revisions.first().document)
    document.title, document.layers[1].visible = "Without carbon", False
    keep(sheet, 1, document, sheet.owner)
    assert visitor.get(f"{home}/edition.json").json()["title"].startswith("Carbon")
    assert cut(owner, sheet)["result"]["edition"] == 2
    assert visitor.get(f"{home}/edition.json").json()["title"] == "Without carbon"
    assert content(visitor.get(f"{home}/1/map.pmtiles")) == before
    _, told = send(owner, f"/sheets/{sheet.pk}/editions/1/bring-back")
    assert [(e["number"], e["current"]) for e in told["editions"]] == [(2, False), (1, True)]
    assert visitor.get(f"{home}/edition.json").json()["number"] == 1


def test_a_dataset_of_an_edition_stays(home: str, owner: Client, named: dict[str, Any]) -> None:
    status, told = send(owner, f"/datasets/{named['Catchments with returns'].pk}", method="delete")
    assert (status, "published edition" in told["detail"]) == (409, True)


def stored() -> set[str]:
    return set(default_storage.listdir("editions")[0]) if default_storage.exists("editions") else set()


@pytest.fixture
def nothing_is_left(sheet: Sheet) -> Iterator[None]:
    """After the test there is no edition, no address and no file more than before."""
    before = stored()
    yield
    assert not Edition.objects.filter(sheet=sheet).exists()
    assert not Address.objects.filter(sheet=sheet).exists()
    assert stored() == before
    assert not default_storage.exists("staging") or default_storage.listdir("staging") == ([], [])


@pytest.mark.usefixtures("nothing_is_left")
def test_a_publish_that_fails_at_the_last_step_leaves_nothing(
    owner: Client, sheet: Sheet, monkeypatch: pytest.MonkeyPatch
) -> None:
    def broken(*_: Any) -> None:
        raise RuntimeError("disk full")

    monkeypatch.setattr(publish, "write_edition", broken)
    job = cut(owner, sheet)
    assert (job["state"], "unexpected" in job["message"]) == ("failed", True)


@pytest.mark.usefixtures("nothing_is_left")
def test_a_publish_begun_by_an_earlier_version_ends_and_says_so(
    owner: Client, sheet: Sheet, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Its lots that were cut before the change lie where nobody looks for them: an edition without them would have holes."""
    real = staging.gather_lots

    def after_the_change(job: Job, folder: Path) -> None:
        job.parts.filter(stage="shard", number=0).update(kept="")
        real(job, folder)

    monkeypatch.setattr(publish, "gather_lots", after_the_change)
    job = cut(owner, sheet)
    assert (job["state"], "Publish again" in job["message"]) == ("failed", True)


@pytest.mark.usefixtures("nothing_is_left")
def test_a_publish_is_stopped_between_shards(owner: Client, sheet: Sheet, monkeypatch: pytest.MonkeyPatch) -> None:
    real = cutting.paint_block

    def stopping(*arguments: Any) -> Any:
        Job.objects.update(stop_asked=True)
        return real(*arguments)

    monkeypatch.setattr(cutting, "paint_block", stopping)
    job = cut(owner, sheet)
    assert (job["state"], job["message"]) == ("stopped", "Stopped. Nothing was kept.")


@pytest.mark.usefixtures("nothing_is_left")
def test_a_job_whose_worker_fell_silent_is_ended(owner: Client, sheet: Sheet, isla: Any) -> None:
    job = Job.objects.create(owner=isla, kind="publish", title="t", state="running", result={"sheet": str(sheet.pk)})
    part = job.parts.create(
        stage="shard", number=0, state="running", tries=TRIES, claim=uuid.uuid4(), heard=timezone.now()
    )
    how = publish.Cutting(size=256, format="png", min_zoom=None, max_zoom=9)
    publish.freeze(sheet, Document.model_validate(sheet.revisions.first().document), job, how)
    assert sweep() == 0
    job.parts.filter(pk=part.pk).update(heard=timezone.now() - timedelta(minutes=5))
    _, told = fetch(owner, f"/jobs/{job.pk}")
    assert (told["state"], told["message"]) == ("failed", SILENT_TEXT)


def test_an_empty_sheet_cannot_be_published(owner: Client) -> None:
    _, made = send(owner, "/sheets", {"title": "Empty"})
    status, told = send(owner, f"/sheets/{made['id']}/editions", {})
    assert (status, "nothing on this map" in told["detail"]) == (422, True)


def test_tiles_of_512_px(owner: Client, sheet: Sheet, visitor: Client) -> None:
    cut(owner, sheet, size=512, max_zoom=8)
    # The next one begins so; the first level was chosen from the data, and is again.
    (edition,) = owner.get(f"/api/sheets/{sheet.pk}/editions").json()["editions"]
    assert edition["asked"] == {"size": 512, "format": "png", "min_zoom": None, "max_zoom": 8}
    home = f"/e/{Address.objects.get(sheet=sheet).slug}"
    assert Image.open(io.BytesIO(visitor.get(f"{home}/1/map/8/108/84.png").content)).size == (512, 512)


def test_scripts_go_packed_and_their_ranges_do_not(home: str, visitor: Client) -> None:
    address = f"{home}/1/page/reader.js"
    plain = visitor.get(address)
    script = content(plain)
    packed = visitor.get(address, headers={"Accept-Encoding": "br, gzip"})
    assert gzip.decompress(packed.content) == script and len(packed.content) < len(script) / 2
    assert (packed["Content-Encoding"], packed["Vary"]) == ("gzip", "Accept-Encoding")
    assert packed["ETag"] != plain["ETag"]
    again = visitor.get(address, headers={"Accept-Encoding": "gzip", "If-None-Match": packed["ETag"]})
    assert again.status_code == 304
    part = visitor.get(address, headers={"Accept-Encoding": "gzip", "Range": "bytes=0-9"})
    assert (part.status_code, part.content) == (206, script[:10])
    assert visitor.get(f"{home}/1/page/none.js", headers={"Accept-Encoding": "gzip"}).status_code == 404
    said = visitor.get(f"{home}/1/edition.json", headers={"Accept-Encoding": "gzip"})
    assert json.loads(gzip.decompress(said.content))["layers"], "what the page asks first, too"


def test_a_range_asks_the_database_once(
    home: str, visitor: Client, django_assert_num_queries: DjangoAssertNumQueries
) -> None:
    """Pages ask for dozens of them before their map is there."""
    with django_assert_num_queries(1):
        assert visitor.get(f"{home}/1/map.pmtiles", headers={"Range": "bytes=0-126"}).status_code == 206


def test_removing_a_sheet_removes_its_editions(
    home: str, owner: Client, visitor: Client, sheet: Sheet, django_capture_on_commit_callbacks: Any
) -> None:
    folder = Edition.objects.get(sheet=sheet).folder
    with django_capture_on_commit_callbacks(execute=True):
        assert send(owner, f"/sheets/{sheet.pk}", method="delete")[0] == 200
    assert visitor.get(f"{home}/").status_code == 404
    assert not default_storage.exists(f"{folder}/map.pmtiles")


def test_the_command_line_makes_the_same_edition(owner: Client, demo: Path, tmp_path: Path) -> None:
    """The demo's sheet from the demo's files, file for file and byte for byte; but for the sheet itself, which names its data by
    path there and by id here, and PMTiles, whose compressed directories carry the time: of these every tile is compared.
    Rasters are those that the server keeps: their overviews are means of means, and rounded twice."""
    document = json.loads((demo / "carbon.sheet.json").read_text())
    here = {**document, "layers": []}
    for layer in document["layers"]:
        file = demo / layer["dataset"]
        job = bring_in(owner, file.name, file.read_bytes())
        revision = Dataset.objects.get(pk=job["result"]["dataset"]).current
        raster = revision.raster is not None
        shutil.copyfile(local_path(f"{revision.folder}/raster.tif") if raster else file, tmp_path / file.name)
        here["layers"].append({**layer, "dataset": job["result"]["dataset"]})
    (tmp_path / "carbon.sheet.json").write_text(json.dumps(document))
    _, made = send(owner, "/sheets", {"title": document["title"]})
    send(owner, f"/sheets/{made['id']}", {"base": 1, "document": here}, "put")
    _, job = send(owner, f"/sheets/{made['id']}/editions", {"max_zoom": 10})
    assert job["state"] == "done", job
    edition = Edition.objects.get(sheet=made["id"])
    out = tmp_path / "edition"
    assert main(["publish", str(tmp_path / "carbon.sheet.json"), "--out", str(out), "--max-zoom", "10"]) == 0
    there = {file.relative_to(out).as_posix(): file.read_bytes() for file in out.rglob("*") if file.is_file()}
    assert json.loads(there["edition.json"]) == edition.described
    assert sorted(name for name in there if "/" not in name) == edition.described["files"]
    assert set(there) == all_in(edition.folder)
    assert {"page/reader.js", "live/ink-carbon.bin", "pictures-relief.pmtiles", "cards/carbon/0.json"} <= set(there)
    for name, data in there.items():
        with default_storage.open(f"{edition.folder}/{name}") as stored:
            ours = stored.read()
        if name.endswith(".pmtiles"):
            assert dict(all_tiles(MemorySource(data))) == dict(all_tiles(MemorySource(ours))), name
        elif name != "sheet.json":
            assert data == ours, name


def all_in(folder: str, below: str = "") -> set[str]:
    """The names of all files in a folder of the storage."""
    folders, files = default_storage.listdir(f"{folder}/{below}")
    return {below + file for file in files}.union(*(all_in(folder, f"{below}{one}/") for one in folders))


def test_tiles_as_webp(owner: Client, sheet: Sheet, visitor: Client) -> None:
    """The same pixels as the PNG of the same map."""
    cut(owner, sheet, max_zoom=8)
    cut(owner, sheet, max_zoom=8, format="webp")
    home = f"/e/{Address.objects.get(sheet=sheet).slug}"
    pictures = []
    for number, kind in ((1, "png"), (2, "webp")):
        answer = visitor.get(f"{home}/{number}/map/8/108/84.{kind}")
        assert answer.headers["Content-Type"] == f"image/{kind}"
        pictures.append(np.asarray(Image.open(io.BytesIO(answer.content)).convert("RGBA")))
    assert np.array_equal(*pictures)
    assert visitor.get(f"{home}/2/map/8/108/84.png").status_code == 404
    assert visitor.get(f"{home}/2/map.json").json()["tiles"][0].endswith(".webp")
