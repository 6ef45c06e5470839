"""Uploads, previews, imports and joins: whole or absent."""

import io
import json
import zipfile
from pathlib import Path
from typing import Any

import mapbox_vector_tile
import numpy as np
import pytest
import rasterio
import shapely
from django.contrib.auth.models import User
from django.core.files.storage import default_storage
from django.db import OperationalError
from django.test import Client
from greylatch.places.frame import MERCATOR
from greylatch.places.grid import Tile
from greylatch.rasters.cutting import cut_into
from greylatch.rules.evaluating import taken
from jobs.models import Job
from library.derived import data_of, source_of
from library.models import Dataset, Revision, Upload
from rasterio.transform import from_origin

from tests.server.conftest import bring_in, fetch, send, upload
from tests.server.tables import cell, change


def stored() -> set[str]:
    folders, _ = default_storage.listdir("datasets") if default_storage.exists("datasets") else ([], [])
    return set(folders)


def test_ten_gigabytes_in_a_zip_are_refused(owner: Client, ten_gigabytes: Path) -> None:
    status, told = upload(owner, "bomb.zip", ten_gigabytes.read_bytes())
    assert (status, "would unpack to 10.0 GB" in told["detail"]) == (422, True)
    assert not Upload.objects.exists()


def test_a_csv_is_previewed_corrected_and_kept(owner: Client) -> None:
    text = "site;height;x;y\nHöhe;1,5;500000;5761000\nTal;2;500100;5761100\n".encode("cp1252")
    status, told = upload(owner, "dip_sites.csv", text)
    preview = told["preview"]
    assert status == 200
    assert (preview["title"], preview["delimiter"], preview["header"]) == ("Dip sites", ";", True)
    assert preview["rows"][0][0] == "Höhe"
    assert (preview["x"], preview["y"]) == ("x", "y")
    assert "not degrees" in preview["problem"]
    corrected = {"crs": "EPSG:32626", "types": {"site": "text"}, "source": "A diary"}
    _, preview = send(owner, f"/uploads/{told['id']}/preview", corrected)
    assert (preview["problem"], preview["crs"][:10], preview["kind"]) == (None, "EPSG:32626", "points")
    _, job = send(owner, f"/uploads/{told['id']}/import", corrected)
    assert (job["state"], job["message"]) == ("done", "'Dip sites' is in the library.")
    dataset = Dataset.objects.get(pk=job["result"]["dataset"])
    assert (dataset.source, dataset.current.rows, dataset.kind) == ("A diary", 2, "points")
    _, rows = fetch(owner, f"/datasets/{dataset.pk}/rows", sort="height", descending=True)
    assert [row[:3] for row in rows["rows"]] == [[1, "Tal", 2.0], [0, "Höhe", 1.5]]


def test_source_coordinates_are_kept(owner: Client) -> None:
    job = bring_in(owner, "a.csv", b"easting,northing\n500000.125,5761000.5\n500001,5761001\n", crs="EPSG:32626")
    revision = Dataset.objects.get(pk=job["result"]["dataset"]).current
    shape = source_of(revision).dataset.shapes[0]  # type: ignore[union-attr,index]
    assert (shape.x, shape.y) == (500000.125, 5761000.5)


@pytest.mark.parametrize(
    ("name", "data", "corrections", "words"),
    [
        ("a.csv", b"a,b\n1,2\n1\n", {}, "line 3 has 1"),
        ("a.csv", b"a,b\n1,x\n", {"types": {"b": "number"}}, "line 2: 'x' is not a number"),
        ("a.csv", b"a,lon,lat\n1,500,2\n2,3,4\n", {"crs": "EPSG:4326"}, "Row 1 lies at"),
        ("a.csv", b"a,b\n1,\xff\xfe\xfa\n", {"encoding": "utf-8"}, "bytes are not utf-8"),
        ("a.csv", b"a,b\n1,2\n", {"encoding": "nonsense"}, "no encoding 'nonsense'"),
        ("a.csv", b"x,y\n500000,5761000\n", {}, "not degrees"),
    ],
)
def test_imports_that_fail_leave_nothing(
    owner: Client, name: str, data: bytes, corrections: dict[str, Any], words: str
) -> None:
    before = (Dataset.objects.count(), stored())
    job = bring_in(owner, name, data, **corrections)
    assert job["state"] == "failed"
    assert words in job["message"]
    assert (Dataset.objects.count(), stored()) == before


