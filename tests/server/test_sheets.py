"""Sheets: kept, refused when stale, gone back; and what the editor asks of them."""

import json
import struct
from typing import Any

import numpy as np
import pytest
from django.core.cache import caches
from django.test import Client
from greylatch.symbols.ink import UNDRAWN
from library.derived import data_of
from library.models import Dataset
from sheets.layer_pictures import _pictures
from sheets.models import Sheet

from tests.server.conftest import fetch, send


def document_of(sheet: Sheet) -> dict[str, Any]:
    return dict(sheet.revisions.first().document)


def unpacked(data: bytes) -> tuple[dict[str, Any], np.ndarray]:
    (length,) = struct.unpack("<I", data[:4])
    header = json.loads(data[4 : 4 + length])
    return header, np.frombuffer(data, "<u2", header["n"], 4 + length)


def test_a_stale_save_is_refused_with_both_versions(owner: Client, sheet: Sheet) -> None:
    first = document_of(sheet) | {"title": "First"}
    assert send(owner, f"/sheets/{sheet.pk}", {"base": 1, "document": first}, "put") == (200, {"revision": 2})
    status, told = send(owner, f"/sheets/{sheet.pk}", {"base": 1, "document": first | {"title": "Second"}}, "put")
    assert (status, told["revision"], told["document"]["title"]) == (409, 2, "First")
    assert fetch(owner, f"/sheets/{sheet.pk}")[1]["document"]["title"] == "First"


def test_every_revision_can_be_gone_back_to(owner: Client, sheet: Sheet) -> None:
    for i in range(3):
        send(owner, f"/sheets/{sheet.pk}", {"base": i + 1, "document": document_of(sheet) | {"title": f"T{i}"}}, "put")
    _, history = fetch(owner, f"/sheets/{sheet.pk}/revisions")
    assert [one["number"] for one in history] == [4, 3, 2, 1]
    assert fetch(owner, f"/sheets/{sheet.pk}/revisions/2")[1]["document"]["title"] == "T0"
    assert fetch(owner, f"/sheets/{sheet.pk}/revisions/9")[0] == 404


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"layers": [{"id": "a"}]}, "layers › 0"),
        ({"title": ""}, "title"),
        ({"colour": "red"}, "colour"),
        ({"layers": [{"id": "a b", "name": "x", "dataset": "d", "symbology": {"kind": "symbols"}}]}, "id"),
    ],
)
def test_documents_that_are_none_are_refused_by_entry(
    owner: Client, sheet: Sheet, change: dict[str, Any], words: str
) -> None:
    status, told = send(owner, f"/sheets/{sheet.pk}", {"base": 1, "document": document_of(sheet) | change}, "put")
    assert status == 422
    assert words in told["detail"]
    assert Sheet.objects.get(pk=sheet.pk).revision == 1


def test_two_layers_of_one_id_are_refused(owner: Client, sheet: Sheet) -> None:
    layer = document_of(sheet)["layers"][0]
    status, told = send(
        owner, f"/sheets/{sheet.pk}", {"base": 1, "document": document_of(sheet) | {"layers": [layer, layer]}}, "put"
    )
    assert (status, "Two layers or groups have the id" in told["detail"]) == (422, True)


def test_ink_is_a_position_a_feature_with_the_key(owner: Client, sheet: Sheet) -> None:
    layer = document_of(sheet)["layers"][1]
    status, data = send(owner, "/draw/ink", layer)
    header, index = unpacked(data)
    assert (status, header["n"], len(index)) == (200, 214, 214)
    assert [entry["count"] for entry in header["key"][0]["entries"]][::-1][1:] == [
        c["count"] for c in header["classes"]
    ]
    assert np.bincount(index, minlength=7).tolist()[:6] == [c["count"] for c in header["classes"]]
    assert (index == 6).sum() == header["missing"] == 7


