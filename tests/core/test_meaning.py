"""What fields are taken to mean, on the names and values of real tables."""

from __future__ import annotations

from datetime import date
from typing import Any

import numpy as np
import pyarrow as pa
import pytest
import shapely
from greylatch.errors import BadInput
from greylatch.paint.key import layer_key
from greylatch.paint.lettered import to_letter
from greylatch.paint.passes import VectorPass, pass_of
from greylatch.paint.sources import VectorSource
from greylatch.places.crs import LONLAT
from greylatch.proof.findings import findings
from greylatch.sheet.document import Sheet
from greylatch.sheet.layers import Layer
from greylatch.sheet.lettering import LabelLine, Lettering
from greylatch.sheet.parts import Classing, NormaliseByArea
from greylatch.tables.dataset import Dataset
from greylatch.tables.meaning import Meaning, guess_meaning, unit_in, without_marks
from greylatch.tables.record import kept_fields

from tests.looks import coloured


@pytest.mark.parametrize(
    ("name", "values", "kind", "unit"),
    [
        ("population", [1200, 88], "count", ""), ("pop_m", [1200, 88], "count", ""), ("carbon_t", [1200.5, 88], "count", "t"),
        ("peat_ha", [120.5, 88], "count", "ha"), ("area (km2)", [120.5, 88], "count", "km²"),
        ("income per head", [31_000, 12_000], "rate", ""), ("median_income", [31_000, 12_000], "measure", ""),
        ("unemployment_rate", [3.4, 8.8], "rate", ""), ("drained_percent", [12, 88], "rate", "%"), ("share %", [1, 2], "rate", "%"),
        ("water_table_cm", [12, 88], "measure", "cm"), ("anomaly", [-1.5, 2], "measure", ""), ("ph", [5.5, 6.1], "measure", ""),
        ("fips", [1001, 1003], "identifier", ""), ("year", [2020, 2021], "identifier", ""), ("month", [6, 7], "identifier", ""), ("Hour", [0, 18], "identifier", ""), ("days", [6, 7], "count", ""), ("lat", [51.0, 52], "measure", ""),
        ("PCGDP1940", [22361, 20977], "rate", ""), ("PctRural", [75.6, 100], "rate", ""), ("TotPop90", [15744, 6213], "count", ""),
        ("X", [941396, 895553], "measure", ""), ("PERIMETER", [2040312.4, 2880386.5], "measure", ""), ("FIPSNO", [17107, 17165], "identifier", ""),
        ("COLUMBUS_", [2, 4, 3, 5, 6, 7, 8, 9], "identifier", ""), ("AreaKey", [13001, 13003], "identifier", ""), ("BIR74", [1091, 487], "count", ""),
        ("Number of Employees for All Sectors", [630171, 813], "count", ""), ("emp/sq km", [329.92, 0.42], "rate", ""),
        ("sq. km", [1910.1, 1913.1], "count", "km²"), ("House number", [4, 12], "identifier", ""), ("no_of_wells", [4, 12], "count", ""),
        ("name", ["Ard", "Bay"], "name", ""), ("iso_code", ["NO", "SE"], "identifier", ""), ("well", ["W1", "W2"], "identifier", ""),
        # Of counties without a line of names (bokeh-sampledata, PyPI).
        ("column_3", ["001", "003", "001", "007"], "identifier", ""), ("column_4", ["Autauga County, AL", "Butler County, AL"], "name", ""),
        ("column_1", [*(f"CN0{10000 + i}" for i in range(19)), "CN010001"], "identifier", ""),
        ("soil", ["peat", "peat", "gley", "peat"], "category", ""), ("kept", [True, False], "category", ""),
        ("seen", [date(2026, 5, 31)], "date", ""), ("empty", [None, None], "name", ""),
    ],
)  # fmt: skip
def test_what_fields_probably_mean(name: str, values: list[Any], kind: str, unit: str) -> None:
    # Those written in capitals are of tables that libpysal (PyPI) ships: columbus, georgia, mexico, stl, sids2, calemp.
    found = guess_meaning(name, pa.chunked_array([pa.array(values, pa.string() if values[0] is None else None)]))
    assert (found.kind, found.unit) == (kind, unit)
    assert found.reason.endswith("."), "it says why"


