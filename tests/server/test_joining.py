"""Joins: how they begin, from both sides, by key and by place."""

import json
from pathlib import Path
from typing import Any

import geopandas
import numpy as np
import pytest
from django.test import Client
from library.derived import data_of
from library.models import Dataset

from tests.server.conftest import send


def test_join_from_both_sides_and_settled(owner: Client, named: dict[str, Dataset], demo: Path) -> None:
    given: dict[str, Any] = {
        "areas": str(named["Catchments"].pk),
        "table": str(named["Returns per catchment"].pk),
        "area_key": "name",
        "table_key": "catchment",
    }
    _, view = send(owner, "/joins/look", given)
    assert (view["areas"], view["rows"], len(view["rows_without_area"])) == (214, 214, 21)
    assert len(view["duplicate_keys"]) == 1
    twin = view["duplicate_keys"][0]
    truth = json.loads((demo / "cross_reference.json").read_text())
    first = {key: options[0] for key, options in view["suggestions"].items() if options}
    assert sum(truth[key] == one["area"] for key, one in first.items()) >= 18
    sure = {key: one["area"] for key, one in first.items() if one["sure"]}
    assert len(sure) >= 10
    assert all(truth[key] == area for key, area in sure.items()), "what is called sure is right"
    given |= {"same": truth, "chosen": {twin["key"]: twin["rows"][1]}, "fields": ["carbon_t"], "title": "Joined"}
    _, view = send(owner, "/joins/look", given)
    assert (view["matched"], view["rows_without_area"], view["duplicate_keys"]) == (213, [], [])
    status, dataset = send(owner, "/joins", given)
    assert (status, dataset["title"], dataset["join"]["matched"]) == (200, "Joined", 213)
    assert [f["name"] for f in dataset["fields"]] == ["code", "name", "isles", "carbon_t"]


def test_a_join_without_a_single_match_is_refused(owner: Client, named: dict[str, Dataset]) -> None:
    before = Dataset.objects.count()
    given = {
        "areas": str(named["Catchments"].pk),
        "table": str(named["Field huts"].pk),
        "area_key": "code",
        "table_key": "hut",
        "fields": ["beds"],
    }
    status, told = send(owner, "/joins", given)
    assert (status, "Not a single row" in told["detail"]) == (422, True)
    assert Dataset.objects.count() == before


def test_wells_are_joined_by_place_and_summed_up(owner: Client, named: dict[str, Dataset]) -> None:
    """The referee is geopandas (PyPI)."""
    areas, wells = named["Catchments"], named["Dip wells"]
    asked = {
        "areas": str(areas.pk), "table": str(wells.pk), "by": "place", "fields": ["water_table_cm", "well"],
        "summarise": {"water_table_cm": "median", "well": "count"},
    }  # fmt: skip
    status, seen = send(owner, "/joins/look", asked)
    assert status == 200 and seen["matched"] + len(seen["areas_without_row"]) == 214 and seen["rows"] == 2400
    assert len(seen["fids_without_row"]) == 214 - seen["matched"]
    status, made = send(owner, "/joins", asked)
    assert status == 200 and made["join"]["by"] == "place"
    cells, points = data_of(areas.newest), data_of(wells.newest)
    left = geopandas.GeoDataFrame(points.described().columns.to_pandas(), geometry=points.shapes, crs=4326).to_crs(
        32626
    )
    right = geopandas.GeoDataFrame(geometry=cells.shapes, crs=32626)
    theirs = geopandas.sjoin(left, right).groupby("index_right")
    mine = data_of(Dataset.objects.get(pk=made["id"]).newest).columns
    for row, count in theirs["well"].count().items():
        assert mine["well"][row].as_py() == count
    for row, median in theirs["water_table_cm"].median().items():
        assert mine["water_table_cm"][row].as_py() == pytest.approx(median, nan_ok=True) or np.isnan(median)
    without = {**asked, "summarise": {"well": "count"}}
    assert "not said how 'water_table_cm'" in send(owner, "/joins/look", without)[1]["detail"]


def test_several_keys_have_to_agree(owner: Client, named: dict[str, Dataset]) -> None:
    wells = str(named["Dip wells"].pk)
    asked = {"areas": wells, "table": wells, "area_key": "well", "table_key": "well", "fields": ["heather"]}
    both = {**asked, "more_keys": [{"area_key": "condition", "table_key": "condition"}]}
    assert send(owner, "/joins/look", both)[1]["matched"] == send(owner, "/joins/look", asked)[1]["matched"] == 2400
    crossed = {**asked, "more_keys": [{"area_key": "condition", "table_key": "well"}]}
    assert send(owner, "/joins/look", crossed)[1]["matched"] == 0


def test_a_join_begins_with_areas_and_the_table_that_came_last(owner: Client, named: dict[str, Dataset]) -> None:
    _, begun = send(owner, "/joins/begun", {})
    assert begun["areas"] == str(named["Catchments"].pk), "areas, and none that were joined already"
    assert begun["table"] == str(named["Returns per catchment"].pk), "a table that measures something"
    _, returns = send(owner, "/joins/begun", {"arrived": str(named["Returns per catchment"].pk)})
    assert returns["table"] == str(named["Returns per catchment"].pk)
    assert (returns["area_key"], returns["table_key"]) == ("name", "catchment")
    assert send(owner, "/joins/begun", {"arrived": str(named["Dip wells"].pk)})[1]["table"] == begun["table"], (
        "points are no table"
    )
    wells = str(named["Dip wells"].pk)
    _, chosen = send(owner, "/joins/begun", {"areas": wells, "table": wells})
    _, another = send(owner, "/joins/key", chosen)
    assert another["area_key"] == another["table_key"] not in ("", chosen["area_key"])
    assert send(owner, "/joins/begun", {"areas": str(named["Relief"].pk)})[0] == 422


def test_a_join_without_anything_to_join_says_what_is_wanted(stranger: Client) -> None:
    status, told = send(stranger, "/joins/begun", {})
    assert (status, "Bring both in first" in told["detail"]) == (422, True)
