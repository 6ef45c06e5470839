"""Places by name in the library: looked up, decided by hand, kept as points; and cross-lists, which remember what was decided."""

from typing import Any

import numpy as np
import pytest
from django.test import Client
from library.derived import data_of
from library.models import CrossList, Dataset

from tests.server.conftest import fetch, send

pytestmark = pytest.mark.django_db


@pytest.fixture
def asked(named: dict[str, Dataset]) -> dict[str, Any]:
    return {
        "table": str(named["Field huts"].pk), "name": "near", "region": "group", "gazetteer": str(named["Gazetteer"].pk),
        "gazetteer_name": "name", "gazetteer_region": "group",
    }  # fmt: skip


def test_fields_are_guessed_by_the_names_that_both_have(owner: Client, asked: dict[str, Any]) -> None:
    pair = {"table": asked["table"], "gazetteer": asked["gazetteer"]}
    assert send(owner, "/places/fields", pair) == (
        200,
        {"name": "near", "region": "group", "gazetteer_name": "name", "gazetteer_region": "group"},
    )


def test_names_are_told_by_what_came_of_them(owner: Client, asked: dict[str, Any]) -> None:
    status, seen = send(owner, "/places/look", asked)
    assert status == 200 and sum(seen["counts"].values()) == seen["rows"] == 90
    assert seen["counts"]["exact"] > 70 and seen["counts"]["ambiguous"] > 0
    twin = next(name for name in seen["names"] if name["status"] == "ambiguous")
    assert len(twin["candidates"]) > 1 and all(each["kilometres"] is not None for each in twin["candidates"])
    assert send(owner, "/places/look", {**asked, "region": "", "within": "Nowhere"})[1]["counts"]["exact"] == 0


def test_what_is_decided_goes_into_the_points(owner: Client, asked: dict[str, Any], named: dict[str, Dataset]) -> None:
    _, seen = send(owner, "/places/look", asked)
    first, second, third = [name for name in seen["names"] if name["status"] == "ambiguous"][:3]
    decided = [
        {"name": first["name"], "region": first["region"], "place": first["candidates"][1]["place"]},
        {"name": second["name"], "region": second["region"], "at": [-27.5, 51.5]},
        {"name": third["name"], "region": third["region"]},
    ]
    _, again = send(owner, "/places/look", {**asked, "decided": decided})
    assert again["counts"]["by hand"] == first["rows"] + second["rows"] and again["counts"]["left out"] == third["rows"]
    status, made = send(owner, "/places", {**asked, "decided": decided, "title": "Huts on the map"})
    assert status == 200 and (made["kind"], made["rows"], made["title"]) == ("points", 90, "Huts on the map")
    data = data_of(Dataset.objects.get(pk=made["id"]).newest)
    assert data.shapes is not None
    rows = {row["near"]: (row, shape) for row, shape in zip(data.columns.to_pylist(), data.shapes, strict=True)}
    row, shape = rows[first["name"]]
    assert row["found"] == "by hand" and np.allclose([shape.x, shape.y], first["candidates"][1]["at"])
    assert (rows[second["name"]][1].x, rows[second["name"]][1].y) == (-27.5, 51.5)
    assert rows[third["name"]][0]["found"] == "left out" and rows[third["name"]][1].is_empty
    assert np.array_equal(data.fids, data_of(named["Field huts"].newest).fids)
    assert "lie nowhere" in made["notes"][0]


def test_a_kept_list_decides_again(owner: Client, asked: dict[str, Any]) -> None:
    _, seen = send(owner, "/places/look", asked)
    name = next(each for each in seen["names"] if each["status"] == "ambiguous")
    meant = name["candidates"][0]
    entries = [
        {"spelling": name["name"], "region": name["region"], "means": meant["name"], "means_region": meant["region"]}
    ]
    status, kept = send(owner, "/cross-lists", {"title": " Huts ", "entries": entries})
    assert status == 200 and kept["title"] == "Huts"
    _, again = send(owner, "/places/look", {**asked, "cross_list": kept["id"]})
    assert again["counts"]["by hand"] == name["rows"]
    assert send(owner, "/places/look", {**asked, "cross_list": asked["table"]})[0] == 404
    assert send(owner, "/cross-lists", {"title": "Huts", "entries": []})[0] == 422, "there is one of that title"
    assert send(owner, "/cross-lists", {"title": "Twice", "entries": [entries[0], entries[0]]})[0] == 422
    changed = {
        "title": "Huts of Hallan",
        "entries": [{**entries[0], "means": ""}, {"spelling": "Mor", "at": [-27, 52]}],
    }
    assert send(owner, f"/cross-lists/{kept['id']}", changed, "put")[1]["entries"][1]["at"] == [-27, 52]
    told = owner.get(f"/api/cross-lists/{kept['id']}/csv").content.decode().splitlines()
    assert told[0].startswith("spelling,means") and told[2] == "Mor,,,,-27.0,52.0"
    assert [each["title"] for each in fetch(owner, "/cross-lists")[1]] == ["Huts of Hallan"]
    assert send(owner, f"/cross-lists/{kept['id']}", None, "delete")[0] == 200 and not CrossList.objects.exists()


def test_tables_without_names_and_places_without_shapes_are_refused(
    owner: Client, asked: dict[str, Any], named: dict[str, Dataset]
) -> None:
    bare = {**asked, "gazetteer": asked["table"], "gazetteer_name": "near", "gazetteer_region": ""}
    assert "does not say where" in send(owner, "/places/look", bare)[1]["detail"]
    relief = {**asked, "table": str(named["Relief"].pk)}
    assert "raster has no names" in send(owner, "/places/look", relief)[1]["detail"]
    nothing = {**asked, "name": "hut", "region": ""}
    assert "Not one of the names was found" in send(owner, "/places", nothing)[1]["detail"]
