"""Fetching from a service that changes, breaks off or goes away: what is kept is whole, and what is not leaves nothing."""

import json
import threading
from collections.abc import Iterator
from typing import Any
from wsgiref.simple_server import make_server

import pytest
from django.contrib.auth.models import User
from django.test import Client
from greylatch.errors import BadInput
from jobs.models import Job
from library.derived import data_of
from library.models import Dataset, Revision, Upload
from services import kinds, tasks
from services.tasks import refresh
from vaskerry.service import Quiet

from tests.server.conftest import fetch, send
from tests.server.test_services import brought_in


class Register:
    """A service whose features can be changed, and which can break off."""

    def __init__(self) -> None:
        self.features = [(i, f"Ard {i}", i * 2) for i in range(25)]
        self.breaks_at: int | None = None
        self.away = False
        self.ids = True
        self.address = ""

    def __call__(self, environ: dict[str, Any], start: Any) -> list[bytes]:
        path, query = (
            environ["PATH_INFO"],
            dict(part.split("=") for part in environ["QUERY_STRING"].split("&") if "=" in part),
        )
        offset = int(query.get("offset", 0))
        if self.away or (self.breaks_at is not None and offset >= self.breaks_at):
            start("503 Away", [("Content-Type", "application/json")])
            return [b"{}"]
        body: Any
        if path == "/collections/huts/items":
            some = self.features[offset : offset + 10]
            more = offset + 10 < len(self.features)
            following = {"rel": "next", "href": f"items?offset={offset + 10}", "type": "application/geo+json"}
            body = {
                "type": "FeatureCollection",
                "numberMatched": len(self.features),
                "links": [following] if more else [],
                "features": [self.made(*each) for each in some],
            }
        else:
            items = {"rel": "items", "href": f"{self.address}/collections/huts/items", "type": "application/geo+json"}
            body = {"collections": [{"id": "huts", "title": "Huts", "links": [items]}]}
        start("200 OK", [("Content-Type", "application/geo+json")])
        return [json.dumps(body).encode()]

    def made(self, pk: int, name: str, n: int) -> dict[str, Any]:
        identity = {"id": pk} if self.ids else {}
        return {
            "type": "Feature",
            **identity,
            "properties": {"name": name, "n": n},
            "geometry": {"type": "Point", "coordinates": [-27 + pk / 100, 52]},
        }


@pytest.fixture
def register(settings: Any) -> Iterator[Register]:
    made = Register()
    server = make_server("127.0.0.1", 0, made, handler_class=Quiet)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    settings.SERVICES_INSIDE = (f"127.0.0.1:{server.server_port}",)
    made.address = f"http://127.0.0.1:{server.server_port}"
    yield made
    server.shutdown()


def asked(register: Register) -> dict[str, Any]:
    return {"kind": "features", "address": register.address, "collection": "huts"}


def again(client: Client, dataset: Dataset) -> Any:
    return send(client, f"/datasets/{dataset.pk}/refresh")[1]


def rows_of(dataset: Dataset) -> dict[int, dict[str, Any]]:
    """The rows as they stand, by the id that the service gives them."""
    data = data_of(Dataset.objects.get(pk=dataset.pk).newest)
    return {record["id"]: {**record, "fid": fid} for fid in data.fids.tolist() for record in [data.record(fid)]}


def test_rows_that_come_again_are_the_same_features(owner: Client, register: Register) -> None:
    huts = brought_in(owner, asked(register))
    before = rows_of(huts)
    register.features = [(i, "Skara" if i == 4 else f"Ard {i}", i * 2) for i in range(3, 27)]
    assert again(owner, huts)["state"] == "done"
    now = rows_of(huts)
    assert sorted(now) == list(range(3, 27)) and now[4]["name"] == "Skara"
    assert all(now[pk]["fid"] == before[pk]["fid"] for pk in range(3, 25))
    assert {now[25]["fid"], now[26]["fid"]} == {25, 26}, "new ones get numbers that none had"
    change = Dataset.objects.get(pk=huts.pk).newest.change
    assert all(words in change for words in ("2 rows new", "3 rows gone", "1 row changed"))


def test_what_was_corrected_is_corrected_again(owner: Client, register: Register) -> None:
    fields = [{"name": "id", "rename": ""}, {"name": "n", "rename": "beds"}]
    huts = brought_in(owner, asked(register), fields=fields, where="n > 20", title="Large huts")
    assert len(rows_of(huts)) == 14
    register.features = [(i, f"Ard {i}", i * 3) for i in range(25)]
    assert again(owner, huts)["state"] == "done"
    now = rows_of(huts)
    assert sorted(now) == list(range(7, 25)) and set(now[7]) == {"id", "beds", "fid"} and now[7]["beds"] == 21
    assert Dataset.objects.get(pk=huts.pk).title == "Large huts"


def test_rows_that_nothing_tells_apart(owner: Client, register: Register) -> None:
    register.ids = False
    register.features = [(i, "Ard", 1) for i in range(5)]
    huts = brought_in(owner, asked(register))
    job = again(owner, huts)
    assert job["state"] == "failed" and "No field tells the rows" in job["message"]
    assert "No field tells the rows" in fetch(owner, f"/datasets/{huts.pk}")[1]["origin"]["trouble"]
    assert not Upload.objects.exists() and Revision.objects.filter(dataset=huts).count() == 1