def packed(name: str, data: bytes) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(name, data)
    return out.getvalue()


@pytest.mark.parametrize(
    ("name", "data", "words"),
    [
        ("a.tif", b"\x89PNG\r\n\x1a\n", "picture without a place"),
        ("a.tif", b"II*\0\x08\0\0\0", "not a readable GeoTIFF"),
        ("a.zip", packed("../evil.shp", b"x"), "leads out of the zip"),
        ("a.zip", packed("a.txt", b"x"), "no Shapefile"),
        ("a.zip", packed("a.shp", b"\0" * 80_000_000), "would unpack to"),
        ("a.exe", b"MZ", "are not read"),
        ("a.csv", b"", "empty"),
        ("a.geojson", b'{"type": "FeatureCollection", "features": []}', "no feature"),
    ],
)
def test_uploads_that_are_refused_are_forgotten(owner: Client, name: str, data: bytes, words: str) -> None:
    before = Upload.objects.count()
    status, told = upload(owner, name, data or b" ")
    assert status == 422
    assert words in told["detail"]
    assert Upload.objects.count() == before


def test_a_truncated_geotiff_fails_and_leaves_nothing(owner: Client, demo: Path) -> None:
    whole = (demo / "relief.tif").read_bytes()
    before = (Dataset.objects.count(), stored())
    status, told = upload(owner, "relief.tif", whole[: int(len(whole) * 0.7)])
    if status == 200:
        _, told = send(owner, f"/uploads/{told['id']}/import", {})
        assert (told["state"], "breaks off" in told["message"]) == ("failed", True)
    else:
        assert "breaks off" in told["detail"] or "not a readable" in told["detail"]
    assert (Dataset.objects.count(), stored()) == before


def test_a_file_is_named_as_it_was_sent(owner: Client, demo: Path, tmp_path: Path) -> None:
    """Not as it is stored, under a name that nobody knows: in a problem that can be mended, in a refusal, and by a job."""
    with rasterio.open(
        tmp_path / "a.tif",
        "w",
        driver="GTiff",
        width=9,
        height=9,
        count=1,
        dtype="uint8",
        transform=from_origin(0, 9, 1, 1),
    ) as target:
        target.write(np.ones((1, 9, 9), dtype=np.uint8))
    status, sent = upload(owner, "moor.tif", (tmp_path / "a.tif").read_bytes())
    assert (status, sent["preview"]["problem"][:36]) == (200, "moor.tif says nothing about its proj")
    _, job = send(owner, f"/uploads/{sent['id']}/import", {})
    assert fetch(owner, f"/jobs/{job['id']}")[1]["message"].startswith("moor.tif says nothing")
    status, told = upload(owner, "relief.tif", (demo / "relief.tif").read_bytes()[:300])
    assert (status, told["detail"].startswith("relief.tif ")) == (422, True), told


def test_rasters_get_overviews(named: dict[str, Dataset]) -> None:
    assert named["Relief"].current.raster["overviews"] >= 2


def test_crossing_rings_are_told_in_the_library(owner: Client) -> None:
    bow = {"type": "Polygon", "coordinates": [[[0, 0], [1, 1], [1, 0], [0, 1], [0, 0]]]}
    feature = {"type": "Feature", "properties": {"n": 1}, "geometry": bow}
    job = bring_in(owner, "a.geojson", json.dumps({"type": "FeatureCollection", "features": [feature]}).encode())
    _, dataset = fetch(owner, f"/datasets/{job['result']['dataset']}")
    assert "now repaired: row 1" in dataset["notes"][0]


def test_a_database_that_goes_away_during_an_import_leaves_nothing(isla: User, demo: Path) -> None:
    """The connection is cut when the files are in the storage already; a second try brings the whole file in, once."""
    from greylatch.formats.corrections import Corrections
    from greylatch.formats.intake import take_in
    from library import store

    job = Job.objects.create(owner=isla, kind="import", title="t")
    before = (Dataset.objects.count(), stored())

    def cut(done: int, total: int, what: str) -> None:
        if done == total:
            raise OperationalError("server closed the connection unexpectedly")

    def kept(report: Any) -> Dataset:
        with store.scratch() as folder:
            taken = take_in(demo / "slips.csv", Corrections(crs="EPSG:32626"), folder)
            return store.keep_folder(isla, "Slips", folder, taken, "slips.csv", progress=report, job=job)

    with pytest.raises(OperationalError):
        kept(cut)
    assert (Dataset.objects.count(), stored()) == before
    dataset = kept(lambda *_: None)
    assert dataset.current is not None
    assert (dataset.current.rows, len(data_of(dataset.current))) == (6000, 6000)


