"""Services: what is fetched from the stand-in that ships, what is refused before anything is asked, and the tagged store."""

import json
import socket
import threading
import time
from collections.abc import Iterator
from datetime import timedelta
from pathlib import Path
from typing import Any
from urllib.parse import quote, unquote
from wsgiref.simple_server import make_server

import pytest
from django.contrib.auth.models import User
from django.test import Client
from django.utils import timezone
from jobs.models import Job
from library.derived import data_of
from library.models import Dataset, Revision, Upload
from library.origin import Origin
from services.fetching import JSON_TYPES, checked, fetch
from services.filling import fill
from services.tasks import refresh_due
from vaskerry.register import tagged_features
from vaskerry.service import Quiet, served

from tests.server.conftest import fetch as got
from tests.server.conftest import send

LINES = "application/geo+json"


@pytest.fixture(scope="session")
def isles(demo: Path) -> Iterator[str]:
    """The address of the stand-in."""
    server = served(demo)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    yield f"http://127.0.0.1:{server.server_port}"
    server.shutdown()


@pytest.fixture
def allowed(isles: str, settings: Any) -> str:
    settings.SERVICES_INSIDE = (isles.removeprefix("http://"),)
    return isles


def brought_in(client: Client, asked: dict[str, Any], **corrections: Any) -> Dataset:
    """A dataset of what a service was asked for, looked at on the way."""
    status, job = send(client, "/services/fetch", {"asked": asked})
    assert (status, job["state"]) == (200, "done"), job["message"]
    upload = job["result"]["upload"]
    status, view = send(client, f"/uploads/{upload}/preview", corrections)
    assert status == 200, view
    said = {name: view[name] for name in ("title", "source", "credit", "licence")}
    status, made = send(client, f"/uploads/{upload}/import", {**said, **corrections})
    assert made["state"] == "done", made
    return Dataset.objects.select_related("current").get(pk=made["result"]["dataset"])


def test_a_collection_page_by_page_in_a_box_and_by_a_condition(
    owner: Client, allowed: str, named: dict[str, Dataset]
) -> None:
    status, told = send(owner, "/services/look", {"address": allowed})
    assert status == 200 and [each["id"] for each in told["collections"]] == ["wells", "ditches", "places"]
    assert told["collections"][0]["filtered"] and told["collections"][0]["licence"] == "free, with credit"
    asked = {"kind": "features", "address": allowed, "collection": "ditches"}
    whole = brought_in(owner, asked)
    assert (whole.newest.rows, whole.title, whole.credit) == (
        3800,
        "Ditches",
        "Vaskerry Isles Survey Office (invented)",
    )
    assert (whole.licence, whole.source) == ("free, with credit", "127.0.0.1, ditches")
    wells = {"kind": "features", "address": f"{allowed}/collections/wells", "collection": "wells"}
    wet = brought_in(owner, {**wells, "where": "water_table_cm < 12", "bounds": [-27.2, 51.6, -26.5, 52.4]})
    rows = data_of(named["Dip wells"].newest)
    depth, lon = (rows.columns[name].to_numpy(zero_copy_only=False) for name in ("water_table_cm", "lon"))
    assert wet.newest.rows == int(((depth < 12) & (lon >= -27.2)).sum()) > 100
    status, failed = send(owner, "/services/fetch", {"asked": {**wells, "where": "no_such_field < 12"}})
    assert failed["state"] == "failed" and "400" in failed["message"]
    assert not Upload.objects.exists()


def test_geojson_and_tiles(owner: Client, allowed: str) -> None:
    assert send(owner, "/services/look", {"address": f"{allowed}/files/huts.geojson"})[1]["file"] is True
    huts = brought_in(owner, {"kind": "geojson", "address": f"{allowed}/files/huts.geojson"})
    assert (huts.newest.rows, huts.kind) == (60, "points")
    place = [-27.1, 51.9, -26.9, 52.1]
    for address in (f"{allowed}/wmts", f"{allowed}/tiles/relief.json", f"{allowed}/tiles/relief/{{z}}/{{x}}/{{y}}.png"):
        (layer,) = send(owner, "/services/look", {"address": address})[1]["layers"]
        at = {"address": address, "layer": layer["id"], "bounds": place}
        levels = send(owner, "/services/levels", at)[1]
        nine = next(each for each in levels if each["name"] == "9")
        assert (nine["tiles"], nine["width"], round(nine["resolution"], 3)) == (2, 256, 305.748)
        (proposed,) = (each for each in levels if each["proposed"])
        coarser = [each for each in levels if each["resolution"] > proposed["resolution"]]
        assert all(max(each["width"], each["height"]) < 1_500 for each in coarser)
    raster = brought_in(owner, {"kind": "tiles", **at, "level": "9"})
    assert raster.kind == "raster" and raster.newest.bounds is not None
    assert raster.newest.raster is not None and raster.newest.raster["colour"] == "rgba"
    assert send(owner, f"/datasets/{raster.pk}/refresh")[0] == 422, "tiles are brought in anew"


