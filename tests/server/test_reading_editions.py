"""What readers point at, byte ranges, and the demo itself."""

import io
from pathlib import Path
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.core.management import call_command
from django.test import Client, RequestFactory
from editions.publish import opened
from editions.ranges import ranged
from greylatch.edition.cutting import lots_of
from greylatch.edition.finding import features_at
from greylatch.edition.plan import plan_edition
from greylatch.edition.writing import public_key
from greylatch.errors import BadInput
from greylatch.paint.key import layer_key
from greylatch.paint.passes import Composition, compose, pass_of
from greylatch.places.crs import LONLAT, reproject
from greylatch.sheet.document import Sheet as Document
from greylatch.sheet.layers import KeyText, Layer
from greylatch.tiles.map_pyramid import map_blocks
from library.derived import data_of
from library.models import Dataset
from sheets.models import Sheet
from sheets.sources import finder, provenance, revisions_for

from tests.server.conftest import fetch, send


def place_of(dataset: Dataset, row: int) -> tuple[float, float]:
    """A place inside of a feature, in degrees."""
    data = data_of(dataset.current)
    assert data.shapes is not None and data.crs is not None
    point = reproject(data.shapes[row : row + 1], data.crs, LONLAT)[0].representative_point()
    return point.x, point.y


def one_layer(dataset: Dataset, visible: bool = True, **symbology: Any) -> Composition:
    layer = {
        "id": "a", "name": "A", "dataset": str(dataset.pk), "symbology": symbology or {"kind": "symbols"}, "card": "{{code}}",
        "visible": visible,
    }  # fmt: skip
    document = Document.model_validate({"title": "t", "layers": [layer]})
    return compose(document, finder({str(dataset.pk): dataset.current}))


def rows_at(composition: Composition, lon: float, lat: float, zoom: float) -> list[int]:
    frame = composition.frame
    return [row for _, row in features_at(composition, *frame.place(lon, lat), frame.grid.resolution(zoom))]


def test_areas_are_found_by_what_lies_inside(named: dict[str, Dataset]) -> None:
    composition = one_layer(named["Catchments"])
    assert rows_at(composition, *place_of(named["Catchments"], 40), 10) == [40]
    assert rows_at(composition, -27.9, 51.0, 10) == []


def test_points_may_be_missed_by_a_little(named: dict[str, Dataset]) -> None:
    composition = one_layer(named["Dip wells"], kind="symbols", symbol={"radius": 4})
    lon, lat = place_of(named["Dip wells"], 7)
    assert len(rows_at(composition, lon + 0.00001, lat, 16)) == 1
    # At level 16 a px is 2.4 m of Web Mercator: a hundred metres are far beyond a symbol.
    assert 7 not in rows_at(composition, lon + 0.01, lat + 0.01, 18)


def test_lines_are_found_nearby(named: dict[str, Dataset]) -> None:
    composition = one_layer(named["Ditches"], kind="symbols", symbol={"strokes": [{"width": 2}]})
    assert len(rows_at(composition, *place_of(named["Ditches"], 12), 15)) == 1


def test_hidden_layers_and_undrawn_features_are_not_found(named: dict[str, Dataset]) -> None:
    joined = named["Catchments with returns"]
    classed: dict[str, Any] = {
        "kind": "symbols",
        "encodings": {"colour": {"by": "classes", "classing": {"field": "carbon_t", "classes": 3}, "no_data": None}},
    }
    without = data_of(joined.current).columns["carbon_t"].to_pylist().index(None)
    assert rows_at(one_layer(joined, **classed), *place_of(joined, without), 10) == []
    assert rows_at(one_layer(joined, **classed), *place_of(joined, without + 1), 10) == [without + 1]
    assert rows_at(one_layer(joined, visible=False, **classed), *place_of(joined, without + 1), 10) == []


def read(header: str | None, data: bytes = b"0123456789") -> Any:
    headers = {"HTTP_RANGE": header} if header else {}
    return ranged(RequestFactory().get("/", **headers), io.BytesIO(data), len(data), "application/octet-stream")


@pytest.mark.parametrize(
    ("header", "status", "content", "span"),
    [
        ("bytes=0-3", 206, b"0123", "bytes 0-3/10"),
        ("bytes=4-", 206, b"456789", "bytes 4-9/10"),
        ("bytes=-2", 206, b"89", "bytes 8-9/10"),
        ("bytes=8-99", 206, b"89", "bytes 8-9/10"),
        ("bytes=10-", 416, b"", "bytes */10"),
        ("bytes=5-2", 416, b"", "bytes */10"),
    ],
)
def test_single_ranges(header: str, status: int, content: bytes, span: str) -> None:
    """RFC 9110, section 14."""
    answer = read(header)
    assert (answer.status_code, answer.content, answer.headers["Content-Range"]) == (status, content, span)


@pytest.mark.parametrize("header", [None, "bytes=-", "items=0-3", "bytes=0-1,3-4"])
def test_other_ranges_give_the_whole_file(header: str | None) -> None:
    answer = read(header)
    assert answer.status_code == 200
    assert b"".join(answer.streaming_content) == b"0123456789"


