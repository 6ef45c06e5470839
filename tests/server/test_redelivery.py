"""New deliveries of a table, and joins that are made anew of what their parents hold now."""

from __future__ import annotations

import json
from typing import Any

import pytest
from django.test import Client
from library.derived import data_of, forget_derived
from library.models import Attributes, Dataset, Revision, Shape
from sheets.models import Sheet

from tests.server.conftest import bring_in, fetch, send, upload
from tests.server.tables import cell, change, state

FIRST = "gauge,depth,n,lon,lat\n" + "".join(f"W{i},{i * 1.5},{i},{-27 + i / 10:.1f},52\n" for i in range(12))


def kept(owner: Client, name: str, text: str) -> Dataset:
    job = bring_in(owner, name, text.encode())
    return Dataset.objects.select_related("current").get(pk=job["result"]["dataset"])


@pytest.fixture
def wells(owner: Client) -> Dataset:
    return kept(owner, "wells.csv", FIRST)


def sheet_of(owner: Client, dataset: Dataset, field: str) -> Sheet:
    layer = {
        "id": "a", "name": "Wells", "dataset": str(dataset.pk), "card": "{{ gauge }} {{ n }}",
        "symbology": {"kind": "symbols", "encodings": {"colour": {"by": "classes", "classing": {"field": field, "classes": 3}}}}, "lettering": {"field": "gauge"},
    }  # fmt: skip
    status, told = send(owner, "/sheets", {"title": "Wells", "layers": [layer]})
    assert status == 200, told
    return Sheet.objects.get(pk=told["id"])


def delivered(owner: Client, dataset: Dataset, text: str, key: str = "gauge", **more: Any) -> tuple[Any, Any]:
    """What was told before, and the job."""
    given = {"upload": upload(owner, "june.csv", text.encode())[1]["id"], "key": key, **more}
    status, view = send(owner, f"/datasets/{dataset.pk}/redelivery/look", given)
    assert status == 200, view
    status, job = send(owner, f"/datasets/{dataset.pk}/redelivery", given)
    assert status == 200, job
    dataset.refresh_from_db()
    return view, fetch(owner, f"/jobs/{job['id']}")[1]


def test_rows_with_the_same_key_stay_the_same_features(owner: Client, wells: Dataset) -> None:
    before = state(wells.current)
    lines = FIRST.splitlines()
    lines[3] = "W2,99.5,2,-26.8,52"  # another depth
    lines[5] = "W4,6.0,4,-20,50"  # lies elsewhere
    text = "\n".join([lines[0], *lines[:4:-1], *lines[2:5], "W30,1,1,-27,52"])  # W0 is gone, another order, one is new
    view, job = delivered(owner, wells, text)
    assert (job["state"], view["new"], view["gone"], view["changed"], view["moved"], view["same"]) == (
        "done",
        1,
        1,
        2,
        1,
        9,
    )
    assert (view["new_keys"], view["gone_keys"]) == (["W30"], ["W0"])
    assert view["differences"][0] == {"key": "W2", "was": {"depth": 3.0}, "now": {"depth": 99.5}}
    assert view["differences"][1]["now"] == {"lon": -20.0, "lat": 50.0}
    data = data_of(wells.current)
    assert data.fids.tolist() == [*range(1, 12), 12]
    assert [data.record(fid)["gauge"] for fid in (1, 2, 11, 12)] == ["W1", "W2", "W11", "W30"]
    written = (
        Attributes.objects.filter(dataset=wells, since=2).count(),
        Shape.objects.filter(dataset=wells, since=2).count(),
    )
    assert written == (3, 2), "what is the same is not written again"
    assert fetch(owner, f"/datasets/{wells.pk}/history")[1][0]["change"] == (
        "New delivery june.csv: 1 row new, 1 row gone, 2 rows changed, 1 row moved."
    )
    after = state(wells.current)
    forget_derived(wells.pk)
    assert state(wells.current) == after
    assert send(owner, f"/datasets/{wells.pk}/undo", {})[0] == 200
    wells.refresh_from_db()
    assert state(wells.current) == before