def test_a_service_that_breaks_off_leaves_what_was_there(owner: Client, register: Register) -> None:
    huts = brought_in(owner, asked(register))
    register.breaks_at = 10
    register.features = register.features[5:]
    job = again(owner, huts)
    assert job["state"] == "failed" and "answered 503" in job["message"]
    assert len(rows_of(huts)) == 25 and not Upload.objects.exists()
    register.breaks_at = None
    assert again(owner, huts)["state"] == "done"
    told = fetch(owner, f"/datasets/{huts.pk}")[1]["origin"]
    assert told["trouble"] == "" and len(rows_of(huts)) == 20


@pytest.mark.parametrize("breaks_at", [0, 10])
def test_a_first_fetch_that_breaks_off_leaves_nothing(owner: Client, register: Register, breaks_at: int) -> None:
    register.breaks_at = breaks_at
    job = send(owner, "/services/fetch", {"asked": asked(register)})[1]
    assert job["state"] == "failed" and "answered 503" in job["message"]
    assert not Upload.objects.exists()


def test_a_fetch_is_stopped_between_pages(owner: Client, register: Register, monkeypatch: pytest.MonkeyPatch) -> None:
    """As by the press of a button while it runs: here the press comes with the first page."""
    pages = kinds.pages

    def stopping(*arguments: Any) -> Any:
        for page in pages(*arguments):
            Job.objects.filter(kind="fetch").update(stop_asked=True)
            yield page

    monkeypatch.setattr(kinds, "pages", stopping)
    job = send(owner, "/services/fetch", {"asked": asked(register)})[1]
    assert (job["state"], job["message"]) == ("stopped", "Stopped. Nothing was kept.")
    assert not Upload.objects.exists()


def test_no_more_is_fetched_than_there_is_room_for(
    owner: Client, register: Register, settings: Any, isla: User
) -> None:
    settings.QUOTA = 1
    job = send(owner, "/services/fetch", {"asked": asked(register)})[1]
    assert job["state"] == "failed" and "share of the disk" in job["message"]
    assert not Upload.objects.exists()


def test_more_than_is_taken_at_once(owner: Client, register: Register, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(kinds, "MOST_FILE", 500)
    job = send(owner, "/services/fetch", {"asked": asked(register)})[1]
    assert job["state"] == "failed" and "more than is taken at once" in job["message"]


def test_one_fetch_at_a_time_and_only_of_what_came_from_a_service(
    owner: Client, isla: User, register: Register, named: dict[str, Dataset]
) -> None:
    huts = brought_in(owner, asked(register))
    Job.objects.create(owner=isla, kind="refresh", title="t", arguments={"dataset": str(huts.pk)})
    with pytest.raises(BadInput, match="being fetched already"):
        refresh(isla, huts)
    with pytest.raises(BadInput, match="can't be fetched again"):
        refresh(isla, named["Dip wells"])
    status, told = send(owner, f"/datasets/{named['Dip wells'].pk}/timetable", {"every": "day"}, "put")
    assert status == 422 and "came from no service" in told["detail"]


def test_what_is_due_is_begun_once_however_many_clocks_there_are(
    owner: Client, register: Register, monkeypatch: pytest.MonkeyPatch
) -> None:
    huts = brought_in(owner, asked(register))
    send(owner, f"/datasets/{huts.pk}/timetable", {"every": "hour"}, "put")
    kept = Dataset.objects.get(pk=huts.pk)
    kept.origin["next"] = "2020-01-01T00:00:00+00:00"
    kept.save()
    begun: list[str] = []

    def other_clock_first(who: User, dataset: Dataset) -> None:
        begun.append(str(dataset.pk))
        if len(begun) == 1:
            assert tasks.refresh_due() == 0, "the other finds that this one has taken it"

    monkeypatch.setattr(tasks, "refresh", other_clock_first)
    assert tasks.refresh_due() == 1 and begun == [str(huts.pk)]


def test_a_service_that_is_away_is_asked_again_next_time(owner: Client, register: Register) -> None:
    huts = brought_in(owner, asked(register))
    send(owner, f"/datasets/{huts.pk}/timetable", {"every": "week"}, "put")
    kept = Dataset.objects.get(pk=huts.pk)
    kept.origin["next"] = "2020-01-01T00:00:00+00:00"
    kept.save()
    register.away = True
    assert tasks.refresh_due() == 1
    origin = Dataset.objects.get(pk=huts.pk).origin
    assert origin["every"] == "week" and origin["next"] > "2026" and "503" in origin["trouble"]
    assert tasks.refresh_due() == 0


def test_the_collection_is_gone(owner: Client, register: Register) -> None:
    huts = brought_in(owner, asked(register))
    job = send(owner, "/services/fetch", {"asked": {**asked(register), "collection": "wells"}})[1]
    assert job["state"] == "failed" and "no collection 'wells' any more" in job["message"]
    assert len(rows_of(huts)) == 25