def test_ink_of_points_has_its_drawing_order(owner: Client, sheet: Sheet) -> None:
    body = send(owner, "/draw/ink", document_of(sheet)["layers"][0])[1]
    header, index = unpacked(body)
    assert (header["columns"], header["kind"]) == (["mark", "order"], "points")
    order = np.frombuffer(body[-4 * header["n"] :], np.int32)
    assert sorted(order) == list(range(header["n"]))
    radii = [header["palette"][index[row]]["radius"] for row in order if index[row] != UNDRAWN]
    assert radii == sorted(radii, reverse=True)
    assert (index == UNDRAWN).sum() == header["missing"] == 25


@pytest.mark.parametrize(
    ("classing", "words"),
    [
        ({"field": "name"}, "holds text, not numbers"),
        ({"field": "gone"}, "no field 'gone'"),
        ({"field": "peat_ha", "method": "manual", "breaks": [5, 5]}, "is not above"),
        ({"field": "peat_ha", "normalise": {"by": "field", "field": "code"}}, "holds text"),
    ],
)
def test_fields_that_cannot_be_classified_are_named(
    owner: Client, sheet: Sheet, classing: dict[str, Any], words: str
) -> None:
    layer = document_of(sheet)["layers"][1]
    layer["symbology"]["encodings"]["colour"]["classing"] = classing
    status, told = send(owner, "/draw/ink", layer)
    assert (status, words in told["detail"]) == (422, True)


def test_more_classes_than_distinct_values_and_all_missing(owner: Client) -> None:
    from tests.server.test_library import bring_in

    job = bring_in(owner, "a.csv", b"lon,lat,two,none,one\n1,1,5,,7\n2,2,6,,7\n3,3,6,,7\n", types={"none": "number"})
    for field, words in (("two", "only 2 distinct values"), ("none", "every value is missing")):
        layer = {
            "id": "a",
            "name": "A",
            "dataset": job["result"]["dataset"],
            "symbology": {
                "kind": "symbols",
                "encodings": {"colour": {"by": "classes", "classing": {"field": field, "classes": 4}}},
            },
        }
        status, told = send(owner, "/draw/ink", layer)
        assert (status, words in told["detail"]) == (422, True)
    layer["symbology"]["encodings"]["colour"]["classing"] = {"field": "one", "classes": 4}  # type: ignore[index]
    assert len(unpacked(send(owner, "/draw/ink", layer)[1])[0]["classes"]) == 1


def test_other_classifications_are_tried_as_small_maps(owner: Client, sheet: Sheet) -> None:
    layer = document_of(sheet)["layers"][1]
    status, tried = send(owner, "/draw/trials", {"layer": layer})
    assert status == 200 and 8 <= len(tried) <= 12
    assert tried[0]["classing"]["method"] == "natural-breaks" and len(tried[0]["colours"]) == 6
    assert len({one["picture"] for one in tried}) == len(tried), "each of them is another map"
    best = max(tried, key=lambda one: one["fit"] if one["classes"] == 6 else 0)
    assert best["classing"]["method"] == "natural-breaks", "the best fit is what they are made for (Jenks)"
    layer["symbology"]["encodings"]["colour"] = None
    assert send(owner, "/draw/trials", {"layer": layer})[0] == 422


def test_other_ramps_are_tried_on_the_map(owner: Client, sheet: Sheet) -> None:
    layer = next(each for each in document_of(sheet)["layers"] if each["id"] == "carbon")
    status, tried = send(owner, "/draw/trials", {"layer": layer, "of": "ramps"})
    assert status == 200
    names = [each["ramp"]["name"] for each in tried]
    assert len(set(names)) == len(names) > 5 and names[0] == layer["symbology"]["encodings"]["colour"]["ramp"]["name"]
    assert len({each["picture"] for each in tried}) == len(tried)
    assert len({tuple(each["colours"]) for each in tried}) == len(tried)


def test_labels_of_the_sheet(owner: Client, sheet: Sheet) -> None:
    _, told = send(owner, "/draw/letters?zoom=12", document_of(sheet))
    assert len({one["feature"] for one in told["labels"]}) > 100
    assert {one["layer"] for one in told["labels"]} == {"carbon", "isles"}
    assert told["faces"] == {}, "the editor has the faces that ship"


