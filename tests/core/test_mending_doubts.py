"""Doubts that are mended at a press: what was doubtful is gone afterwards, and nothing else is changed."""

from dataclasses import replace
from datetime import datetime
from typing import Any

import numpy as np
import pyarrow as pa
import pyproj
import pytest
import shapely
from greylatch.doubts.doubt import Doubt
from greylatch.doubts.finding import doubts_about
from greylatch.places.crs import LONLAT
from greylatch.places.draft import Draft
from greylatch.tables.dataset import Dataset
from greylatch.tables.record import kept_fields
from greylatch.tables.written_numbers import UNIT_FACTORS, measured_in, written_number

NOW = datetime(2026, 11, 1)


def mended(data: Dataset, doubt: Doubt) -> Dataset:
    """The dataset after the press, as the table keeps it."""
    assert doubt.mending is not None
    fields = kept_fields(data.columns, meanings=data.meanings)
    rows: dict[int, Any] = dict(zip(data.fids.tolist(), data.columns.to_pylist(), strict=True))
    draft = Draft(
        data.kind, data.crs, fields, len(data), len(data), None, dict(rows),
        lambda: data.columns.column_names, lambda: (data.fids, data.columns),
    )  # fmt: skip
    draft.take(doubt.mending.edits(data, doubt.rows))
    rows |= draft.changed
    left = {fid: row for fid, row in rows.items() if row is not None}
    columns = pa.table(
        {
            field.name: pa.array(
                [datetime.fromisoformat(v) if isinstance(v := row.get(field.key), str) and field.type == "date" else v for row in left.values()],
                pa.type_for_alias(field.arrow),
            )
            for field in draft.fields
        }
    )  # fmt: skip
    shapes = None
    if data.shapes is not None:
        held = dict(zip(data.fids.tolist(), data.shapes, strict=True)) | draft.shapes
        shapes = np.array([held[fid] for fid in left], dtype=object)
    meanings = {field.name: field.meaning for field in draft.fields}
    return Dataset(columns, data.kind, shapes, data.crs, np.array(list(left)), meanings)


def table(**columns: Any) -> Dataset:
    return Dataset(pa.table(columns), "table")


MANY = 40
CASES = {
    "numbers as text": ("numbers as text", table(depth=["1 200,5", "7", "8,5", "9", "many"] * 8, n=range(MANY)), "depth", [1200.5, 7, 8.5, 9, None]),
    "units": ("units", table(width=["2 m", "3 m", "4 m", "50 cm", "6 m"] * 8, n=range(MANY)), "width", [2, 3, 4, 0.5, 6]),
    "date": (
        "date",
        table(day=["2025-05-01", "2025-05-02", "2025-05-03", "2025-05-04", "spring"] * 8),
        "day",
        [datetime(2025, 5, 1), datetime(2025, 5, 2), datetime(2025, 5, 3), datetime(2025, 5, 4), None],
    ),
    "percentage": ("percentage", table(share_percent=[12.0, 40.0, *[50.0 + i / 100 for i in range(37)], 140.0]), "share_percent", [12, 40]),
    "near twins": ("near twins", table(isle=["Orrin"] * 20 + ["Orin"] + ["Ulvery"] * 19), "isle", ["Orrin"] * 5),
    "thousands": ("numbers as text", table(jobs=["2,263", "7", "1,081,234", "9", "many"] * 8, n=range(MANY)), "jobs", [2263, 7, 1081234, 9, None]),
    "kinds": ("codes", table(status=[1, 0, 3, 4] * 10), "status", ["1", "0", "3", "4"]),
    "codes": ("codes", table(zone_code=[1, 2, 3, 4] * 10), "zone_code", ["1", "2", "3", "4"]),
}  # fmt: skip


@pytest.mark.parametrize("case", CASES)
def test_what_was_doubtful_is_gone(case: str) -> None:
    kind, data, field, begins = CASES[case]
    (doubt,) = [each for each in doubts_about(data, NOW) if each.kind == kind]
    after = mended(data, doubt)
    assert after.columns[field].to_pylist()[: len(begins)] == begins
    assert {each.kind for each in doubts_about(after, NOW)} <= {"blank"}, "nor does the mended field raise another"
    assert after.columns.column_names == data.columns.column_names, "in its place, under its name"


@pytest.mark.parametrize(("values", "mark"), [([3.0, 4.0, -999.0] * 8, -999.0), (["a", "b", "n/a"] * 8, "n/a")])
def test_placeholders_stay_in_their_cells_and_count_as_missing(values: list[Any], mark: Any) -> None:
    data = table(depth=values)
    (doubt,) = [each for each in doubts_about(data, NOW) if each.kind == "placeholder"]
    after = mended(data, doubt)
    assert after.columns.equals(data.columns) and mark in after.meanings["depth"].missing
    assert "placeholder" not in {each.kind for each in doubts_about(after, NOW)}


