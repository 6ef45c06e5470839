"""What readers can ask of an edition: the columns that it carries, and what its page is told."""

import base64
import gzip
import io
import json
import math
import struct
from pathlib import Path
from typing import Any

import numpy as np
import pyarrow as pa
import pyproj
import pytest
from greylatch.cli.draw import beside
from greylatch.cli.main import main
from greylatch.edition.asked import MISSING, NO_ENTRY, PLACES, ground_places, packed_columns
from greylatch.edition.description import EditionPage
from greylatch.edition.page import page_html
from greylatch.edition.plan import plan_edition
from greylatch.edition.publish import publish
from greylatch.places.frame import Frame
from greylatch.sheet.document import Projection, Sheet
from greylatch.sheet.parts import Icon
from greylatch.sheet.reader import ChoiceFilter, Near, RangeFilter, Reader, Search, Time
from greylatch.sheet.reading import read_sheet
from greylatch.tables.dataset import Dataset
from PIL import Image
from pydantic import ValidationError

Read = tuple[dict[str, Any], dict[str, np.ndarray]]


def read_columns(data: bytes) -> Read:
    """The columns as the description of their format says, by nothing else than that."""
    length = struct.unpack("<I", data[:4])[0]
    header = json.loads(data[4 : 4 + length])
    at, arrays = 4 + length, {}
    kinds = {"number": "<f8", "date": "<f8", "words": "<u4"}
    wanted = [("fid", "<u4"), *((name, "<f8") for name in ("x", "y", "lon", "lat")), ("entry", "<u2")]
    for name, kind in [*wanted, *((field["name"], kinds[field["kind"]]) for field in header["fields"])]:
        assert at % 8 == 0
        arrays[name] = np.frombuffer(data, kind, header["n"], at)
        at += -(-arrays[name].nbytes // 8) * 8
    assert at == len(data)
    return header, arrays


def packed(columns: dict[str, pa.Array], fields: list[str], **more: Any) -> Read:
    table = pa.table(columns)
    places = np.arange(2.0 * len(table)).reshape(-1, 2)
    data = Dataset(table, "points", fids=np.arange(5, 5 + len(table)))
    return read_columns(packed_columns(data, fields, places, places + 0.5, None, [], **more))


def test_every_type_of_field_comes_back() -> None:
    day = pa.array([1_700_000_000_000, None, 0], pa.timestamp("ms"))
    columns = {
        "n": pa.array([1, None, 3]), "f": pa.array([0.5, math.nan, None]), "d": day, "on": pa.array([True, False, None]),
        "t": pa.array(["bog", "fen", "bog"]), "day": pa.array([1, 2, None], pa.date32()),
    }  # fmt: skip
    header, arrays = packed(columns, list(columns))
    assert [field["kind"] for field in header["fields"]] == ["number", "number", "date", "words", "words", "date"]
    assert np.array_equal(arrays["n"], [1, np.nan, 3], equal_nan=True)
    assert np.array_equal(arrays["f"], [0.5, np.nan, np.nan], equal_nan=True)
    assert np.array_equal(arrays["d"], [1_700_000_000, np.nan, 0], equal_nan=True)
    assert np.array_equal(arrays["day"], [86_400, 172_800, np.nan], equal_nan=True)
    assert arrays["t"].tolist() == [0, 1, 0] and header["fields"][4]["values"] == ["bog", "fen"]
    assert arrays["on"].tolist()[2] == MISSING
    assert arrays["fid"].tolist() == [5, 6, 7] and arrays["lat"].tolist() == [1.5, 3.5, 5.5]
    assert set(arrays["entry"].tolist()) == {NO_ENTRY}


def test_texts_are_dates_where_time_asks_for_them() -> None:
    columns = {"when": pa.array(["2024-02-29", "soon", None])}
    header, arrays = packed(columns, ["when"], dates={"when"})
    assert header["fields"][0]["kind"] == "date"
    assert np.array_equal(arrays["when"], [1_709_164_800, np.nan, np.nan], equal_nan=True)


READER = Reader(
    filters=[
        RangeFilter(layer="wells", field="water_table_cm"), ChoiceFilter(layer="wells", field="condition"),
        RangeFilter(layer="wells", field="gone"), ChoiceFilter(layer="relief", field="any"), RangeFilter(layer="nowhere", field="x"),
    ],
    search=[Search(layer="carbon", field="name"), Search(layer="carbon", field="no such")],
    time=Time(layer="wells", field="no date"), near=Near(layers=["wells", "gone"]), text="Made of **peat**.<script>alert(1)</script>",
    language="de", words={"close": "Zu", "key": "Legende"},
)  # fmt: skip


def published(demo: Path, out: Path, **changes: Any) -> tuple[Sheet, dict[str, Any]]:
    sheet = read_sheet(demo / "carbon.sheet.json").model_copy(update={"reader": READER, **changes})
    publish(plan_edition(sheet, beside(demo), max_zoom=8), out, 1)
    return sheet, json.loads((out / "edition.json").read_text())


def test_an_edition_carries_what_its_readers_can_ask(demo: Path, tmp_path: Path) -> None:
    _, told = published(demo, tmp_path / "map")
    reader = told["reader"]
    assert [(each["layer"], each["field"]) for each in reader["filters"]] == [
        ("wells", "water_table_cm"), ("wells", "condition"),
    ]  # fmt: skip
    assert [each["field"] for each in reader["search"]] == ["name"] and reader["time"] is None
    assert reader["near"]["layers"] == ["wells"] and reader["places"] is None, "Web Mercator knows its degrees"
    layers = {layer["id"]: layer for layer in told["layers"]}
    assert layers["relief"]["columns"] is None and layers["isles"]["columns"] is None
    header, arrays = read_columns(gzip.decompress((tmp_path / "map" / layers["wells"]["columns"]).read_bytes()))
    assert [field["name"] for field in header["fields"]] == ["well", "water_table_cm", "condition"]
    assert header["named"] == "well"
    frame = Frame.named("EPSG:3857")
    x, y = frame.place(float(arrays["lon"][7]), float(arrays["lat"][7]))
    # To two centimetres, and a rounding of the other.
    assert (x, y) == pytest.approx((float(arrays["x"][7]), float(arrays["y"][7])), rel=0, abs=0.03)
    classes = [each for key in told["key"] if key["layer"] == "wells" for each in key["sections"][0]["entries"]]
    assert {each["id"] for each in classes} <= set(header["entries"])
    assert arrays["entry"].max() < len(header["entries"]) and header["n"] == len(arrays["fid"])


def test_what_readers_choose_from_is_drawn_at_all_levels(demo: Path, tmp_path: Path) -> None:
    """100,000 points in a tile are too heavy to be sent to who only looks, and are there for who chooses."""
    rng = np.random.default_rng(3)
    rows = (f"{x:.5f},{y:.5f},{k}\n" for k, (x, y) in enumerate(rng.uniform((-27, 51.9), (-26.9, 52), (60_000, 2))))
    (tmp_path / "many.csv").write_text("lon,lat,n\n" + "".join(rows))
    layer = {"id": "a", "name": "Many", "dataset": "many.csv", "symbology": {"kind": "symbols"}}
    for reader, asked in (({}, False), ({"filters": [{"kind": "range", "layer": "a", "field": "n"}]}, True)):
        (tmp_path / "a.sheet.json").write_text(json.dumps({"title": "Many", "layers": [layer], "reader": reader}))
        plan = plan_edition(read_sheet(tmp_path / "a.sheet.json"), beside(tmp_path), max_zoom=9)
        publish(plan, tmp_path / f"map-{asked}", 1)
        told = json.loads((tmp_path / f"map-{asked}" / "edition.json").read_text())["layers"][0]
        assert told["pictures"]["max_zoom"] == 9
        assert (told["shapes"] is not None) == (told["columns"] is not None) == asked
        if asked:
            assert told["shapes"]["min_zoom"] < told["drawn_from"]


def test_the_page_says_its_text_without_script_and_in_its_language(demo: Path, tmp_path: Path) -> None:
    published(demo, tmp_path / "map")
    page = (tmp_path / "map" / "index.html").read_text()
    assert (
        '<html lang="de" dir="ltr" ' in page
        and "<summary>Legende</summary>" in page
        and "<strong>peat</strong>" in page
    )
    assert "<script>alert" not in page
    assert 'data-entry="' in page and '<section data-layer="carbon">' in page
    told = json.loads((tmp_path / "map" / "edition.json").read_text())
    # Editions of before readers could ask anything are still read.
    del told["reader"]
    for layer in told["layers"]:
        del layer["columns"], layer["drawn_from"]
    assert '<html lang="en" ' in page_html(EditionPage.model_validate(told))


def test_maps_in_other_projections_bring_their_degrees(demo: Path, tmp_path: Path) -> None:
    """Against PROJ by pyproj: between the places of the table degrees are right to less than a twentieth of a px of the last level."""
    sheet, told = published(demo, tmp_path / "map", projection=Projection(crs="EPSG:3035"))
    places = told["reader"]["places"]
    assert len(places) == PLACES * PLACES
    west, south, east, north = told["reader"]["places_box"]
    assert west < told["box"][0] and north > told["box"][3]
    table = np.array(places).reshape(PLACES, PLACES, 2)
    back = pyproj.Transformer.from_crs("EPSG:3035", "EPSG:4326", always_xy=True)
    for u, v in ((0.31, 0.77), (0.5, 0.5), (0.99, 0.02)):
        i, j = int(u * (PLACES - 1)), int(v * (PLACES - 1))
        s, t = u * (PLACES - 1) - i, v * (PLACES - 1) - j
        mixed = (1 - t) * ((1 - s) * table[j, i] + s * table[j, i + 1])
        mixed += t * ((1 - s) * table[j + 1, i] + s * table[j + 1, i + 1])
        true = back.transform(west + u * (east - west), north - v * (north - south))
        _, _, metres = pyproj.Geod(ellps="WGS84").inv(*mixed, *true)
        assert metres < Frame.named("EPSG:3035").grid.resolution(8) / 20
    whole = Frame.named("EPSG:8857")
    assert [None, None] in ground_places(whole, (-2e7, -1e7, 2e7, 1e7))
    assert sheet.reader == READER


@pytest.mark.parametrize(
    "part",
    [
        {"filters": [{"kind": "slider", "layer": "a", "field": "b"}]},
        {"time": {"layer": "a", "field": "b", "length": 0}},
        {"near": {"distance": -1}},
        {"language": "English please"},
        {"controls": {"teleport": True}},
        {"filters": [{"kind": "range", "layer": "a", "field": "b"}] * 13},
    ],
)
def test_what_readers_cannot_be_offered(part: dict[str, Any]) -> None:
    with pytest.raises(ValidationError):
        Reader.model_validate(part)


def test_which_fields_are_asked() -> None:
    assert READER.fields_of("wells") == ["water_table_cm", "condition", "gone", "no date"]
    assert READER.asks("wells") and READER.asks("carbon") and not READER.asks("isles")
    assert Reader(near=Near()).asks("anything") and Reader(key_switches=True).asks("anything")


def test_a_page_whose_words_are_written_from_the_right_is_set_so(demo: Path, tmp_path: Path) -> None:
    words = {"key": "مفتاح الخريطة", "within": "{n} ضمن {distance} {unit}", "km": "km"}
    published(demo, tmp_path / "map", reader=Reader(language="ar", words=words))
    page = (tmp_path / "map" / "index.html").read_text()
    assert '<html lang="ar" dir="rtl" ' in page and "<summary>مفتاح الخريطة</summary>" in page


@pytest.mark.parametrize(
    ("asked", "left"),
    [
        ({"time": Time(layer="wells", field="water_table_cm")}, "no dates"),
        ({"time": Time(layer="wells", field="condition")}, "no dates"),
        ({"filters": [RangeFilter(layer="wells", field="condition")]}, "no numbers or dates"),
    ],
)
def test_what_a_field_cannot_answer_is_left_out_and_said(
    demo: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str], asked: dict[str, Any], left: str
) -> None:
    """Milliseconds since 1970, as a feed of earthquakes has them, were taken for a time by which nothing could be played."""
    sheet = read_sheet(demo / "carbon.sheet.json").model_copy(update={"reader": Reader(**asked)})
    for file in demo.iterdir():
        (tmp_path / file.name).symlink_to(file)
    (tmp_path / "odd.sheet.json").write_text(sheet.model_dump_json())
    assert main(["publish", str(tmp_path / "odd.sheet.json"), "--out", str(tmp_path / "map"), "--max-zoom", "7"]) == 0
    reader = json.loads((tmp_path / "map" / "edition.json").read_text())["reader"]
    assert reader["time"] is None and reader["filters"] == []
    said = capsys.readouterr().err
    assert "is left out: " in said and f"of 'Water table below ground' holds {left}." in said


def test_a_logo_and_a_dark_page_are_in_the_document(demo: Path, tmp_path: Path) -> None:
    """The logo is drawn anew from what the sheet holds: of a picture that is none, and of script within one, nothing is left."""
    drawing = (
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 2 2"><script>alert(1)</script><path d="M0 0h2v2z"/></svg>'
    )
    sheet = read_sheet(demo / "carbon.sheet.json")
    reader = sheet.reader.model_copy(update={"look": "dark", "logo": Icon(content=drawing, name='Survey "of" peat')})
    told = publish(
        plan_edition(sheet.model_copy(update={"reader": reader}), beside(demo), max_zoom=8), tmp_path / "map", 1
    )
    html = page_html(EditionPage.model_validate(told))
    assert '<html lang="en" dir="ltr" data-look="dark">' in html
    assert 'alt="Survey &quot;of&quot; peat"' in html and "alert" not in html
    data = base64.b64decode(html.split('class="logo" src="data:image/png;base64,')[1].split('"')[0])
    assert Image.open(io.BytesIO(data)).format == "PNG"
    before = page_html(EditionPage.model_validate({**told, "reader": None}))
    assert 'data-look="light"' in before and "<img class=" not in before.split("<main")[0]