def test_marks_for_missing_are_seen_and_taken_out() -> None:
    column = pa.chunked_array([[12.5, -9999, 3.0, None]])
    found = guess_meaning("depth_cm", column)
    assert found.missing == (-9999.0,)
    assert without_marks(column, found.missing).to_pylist() == [12.5, None, 3.0, None]
    assert kept_fields(pa.table({"depth_cm": column}))[0].missing == 2
    assert guess_meaning("below_zero", pa.chunked_array([[-9999, -3.0]])).missing == (), (
        "where others are negative it may be a value"
    )
    assert without_marks(pa.chunked_array([["n/k", "peat"]]), ("n/k", 3.0)).to_pylist() == [None, "peat"]


def test_units_come_from_names_only_as_whole_words() -> None:
    assert [unit_in(name) for name in ("t", "at", "flat", "depth cm", "depth.cm", "km", "pop_t")] == [
        "",
        "",
        "",
        "cm",
        "cm",
        "",
        "t",
    ]


def areas(**meanings: Meaning) -> Dataset:
    table = pa.table({"v": [1234.567, 20.25, 3.5], "name": ["A", "B", "C"]})
    return Dataset(table, "areas", shapely.box([0, 1, 2], 0, [1, 2, 3], 1), LONLAT, meanings=meanings)


def layer(normalise: Any = None) -> Layer:
    classing = Classing(field="v", classes=2, normalise=normalise)
    return Layer(
        id="a",
        name="Areas",
        dataset="d",
        symbology=coloured(classing=classing),
        lettering=Lettering(lines=[LabelLine(text="{v}")]),
    )


@pytest.mark.parametrize(("kind", "said"), [("count", True), ("rate", False), ("measure", False)])
def test_findings_go_by_what_a_field_means(kind: Any, said: bool) -> None:
    source = VectorSource(areas(v=Meaning(kind)))
    found = findings(Sheet(title="t", layers=[layer()]), lambda name, frame: source, {})
    assert any(one.id.startswith("count-as-colour") for one in found) is said


def test_keys_labels_and_cards_use_unit_and_decimals() -> None:
    data = areas(v=Meaning("count", "t", 1))
    source = VectorSource(data)
    one = pass_of(layer(), lambda name, frame: source)
    assert isinstance(one, VectorPass) and layer_key(one).unit == "t"
    assert layer_key(pass_of(layer(NormaliseByArea()), lambda name, frame: source)).unit == "t per km²"
    assert list(to_letter(one.source, one.ink, Lettering(lines=[LabelLine(text="{v}")])).texts) == [
        "1234.6",
        "20.2",
        "3.5",
    ]
    assert list(to_letter(one.source, one.ink, Lettering(lines=[LabelLine(text="{v:.0f}")])).texts) == [
        "1235",
        "20",
        "4",
    ], "chosen for labels comes first"
    assert data.shown(0) == {"v": 1234.6, "name": "A"}
    assert data.record(0)["v"] == 1234.567


def test_features_keep_their_numbers_in_what_leaves() -> None:
    data = Dataset(
        pa.table({"v": [1.0, 2, 3]}), "points", shapely.points([[0, 0], [1, 1], [2, 2]]), LONLAT, np.array([4, 7, 9])
    )
    assert (data.row_of(7), data.record(9)) == (2 - 1, {"v": 3.0})
    with pytest.raises(BadInput, match="There is no feature 5"):
        data.row_of(5)


def test_of_very_long_columns_some_rows_tell() -> None:
    """But for categories, which are counted in all of them."""
    n = 200_000
    codes = guess_meaning("plot", pa.chunked_array([[f"P{i}" for i in range(n)]]))
    assert (codes.kind, codes.reason) == (
        "identifier",
        "Each of 65,536 rows from all over has another one, with digits in it.",
    )
    kinds = ["peat", "loam", *["sand"] * (n - 2)]
    assert guess_meaning("soil", pa.chunked_array([kinds])).reason == "3 different texts in 200000 rows."
    begun = ["peat"] * 1_500 + [f"soil of field {i}" for i in range(n)]
    assert guess_meaning("soil", pa.chunked_array([begun])).kind == "name", "however it begins"
    assert guess_meaning("remark", pa.chunked_array([[f"seen {i % 90}" for i in range(n)]])).kind == "name"
    assert guess_meaning("plot", pa.chunked_array([[f"P{i % 60_000}" for i in range(n)]])).kind == "name"