def test_raster_tiles(owner: Client, named: dict[str, Dataset]) -> None:
    relief = named["Relief"].pk
    look = json.dumps({"symbology": {"kind": "hillshade"}})
    status, data = fetch(owner, f"/draw/pictures/{relief}/8/108/84", look=look)
    assert (status, data[:4]) == (200, b"\x89PNG")
    assert fetch(owner, f"/draw/pictures/{relief}/8/0/0", look=look)[0] == 204
    assert fetch(owner, f"/draw/pictures/{relief}/8/108/84", look='{"symbology": {"kind": "magic"}}')[0] == 422
    assert fetch(owner, f"/draw/pictures/{named['Catchments'].pk}/8/108/84", look=look)[0] == 422
    posted = owner.post(f"/api/draw/pictures/{relief}/8/108/84", look, content_type="application/json")
    assert posted.content == data, "a look may be too long for an address"


def test_cells_dots_and_centres_are_drawn_and_classed(owner: Client, named: dict[str, Dataset]) -> None:
    for title, by, kind in (
        ("Dip wells", "hexagon", "areas"),
        ("Catchments with returns", "dots", "points"),
        ("Ditches", "centres", "points"),
    ):
        dataset = str(named[title].pk)
        status, read = send(owner, "/draw/read", {"dataset": dataset, "by": by})
        assert (status, read["reading"]["by"]) == (200, "grid" if by == "hexagon" else by)
        layer = {"id": "a", "name": "A", "dataset": dataset, **read}
        header, positions = unpacked(send(owner, "/draw/ink", layer)[1])
        assert header["kind"] == kind and len(positions) == header["drawn"] > 50
        look = json.dumps(read)
        tiles = [
            fetch(owner, f"/draw/pictures/{dataset}/8/{x}/{y}", look=look)[0] for x in (108, 109) for y in (84, 85)
        ]
        assert 200 in tiles
    asked = {"dataset": str(named["Dip wells"].pk), "field": "value", "reading": {"by": "grid", "size": 2000}}
    assert sum(send(owner, "/draw/distribution", asked)[1]["counts"]) > 20
    assert send(owner, "/draw/read", {"dataset": dataset, "by": None})[1]["reading"] is None
    assert send(owner, "/draw/read", {"dataset": dataset, "by": "hexagon"})[0] == 422


def test_centres_say_of_the_same_rows_what_areas_said(owner: Client, named: dict[str, Dataset]) -> None:
    """Colours by class, rules with their colours, labels and card stay; cells are other rows, and begin anew."""
    colour = {"by": "classes", "classing": {"field": "carbon_t", "classes": 4}}
    size = {"by": "value", "field": "carbon_t"}
    rule = {"id": "a", "name": "a", "where": "carbon_t > 2", "symbol": {"fill": "#112233"}, "encodings": {"size": size}}
    areas = {
        "id": "a", "name": "A", "dataset": str(named["Catchments with returns"].pk), "card": "## {{ name }}",
        "symbology": {"kind": "symbols", "symbol": {"fill": "#c9c2b0"}, "encodings": {"colour": colour}, "rules": [rule], "exceptions": {"3": {"fill": "#445566"}}},
        "lettering": {"lines": [{"text": "{name}"}]},
    }  # fmt: skip
    asked = {"dataset": areas["dataset"], "by": "centres", "before": areas}
    status, read = send(owner, "/draw/read", asked)
    assert (status, read["reading"]["by"], read["card"]) == (200, "centres", "## {{ name }}")
    look = read["symbology"]
    assert look["encodings"]["colour"]["classing"]["classes"] == 4 and look["exceptions"]["3"]["fill"] == "#445566"
    assert (look["rules"][0]["symbol"]["fill"], look["symbol"]["fill"]) == ("#112233", "#3f6f8f")
    assert (
        look["rules"][0]["encodings"]["size"]["field"] == "carbon_t"
        and read["lettering"]["lines"][0]["text"] == "{name}"
    )
    back = send(owner, "/draw/read", {**asked, "by": None, "before": {**areas, **read}})[1]
    assert back["reading"] is None and back["symbology"]["rules"][0]["symbol"]["fill"] == "#112233"
    assert back["symbology"]["encodings"]["colour"] and back["symbology"]["rules"][0]["encodings"]["size"] is None
    assert send(owner, "/draw/read", {**asked, "by": "dots"})[1]["symbology"]["rules"] == []