def test_a_field_that_comes_empty_is_told(owner: Client, wells: Dataset) -> None:
    """As the names of municipalities in one of the yearly deliveries of an open atlas: nothing any more, and that as a number."""
    given = {
        "upload": upload(owner, "x.csv", b"gauge,depth,n,lon,lat\nW1,,1,0,0\nW2,,2,0,1\n")[1]["id"],
        "key": "gauge",
    }
    view = send(owner, f"/datasets/{wells.pk}/redelivery/look", given)[1]
    assert (view["emptied"], view["retyped"], view["fields_gone"]) == (["depth"], [], [])
    assert view["changed"] == 2


def test_what_changed_in_a_field_of_another_type_is_counted(owner: Client, wells: Dataset) -> None:
    """As whole numbers of people of which one delivery has some with decimals: those that are the same are no change."""
    rows = FIRST.replace("W1,1.5,1,", "W1,1.5,1.5,").replace("W2,3.0,2,", "W2,3.0,2.0,")
    view, job = delivered(owner, wells, rows)
    assert (view["retyped"], view["changed"], view["same"]) == (["n: integer → number"], 1, 11) and job[
        "state"
    ] == "done"
    assert data_of(wells.newest).columns["n"].to_pylist()[:3] == [0.0, 1.5, 2.0]
    # What are words now are compared as they are written.
    view, _ = delivered(owner, wells, rows.replace("W3,4.5,", "W3,deep,").replace("W4,6.0,", "W4,6,"))
    assert view["retyped"] == ["depth: number → text"] and view["changed"] >= 1


def test_what_no_longer_fits_is_listed_before_anything_happens(owner: Client, wells: Dataset) -> None:
    sheet_of(owner, wells, "depth")
    given = {
        "upload": upload(owner, "x.csv", b"gauge,depth,new,lon,lat\nW1,deep,1,0,0\nW2,deeper,2,0,1\n")[1]["id"],
        "key": "gauge",
    }
    view = send(owner, f"/datasets/{wells.pk}/redelivery/look", given)[1]
    assert (view["fields_new"], view["fields_gone"], view["retyped"]) == (["new"], ["n"], ["depth: number → text"])
    assert view["unfit"] == [
        "Wells: Layer 'Wells' needs numbers in 'depth' for its classes, which holds text now.",
        "Wells: The card of layer 'Wells' names 'n', which is gone.",
    ]
    assert Revision.objects.filter(dataset=wells).count() == 1
    send(owner, f"/datasets/{wells.pk}/redelivery", given)
    wells.refresh_from_db()
    assert data_of(wells.current).record(2)["depth"] == "deeper"
    forget_derived(wells.pk)
    assert data_of(wells.current).record(2)["depth"] == "deeper"
    assert data_of(Revision.objects.get(dataset=wells, number=1)).record(2) == {
        "gauge": "W2",
        "depth": 3.0,
        "n": 2,
        "lon": -26.8,
        "lat": 52,
    }


@pytest.mark.parametrize(("breaks", "method"), [("kept", "manual"), ("anew", "natural-breaks")])
def test_classes_keep_their_limits_or_are_computed_anew(
    owner: Client, wells: Dataset, breaks: str, method: str
) -> None:
    sheet = sheet_of(owner, wells, "n")
    before = send_ink(owner, sheet)
    delivered(owner, wells, FIRST.replace("W11,16.5,11", "W11,16.5,900"), breaks=breaks)
    sheet.refresh_from_db()
    classing = sheet.revisions.first().document["layers"][0]["symbology"]["encodings"]["colour"]["classing"]
    assert classing["method"] == method
    after = send_ink(owner, sheet)
    assert [one["upper"] for one in after["classes"]][:2] == [one["upper"] for one in before["classes"]][
        :2
    ] or breaks == "anew"
    assert (after["classes"] == before["classes"]) is False if breaks == "anew" else len(after["classes"]) == 3


def send_ink(owner: Client, sheet: Sheet) -> Any:
    answer = owner.post("/api/draw/ink", json.dumps(sheet.revisions.first().document["layers"][0]), "application/json")
    assert answer.status_code == 200, answer.content
    length = int.from_bytes(answer.content[:4], "little")
    return json.loads(answer.content[4 : 4 + length])


