"""Conditions and expressions, against DuckDB (registry package, the referee for SQL's three-valued logic), the examples of the standard
and PROJ."""

from __future__ import annotations

import datetime
from dataclasses import replace
from typing import Any

import duckdb
import numpy as np
import pyarrow as pa
import pyproj
import pytest
import shapely
from greylatch.errors import BadExpression
from greylatch.places.crs import LONLAT
from greylatch.rules.evaluating import computed, kind_of, taken
from greylatch.rules.language import parsed
from greylatch.tables.dataset import Dataset
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

N = 3_000


@pytest.fixture(scope="module")
def made_up() -> Dataset:
    """Wells with values of every kind, a tenth of them missing."""
    rng = np.random.default_rng(11)

    def holed(values: list[Any], kind: pa.DataType) -> pa.Array:
        return pa.array([None if gap else value for value, gap in zip(values, rng.random(N) < 0.1, strict=True)], kind)

    names = ["Ard", "Ardnish", "Bréac", "Łomna", "St. Odhrán", "x%y", "a_b", "", "O'Mhór"]
    days = [datetime.datetime(2026, 1, 1) + datetime.timedelta(hours=int(h)) for h in rng.integers(0, 8_760, N)]
    columns = {
        "n": holed(rng.integers(-5, 6, N).tolist(), pa.int64()),
        "v": holed(rng.normal(2, 3, N).round(3).tolist(), pa.float64()),
        "w": holed(rng.integers(0, 4, N).astype(float).tolist(), pa.float64()),
        "name": holed([names[i] for i in rng.integers(0, len(names), N)], pa.string()),
        "other name": holed([names[i] for i in rng.integers(0, len(names), N)], pa.string()),
        "ok": holed((rng.random(N) < 0.5).tolist(), pa.bool_()),
        "day": holed(days, pa.timestamp("us")),
    }
    return Dataset(pa.table(columns), "table")


@pytest.mark.parametrize(
    "condition",
    [
        "n > 2", "n <= -1", "n <> 3", "v = 1.5 OR n = 0", "n >= 2 AND v < 0", "NOT n = 2", "NOT (n > 1 AND v > 1)",
        "NOT (n > 1 OR v > 1)", "n > 1 OR v > 1 AND w = 0", "(n > 1 OR v > 1) AND w = 0", "n IS NULL", "v IS NOT NULL",
        "NOT (n IS NULL)", "n BETWEEN -2 AND 3", "n NOT BETWEEN -2 AND 3", "v BETWEEN n AND w", "n IN (1, 2, 3)",
        "n NOT IN (1, 2, 3)", "n IN (1, NULL)", "n NOT IN (1, NULL)", "name IN ('Ard', 'x%y')", "name LIKE 'Ard%'",
        "name LIKE '%r%'", "name LIKE '_rd'", "name NOT LIKE '%n_sh'", "name = ''", "name = 'O''Mhór'", "name < 'M'",
        '"other name" = name', '"other name" <> name', "ok", "NOT ok", "ok = TRUE", "ok OR n > 3", "ok AND n IS NULL",
        "v + n > 3", "v - n * 2 < 1", "(v - n) * 2 < 1", "v * n > w", "v / 2 > 1", "-n > 2", "- v < n", "n % 2 = 1", "n % 3 = -1",
        "abs(n) = 3", "round(v) = 2", "round(v, 1) = 1.5", "floor(v) = 1", "ceil(v) = 2", "sqrt(w) > 1.2", "exp(w) > 7",
        "least(n, w) = 1", "greatest(n, w) = 3", "coalesce(n, 0) = 0", "upper(name) = 'ARD'", "lower(name) = 'bréac'",
        "length(name) = 5", "trim(name) = ''", "substr(name, 2, 2) = 'rd'", "year(day) = 2026", "month(day) = 7", "day(day) > 28",
        "n = NULL", "n > 1 OR NULL IS NULL", "1 = 1", "1 > 2",
    ],
)  # fmt: skip
def test_conditions_take_the_rows_that_duckdb_takes(made_up: Dataset, condition: str) -> None:
    rows = made_up.columns.append_column("row", pa.array(range(N)))
    connection = duckdb.connect()
    connection.register("rows", rows)
    expected = [row for (row,) in connection.execute(f"SELECT row FROM rows WHERE {condition} ORDER BY row").fetchall()]
    assert np.flatnonzero(taken(made_up, condition)).tolist() == expected