def test_a_raster_is_inked_classed_and_contoured(owner: Client, named: dict[str, Dataset]) -> None:
    relief = str(named["Relief"].pk)
    status, classes = send(owner, "/draw/inked", {"dataset": relief, "kind": "raster-classes"})
    assert (status, classes["kind"], classes["classing"]["classes"]) == (200, "raster-classes", 5)
    layer = {"id": "a", "name": "A", "dataset": relief, "symbology": classes}
    header, _ = unpacked(send(owner, "/draw/ink", layer)[1])
    assert (header["kind"], len(header["classes"]), len(header["key"][0]["entries"])) == ("raster", 5, 5)
    told = send(owner, "/draw/distribution", {"dataset": relief, "band": 1})[1]
    assert told["maximum"] == pytest.approx(header["classes"][-1]["upper"])
    part = send(
        owner, "/draw/distribution", {"dataset": relief, "band": 1, "low": 10, "high": 100, "logarithmic": True}
    )[1]
    assert part["edges"][0] >= 10 and part["edges"][-1] <= 100 and sum(part["counts"]) < sum(told["counts"])
    assert send(owner, "/draw/suggested-classes", {"dataset": relief, "band": 1})[1]["classes"] > 2
    assert send(owner, "/draw/inked", {"dataset": relief, "kind": "named-values"})[0] == 422
    assert send(owner, "/draw/inked", {"dataset": relief, "kind": "magic"})[0] == 422
    assert send(owner, "/draw/inked", {"dataset": str(named["Dip wells"].pk), "kind": "slope"})[0] == 422
    _, read = send(owner, "/draw/read", {"dataset": relief, "by": "contours"})
    contoured = {"id": "a", "name": "A", "dataset": relief, **read}
    header, positions = unpacked(send(owner, "/draw/ink", contoured)[1])
    assert (header["kind"], read["lettering"]["lines"][0]["text"]) == ("lines", "{index_height}")
    assert len(positions) > 5 and 0 < header["ruled"]["index"] < len(positions)
    look = json.dumps({name: read[name] for name in ("reading", "symbology")})
    assert fetch(owner, f"/draw/pictures/{relief}/8/108/84", look=look)[0] == 200
    rows = {"dataset": relief, "reading": read["reading"]}
    assert "height" in send(owner, "/draw/condition/language", rows)[1]["names"]
    assert send(owner, "/draw/read", {"dataset": relief, "by": None})[1]["symbology"]["kind"] == "raster-ramp"


def test_rates_of_few_are_unsure(owner: Client, named: dict[str, Dataset]) -> None:
    areas = str(named["Catchments with returns"].pk)
    by = {"by": "field", "field": "peat_ha"}
    asked = {"dataset": areas, "field": "carbon_t", "normalise": by}
    few = send(owner, "/draw/distribution", {**asked, "normalise": {**by, "least": 300}})[1]["missing"]
    assert few > send(owner, "/draw/distribution", asked)[1]["missing"]
    colour = {"by": "classes", "classing": {"field": "carbon_t", "normalise": {**by, "least": 300}}}
    layer = {
        "id": "a",
        "name": "A",
        "dataset": areas,
        "symbology": {"kind": "symbols", "encodings": {"colour": colour}},
    }
    header, _ = unpacked(send(owner, "/draw/ink", layer)[1])
    last = header["key"][0]["entries"][-1]
    assert (last["id"], last["text"], last["count"]) == ("no-data", "no data, or fewer than 300 peat_ha", few)


def test_distribution(owner: Client, named: dict[str, Dataset]) -> None:
    _, told = send(owner, "/draw/distribution", {"dataset": str(named["Dip wells"].pk), "field": "water_table_cm"})
    assert (told["n"], told["missing"], sum(told["counts"])) == (2375, 25, 2375)
    _, suggested = send(
        owner, "/draw/suggested-classes", {"dataset": str(named["Dip wells"].pk), "field": "water_table_cm"}
    )
    assert 3 <= suggested["classes"] <= 7 and "fewest" in suggested["because"]