@pytest.mark.parametrize(
    ("text", "key", "words"),
    [
        ("gauge,lon,lat\nW1,0,0\nW1,0,1\n", "gauge", "in the delivery 'W1' stands in rows 1 and 2"),
        ("gauge,lon,lat\nX1,0,0\n", "gauge", "Not a single row has a value of 'gauge'"),
        ("gauge,lon,lat\nW1,0,0\n", "depth", "There is no field 'depth'"),
        ("gauge,depth\nW1,0\n", "gauge", "This delivery holds a table without shapes, and the dataset points."),
    ],
)
def test_deliveries_that_can_t_be_compared(owner: Client, wells: Dataset, text: str, key: str, words: str) -> None:
    given = {"upload": upload(owner, "x.csv", text.encode())[1]["id"], "key": key}
    status, told = send(owner, f"/datasets/{wells.pk}/redelivery/look", given)
    assert (status, words in told["detail"]) == (422, True), told
    _, job = send(owner, f"/datasets/{wells.pk}/redelivery", given)
    assert fetch(owner, f"/jobs/{job['id']}")[1]["state"] == "failed"
    assert Revision.objects.filter(dataset=wells).count() == 1


def test_a_join_is_made_anew_when_its_parents_change(owner: Client, named: dict[str, Dataset]) -> None:
    joined, returns = named["Catchments with returns"], named["Returns per catchment"]
    assert fetch(owner, f"/datasets/{joined.pk}")[1]["parents_changed"] is False
    before = data_of(joined.current)
    row = data_of(returns.current).record(0)
    change(owner, returns, cell(0, "carbon_t", 123456, row["carbon_t"]))
    assert fetch(owner, f"/datasets/{joined.pk}")[1]["parents_changed"] is True
    assert data_of(joined.current).columns.equals(before.columns), "not before it is asked for"
    status, told = send(owner, f"/datasets/{joined.pk}/remake", {})
    assert (status, told["parents_changed"], told["join"]["table_revision"]) == (200, False, 2)
    joined.refresh_from_db()
    after = data_of(joined.current)
    changed = [fid for fid in after.fids.tolist() if after.record(fid) != before.record(fid)]
    assert [after.record(fid)["carbon_t"] for fid in changed] == [123456]
    assert (after.shapes == before.shapes).all()
    assert Attributes.objects.filter(dataset=joined, since=2).count() == 1
    assert not Shape.objects.filter(dataset=joined, since=2).exists()
    assert send(owner, f"/datasets/{returns.pk}/remake", {})[0] == 422


def test_what_tells_most_rows_apart_is_offered_first_as_key(owner: Client, stranger: Client) -> None:
    wells = kept(owner, "wells.csv", "depth,isle,gauge\n1.5,Ard,A1\n2.5,Ard,A2\n3.5,Mor,M1\n")
    assert fetch(owner, f"/datasets/{wells.pk}/redelivery/keys")[1] == ["gauge", "isle", "depth"]
    assert fetch(stranger, f"/datasets/{wells.pk}/redelivery/keys")[0] == 404


def test_strangers_deliver_nothing(wells: Dataset, stranger: Client) -> None:
    given = {"upload": upload(stranger, "x.csv", FIRST.encode())[1]["id"], "key": "gauge"}
    for address in ("redelivery", "redelivery/look", "remake"):
        assert send(stranger, f"/datasets/{wells.pk}/{address}", given)[0] == 404


def test_rows_are_known_again_by_two_fields(owner: Client) -> None:
    """A table of countries by year, as open statistics come: neither field alone tells its rows apart."""
    people = kept(owner, "people.csv", "country,year,people\nArd,2020,5\nArd,2021,6\nMor,2020,7\n")
    brought = "country,year,people\nMor,2020,7\nArd,2021,8\nMor,2021,9\nArd,2020,5\n"
    alone = {"upload": upload(owner, "new.csv", brought.encode())[1]["id"], "key": "country"}
    status, refused = send(owner, f"/datasets/{people.pk}/redelivery/look", alone)
    assert (
        status == 422 and "'country' does not tell rows apart" in refused["detail"] and "one more" in refused["detail"]
    )
    view, _ = delivered(owner, people, brought, "country", more=["year"])
    assert (view["new"], view["changed"], view["same"], view["gone"]) == (1, 1, 2, 0)
    assert view["new_keys"] == ["Mor · 2021"] and view["differences"][0]["key"] == "Ard · 2021"
    rows = fetch(owner, f"/datasets/{people.pk}/rows", limit=9)[1]["rows"]
    assert [row[1:] for row in rows] == [["Ard", 2020, 5], ["Ard", 2021, 8], ["Mor", 2020, 7], ["Mor", 2021, 9]]