def test_an_import_that_is_stopped_leaves_nothing(
    isla: User, demo: Path, owner: Client, monkeypatch: pytest.MonkeyPatch
) -> None:
    from library import store

    monkeypatch.setattr("jobs.work.time.monotonic", iter(range(10**6)).__next__)
    real = store.put_on_record

    def stopping(*given: Any) -> int:
        Job.objects.update(stop_asked=True)
        return real(*given)

    monkeypatch.setattr(store, "put_on_record", stopping)
    before = (Dataset.objects.count(), stored())
    job = bring_in(owner, "slips.csv", (demo / "slips.csv").read_bytes(), crs="EPSG:32626")
    assert (job["state"], job["message"]) == ("stopped", "Stopped. Nothing was kept.")
    assert (Dataset.objects.count(), stored()) == before


def test_geometry_tiles_hold_rows_and_shapes_only(owner: Client, named: dict[str, Dataset]) -> None:
    """Read with mapbox-vector-tile (PyPI): ids are rows, there are no properties, shapes are those of the source."""
    revision: Revision = named["Catchments"].current
    source = source_of(revision)
    tile = Tile(8, 108, 84)
    data = owner.get(f"/api/revisions/{revision.pk}/tiles/{tile.z}/{tile.x}/{tile.y}")
    layer = mapbox_vector_tile.decode(data.content, default_options={"y_coord_down": True})["shapes"]
    assert data.headers["Cache-Control"] == "private, max-age=31536000, immutable"
    assert all(feature["properties"] == {} for feature in layer["features"])
    west, south, east, north = MERCATOR.grid.tile_bounds(tile)
    for feature in layer["features"][:20]:
        units = shapely.geometry.shape(feature["geometry"])
        metres = shapely.transform(
            units,
            lambda xy: np.column_stack(
                [west + xy[:, 0] * (east - west) / 4096, north - xy[:, 1] * (north - south) / 4096]
            ),
        )
        clip = shapely.box(west, south, east, north)
        ours, theirs = metres.intersection(clip), source.shapes[feature["id"]].intersection(clip)  # type: ignore[union-attr]
        if theirs.area > 1e7:
            assert ours.symmetric_difference(theirs).area < 0.03 * theirs.area
    assert owner.get(f"/api/revisions/{revision.pk}/tiles/3/99/0").status_code == 422


def test_rows_are_found_again_after_sorting(owner: Client, named: dict[str, Dataset]) -> None:
    wells = named["Dip wells"].pk
    _, place = fetch(owner, f"/datasets/{wells}/position", fid=5, sort="water_table_cm")
    _, rows = fetch(owner, f"/datasets/{wells}/rows", offset=place["position"], limit=1, sort="water_table_cm")
    assert rows["rows"][0][0] == 5
    _, last = fetch(owner, f"/datasets/{wells}/rows", offset=2399, limit=10, sort="water_table_cm")
    assert last["rows"][0][4] is None
    assert fetch(owner, f"/datasets/{wells}/rows", sort="nope")[0] == 422


def test_rows_that_a_condition_takes(owner: Client, named: dict[str, Dataset]) -> None:
    wells, areas = named["Dip wells"], named["Catchments"]
    data = data_of(wells.newest)
    where = "water_table_cm > 60 AND condition = 'degraded'"
    wanted = data.fids[taken(data, where)].tolist()
    _, shown = fetch(owner, f"/datasets/{wells.pk}/rows", where=where, limit=500)
    assert [row[0] for row in shown["rows"]] == wanted and shown["total"] == len(wanted) > 5
    _, sorted_ = fetch(owner, f"/datasets/{wells.pk}/rows", where=where, sort="water_table_cm", limit=500)
    assert sorted([row[0] for row in sorted_["rows"]]) == wanted
    assert [row[4] for row in sorted_["rows"]] == sorted(row[4] for row in sorted_["rows"])
    for fid in (wanted[3], 0):
        _, place = fetch(owner, f"/datasets/{wells.pk}/position", fid=fid, where=where)
        assert place["position"] == (wanted.index(fid) if fid in wanted else -1)
    code, told = fetch(owner, f"/datasets/{wells.pk}/rows", where="water_table > 60")
    assert code == 422 and "There is no field" in told["detail"]
    inside = {"where": "S_INTERSECTS(geometry, catchments)", "others": json.dumps({"catchments": str(areas.pk)})}
    assert 0 < fetch(owner, f"/datasets/{wells.pk}/rows", **inside)[1]["total"] <= 2400
    assert fetch(owner, f"/datasets/{wells.pk}/rows", **{**inside, "others": "[1]"})[0] == 422