def test_cards_answer_mistakes_instead_of_failing(owner: Client, named: dict[str, Dataset]) -> None:
    wells = str(named["Dip wells"].pk)
    _, told = send(
        owner, "/draw/card", {"dataset": wells, "template": "**{{well}}** {{nope}} <script>x</script>", "fid": 1}
    )
    assert "<strong>W0002</strong>" in told["html"]
    assert "<script" not in told["html"]
    assert told["unknown"] == ["nope"]
    assert "mistake" in send(owner, "/draw/card", {"dataset": wells, "template": "{{#open"})[1]["mistake"]


def test_findings_and_mends(owner: Client, isla: Any) -> None:
    half = isla.sheets.get(title__contains="half done")
    document = half.revisions.first().document
    _, found = send(owner, "/draw/proof", document)
    ids = [one["id"] for one in found]
    assert {
        "count-as-colour:money",
        "many-classes:money",
        "empty-class:money",
        "placeholder-money:money",
        "no-credits",
    } <= set(ids)
    _, better = send(owner, "/draw/mend", {"document": document, "finding": "count-as-colour:money"})
    assert better["layers"][0]["symbology"]["encodings"]["colour"]["classing"]["normalise"] == {"by": "area"}


def test_what_the_data_state_stands_around_a_map_that_says_nothing(owner: Client, isla: Any) -> None:
    document = isla.sheets.get(title__contains="half done").revisions.first().document
    _, told = send(owner, "/draw/credits", document)
    assert (told["credits"], told["source_date"], told["terms"]) == (
        "Data: Vaskerry Peatland Survey",
        "May 2026",
        "free, with credit",
    )
    document["furniture"] |= {"credits": "Mine", "terms": "Ask me"}
    _, kept = send(owner, "/draw/credits", document)
    assert (kept["credits"], kept["source_date"], kept["terms"]) == ("Mine", "May 2026", "Ask me")


def test_ramps_come_with_their_verdicts(owner: Client) -> None:
    _, ramps = fetch(owner, "/draw/ramps", n=6)
    assert len(ramps) >= 12
    assert all(len(one["colours"]) == 6 and all(pair["apart"] < 8 for pair in one["alike"]) for one in ramps)


def test_types_of_the_interface_have_not_drifted() -> None:
    from pathlib import Path

    from config.api import api

    kept = json.loads((Path(__file__).parents[2] / "web" / "openapi.json").read_text())
    assert kept == json.loads(json.dumps(api.get_openapi_schema(), default=str)), "run machine/openapi.sh"