def test_a_dataset_asks_its_service_again(owner: Client, isla: User, stranger: Client, allowed: str) -> None:
    asked = {"kind": "features", "address": allowed, "collection": "places"}
    places = brought_in(owner, asked, fields=[{"name": "id", "rename": ""}, {"name": "name", "rename": "called"}])
    assert got(owner, f"/datasets/{places.pk}")[1]["origin"]["kind"] == "features"
    status, job = send(owner, f"/datasets/{places.pk}/refresh")
    assert (status, job["state"]) == (200, "done"), job
    assert Revision.objects.filter(dataset=places).count() == 1, "nothing is different"
    fid = int(data_of(places.newest).fids[3])
    record = data_of(places.newest).record(fid)
    edit = {"do": "set-cells", "field": "called", "fids": [fid], "value": "Elsewhere"}
    send(owner, f"/datasets/{places.pk}/edits", {"edits": [edit]})
    changed = Dataset.objects.get(pk=places.pk).newest
    assert changed.number == 2
    assert send(stranger, f"/datasets/{places.pk}/refresh")[0] == 404
    assert send(owner, f"/datasets/{places.pk}/timetable", {"every": "day"}, "put")[1]["origin"]["every"] == "day"
    assert refresh_due() == 0, "tomorrow"
    later = Dataset.objects.get(pk=places.pk)
    later.origin["next"] = (timezone.now() - timedelta(minutes=1)).isoformat()
    later.save()
    assert (refresh_due(), refresh_due()) == (1, 0)
    now = Dataset.objects.get(pk=places.pk)
    assert now.newest.number == 3 and data_of(now.newest).record(fid) == record, "as the service has it"
    assert "1 row changed" in now.newest.change
    assert send(owner, f"/datasets/{places.pk}/timetable", {"every": ""}, "put")[1]["origin"]["every"] == ""


def test_why_it_could_not_be_fetched_stays_with_the_dataset(owner: Client, allowed: str, settings: Any) -> None:
    places = brought_in(owner, {"kind": "geojson", "address": f"{allowed}/files/huts.geojson"})
    settings.SERVICES_INSIDE = ()
    assert send(owner, f"/datasets/{places.pk}/refresh")[1]["state"] == "failed"
    assert "not among the services" in got(owner, f"/datasets/{places.pk}")[1]["origin"]["trouble"]
    assert Dataset.objects.get(pk=places.pk).newest.rows == 60 and not Upload.objects.exists()


@pytest.mark.parametrize(
    "address",
    [
        "http://127.0.0.1:5432/", "http://localhost/", "http://[::1]/", "http://169.254.169.254/latest/", "http://10.0.0.7/", "http://192.168.1.1/",
        "http://[::ffff:127.0.0.1]/", "http://0.0.0.0/", "http://2130706433/", "http://100.64.0.1/", "http://[fd00::1]/", "http://224.0.0.1/",
    ],
)  # fmt: skip
def test_private_addresses_are_never_asked(address: str, settings: Any) -> None:
    """Ranges of RFC 6890 and the ways of writing them that OWASP's cheat sheet on SSRF lists."""
    from greylatch.errors import BadInput

    settings.SERVICES = ("*",)
    with pytest.raises(BadInput, match="private network|no host"):
        checked(address)


@pytest.mark.parametrize(
    "address", ["file:///etc/passwd", "gopher://isles.example/", "https://", "https://isla:pw@isles.example/", "https://other.example/", "https://isles.example.evil.example/", "http://isles.example:99999/"]
)  # fmt: skip
def test_what_is_no_address_or_of_a_host_that_is_not_allowed(address: str, settings: Any) -> None:
    from greylatch.errors import BadInput

    settings.SERVICES = ("isles.example", "*.survey.example")
    with pytest.raises(BadInput):
        checked(address)


