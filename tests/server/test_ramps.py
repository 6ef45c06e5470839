"""Ramps in the library: kept by a name, listed, removed; nobody sees those of others."""

import json
from typing import Any

import pytest
from django.test import Client
from greylatch.sheet.parts import MOST_STOPS


def keep(client: Client, **ramp: object) -> tuple[int, Any]:
    answer = client.post("/api/ramps?n=3", json.dumps(ramp), content_type="application/json")
    return answer.status_code, answer.json()


def test_a_ramp_is_kept_by_its_name(owner: Client, stranger: Client) -> None:
    status, kept = keep(owner, name=" dusk ", stops=["#223344", "#ddccbb"])
    assert (status, kept["name"], kept["stops"]) == (200, "dusk", ["#223344", "#ddccbb"])
    assert (kept["colours"][0], kept["colours"][-1], len(kept["colours"])) == ("#223344", "#ddccbb", 3)
    status, again = keep(owner, name="dusk", stops=["#000000", "#0a0a0a", "#ffffff"])
    assert status == 200 and again["id"] == kept["id"], "one of that name is replaced"
    listed = owner.get("/api/ramps?n=7").json()
    assert [(each["name"], len(each["colours"])) for each in listed] == [("dusk", 7)]
    assert {pair["vision"] for pair in listed[0]["alike"]} == {"normal", "deutan", "protan", "tritan"}
    assert stranger.get("/api/ramps").json() == []
    assert stranger.delete(f"/api/ramps/{kept['id']}").status_code == 404
    assert owner.delete(f"/api/ramps/{kept['id']}").status_code == 204
    assert owner.get("/api/ramps").json() == []


@pytest.mark.parametrize(
    "ramp",
    [
        {"name": "  ", "stops": ["#223344", "#ddccbb"]},
        {"name": "one", "stops": ["#223344"]},
        {"name": "words", "stops": ["red", "blue"]},
        {"name": "x" * 61, "stops": ["#223344", "#ddccbb"]},
    ],
)
def test_what_is_no_ramp_is_refused(owner: Client, ramp: dict[str, object]) -> None:
    assert keep(owner, **ramp)[0] == 422
    assert owner.get("/api/ramps").json() == []


def test_a_ramp_of_as_many_stops_as_there_may_be_is_worked_on_like_any_other(owner: Client) -> None:
    stops = [f"#{10 * i:02x}6080" for i in range(MOST_STOPS)]
    assert keep(owner, name="long", stops=stops)[0] == 200
    matched = owner.get("/api/draw/ramps/matched", {"ground": "#101418", "stops": stops})
    refined = owner.get("/api/draw/ramps/refined", {"stops": stops[:-1]})
    assert (len(matched.json()), len(refined.json())) == (MOST_STOPS, MOST_STOPS)
    assert owner.get("/api/draw/ramps/refined", {"stops": stops}).status_code == 422