def test_doubts_about_a_dataset_are_told_with_their_rows(owner: Client, named: dict[str, Dataset]) -> None:
    _, told = fetch(owner, f"/datasets/{named['Returns per catchment'].pk}/doubts")
    (beyond,) = (doubt for doubt in told if doubt["kind"] == "percentage")
    assert (beyond["field"], beyond["rows"], beyond["of"]) == ("drained_percent", [33], 1)
    assert fetch(owner, f"/datasets/{named['Field huts'].pk}/doubts") == (200, [])
    assert fetch(owner, f"/datasets/{named['Relief'].pk}/doubts")[0] == 422


def test_doubts_are_mended_and_accepted_and_both_are_taken_back(owner: Client, named: dict[str, Dataset]) -> None:
    base = f"/datasets/{named['Returns per catchment'].pk}"
    _, told = fetch(owner, f"{base}/doubts")
    (beyond,) = (doubt for doubt in told if doubt["kind"] == "percentage")
    assert beyond["mending"] == "Empty these cells"
    status, changed = send(owner, f"{base}/doubts/{beyond['id']}/mend", {})
    assert status == 200 and changed["can_undo"]
    assert "percentage" not in {doubt["kind"] for doubt in fetch(owner, f"{base}/doubts")[1]}
    assert send(owner, f"{base}/doubts/{beyond['id']}/mend", {})[0] == 422, "it is not doubtful any more"
    assert send(owner, f"{base}/undo", {})[0] == 200
    assert beyond["id"] in {doubt["id"] for doubt in fetch(owner, f"{base}/doubts")[1]}
    accept = f"{base}/doubts/{beyond['id']}/accept"
    assert send(owner, accept, {"reason": "  "})[0] == 422
    status, told = send(owner, accept, {"reason": "Two ditches side by side."})
    assert status == 200 and told[-1]["id"] == beyond["id"], "accepted ones come last"
    assert (told[-1]["accepted"]["reason"], told[-1]["accepted"]["author"]) == ("Two ditches side by side.", "isla")
    status, told = send(owner, accept, {}, "delete")
    assert status == 200 and all(doubt["accepted"] is None for doubt in told)


def test_many_cells_change_as_one_step(owner: Client, named: dict[str, Dataset]) -> None:
    base = f"/datasets/{named['Dip wells'].pk}"
    asked = {
        "asked": {"do": "calculate", "name": "moss", "expression": "sphagnum * 2", "where": "condition = 'intact'"}
    }
    status, seen = send(owner, f"{base}/many/look", asked)
    assert status == 200 and seen["makes_field"] and len(seen["some"]) == 8
    status, changed = send(owner, f"{base}/many", asked)
    moss = next(field for field in changed["fields"] if field["name"] == "moss")
    assert status == 200 and moss["missing"] == changed["rows"] - seen["changes"]
    row = fetch(owner, f"{base}/rows", where="condition = 'intact'", limit=1)[1]["rows"][0]
    assert row[-1] == 2 * row[[f["name"] for f in changed["fields"]].index("sphagnum") + 1]
    assert (
        send(owner, f"{base}/many/look", {"asked": {"do": "replace", "find": "intact", "put": "whole"}})[1]["changes"]
        > 100
    )
    assert send(owner, f"{base}/undo", {})[1]["fields"][-1]["name"] != "moss"
    assert (
        send(owner, f"{base}/many/look", {"asked": {"do": "calculate", "name": "x", "expression": "nowhere"}})[0] == 422
    )


