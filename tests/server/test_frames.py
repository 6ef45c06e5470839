"""Projections as the editor asks for them, and a sheet that names one."""

import io
import json
from typing import Any

import numpy as np
import pyproj
import pytest
from django.test import Client
from greylatch.places.frame import Frame
from library.models import Dataset
from PIL import Image
from sheets.models import Sheet

from tests.server.conftest import bring_in, fetch, send

EQUAL_EARTH = "EPSG:8857"


def document_of(owner: Client, sheet: Sheet, **changes: Any) -> dict[str, Any]:
    _, told = fetch(owner, f"/sheets/{sheet.pk}")
    return {**told["document"], **changes}


def test_a_projection_in_figures(owner: Client) -> None:
    status, told = fetch(owner, "/draw/frames", crs=EQUAL_EARTH)
    assert (status, told["equal_area"], told["round"], told["matrix_set"]) == (200, True, False, "EPSG8857Quad")
    assert fetch(owner, "/draw/frames", crs="EPSG:3857")[1]["round"] is True
    assert fetch(owner, "/draw/frames", crs="EPSG:2263")[1]["metres"] == pytest.approx(0.3048006)


@pytest.mark.parametrize("crs", ["EPSG:3857", EQUAL_EARTH, "EPSG:3035", "+proj=laea +lat_0=57 +lon_0=-27"])
def test_places_there_and_back(owner: Client, crs: str) -> None:
    """Against pyproj's own transformation."""
    _, there = fetch(owner, "/draw/frames/place", crs=crs, lon=-26.5, lat=57.25)
    theirs = pyproj.Transformer.from_crs(4326, crs, always_xy=True).transform(-26.5, 57.25)
    assert (there["x"], there["y"]) == pytest.approx(theirs, abs=1e-3)
    _, back = fetch(owner, "/draw/frames/lonlat", crs=crs, x=there["x"], y=there["y"])
    assert (back["lon"], back["lat"]) == pytest.approx((-26.5, 57.25), abs=1e-8)


@pytest.mark.parametrize(
    ("path", "query", "words"),
    [
        ("place", {"crs": "+proj=ortho +lat_0=90", "lon": 0, "lat": -40}, "beyond the limits"),
        ("lonlat", {"crs": "+proj=ortho +lat_0=90", "x": 9e6, "y": 9e6}, "no place on the globe"),
        ("place", {"crs": "+proj=laea +nadgrids=/etc/passwd", "lon": 0, "lat": 0}, "names a file"),
        ("place", {"crs": "EPSG:4978", "lon": 0, "lat": 0}, "no plane"),
    ],
)
def test_what_is_refused(owner: Client, path: str, query: dict[str, Any], words: str) -> None:
    status, told = fetch(owner, f"/draw/frames/{path}", **query)
    assert (status, words in told["detail"]) == (422, True), told


def test_the_list_is_searched_by_code_name_and_area(owner: Client) -> None:
    assert fetch(owner, "/draw/frames/search", text="EPSG:3035")[1][0]["name"] == "ETRS89-extended / LAEA Europe"
    found = [one["crs"] for one in fetch(owner, "/draw/frames/search", text="laea europe")[1]]
    assert {"EPSG:3035", "EPSG:5636"} <= set(found)
    assert "EPSG:2154" in [one["crs"] for one in fetch(owner, "/draw/frames/search", text="france lambert-93")[1]]
    assert fetch(owner, "/draw/frames/search", text="  ")[1] == []


def test_suggestions_for_a_sheet_and_their_pictures(owner: Client, sheet: Sheet) -> None:
    document = document_of(owner, sheet)
    _, suggested = send(owner, "/draw/frames/suggest", document)
    assert suggested[0]["equal_area"]
    pictures = []
    for one in suggested[:2]:
        status, data = send(owner, "/draw/picture?width=144&height=90", {**document, "projection": {"crs": one["crs"]}})
        assert status == 200
        pictures.append(np.asarray(Image.open(io.BytesIO(data)).convert("RGB")))
    assert pictures[0].shape == (90, 144, 3)
    assert (pictures[0] != pictures[1]).any()


