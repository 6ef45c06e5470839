"""Doubts: each kind is planted by itself in a clean table and is found there, and nowhere else."""

import json
from collections.abc import Callable
from datetime import datetime
from pathlib import Path
from typing import Any

import numpy as np
import pyarrow as pa
import pytest
import shapely
from greylatch.cli.main import main
from greylatch.doubts.finding import doubts_about
from greylatch.formats.files import read_file
from greylatch.places.crs import LONLAT
from greylatch.tables.dataset import Dataset

from tests.open_data import open_data

NOW = datetime(2026, 6, 1)
N = 240


def clean() -> dict[str, list[Any]]:
    """Sheep on made-up farms."""
    rng = np.random.default_rng(9)
    fields = [int(value) for value in rng.integers(40, 400, N)]
    return {
        "farm": [f"Farm {i:03}" for i in range(N)],
        "soil": [("peat", "loam", "sand")[i % 3] for i in range(N)],
        "fields": fields,
        "grazed_percent": [round(100 * int(rng.integers(1, n)) / n, 2) for n in fields],
        "height_m": [round(float(value), 1) for value in rng.normal(240, 60, N)],
        "seen": [datetime(2025, 1 + i % 12, 1 + i % 27) for i in range(N)],
        "remark": [f"visited by {('Isla', 'Orrin')[i % 2]} and found well" for i in range(N)],
    }


def farms(
    change: Callable[[dict[str, list[Any]]], None] | None = None, move: Callable[[np.ndarray], None] | None = None
) -> Dataset:
    columns = clean()
    if change:
        change(columns)
    rng = np.random.default_rng(4)
    xy = np.column_stack([rng.uniform(-27.4, -26.6, N), rng.uniform(51.8, 52.2, N)])
    if move:
        move(xy)
    return Dataset(pa.table(columns), "points", shapely.points(xy), LONLAT)


def set_cells(field: str, cells: dict[int, Any], text: bool = False) -> Callable[[dict[str, list[Any]]], None]:
    def change(columns: dict[str, list[Any]]) -> None:
        values = [str(value) for value in columns[field]] if text else columns[field]
        columns[field] = [cells.get(i, value) for i, value in enumerate(values)]

    return change


def add(field: str, values: list[Any]) -> Callable[[dict[str, list[Any]]], None]:
    return lambda columns: columns.update({field: values})


def test_a_clean_table_raises_none() -> None:
    assert doubts_about(farms(), NOW) == []
    columns = {
        name: [str(value) for value in values] for name, values in clean().items() if name in ("farm", "soil", "remark")
    }
    assert doubts_about(Dataset(pa.table(columns), "table"), NOW) == []


PLANTED = [
    ("numbers as text", "fields", set_cells("fields", {3: "many", 7: "12 or 13"}, text=True), (3, 7)),
    ("numbers as text", "height_m", set_cells("height_m", {5: "250.0"}, text=True), tuple(range(N))),
    ("units", "height_m", lambda c: c.update(height_m=[f"{value} {'ft' if i in (2, 9) else 'm'}" for i, value in enumerate(c["height_m"])]), (2, 9)),
    ("placeholder", "height_m", set_cells("height_m", dict.fromkeys((1, 2), -9999.0)), (1, 2)),
    ("placeholder", "remark", set_cells("remark", {4: "n/a", 8: "?"}), (4, 8)),
    ("blank", "soil", set_cells("soil", {6: None, 11: " "}), (6, 11)),
    ("date", "seen", set_cells("seen", {2: datetime(2062, 1, 1)}), (2,)),
    ("date", "seen", lambda c: c.update(seen=[f"{value:%Y-%m-%d}" if i != 5 else "last spring" for i, value in enumerate(c["seen"])]), (5,)),
    ("percentage", "grazed_percent", set_cells("grazed_percent", {7: 104.5, 9: -2.0}), (7, 9)),
    ("outlier", "height_m", set_cells("height_m", {13: 240_000.0}), (13,)),
    ("twins", "farm", lambda c: c.update(farm_id=[*range(100, 100 + N - 1), 104]), (N - 1,)),
    ("near twins", "soil", set_cells("soil", {0: "peaat", 1: "Loam", 2: "sand "}), (0, 1, 2)),
    ("no credit", "photo", add("photo", [f"https://pictures.example.org/{i}.jpg" for i in range(N)]), tuple(range(N))),
    ("codes", "land_class", add("land_class", [(1, 2, 3, 9)[i % 4] for i in range(N)]), ()),
]  # fmt: skip


@pytest.mark.parametrize(
    ("kind", "field", "change", "rows"), PLANTED, ids=[f"{kind}-{field}" for kind, field, *_ in PLANTED]
)
def test_what_is_planted_is_found_and_nothing_else(
    kind: str, field: str, change: Callable[[dict[str, list[Any]]], None], rows: tuple[int, ...]
) -> None:
    found = doubts_about(farms(change), NOW)
    assert [(doubt.kind, doubt.rows) for doubt in found] == [(kind, rows)], found
    assert found[0].text.endswith(".")
    assert found[0].field == ("farm_id" if kind == "twins" else field)