def test_a_name_that_leads_inside_is_seen_through(monkeypatch: pytest.MonkeyPatch, settings: Any) -> None:
    from greylatch.errors import BadInput

    settings.SERVICES = ("*.survey.example",)

    def resolved(*ips: str) -> None:
        found = [(socket.AF_INET, socket.SOCK_STREAM, 6, "", (ip, 443)) for ip in ips]
        monkeypatch.setattr(socket, "getaddrinfo", lambda *_, **__: found)

    resolved("93.184.215.14")
    assert checked("https://maps.survey.example/a") == ("maps.survey.example", 443, "93.184.215.14")
    resolved("93.184.215.14", "10.1.2.3")
    with pytest.raises(BadInput, match="private network"):
        checked("https://maps.survey.example/a")


@pytest.fixture
def odd_service(settings: Any) -> Iterator[str]:
    """A service that does what none should."""

    def answer(environ: dict[str, Any], start: Any) -> list[bytes]:
        path = environ["PATH_INFO"]
        if path == "/inside":
            start("302 Found", [("Location", "http://127.0.0.1:5432/")])
            return [b""]
        if path == "/circle":
            start("302 Found", [("Location", "/circle")])
            return [b""]
        if path == "/moved":
            start("301 Moved", [("Location", "/here")])
            return [b""]
        if path == "/says":
            start("400 No", [("Content-Type", "application/json")])
            return [unquote(environ["QUERY_STRING"]).encode()]
        body = {"/large": b"[" + b" " * 3_000_000 + b"]", "/page": b"<html>", "/nonsense": b"{"}.get(path, b"[1]")
        start(
            "500 Oh" if path == "/broken" else "200 OK",
            [("Content-Type", "text/html" if path == "/page" else "application/json")],
        )
        return [body]

    server = make_server("127.0.0.1", 0, answer, handler_class=Quiet)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    settings.SERVICES_INSIDE = (f"127.0.0.1:{server.server_port}",)
    yield f"http://127.0.0.1:{server.server_port}"
    server.shutdown()


@pytest.mark.parametrize(
    ("path", "words"),
    [
        ("inside", "not among the services"), ("circle", "leads on and on"), ("large", "larger than"), ("page", "text/html, which was not asked for"),
        ("broken", "answered 500"),
    ],
)  # fmt: skip
def test_services_that_misbehave(odd_service: str, path: str, words: str) -> None:
    from greylatch.errors import BadInput

    with pytest.raises(BadInput, match=words):
        fetch(f"{odd_service}/{path}", JSON_TYPES, 1_000_000)


def test_redirects_are_followed_and_nonsense_is_told(odd_service: str, owner: Client) -> None:
    answer = fetch(f"{odd_service}/moved", JSON_TYPES, 100)
    assert (answer.json(), answer.address) == ([1], f"{odd_service}/here")
    for path, words in (("nonsense", "no JSON"), ("here", "nothing that is read")):
        status, told = send(owner, "/services/look", {"address": f"{odd_service}/{path}"})
        assert status == 422 and words in told["detail"]
    status, told = send(owner, "/services/look", {"address": "http://127.0.0.1:9/"})
    assert status == 422 and "not among the services" in told["detail"]


def test_what_a_service_says_of_an_error_is_passed_on(odd_service: str) -> None:
    """As OGC API - Features Part 1 has it (7.5.1, `description`) and RFC 9457 (`detail`, `title`); whatever else it sends is not."""
    from greylatch.errors import BadInput

    said = {"description": "There is no field 'depth'.", "title": "Bad Request"}
    for path, words in (
        (json.dumps(said), r"answered 400 No: There is no field 'depth'\.$"), (json.dumps({"title": "Late"}), r"No: Late$"),
        (json.dumps({"detail": "x" * 900}), r"No: x{300}$"), ("<html>", r"No\.$"), ("[1]", r"No\.$"), (json.dumps({"detail": 3}), r"No\.$"),
        (json.dumps({"detail": "y" * 20_000}), r"No\.$"),
    ):  # fmt: skip
        with pytest.raises(BadInput, match=words):
            fetch(f"{odd_service}/says?{quote(path)}", JSON_TYPES, 1_000_000)


@pytest.fixture
def store(db: None, demo: Path) -> list[dict[str, str]]:
    import rasterio

    with rasterio.open(demo / "relief.tif") as relief:
        lots = list(tagged_features(relief.read(1), 5_000))
    assert fill(lots) == 5_000
    return [tags for _, each, _ in lots for tags in each]