def test_a_sheet_keeps_its_projection_and_tiles_follow(owner: Client, sheet: Sheet, named: dict[str, Dataset]) -> None:
    document = document_of(owner, sheet, projection={"crs": EQUAL_EARTH})
    _, kept = fetch(owner, f"/sheets/{sheet.pk}")
    status, told = send(owner, f"/sheets/{sheet.pk}", {"document": document, "base": kept["revision"]}, "put")
    assert status == 200, told
    assert fetch(owner, f"/sheets/{sheet.pk}")[1]["document"]["projection"] == {"crs": EQUAL_EARTH}
    _, box = send(owner, "/draw/extent", document)
    frame = Frame.named(EQUAL_EARTH)
    tile = next(frame.grid.tiles_over(tuple(box["box"]), 8))
    revision = named["Catchments"].current.pk
    here = fetch(owner, f"/revisions/{revision}/tiles/8/{tile.x}/{tile.y}", crs=EQUAL_EARTH)
    assert (here[0], len(here[1]) > 100) == (200, True)
    assert fetch(owner, f"/revisions/{revision}/tiles/8/{tile.x}/{tile.y}")[1] != here[1]
    relief = named["Relief"].pk
    look = '{"symbology": {"kind": "hillshade"}}'
    assert fetch(owner, f"/draw/pictures/{relief}/8/{tile.x}/{tile.y}", crs=EQUAL_EARTH, look=look)[0] == 200
    _, letters = send(owner, "/draw/letters?zoom=9", document)
    west, south, east, north = box["box"]
    assert letters["labels"]
    assert all(west <= one["x"] <= east and south <= one["y"] <= north for one in letters["labels"])


def test_a_projection_that_is_none_is_not_kept(owner: Client, sheet: Sheet) -> None:
    document = document_of(owner, sheet, projection={"crs": "+proj=laea +nadgrids=/etc/passwd"})
    _, kept = fetch(owner, f"/sheets/{sheet.pk}")
    status, told = send(owner, f"/sheets/{sheet.pk}", {"document": document, "base": kept["revision"]}, "put")
    assert (status, "names a file" in told["detail"]) == (422, True)