def test_parts_begin_whole_and_a_symbology_becomes_another(owner: Client, named: dict[str, Dataset]) -> None:
    begun = owner.get("/api/draw/starting").json()
    assert begun["graticule"]["labelled"] is True and begun["sheet"]["furniture"]["credits"] == ""
    narrow = begun["families"]["narrow"]
    assert begun["keeping_rows"] == ["centres"] and narrow["weights"] == [400, 700] and not narrow["slants"]
    assert narrow["nearest"] == {"400": 400, "500": 400, "600": 700, "700": 700}, "whatever letters are set in anyway"
    assert ["solid", []] in [[dash["name"], dash["parts"]] for dash in begun["gestures"]["dashes"]]
    assert begun["gestures"]["unclassed"]["method"] == "natural-breaks"
    listed = {one["title"]: one for one in owner.get("/api/datasets").json()}
    areas = listed["Catchments with returns"]
    assert areas["lettering"]["lines"][0]["size"] == 12.0 and areas["channels"]["opacity"] == ["value"]
    assert areas["offered"] == ["centres", "dots"] and "shares" in areas["readings"]["centres"]["channels"]
    _, added = send(owner, "/draw/added", {"dataset": areas["id"], "layers": []})
    layer = added["layer"]
    assert added["at"] == 0 and layer["symbology"]["symbol"]["strokes"][0]["opacity"] == 1.0
    points = send(owner, "/draw/added", {"dataset": listed["Dip wells"]["id"], "layers": [layer]})[1]
    _, beneath = send(owner, "/draw/added", {"dataset": areas["id"], "layers": [points["layer"], layer]})
    assert (
        beneath["at"] == 1 and beneath["layer"]["symbology"]["symbol"]["fill"] != layer["symbology"]["symbol"]["fill"]
    )
    rows = {"dataset": areas["id"], "layer": "layer"}
    _, by_shown = send(owner, "/draw/filter", {**rows, "shown": "carbon_t"})
    assert (by_shown["kind"], by_shown["field"]) == ("range", "carbon_t")
    _, by_name = send(owner, "/draw/filter", {**rows, "field": "name"})
    assert by_name["kind"] == "choices" and send(owner, "/draw/search", rows)[1]["field"] == "name"
    _, rule = send(owner, "/draw/rule", {"dataset": areas["id"], "symbology": layer["symbology"], "fids": [3]})
    assert rule["where"] == "code = 'VK004'" and rule["symbol"]["fill"] != layer["symbology"]["symbol"]["fill"]
    assert (
        send(owner, "/draw/rule", {"dataset": areas["id"], "symbology": layer["symbology"]})[1]["where"]
        == begun["nothing_yet"]
    )
    status, refused = send(owner, "/draw/added", {"dataset": listed["Returns per catchment"]["id"]})
    assert status == 422 and "has no features" in refused["detail"]
    asked = {"dataset": areas["id"], "symbology": layer["symbology"], "field": "carbon_t"}
    _, shown = send(owner, "/draw/shown", asked)
    assert shown["encodings"]["colour"]["classing"]["field"] == "carbon_t"
    asked = {"dataset": areas["id"], "symbology": shown, "channel": "colour", "by": "value"}
    _, smooth = send(owner, "/draw/varied", asked)
    assert (smooth["encodings"]["colour"]["by"], smooth["encodings"]["colour"]["field"]) == ("value", "carbon_t")
    status, refused = send(owner, "/draw/varied", {**asked, "channel": "size", "by": "category"})
    assert status == 422 and "does not vary by 'category'" in refused["detail"]
    _, listed_values = send(owner, "/draw/categories", {"dataset": areas["id"], "field": "name", "most": 3})
    assert len(listed_values) == 3
    _, split = send(owner, "/draw/split", {"dataset": areas["id"], "symbology": shown})
    assert len(split["rules"]) == 5 and split["encodings"]["colour"] is None


def test_pictures_of_a_dragged_break_are_those_of_a_fresh_process(owner: Client, named: dict[str, Dataset]) -> None:
    """Where features changed a picture is painted on the one of before: nothing of that one may be left."""
    dataset = named["Catchments with returns"]

    def picture(at: float) -> bytes:
        classing = {"field": "peat_ha", "method": "manual", "breaks": [at, 1e9]}
        look = {"symbology": {"kind": "symbols", "encodings": {"colour": {"by": "classes", "classing": classing}}}}
        status, data = fetch(owner, f"/draw/pictures/{dataset.pk}/8/108/84", look=json.dumps(look))
        assert status == 200
        return data

    ranked = np.sort(data_of(dataset.newest).columns["peat_ha"].to_numpy())
    steps = [float(ranked[i]) for i in (100, 102, 105, 104)]
    dragged = [picture(at) for at in steps]
    assert len({*dragged}) > 1
    caches["tiles"].clear()
    for at, data in zip(reversed(steps), reversed(dragged), strict=True):
        _pictures.clear()
        assert picture(at) == data


def test_time_begins_by_steps_that_suit_the_dates(owner: Client, named: dict[str, Dataset]) -> None:
    asked = {"dataset": str(named["Slips and fires"].pk), "layer": "events", "field": "date"}
    _, begun = send(owner, "/draw/time", asked)
    assert (begun["layer"], begun["field"], begun["by"]) == ("events", "date", "month")
    code, answer = send(owner, "/draw/time", {**asked, "field": "kind"})
    assert code == 422 and answer["detail"] == "'kind' holds no dates."


def test_readers_look_around_as_far_as_suits_the_data(owner: Client, named: dict[str, Dataset]) -> None:
    asked = {"dataset": str(named["Slips and fires"].pk)}
    near = send(owner, "/draw/near", asked)[1]
    assert (near["distance"], near["largest"], near["layers"]) == (5.0, 50.0, [])
