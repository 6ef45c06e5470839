"""Conditions while they are typed, and layers of only some rows."""

from __future__ import annotations

import json
from dataclasses import replace
from typing import Any

import numpy as np
from django.test import Client
from greylatch.rules.evaluating import taken
from library.derived import data_of
from library.models import Dataset

from tests.server.conftest import send

WHERE = "water_table_cm > 30"


def asked(owner: Client, dataset: Dataset, text: str) -> dict[str, Any]:
    code, answer = send(owner, "/draw/condition", {"dataset": str(dataset.pk), "text": text})
    assert code == 200
    return dict(answer)


def test_a_condition_is_counted_or_its_mistake_has_a_place(owner: Client, named: dict[str, Dataset]) -> None:
    wells = named["Dip wells"]
    expected = int(taken(data_of(wells.current), WHERE).sum())
    assert asked(owner, wells, WHERE) == {"taken": expected, "of": 2400, "mistake": None, "whole": True}
    assert asked(owner, wells, "  ") == {"taken": 2400, "of": 2400, "mistake": None, "whole": True}
    wrong = asked(owner, wells, "water_table_cm > 30 AND\n conditon = 'x'")
    assert wrong["taken"] is None
    assert (wrong["mistake"]["line"], wrong["mistake"]["column"]) == (2, 2)
    assert wrong["mistake"]["problem"] == "There is no field 'conditon'. Is 'condition' meant?"
    code, _ = send(owner, "/draw/condition", {"dataset": str(wells.pk), "text": "x" * 10_001})
    assert code == 422
    relief = next(dataset for dataset in named.values() if dataset.kind == "raster")
    code, answer = send(owner, "/draw/condition", {"dataset": str(relief.pk), "text": WHERE})
    assert code == 422 and "is a raster" in answer["detail"]


def test_an_expression_has_a_number_for_some_rows_or_a_mistake(owner: Client, named: dict[str, Dataset]) -> None:
    areas = named["Catchments with returns"]

    def given(text: str, gives: str = "number") -> dict[str, Any]:
        code, answer = send(owner, "/draw/expression", {"dataset": str(areas.pk), "text": text, "gives": gives})
        assert code == 200
        return dict(answer)

    worked = given("carbon_t / peat_ha * 1000")
    assert worked["mistake"] is None and 200 < worked["taken"] < worked["of"] == 214
    assert given("area_km2")["taken"] == 214
    assert given("upper(name)")["mistake"]["problem"] == "This comes to a text."
    assert given("upper(name)", "value") == {"taken": 214, "of": 214, "mistake": None, "whole": True}
    assert given("carbon_t / peat_ha", "value")["taken"] == worked["taken"]
    assert given("geometry", "value")["mistake"]["problem"] == "This comes to a shape."
    assert given("carbon_t /")["mistake"]["column"] == 11
    symbology = {
        "kind": "symbols",
        "encodings": {
            "colour": {"by": "classes", "classing": {"field": "carbon_t / peat_ha", "method": "quantile", "classes": 4}}
        },
    }
    layer = {"id": "c", "name": "C", "dataset": str(areas.pk), "symbology": symbology}
    answer = owner.post("/api/draw/ink", json.dumps(layer), content_type="application/json").content
    header = json.loads(answer[4 : 4 + int.from_bytes(answer[:4], "little")])
    assert sum(each["count"] for each in header["classes"]) == given("carbon_t / peat_ha")["taken"]


def test_names_functions_and_values_are_offered(owner: Client, named: dict[str, Dataset]) -> None:
    wells = named["Dip wells"]
    rows = {"dataset": str(wells.pk)}
    _, language = send(owner, "/draw/condition/language", rows)
    assert {"water_table_cm", "condition", "geometry"} <= set(language["names"])
    assert {"name": "round", "text": "round(number, decimals)"} in language["functions"]
    _, areas = send(owner, "/draw/condition/language", {"dataset": str(named["Catchments with returns"].pk)})
    assert "area_km2" in areas["names"]
    values = send(owner, "/draw/condition/values", {**rows, "field": "condition"})[1]["values"]
    assert all(value.startswith("'") for value in values)
    for value in values:
        assert asked(owner, wells, f"condition = {value}")["taken"] > 0
    assert send(owner, "/draw/condition/values", {**rows, "field": "nothing"})[0] == 422


def test_conditions_are_about_what_a_reading_makes(owner: Client, named: dict[str, Dataset]) -> None:
    rows = {"dataset": str(named["Dip wells"].pk), "reading": {"by": "grid", "size": 2000}}
    assert {"value", "count"} <= set(send(owner, "/draw/condition/language", rows)[1]["names"])
    few = send(owner, "/draw/condition", {**rows, "text": "count > 3"})[1]
    assert 0 < few["taken"] < few["of"] < 2400


def test_features_that_a_condition_or_a_class_stands_for(owner: Client, named: dict[str, Dataset]) -> None:
    wells = named["Dip wells"]
    data = data_of(wells.current)
    rows = {"dataset": str(wells.pk)}
    taken_ones = send(owner, "/draw/condition/features", {**rows, "text": WHERE})[1]
    assert taken_ones["fids"] == data.fids[taken(data, WHERE)].tolist() and taken_ones["of"] == len(taken_ones["fids"])
    assert send(owner, "/draw/condition/features", {**rows, "text": "nonsense ("})[1] == {"fids": [], "of": 0}
    numbers = {**rows, "field": "water_table_cm", "low": 10, "high": 20}
    above = send(owner, "/draw/features", numbers)[1]["of"]
    closed = send(owner, "/draw/features", {**numbers, "closed": True})[1]["of"]
    assert above == taken(data, "water_table_cm > 10 AND water_table_cm <= 20").sum()
    assert closed == taken(data, "water_table_cm >= 10 AND water_table_cm <= 20").sum()