def test_the_store_is_asked_by_tags(owner: Client, store: list[dict[str, str]], named: dict[str, Dataset]) -> None:
    asked = {
        "kind": "store",
        "tags": [{"name": "roof"}, {"name": "state", "value": "fallen"}],
        "match": "all",
        "within": {},
    }
    roofs = [tags for tags in store if "roof" in tags]
    fallen = [tags for tags in store if tags.get("state") == "fallen"]
    both = [tags for tags in roofs if tags.get("state") == "fallen"]
    told = send(owner, "/store/count", asked)[1]
    assert (told["there"], told["taken"]) == (5000, len(both))
    assert [(each["carry"], each["lack"]) for each in told["tags"]] == [
        (len(roofs), 5000 - len(roofs)),
        (len(fallen), 5000 - len(fallen)),
    ]
    assert send(owner, "/store/count", {**asked, "match": "any"})[1]["taken"] == len(roofs) + len(fallen) - len(both)
    kept = brought_in(owner, asked)
    assert kept.newest.rows == len(both) and kept.kind == "areas"
    assert {"id", "kind", "roof", "state"} <= {field["name"] for field in kept.newest.fields}
    assert got(owner, f"/datasets/{kept.pk}")[1]["origin"]["kind"] == "store"
    assert send(owner, f"/datasets/{kept.pk}/refresh")[1]["state"] == "done"
    tags = got(owner, "/store/tags")[1]
    assert tags[0]["name"] == "kind" and tags[0]["features"] == 5000 and tags[0]["values"][0] == "tree"


def test_the_store_within_an_area(
    owner: Client, stranger: Client, store: list[dict[str, str]], named: dict[str, Dataset]
) -> None:
    catchments = named["Catchments"]
    every = {"kind": "store", "tags": [{"name": "kind"}]}
    fid = int(data_of(catchments.newest).fids[10])
    one = send(owner, "/store/count", {**every, "within": {"dataset": str(catchments.pk), "fid": fid}})[1]["taken"]
    whole = send(owner, "/store/count", {**every, "within": {"dataset": str(catchments.pk)}})[1]["taken"]
    assert 0 < one < whole <= 5000
    assert (
        0 < send(owner, "/store/count", {**every, "within": {"bounds": [-27.1, 51.9, -26.9, 52.1]}})[1]["taken"] < 5000
    )
    for within, status in (
        ({"bounds": [1, 0, -1, 1]}, 422), ({"dataset": str(catchments.pk), "fid": 10**6}, 422), ({"dataset": str(named["Relief"].pk)}, 422),
    ):  # fmt: skip
        assert send(owner, "/store/count", {**every, "within": within})[0] == status
    assert send(stranger, "/store/count", {**every, "within": {"dataset": str(catchments.pk)}})[0] == 404
    status, job = send(owner, "/services/fetch", {"asked": {**every, "tags": [{"name": "no such tag"}]}})
    assert job["state"] == "failed" and "No feature of the store is so." in job["message"]


def test_a_fetch_belongs_to_who_asked(owner: Client, stranger: Client, store: list[dict[str, str]]) -> None:
    job = send(owner, "/services/fetch", {"asked": {"kind": "store", "tags": [{"name": "water"}]}})[1]
    assert send(stranger, f"/uploads/{job['result']['upload']}/preview", {})[0] == 404
    assert Job.objects.get(pk=job["id"]).owner.username == "isla"
    assert json.dumps(job["result"]) and time.time() > 0


def test_where_data_come_from_is_read_as_it_was_written_before() -> None:
    """What installations have of before 2026-11-28, when it had no schema."""
    told = {
        "asked": {"kind": "geojson", "address": "https://maps.example/huts"},
        "fetched": "2026-11-26T08:00:00+00:00",
    }
    first = Origin.of(Upload(origin={**told, "said": {"title": "Huts"}}))
    assert first is not None and (first.kind, first.said["title"], first.every) == ("geojson", "Huts", "")
    corrections = {"crs": "EPSG:32626", "title": "Huts"}
    later = Origin.of(Dataset(origin={**told, "corrections": corrections, "every": "", "next": "", "trouble": "503"}))
    assert later is not None and later.next is None and later.corrections.crs == "EPSG:32626"
    assert Origin.of(Dataset(origin=later.kept())) == later
    assert Origin.of(Dataset()) is None