def test_dates_are_made_of_years_and_months(owner: Client, named: dict[str, Dataset]) -> None:
    base = f"/datasets/{named['Dip wells'].pk}"
    assert fetch(owner, f"{base}/many/dates")[1] == {"asked": None}
    assert fetch(owner, f"/datasets/{named['Relief'].pk}/many/dates")[1] == {"asked": None}, "a raster has no rows"
    for name, expression in (("Year", "2026"), ("month", "5")):
        send(owner, f"{base}/many", {"asked": {"do": "calculate", "name": name, "expression": expression}})
    asked = fetch(owner, f"{base}/many/dates")[1]["asked"]
    assert (asked["name"], asked["expression"]) == ("date", 'date_of("Year", "month")')
    status, changed = send(owner, f"{base}/many", {"asked": asked})
    made = next(field for field in changed["fields"] if field["name"] == "date")
    assert status == 200 and made["type"] == "date" and made["missing"] == 0
    assert fetch(owner, f"{base}/many/dates")[1]["asked"]["name"] == "date 2"


def test_moments_since_1970_are_dates_to_the_millisecond(owner: Client) -> None:
    """As feeds of earthquakes have them. A moment with a fraction of a second could be kept, and not be read again."""
    job = bring_in(owner, "quakes.csv", b"place,time\nArd,1517966773840\nUlvery,1517966037000\n")
    quakes = Dataset.objects.get(pk=job["result"]["dataset"])
    base = f"/datasets/{quakes.pk}"
    asked = fetch(owner, f"{base}/many/dates")[1]["asked"]
    assert asked["expression"] == 'since_1970("time")'
    status, changed = send(owner, f"{base}/many", {"asked": asked})
    assert status == 200 and [field["type"] for field in changed["fields"]] == ["text", "integer", "date"]
    rows = fetch(owner, f"{base}/rows")[1]["rows"]
    assert [row[-1] for row in rows] == ["2018-02-07T01:26:13.840", "2018-02-07T01:13:57"]
    change(owner, quakes, cell(rows[1][0], "date", "2018-02-07T01:13:57.123456", rows[1][-1]))
    assert fetch(owner, f"{base}/rows")[1]["rows"][1][-1] == "2018-02-07T01:13:57.123"


def test_where_a_dataset_is_used_is_told(owner: Client, named: dict[str, Dataset], sheet: Any) -> None:
    told = fetch(owner, f"/datasets/{named['Catchments with returns'].pk}/uses")[1]
    assert sheet.title in [each["title"] for each in told["sheets"]] and told["editions"] == []
    parents = fetch(owner, f"/datasets/{named['Returns per catchment'].pk}/uses")[1]
    assert parents == {"sheets": [], "editions": [], "joined": ["Catchments with returns"]}


def test_parts_of_a_raster_come_in_as_one(owner: Client, demo: Path, tmp_path: Path) -> None:
    cut_into(demo / "relief.tif", tmp_path / "parts", columns=2, rows=1)
    sent = [upload(owner, part.name, part.read_bytes())[1]["id"] for part in sorted((tmp_path / "parts").glob("*.tif"))]
    status, job = send(owner, "/uploads/mosaic", {"uploads": sent, "corrections": {"title": "Relief, whole"}})
    assert status == 200
    done = fetch(owner, f"/jobs/{job['id']}")[1]
    assert done["state"] == "done", done
    made = fetch(owner, f"/datasets/{done['result']['dataset']}")[1]
    with rasterio.open(demo / "relief.tif") as whole:
        assert (made["raster"]["width"], made["raster"]["height"]) == (whole.width, whole.height)
    assert made["title"] == "Relief, whole" and made["notes"][0].startswith("Put together of 2 rasters: relief")
    assert not Upload.objects.exists()
    table = upload(owner, "a.csv", b"a\n1\n")[1]["id"]
    again = upload(owner, "relief.tif", (demo / "relief.tif").read_bytes())[1]["id"]
    job = send(owner, "/uploads/mosaic", {"uploads": [again, table], "corrections": {}})[1]
    assert "not a readable GeoTIFF" in fetch(owner, f"/jobs/{job['id']}")[1]["message"]
    assert not Upload.objects.exists(), "nothing is left of one that failed"


def test_an_upload_of_the_wrong_size_is_refused(owner: Client, settings: Any) -> None:
    settings.MAX_UPLOAD = 10
    assert upload(owner, "a.csv", b"a,b\n" + b"1,2\n" * 10)[0] == 413