def test_ink_histogram_pictures_and_hits_are_of_the_rows_that_a_filter_takes(
    owner: Client, sheet: Any, named: dict[str, Dataset]
) -> None:
    wells = named["Dip wells"]
    rows = taken(data_of(wells.current), WHERE)
    symbology = {
        "kind": "symbols",
        "encodings": {
            "colour": {"by": "classes", "classing": {"field": "water_table_cm", "method": "quantile", "classes": 3}}
        },
    }
    layer = {"id": "w", "name": "W", "dataset": str(wells.pk), "symbology": symbology, "filter": WHERE}
    answer = owner.post("/api/draw/ink", json.dumps(layer), content_type="application/json").content
    header = json.loads(answer[4 : 4 + int.from_bytes(answer[:4], "little")])
    assert (header["n"], header["columns"]) == (int(rows.sum()), ["mark", "fid"])
    assert sum(each["count"] for each in header["classes"]) == rows.sum()
    asked_for = {"dataset": str(wells.pk), "field": "water_table_cm", "filter": WHERE}
    code, histogram = send(owner, "/draw/distribution", asked_for)
    assert code == 200 and histogram["n"] == rows.sum() and histogram["minimum"] > 30
    place = f"/api/draw/pictures/{wells.pk}/7/54/42"
    looks = [{"symbology": symbology, "filter": filter} for filter in ("", WHERE, "water_table >")]
    every, some, wrong = (owner.get(place, {"look": json.dumps(look)}) for look in looks)
    assert every.content != some.content and len(some.content) < len(every.content)
    assert wrong.status_code == 422
    data = data_of(wells.current)
    gone = int(data.fids[np.flatnonzero(~rows)[0]])
    x, y = (float(v) for v in _place(data, gone))
    fids = [
        send(owner, f"/draw/shapes/{wells.pk}/at", {"look": look, "x": x, "y": y, "resolution": 1.0})[1]["fid"] for look in looks[:2]
    ]  # fmt: skip
    assert fids[0] == gone and fids[1] != gone


def _place(data: Any, fid: int) -> tuple[float, float]:
    from greylatch.places.frame import MERCATOR

    point = data.shapes[data.row_of(fid)]
    return MERCATOR.place(point.x, point.y)


def test_a_sheet_keeps_its_filters(owner: Client, sheet: Any) -> None:
    document = sheet.revisions.first().document
    document["layers"][0]["filter"] = "water_table_cm > 30"
    assert send(owner, f"/sheets/{sheet.pk}", {"base": sheet.revision, "document": document}, method="put")[0] == 200
    kept = owner.get(f"/api/sheets/{sheet.pk}").json()["document"]["layers"][0]
    assert kept["filter"] == "water_table_cm > 30"


def test_conditions_of_a_sheet_name_other_datasets(owner: Client, stranger: Client, named: dict[str, Dataset]) -> None:
    """Rules, filter, key, tiles and editions of a layer whose conditions are about the shapes of another dataset."""
    huts, areas = named["Dip wells"], named["Catchments with returns"]
    others = {"areas": str(areas.pk)}
    where = "S_INTERSECTS(geometry, areas)"
    data = replace(data_of(huts.current), others={"areas": data_of(areas.current)})
    inside = int(taken(data, where).sum())
    assert inside > 0
    code, answer = send(owner, "/draw/condition", {"dataset": str(huts.pk), "text": where, "others": others})
    assert (code, answer["taken"]) == (200, inside)
    assert asked(owner, huts, where)["mistake"]["problem"].startswith("There is no field 'areas'")
    code, language = send(owner, "/draw/condition/language", {"dataset": str(huts.pk), "others": others})
    assert "areas" in language["names"]
    layer = {
        "id": "w", "name": "W", "dataset": str(huts.pk), "others": others, "filter": f"NOT {where} OR well > 'W1'",
        "symbology": {"kind": "symbols", "rules": [{"id": "in", "name": "In", "where": where}]},
    }  # fmt: skip
    answer = owner.post("/api/draw/ink", json.dumps(layer), content_type="application/json").content
    header = json.loads(answer[4 : 4 + int.from_bytes(answer[:4], "little")])
    drawn = int(taken(data, layer["filter"]).sum())
    within = int((taken(data, where) & taken(data, layer["filter"])).sum())
    assert header["ruled"] == {"in": within, "": drawn - within} and 0 < within < drawn
    document = {"title": "W", "layers": [layer]}
    code, sheet = send(owner, "/sheets", {"title": "W"})
    code, kept = send(owner, f"/sheets/{sheet['id']}", {"base": sheet["revision"], "document": document}, "put")
    assert code == 200, kept
    assert send(owner, "/draw/picture", document)[0] == 200
    foreign = {**document, "layers": [{**layer, "dataset": others["areas"], "others": {"wells": str(huts.pk)}}]}
    code, theirs = send(stranger, "/sheets", {"title": "Theirs"})
    code, told = send(stranger, f"/sheets/{theirs['id']}", {"base": theirs["revision"], "document": foreign}, "put")
    assert code == 422 and "nobody shares with you" in told["detail"]
    relief = next(dataset for dataset in named.values() if dataset.kind == "raster")
    code, told = send(
        owner, "/draw/condition", {"dataset": str(huts.pk), "text": where, "others": {"areas": str(relief.pk)}}
    )
    assert code == 422 and "not a dataset of shapes" in told["detail"]