def test_the_second_of_two_rows_is_taken_out() -> None:
    data = table(name=["a", "b", "a", *map(str, range(30))], v=[1, 2, 1, *range(30)])
    (doubt,) = [each for each in doubts_about(data, NOW) if each.kind == "twins" and not each.field]
    assert mended(data, doubt).fids.tolist() == [0, 1, *range(3, 33)]


def test_swapped_points_come_to_the_others_and_those_at_zero_lie_nowhere() -> None:
    lon, lat = np.linspace(-27, -26, 60), np.linspace(51, 52, 60)
    points = shapely.points(np.column_stack([lon, lat]))
    points[7], points[9] = shapely.Point(lat[7], lon[7]), shapely.Point(0, 0)
    data = Dataset(pa.table({"well": [f"w{i}" for i in range(60)]}), "points", points, LONLAT)
    zero, swapped = [each for each in doubts_about(data, NOW) if each.kind == "place"]
    after = mended(mended(data, zero), swapped)
    assert after.shapes is not None and after.shapes[9].is_empty
    assert shapely.get_coordinates(after.shapes[7])[0] == pytest.approx([lon[7], lat[7]])
    assert "place" not in {each.kind for each in doubts_about(after, NOW)}


LON, LAT = np.linspace(178, 181, 60), np.linspace(51, 52, 60)
"""Either side of the 180th meridian, counted from 0 to 360."""


def wells(crs: pyproj.CRS = LONLAT) -> Dataset:
    lon = (LON + 180) % 360 - 180 if crs.is_geographic else LON
    return Dataset(pa.table({"longitude": LON, "latitude": LAT}), "points", shapely.points(lon, LAT), crs)


@pytest.mark.parametrize("code", [4326, 3857, 25831])
def test_a_point_is_put_where_its_corrected_coordinates_say(code: int) -> None:
    data = wells(pyproj.CRS(code))
    assert [each for each in doubts_about(data, NOW) if each.kind == "coordinates"] == []
    lat = LAT.copy()
    lat[50] = 51.25
    data = replace(data, columns=data.columns.set_column(1, "latitude", pa.array(lat)))
    (doubt,) = [each for each in doubts_about(data, NOW) if each.kind == "coordinates"]
    assert (doubt.rows, doubt.text) == ((50,), "1 row that lies elsewhere than 'longitude' and 'latitude' say.")
    after = mended(data, doubt)
    assert after.shapes is not None
    assert shapely.get_coordinates(after.shapes[50])[0][1] == pytest.approx(51.25)
    assert shapely.equals(after.shapes, data.shapes).sum() == 59
    assert [each for each in doubts_about(after, NOW) if each.kind == "coordinates"] == []


def test_exchanged_points_are_not_put_back() -> None:
    """Their fields go on to say what the file said."""
    lon, lat = LON - 180, LAT.copy()
    points = shapely.points(lon, lat)
    lon[4], lat[4] = lat[4], lon[4]
    data = Dataset(pa.table({"longitude": lon, "latitude": lat}), "points", points, LONLAT)
    assert "coordinates" not in {each.kind for each in doubts_about(data, NOW)}


def test_fields_that_say_something_else_than_places_are_let_be() -> None:
    """As where a file was projected, or its points were placed by something else."""
    moved = Dataset(wells().columns, "points", shapely.points(LON - 180, LAT + 1), LONLAT)
    assert "coordinates" not in {each.kind for each in doubts_about(moved, NOW)}


def test_an_id_is_of_the_rows_not_of_the_state() -> None:
    data = table(name=["a", None, "c"] * 9, v=range(27))
    (doubt,) = [each for each in doubts_about(data, NOW) if each.kind == "blank"]
    (again,) = [
        each for each in doubts_about(table(name=data.columns["name"], v=range(1, 28)), NOW) if each.kind == "blank"
    ]
    (other,) = [each for each in doubts_about(table(name=["a", None, "c", "d"] * 9), NOW) if each.kind == "blank"]
    assert doubt.id == again.id != other.id and doubt.mending is None


@pytest.mark.parametrize(
    ("text", "number"),
    [("1,234.5", 1234.5), ("1.234,5", 1234.5), ("1'234", 1234), ("-7,5", -7.5), ("12 %", 12), ("1 000 000", 1e6), ("1,5", 1.5), ("x", None), ("1,23,4", None)],
)  # fmt: skip
def test_numbers_as_people_write_them(text: str, number: float | None) -> None:
    assert written_number(text) == number


@pytest.mark.parametrize(("text", "unit", "value"), [("1 ft", "cm", 30.48), ("1mi", "km", 1.609344), ("2 ha", "m²", 20_000), ("1 lb", "g", 453.59237), ("1 m³", "l", 1000), ("5 ‰", "%", 0.5)])  # fmt: skip
def test_units_by_their_definitions(text: str, unit: str, value: float) -> None:
    """The international yard and pound of 1959, and the SI brochure (BIPM, 9th edition, tables 8 and 15)."""
    assert measured_in(text, unit) == pytest.approx(value, rel=1e-12)
    assert unit in UNIT_FACTORS and measured_in(text, "kg" if unit != "g" else "m") is None