@pytest.mark.parametrize(
    ("expression", "sql"),
    [
        ("v / w", "CASE WHEN w = 0 THEN NULL ELSE v / w END"), ("n ^ 2", "n ** 2"), ("n div 2", "trunc(n / 2)"),
        ("ln(w + 1)", "ln(w + 1)"), ("log10(w + 1)", "log10(w + 1)"), ("concat(name, '-', name)", "name || '-' || name"),
        ("upper(name)", "upper(name)"), ("v * 2 - n / 4", "v * 2 - n / 4.0"), ("ln(n)", "CASE WHEN n > 0 THEN ln(n) END"),
    ],
)  # fmt: skip
def test_expressions_give_what_duckdb_gives(made_up: Dataset, expression: str, sql: str) -> None:
    connection = duckdb.connect()
    connection.register("rows", made_up.columns)
    where = " AND name IS NOT NULL" if "name" in sql else ""
    expected = [value for (value,) in connection.execute(f"SELECT {sql} FROM rows WHERE TRUE{where}").fetchall()]
    found = computed(made_up, expression)
    if where:
        found = found.filter(made_up.columns["name"].is_valid().combine_chunks())
    assert found.to_pylist() == [pytest.approx(v) if isinstance(v, float) else v for v in expected]


def test_the_standards_own_examples_are_taken() -> None:
    """From memory of OGC 21-065r2 (CQL2), clauses 6 to 8 and annex B: the texts, with data made for them."""
    rows = pa.table(
        {
            "eo:cloud_cover": [0.1, 0.5], "landsat:scene_id": ["LC82030282019133LGN00", "x"], "name": ["Smithers", "smith"],
            "depth": [120.0, 99.0], "cityName": ["Tokyo", "Ard"], "category": [5, 1], "road_class": ["οδος", "strasse"],
            "etat_vol": ["debarquer", "x"], "vehicle_height": [4.0, 9.0], "bridge_clearance": [5.0, 5.0],
            "updated": pa.array([datetime.datetime(2012, 8, 10), datetime.datetime(2019, 1, 1)], pa.timestamp("us")),
        }
    )  # fmt: skip
    places = shapely.points([[43.5, -79.5], [0.0, 0.0]])
    data = Dataset(rows, "points", places, LONLAT)
    examples = {
        "eo:cloud_cover = 0.1": [0],
        "landsat:scene_id = 'LC82030282019133LGN00'": [0],
        "name LIKE 'Smith%'": [0],
        "casei(name) LIKE casei('smith%')": [0, 1],
        "depth BETWEEN 100.0 AND 150.0": [0],
        "cityName IN ('Toronto', 'Frankfurt', 'Tokyo', 'New York')": [0],
        "category NOT IN (1, 2, 3, 4)": [0],
        "CASEI(road_class) IN (CASEI('Οδος'), CASEI('Straße'))": [0],
        "ACCENTI(etat_vol) = ACCENTI('débárquér')": [0],
        "vehicle_height > (bridge_clearance - 1)": [1],
        "updated >= TIMESTAMP('2012-08-10T05:30:00Z')": [1],
        "T_INTERSECTS(updated, INTERVAL('2017-06-10T07:30:00Z', '2026-06-11T10:30:00Z'))": [1],
        "T_BEFORE(updated, DATE('2012-08-11'))": [0],
        "S_INTERSECTS(geometry, POLYGON((43.4 -79.6, 43.6 -79.6, 43.6 -79.4, 43.4 -79.4, 43.4 -79.6)))": [0],
        "S_INTERSECTS(geometry, BBOX(-118, 33.8, -117.9, 34))": [],
        "eo:cloud_cover BETWEEN 0.1 AND 0.2 AND NOT (category = 1)": [0],
    }
    for text, expected in examples.items():
        assert np.flatnonzero(taken(data, text)).tolist() == expected, text