def test_pictures_by_address_want_somebody_to_be_named_for_each() -> None:
    def pictured(columns: dict[str, list[Any]]) -> None:
        columns["photo"] = [f"https://pictures.example.org/{i}.jpg" if i % 3 else "" for i in range(N)]
        columns["photo_by"] = ["Isla Orr" if i > 2 else None for i in range(N)]

    dataset = farms(pictured)
    assert dataset.meaning("photo").kind == "picture"
    (doubt,) = [doubt for doubt in doubts_about(dataset, NOW) if doubt.kind == "no credit"]
    assert (doubt.rows, doubt.text) == ((1, 2), "2 rows with a picture in 'photo' and nothing in 'photo_by'.")
    (unnamed,) = doubts_about(farms(add("photo", ["https://pictures.example.org/weir.png"] * N)), NOW)
    assert unnamed.mending
    (edit,) = unnamed.mending.edits(dataset, unnamed.rows)
    assert edit.model_dump() == {"do": "add-field", "name": "photo_credit", "type": "text"}


def test_rates_of_a_handful_are_told_by_what_they_are_rates_of() -> None:
    def small(columns: dict[str, list[Any]]) -> None:
        for row, (n, cases) in {3: (4, 3), 8: (7, 2)}.items():
            columns["fields"][row], columns["grazed_percent"][row] = n, round(100 * cases / n, 2)

    (doubt,) = doubts_about(farms(small), NOW)
    assert (doubt.kind, doubt.field, doubt.rows) == ("few cases", "grazed_percent", (3, 8)) and "'fields'" in doubt.text


def test_rows_that_stand_twice_are_told_and_keep_their_fids() -> None:
    one = farms()
    assert one.shapes is not None
    double = Dataset(
        pa.concat_tables([one.columns, one.columns.slice(5, 1)]),
        "points",
        np.append(one.shapes, one.shapes[5]),
        LONLAT,
        np.arange(N + 1) * 2,
    )
    (doubt,) = doubts_about(double, NOW)
    assert (doubt.kind, doubt.field, doubt.rows) == ("twins", "", (2 * N,))


def test_places_that_cannot_be_meant() -> None:
    def move(xy: np.ndarray) -> None:
        xy[4] = 0, 0
        xy[9] = xy[9][::-1]
        xy[20] = 90, -40

    found = doubts_about(farms(move=move), NOW)
    assert [(doubt.kind, doubt.rows) for doubt in found] == [("place", (4,)), ("place", (9,)), ("place", (20,))]
    assert "swapped" in found[1].text and "far outside" in found[2].text
    assert [each.mending.words for each in found if each.mending] == [
        "They lie nowhere", "Exchange their coordinates", "They lie nowhere",
    ]  # fmt: skip


def test_places_without_shapes_raise_the_same_doubts() -> None:
    def move(xy: np.ndarray) -> None:
        xy[4], xy[9], xy[11] = (0, 0), xy[9][::-1], np.nan

    shaped = farms(move=move)
    assert shaped.shapes is not None
    places = Dataset(shaped.columns, "points", shapely.get_coordinates(shaped.shapes), LONLAT)
    assert places.places is not None and doubts_about(places, NOW) == doubts_about(shaped, NOW) != []


def test_codes_that_are_numbers_are_no_numbers_as_text() -> None:
    codes = {
        "zip": [f"{i:05}" for i in range(N)],
        "state_code": [str(10 + i % 3) for i in range(N)],
        "plot": [str(1000 + i) for i in range(N)],
    }
    assert doubts_about(Dataset(pa.table(codes), "table"), NOW) == []
    lands = {"land": [("NA", "ZA", "BW", "AO")[i % 4] for i in range(N)]}
    assert doubts_about(Dataset(pa.table(lands), "table"), NOW) == [], "Namibia"


@pytest.mark.parametrize(
    ("name", "kinds"),
    [
        ("sids2", set()),
        ("mexico", set()),
        ("columbus", set()),
        ("us_income", set()),
        ("georgia", {"outlier"}),
        ("stl", {"outlier"}),
    ],
)
def test_open_data_raise_few(name: str, kinds: set[str], tmp_path: Path) -> None:
    """libpysal's examples (PyPI): clean by what is known of them, but for a sliver among Georgia's counties and one county of Missouri with twelve
    times the usual rate."""
    content, file = open_data(name, tmp_path)
    (tmp_path / file).write_bytes(content)
    assert {doubt.kind for doubt in doubts_about(read_file(tmp_path / file, placed=False).dataset, NOW)} == kinds


def test_the_command_line_tells_them(demo: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["doubts", str(demo / "returns.csv"), "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert {"kind", "field", "rows", "text"} == set(told[0])
    assert [(doubt["kind"], doubt["field"]) for doubt in told if doubt["kind"] != "blank"] == [
        ("percentage", "drained_percent")
    ]
    assert main(["doubts", str(demo / "huts.csv")]) == 0
    assert capsys.readouterr().out == "No doubts.\n"