def test_the_public_key_leaves_out_what_readers_shall_not_see(named: dict[str, Dataset]) -> None:
    wells = named["Dip wells"]
    look = {
        "kind": "symbols",
        "encodings": {
            "size": {"by": "classes", "classing": {"field": "water_table_cm", "classes": 2}, "no_data": None}
        },
    }
    plain = Layer.model_validate({"id": "a", "name": "Wells", "dataset": str(wells.pk), "symbology": look})
    find = finder({str(wells.pk): wells.current})
    deep, shallow, _ = (entry.id for entry in layer_key(pass_of(plain, find)).entries)
    layer = plain.model_copy(update={"key": KeyText(hidden=[shallow], entries={deep: "deep"})})
    made = public_key(layer_key(pass_of(layer, find)))
    (section,) = made.sections
    assert [entry.text for entry in section.entries] == ["deep"]
    assert set(section.entries[0].model_dump()) == {"id", "text", "mark"}


def test_too_many_tiles_are_not_begun(sheet: Sheet, isla: User) -> None:
    document = Document.model_validate(sheet.revisions.first().document)
    with pytest.raises(BadInput, match="Choose a lower last level"):
        plan_edition(document, finder(revisions_for(isla, document)), max_zoom=19)


def test_levels_that_nobody_chose_go_no_deeper_than_may_be_cut(
    sheet: Sheet, isla: User, owner: Client, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Found with a satellite picture of a bay beside airports all over the world: nothing could be published before somebody reckoned."""
    document = Document.model_validate(sheet.revisions.first().document)
    whole = plan_edition(document, finder(revisions_for(isla, document)))
    assert whole.deeper is None
    monkeypatch.setattr("greylatch.edition.plan.MAX_TILES", whole.tiles // 3)
    cut = plan_edition(document, finder(revisions_for(isla, document)))
    assert cut.deeper == whole.levels.max_zoom > cut.levels.max_zoom and cut.tiles <= whole.tiles // 3
    assert cut.levels.min_zoom == whole.levels.min_zoom
    status, plan = send(owner, f"/sheets/{sheet.pk}/plan", {})
    assert (status, plan["max_zoom"], plan["deeper"]) == (200, cut.levels.max_zoom, whole.levels.max_zoom)
    monkeypatch.setattr("greylatch.edition.plan.MAX_TILES", 0)
    with pytest.raises(BadInput, match="Choose a lower last level"):
        plan_edition(document, finder(revisions_for(isla, document)))


def test_lots_hold_every_block_once(owner: Client, sheet: Sheet) -> None:
    from editions.models import Edition

    send(owner, f"/sheets/{sheet.pk}/editions", {"max_zoom": 10})
    plan = opened(Edition.objects.get(sheet=sheet).pk)
    blocks = map_blocks(plan.composition, plan.levels)
    shares = [list(lot.share(blocks)) for lot in lots_of(plan)]
    assert sorted(block for share in shares for block in share) == sorted(blocks)
    assert {block.bottom for block in blocks} == {8, 9, 10}
    assert max(map(len, shares)) - min(map(len, shares)) <= 1


def test_provenance_names_source_and_what_a_join_left(named: dict[str, Dataset]) -> None:
    joined = named["Catchments with returns"]
    about = provenance([joined.current])[str(joined.pk)]
    assert about.source.startswith("Vaskerry Peatland Survey")
    assert (about.rows_without_area, about.areas_without_row) == (0, 1)


def test_the_demo_is_loaded_once(isla: User) -> None:
    before = (isla.datasets.count(), isla.sheets.count())
    call_command("load_demo")
    assert (isla.datasets.count(), isla.sheets.count()) == before
    assert before == (15, 4)


def test_the_demo_has_what_the_scenario_names(named: dict[str, Dataset]) -> None:
    rows = {title: one.current.rows for title, one in named.items()}
    assert rows["Catchments"] == 214
    assert rows["Dip wells"] == 2400
    assert rows["Slips and fires"] == 6000
    assert rows["Ditches"] == 3800
    assert rows["Field huts"] == 90
    assert rows["Gazetteer"] == 1500
    plants = data_of(named["Dip wells"].current).columns.select(
        ["sphagnum", "cotton_grass", "heather", "moor_grass", "bare_peat"]
    )
    assert all(abs(sum(row.values()) - 100) < 0.5 for row in plants.to_pylist())
    places = data_of(named["Gazetteer"].current).columns["name"].to_pylist()
    assert len(set(places)) < len(places)


def test_small_pictures_of_sheets(owner: Client, sheet: Sheet) -> None:
    status, data = fetch(owner, f"/draw/sheets/{sheet.pk}/picture")
    assert (status, data[:4]) == (200, b"\x89PNG")
    _, empty = send(owner, "/sheets", {"title": "Empty"})
    assert fetch(owner, f"/draw/sheets/{empty['id']}/picture")[0] == 204


def test_pages_of_the_interface(visitor: Client, sheet: Sheet) -> None:
    for path in ("/", f"/sheets/{sheet.pk}", f"/sheets/{sheet.pk}/draw", "/about-api"):
        assert b'<div id="root">' in visitor.get(path).content
    assert visitor.get("/sheets/../etc/passwd").status_code == 404
    assert visitor.post("/").status_code == 405


def test_the_openapi_document_is_there(visitor: Client) -> None:
    told = visitor.get("/api/openapi.json").json()
    assert told["info"]["title"] == "Grey Latch"
    assert all(operation.get("summary") for methods in told["paths"].values() for operation in methods.values())


def test_relief_lies_where_it_should(demo: Path, named: dict[str, Dataset]) -> None:
    west, south, east, north = named["Relief"].current.bounds
    assert -27.6 < west < -27.3 and -26.7 < east < -26.4
    assert 51.7 < south < 51.9 and 52.1 < north < 52.3