def test_an_edition_in_another_projection(owner: Client, visitor: Client, sheet: Sheet) -> None:
    """Its tiles lie in a set of its own, which the edition describes; places are asked in degrees or in its own units."""
    document = document_of(owner, sheet, projection={"crs": "EPSG:32626"})
    _, kept = fetch(owner, f"/sheets/{sheet.pk}")
    send(owner, f"/sheets/{sheet.pk}", {"document": document, "base": kept["revision"]}, "put")
    _, job = send(owner, f"/sheets/{sheet.pk}/editions", {"max_zoom": 9})
    assert job["state"] == "done", job
    _, told = fetch(owner, f"/sheets/{sheet.pk}/editions")
    home = "/e/" + told["address"].split("/e/")[1]
    description = visitor.get(f"{home}edition.json").json()
    assert description["frame"]["matrix_set"] == "EPSG32626Quad"
    assert not {"map.pmtiles", "style.json"} & set(description["files"])
    assert {"map.zip", "map.json", "tilematrixset.json"} <= set(description["files"])
    base = description["base"]
    frame = Frame.named("EPSG:32626")
    tile = next(t for t in frame.grid.tiles_over(tuple(description["box"]), 9))
    statuses = {
        visitor.get(f"{base}map/9/{t.x}/{t.y}.png").status_code
        for t in frame.grid.tiles_over(tuple(description["box"]), 9)
    }
    assert 200 in statuses and statuses <= {200, 204}, tile
    west, south, east, north = description["box"]
    listed = visitor.get(f"{base}features", {"left": west, "bottom": south, "right": east, "top": north}).json()[
        "features"
    ]
    one = listed[len(listed) // 2]
    by_place = visitor.get(f"{base}card", {"x": one["x"], "y": one["y"], "zoom": 12}).json()["cards"]
    by_degrees = visitor.get(f"{base}card", {"lon": one["lon"], "lat": one["lat"], "zoom": 12}).json()["cards"]
    assert by_place and by_place == by_degrees


def test_meridians_and_parallels_of_a_box(owner: Client) -> None:
    """Against pyproj: the places of every line have the degrees that its name says."""
    box = {"left": -3e6, "bottom": -1e6, "right": 3e6, "top": 2e6, "resolution": 5000}
    _, lines = fetch(owner, "/draw/frames/graticule", crs=EQUAL_EARTH, **box)
    back = pyproj.Transformer.from_crs(EQUAL_EARTH, 4326, always_xy=True)
    assert {one["kind"] for one in lines} == {"meridian", "parallel"}
    for one in lines:
        degrees = float(one["name"].split("°")[0]) * (-1 if one["name"][-1] in "WS" else 1)
        for path in one["paths"]:
            place = back.transform(*np.array(path).T)[0 if one["kind"] == "meridian" else 1]
            assert place == pytest.approx(degrees, abs=1e-3)
    assert len(fetch(owner, "/draw/frames/graticule", crs=EQUAL_EARTH, step=1, **box)[1]) > 2 * len(lines)
    assert fetch(owner, "/draw/frames/graticule", crs=EQUAL_EARTH, **{**box, "right": -4e6})[0] == 422
    ring = fetch(owner, "/draw/frames/outline", crs=EQUAL_EARTH)[1][0]
    assert max(x for x, _ in ring) == pytest.approx(17_243_959, abs=2)


def test_an_edition_knows_its_ground_and_scale(owner: Client, visitor: Client, sheet: Sheet) -> None:
    document = document_of(owner, sheet, projection={"crs": "EPSG:3995"})
    document["furniture"] |= {"sea": "#d3e0e6", "graticule": {"width": 1}}
    _, kept = fetch(owner, f"/sheets/{sheet.pk}")
    send(owner, f"/sheets/{sheet.pk}", {"document": document, "base": kept["revision"]}, "put")
    send(owner, f"/sheets/{sheet.pk}/editions", {"max_zoom": 9})
    _, told = fetch(owner, f"/sheets/{sheet.pk}/editions")
    home = "/e/" + told["address"].split("/e/")[1]
    description = visitor.get(f"{home}edition.json").json()
    ground = json.loads(b"".join(visitor.get(f"{description['base']}ground.json").streaming_content))
    assert (ground["sea"], ground["style"]["width"]) == ("#d3e0e6", 1)
    assert [one["step"] for one in ground["graticules"]] == sorted(one["step"] for one in ground["graticules"])
    assert all(one["lines"] for one in ground["graticules"])
    # Polar stereographic, true at 71° N: at 52° lengths are drawn 1.088 times too large (Snyder 1987, 21-33 and 21-32; by PROJ).
    scale = pyproj.Proj("EPSG:3995").get_factors(-27, 52).parallel_scale
    assert description["scales"][4][4] == pytest.approx(1 / scale, rel=0.01)


def test_islands_on_both_sides_of_the_180th_meridian_are_no_world(owner: Client) -> None:
    squares = [[[x, y], [x + 1, y], [x + 1, y + 1], [x, y + 1], [x, y]] for x, y in ((178, -18), (-180, -17))]
    features = [
        {"type": "Feature", "properties": {}, "geometry": {"type": "Polygon", "coordinates": [one]}} for one in squares
    ]
    data = json.dumps({"type": "FeatureCollection", "features": features}).encode()
    job = bring_in(owner, "isles.geojson", data)
    layer = {"id": "a", "name": "A", "dataset": job["result"]["dataset"], "symbology": {"kind": "symbols"}}
    _, found = send(owner, "/draw/frames/suggest", {"title": "T", "layers": [layer]})
    assert "+lon_0=-180" in found[0]["crs"] or "+lon_0=180" in found[0]["crs"]


def test_hidden_layers_ask_for_no_projection(owner: Client, named: dict[str, Dataset]) -> None:
    world = {
        "type": "Feature",
        "properties": {},
        "geometry": {"type": "MultiPoint", "coordinates": [[-170, 5], [175, -60]]},
    }
    data = json.dumps({"type": "FeatureCollection", "features": [world]}).encode()
    job = bring_in(owner, "everywhere.geojson", data)
    isles = {"id": "a", "name": "A", "dataset": str(named["Catchments"].pk), "symbology": {"kind": "symbols"}}
    everywhere = {**isles, "id": "b", "dataset": job["result"]["dataset"]}

    def first(*layers: dict[str, Any]) -> str:
        _, found = send(owner, "/draw/frames/suggest", {"title": "T", "layers": list(layers)})
        return str(found[0]["name"])

    alone = first(isles)
    assert first(isles, {**everywhere, "visible": False}) == alone != first(isles, everywhere)
    assert first({**everywhere, "visible": False}), "a map on which all is hidden has data too"