@pytest.mark.parametrize(
    ("text", "line", "column", "problem", "expected"),
    [
        ("", 1, 1, "nothing here", "a condition"),
        ("n >", 1, 4, "missing at the end", "a number"),
        ("n == 2", 1, 4, "'=' can't stand here", "a field"),
        ("n > 2 AND\n  v >> 3", 2, 6, "'>' can't stand here", "a number"),
        ("n > AND 3", 1, 5, "'AND' can't stand here", "a field, a number, a text in 'single quotes' or ("),
        ("OR n > 3", 1, 1, "'OR' can't stand here", "NOT"),
        ("(n > 2", 1, 7, "missing at the end", "AND, OR, +, −, *, / or )"),
        ("(n > 2)) AND v > 1", 1, 8, "')' can't stand here", "AND, OR or the end"),
        ("n BETWEEN 3", 1, 12, "missing at the end", "AND, +, −, * or /"),
        ("name IN ('a', 'b'", 1, 18, "missing at the end", "a comma or )"),
        ("n IS 3", 1, 6, "'3' can't stand here", "NULL or NOT NULL"),
        ("S_INTERSECTS(geometry, POINT(1 2)) n = 1", 1, 36, "'n' can't stand here", "AND, OR or the end"),
        ("n > 2 AND nmae = 'x'", 1, 11, "no field 'nmae'. Is 'name' meant?", "one of n, v"),
        ("name > 3", 1, 8, "'3' is a number, and 'name' is a text", "a text"),
        ("v = 'x'", 1, 5, "'x' is a text, and 'v' is a number", "a number"),
        ("n IN (1, 'a')", 1, 10, "'a' is a text, and 'n' is a number", "a number"),
        ("day = '2026-01-01'", 1, 7, "Dates are written DATE('2026-03-31')", "a date"),
        ("day > DATE('2026-13-01')", 1, 12, "is no date", "2026-03-31"),
        ("lenght(name) = 3", 1, 1, "no function 'lenght'. Is 'length' meant?", ""),
        ("n = 1 OR length(name, 2) = 1", 1, 10, "takes 1, and here are 2", "length(text)"),
        ("upper(n) = 'X'", 1, 7, "'n' is a number, and 'upper' takes a text", "a text"),
        ("name + 1 > 2", 1, 1, "number(name) reads one from it", "a number"),
        ("n + 1", 1, 1, "comes to a number", "a condition"),
        ("geometry IS NULL", 1, 1, "no field 'geometry'", "one of"),
        ("name = 'Ard", 1, 8, "does not end", "'"),
        ("S_INTERSECTS(n, POINT(0 0))", 1, 14, "'n' is a number", "a shape"),
        ("n > 1 AND S_WITHIN(POINT(0 0), POLYGON((0 0, 1 1, 0 1, 1 0, 0 0)))", 1, 32, "crosses itself", ""),
    ],
)
def test_a_mistake_says_where_it_is_and_what_was_expected(
    made_up: Dataset, text: str, line: int, column: int, problem: str, expected: str
) -> None:
    with pytest.raises(BadExpression) as raised:
        taken(made_up, text)
    error = raised.value
    assert (error.line, error.column) == (line, column), str(error)
    assert problem in error.problem and expected in error.expected
    assert str(error).startswith(f"Line {line}, column {column}: ")


@pytest.mark.parametrize(
    "text",
    ["(" * 5_000 + "n" + ")" * 5_000, "-" * 9_000 + "n", "- " * 4_000 + "n", "NOT " * 2_000 + "ok", "+".join(["n"] * 4_000),
     "abs(" * 2_000 + "n" + ")" * 2_000, "n" * 20_000, "n = 1 AND " * 2_000 + "n = 1"],
)  # fmt: skip
def test_what_would_end_the_parser_is_refused(made_up: Dataset, text: str) -> None:
    with pytest.raises(BadExpression, match="within one another|longer than"):
        taken(made_up, text)


TOKENS = st.sampled_from(
    ["n", "v", "name", "ok", "day", "geometry", "other", '"other name"', "area_km2", "'x'", "''", "1", "-2.5", "1e400", "NULL", "TRUE",
     "AND", "OR", "NOT", "IN", "LIKE", "BETWEEN", "IS", "(", ")", ",", "+", "-", "*", "/", "^", "%", "div", "=", "<>", "<", ">=",
     "DATE('2026-02-30')", "DATE('2026-02-28')", "TIMESTAMP('x')", "INTERVAL('..', '..')", "INTERVAL(day, '2026-01-01')",
     "POINT(1 2)", "POINT EMPTY", "POLYGON((0 0, 1 1, 0 1, 0 0))", "LINESTRING(0 0)", "BBOX(1,2,3,4)", "BBOX(1,2)", "S_WITHIN(",
     "S_DWITHIN(", "T_AFTER(", "round(", "substr(", "coalesce(", "concat(", "casei(", "upper(", "A_CONTAINS(", "year(", "é", "\n", ";"]
)  # fmt: skip


@settings(max_examples=1_500, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(st.one_of(st.lists(TOKENS, max_size=9).map(" ".join), st.text(max_size=30)))
def test_any_text_is_a_condition_or_has_a_mistake_with_a_place(text: str) -> None:
    data = Dataset(SMALL.columns, "points", shapely.points([[0, 0], [1, 1]]), LONLAT)
    data = replace(data, others={"other": data})
    for work in (taken, computed, kind_of):
        try:
            work(data, text)
        except BadExpression as error:
            assert 1 <= error.line <= text.count("\n") + 1 and error.column >= 1 and error.problem


SMALL = Dataset(
    pa.table(
        {"n": [1, None], "v": [0.0, -1.5], "name": ["x", None], "other name": ["é", ""], "ok": [True, None],
         "day": pa.array([datetime.datetime(2026, 1, 1), None], pa.timestamp("ms"))}
    ),
    "table",
)  # fmt: skip


def test_many_conditions_beside_one_another_are_no_depth(made_up: Dataset) -> None:
    assert taken(made_up, " OR ".join(f"n = {i}" for i in range(300))).sum() == taken(made_up, "n >= 0").sum()


def test_a_field_goes_before_a_measure_and_shapes_are_measured_in_the_true_size() -> None:
    squares = np.array([shapely.box(0, 50, 1, 51), shapely.box(0, 0, 1, 1)], dtype=object)
    areas = Dataset(pa.table({"n": [1, 2]}), "areas", squares, LONLAT)
    sizes = computed(areas, "area_km2").to_pylist()
    geod = pyproj.Geod(ellps="WGS84")
    assert sizes == [pytest.approx(abs(geod.geometry_area_perimeter(square)[0]) / 1e6) for square in squares]
    assert taken(areas, "area_km2 > 10000").tolist() == [False, True]
    named = Dataset(pa.table({"area_km2": [7, 8]}), "areas", squares, LONLAT)
    assert computed(named, "area_km2").to_pylist() == [7, 8]
    line = Dataset(pa.table({"n": [1]}), "lines", shapely.linestrings([[[0, 0], [0, 1]]]), LONLAT)
    assert computed(line, "length_km").to_pylist() == [pytest.approx(110.574, abs=0.001)]


@pytest.mark.parametrize(
    ("unit", "metres"),
    [
        ("m", 1),
        ("km", 1000),
        ("mi", 1609.344),
        ("ft", 0.3048),
        ("Meters", 1),
        ("kilometers", 1000),
        ("statute miles", 1609.344),
        ("nautical miles", 1852),
    ],
)
def test_distance_is_on_the_ground_in_any_system_and_over_the_180th_meridian(unit: str, metres: float) -> None:
    geod = pyproj.Geod(ellps="WGS84")
    rng = np.random.default_rng(5)
    lon, lat = rng.uniform(-180, 180, 500), rng.uniform(-85, 85, 500)
    lon[:50] = rng.uniform(179, 181, 50) % 360
    lon = (lon + 180) % 360 - 180
    data = Dataset(pa.table({"n": range(500)}), "points", shapely.points(np.column_stack([lon, lat])), LONLAT)
    for x, y, reach in ((-179.9, 10.0, 900_000), (27.3, 80.0, 1_500_000), (0.0, 0.0, 3_000_000)):
        there = geod.inv(lon, lat, np.full(500, x), np.full(500, y))[2] <= reach
        condition = f"s_dwithin(geometry, POINT({x} {y}), {reach / metres}, '{unit}')"
        assert taken(data, condition).tolist() == there.tolist()
        assert 0 < there.sum() < 500


def test_rows_without_a_shape_are_neither_in_nor_out() -> None:
    shapes = np.array([shapely.Point(0, 0), shapely.GeometryCollection(), shapely.Point(9, 9)], dtype=object)
    data = Dataset(pa.table({"n": [1, 2, 3]}), "points", shapes, LONLAT)
    inside = "S_INTERSECTS(geometry, BBOX(-1, -1, 1, 1))"
    assert taken(data, inside).tolist() == [True, False, False]
    assert taken(data, f"NOT {inside}").tolist() == [False, False, True]
    assert taken(data, "geometry IS NULL").tolist() == [False, True, False]
    assert taken(data, "S_DISJOINT(geometry, BBOX(-1, -1, 1, 1))").tolist() == [False, False, True]


def test_shapes_of_another_dataset_hold_for_any_of_them() -> None:
    places = Dataset(pa.table({"n": range(4)}), "points", shapely.points([[0, 0], [5, 5], [9, 9], [20, 20]]), LONLAT)
    fields = Dataset(
        pa.table({"f": [1, 2]}), "areas", np.array([shapely.box(-1, -1, 1, 1), shapely.box(4, 4, 6, 6)]), LONLAT
    )
    assert taken(replace(places, others={"other": fields}), "S_WITHIN(geometry, other)").tolist() == [
        True,
        True,
        False,
        False,
    ]
    assert taken(replace(fields, others={"other": places}), "S_CONTAINS(geometry, other)").all()
    assert taken(replace(places, others={"other": fields}), "s_dwithin(geometry, other, 500, 'km')").tolist() == [
        True,
        True,
        True,
        False,
    ]
    assert taken(places, "S_WITHIN(geometry, BBOX(170, -90, -170, 90))").tolist() == [False] * 4


ALLEN = {
    "T_AFTER": [(8, 9)], "T_BEFORE": [(1, 2)], "T_CONTAINS": [(3, 8)], "T_DURING": [(5, 6)], "T_EQUALS": [(4, 7)],
    "T_FINISHEDBY": [(3, 7)], "T_FINISHES": [(5, 7)], "T_MEETS": [(2, 4)], "T_METBY": [(7, 9)], "T_OVERLAPPEDBY": [(5, 8)],
    "T_OVERLAPS": [(3, 5)], "T_STARTEDBY": [(4, 8)], "T_STARTS": [(4, 6)],
}  # fmt: skip
"""Each of Allen's thirteen relations (1983, from memory) with the one interval here that stands in it to days 4 to 7."""


@pytest.mark.parametrize("name", ALLEN)
def test_each_of_allens_relations_takes_its_interval_alone(name: str) -> None:
    spans = [span for listed in ALLEN.values() for span in listed]
    columns = {
        end: pa.array([datetime.datetime(2026, 1, span[k]) for span in spans], pa.timestamp("us"))
        for k, end in enumerate(("first", "last"))
    }
    data = Dataset(pa.table(columns), "table")
    mask = taken(data, f"{name}(INTERVAL(first, last), INTERVAL('2026-01-04T00:00:00Z', '2026-01-07T00:00:00Z'))")
    assert [span for span, there in zip(spans, mask, strict=True) if there] == ALLEN[name]
    apart = taken(data, "T_DISJOINT(INTERVAL(first, last), INTERVAL('2026-01-04', '2026-01-06'))")
    assert (apart == ~taken(data, "T_INTERSECTS(INTERVAL(first, last), INTERVAL('2026-01-04', '2026-01-06'))")).all()


def test_kinds_are_told_without_a_row_and_dates_end_with_their_day(made_up: Dataset) -> None:
    assert [kind_of(made_up, text) for text in ("v / 2", "upper(name)", "n > 1", "day", "coalesce(name, 'x')")] == [
        "number", "text", "truth", "time", "text",
    ]  # fmt: skip
    noon = Dataset(pa.table({"day": pa.array([datetime.datetime(2026, 1, 31, 12)], pa.timestamp("ms"))}), "table")
    assert taken(noon, "T_INTERSECTS(day, INTERVAL('2026-01-01', '2026-01-31'))").all()
    assert parsed('"odd name" > 1 AND area_km2 < n').fields == {"odd name", "area_km2", "n"}


@pytest.mark.parametrize(
    "text",
    ["INTERVAL('..', '..') IN (INTERVAL('..', '..'))", "geometry IN (POINT(1 2))", "POINT(1 2) IN (POINT(1 2), NULL)"],
)
def test_only_scalars_are_looked_for_in_lists(text: str) -> None:
    """OGC 21-065r2, 7.3. Found by texts put together at random: an interval in a list was a traceback."""
    with pytest.raises(BadExpression, match="not looked for in a list"):
        taken(Dataset(SMALL.columns, "points", shapely.points([[0, 0], [1, 1]]), LONLAT), text)
