"""Reference systems, joins and coordinates."""

from pathlib import Path

import numpy as np
import pyarrow as pa
import pyogrio
import pyproj
import pytest
import shapely
from greylatch.classes.values import values_of
from greylatch.errors import BadInput
from greylatch.places.coordinates import CoordinateColumns, guess_coordinate_columns, located
from greylatch.places.crs import LONLAT, WEB_MERCATOR, parse_crs, reproject
from greylatch.places.frame import MERCATOR
from greylatch.places.join import Suggestion, joined, keys_of, match, suggested
from greylatch.places.measures import geodesic_areas
from greylatch.places.stated import crs_name, guess_crs
from greylatch.sheet.parts import NormaliseByArea, NormaliseByField
from greylatch.tables.dataset import Dataset
from greylatch.tables.fieldtypes import FieldType

ROOT = Path(__file__).parents[2]


def dms(degrees: float, minutes: float = 0, seconds: float = 0) -> float:
    return degrees + minutes / 60 + seconds / 3600


@pytest.mark.parametrize(
    ("lon", "lat", "crs", "x", "y"),
    [
        # IOGP Guidance Note 7-2: worked examples; values from memory of the source, in agreement with pyproj.
        (-dms(100, 20), dms(24, 22, 54.433), "EPSG:3857", -11169055.58, 2800000.00),  # method 1024
        (5, 50, "EPSG:3035", 3962799.45, 2999718.85),  # method 9820
        # Snyder, USGS Professional Paper 1395, Albers on the unit sphere.
        (
            -75,
            35,
            "+proj=aea +lat_1=29.5 +lat_2=45.5 +lat_0=23 +lon_0=-96 +R=1 +units=m +no_defs",
            0.2952720,
            0.2416774,
        ),
    ],
)
def test_worked_examples_of_projections(lon: float, lat: float, crs: str, x: float, y: float) -> None:
    target = parse_crs(crs)
    source = LONLAT if "R=1" not in crs else parse_crs("+proj=longlat +R=1 +no_defs")
    moved = reproject(shapely.points([[lon, lat]]), source, target)[0]
    assert (moved.x, moved.y) == pytest.approx((x, y), abs=0.02 if "EPSG" in crs else 1e-6)


def test_transverse_mercator_on_its_own_datum() -> None:
    """IOGP Guidance Note 7-2, method 9807: EPSG:27700 at 50°30'N 0°30'E, both on OSGB36."""
    crs = parse_crs("EPSG:27700")
    moved = reproject(shapely.points([[0.5, 50.5]]), crs.geodetic_crs, crs)[0]
    assert (moved.x, moved.y) == pytest.approx((577274.98, 69740.49), abs=0.02)


def test_areas_end_where_the_square_does() -> None:
    cap, beyond = MERCATOR.project(np.array([shapely.box(0, 80, 10, 90), shapely.Point(0, 90)], dtype=object), LONLAT)
    assert cap.bounds[3] == pytest.approx(20037508.342789244, rel=1e-9)
    assert beyond.is_empty


def test_crs_is_guessed_with_a_reason() -> None:
    degrees = guess_crs(np.array([-27.0]), np.array([52.0]))
    assert degrees.crs == "EPSG:4326"
    assert "±180" in degrees.reason
    eastward = guess_crs(np.array([166.1, 184.1]), np.array([-11.7, -26.0]))
    assert eastward.crs == "EPSG:4326" and "from 0 to 360" in eastward.reason, "as earthquakes off Fiji are listed"
    assert guess_crs(np.array([-12.0, 184.1]), np.array([-11.7, -26.0])).crs is None
    metres = guess_crs(np.array([478961.5]), np.array([5780241.7]))
    assert metres.crs is None
    assert "not degrees" in metres.reason
    assert crs_name(pyproj.CRS(32626)).startswith("EPSG:32626 · WGS 84 / UTM zone 26N")
    with pytest.raises(BadInput, match="'nowhere' is not a coordinate reference system"):
        parse_crs("nowhere")


def test_geodesic_area_against_pyproj() -> None:
    """Karney (2013) through pyproj.Geod: a degree square with a hole."""
    square = shapely.Polygon([(0, 0), (1, 0), (1, 1), (0, 1)], [[(0.4, 0.4), (0.6, 0.4), (0.6, 0.6), (0.4, 0.6)]])
    area, _ = pyproj.Geod(ellps="WGS84").geometry_area_perimeter(shapely.orient_polygons(square))
    assert geodesic_areas(np.array([square], dtype=object), LONLAT)[0] == pytest.approx(abs(area) / 1e6, rel=1e-9)


def test_true_area_not_that_of_the_projection() -> None:
    """At 60° N Web Mercator doubles lengths, so its areas are about four times too large."""
    box = np.array([shapely.box(10, 60, 10.1, 60.05)], dtype=object)
    mercator = MERCATOR.project(box, LONLAT)
    assert shapely.area(mercator[0]) / 1e6 / geodesic_areas(mercator, WEB_MERCATOR)[0] == pytest.approx(4, rel=0.02)


def test_normalising() -> None:
    columns = pa.table({"t": [10.0, 20.0, 5.0], "ha": [2.0, 0.0, None]})
    data = Dataset(columns, "areas", shapely.box([0, 0, 0], [0, 0, 0], [1, 1, 1], [1, 1, 1]), LONLAT)
    assert np.array_equal(values_of(data, "t", NormaliseByField(field="ha")), [5, np.nan, np.nan], equal_nan=True)
    assert values_of(data, "t", NormaliseByArea())[0] == pytest.approx(10 / 12308.778, rel=1e-4)
    with pytest.raises(BadInput, match="Only areas"):
        values_of(Dataset(columns, "table"), "t", NormaliseByArea())
    with pytest.raises(BadInput, match="no field 'x'"):
        values_of(data, "x")


def test_match_from_both_sides() -> None:
    found = match(["Ard", "Bay", "Cove", "Dun"], ["Ard", "Baye", "Dun", "Dun", "Eck"], suggest=True)
    assert found.pairs == {0: 0}
    assert found.rows_without_area == ["Baye", "Eck"]
    assert found.areas_without_row == ["Bay", "Cove"]
    assert found.duplicate_keys == ["Dun"]
    assert [one.area for one in found.suggestions["Baye"]] == ["Bay"]


def test_doubts_are_settled_one_by_one() -> None:
    found = match(["Ard", "Bay", "Dun"], ["Ard", "Baye", "Dun", "Dun", "Eck"], {"Baye": "Bay", "Eck": ""}, {"Dun": 3})
    assert found.pairs == {0: 0, 1: 1, 2: 3}
    assert (found.rows_without_area, found.duplicate_keys) == ([], [])


def test_only_chosen_fields_come_across() -> None:
    areas = Dataset(pa.table({"name": ["a", "b"]}), "areas", shapely.box([0, 1], [0, 0], [1, 2], [1, 1]), LONLAT)
    table = pa.table({"key": ["b"], "t": [4.5], "name": ["twin"], "left": [1]})
    out = joined(areas, table, match(["a", "b"], ["b"]), ["t", "name"])
    assert out.columns.to_pydict() == {"name": ["a", "b"], "t": [None, 4.5], "name_2": [None, "twin"]}
    with pytest.raises(BadInput, match="Not a single row"):
        joined(areas, table, match(["a"], ["z"]), ["t"])


def test_likely_spellings_come_first() -> None:
    found = suggested(["Skarawater (Upper)", "qqqq"], ["Lower Skarawater", "Upper Skarawater", "Tolm"])
    assert [(one.area, one.sure) for one in found["Skarawater (Upper)"]] == [
        ("Upper Skarawater", True),
        ("Lower Skarawater", False),
    ]
    assert found["qqqq"] == []


@pytest.mark.parametrize(
    ("key", "area"),
    [
        ("Nether Skarra", "Nether Skara"),
        ("NETHER-SKARA", "Nether Skara"),
        ("Ard Mór", "Ard Mor"),
        ("Viet Nam", "Vietnam"),
    ],
)
def test_what_can_mean_one_area_only_is_sure(key: str, area: str) -> None:
    best = suggested([key], [area, "Tolm", "Upper Bay"])[key][0]
    assert (best.area, best.sure) == (area, True)


@pytest.mark.parametrize(
    ("key", "areas"),
    [
        ("Niger", ["Nigeria"]), ("East Tolmsay Head", ["West Tolmsay Head"]), ("Upper Lang Ness", ["Lower Lang Ness"]),
        ("Catchment number 12", ["Catchment number 13"]), ("Skara", ["Nether Skara"]), ("Skarra", ["Skara", "Skarre"]),
    ],
)  # fmt: skip
def test_what_may_be_another_area_is_not_sure(key: str, areas: list[str]) -> None:
    assert not any(one.sure for one in suggested([key], areas)[key])


@pytest.mark.parametrize("layer", ["countries-110m", "countries-50m", "countries-10m"])
def test_no_country_is_surely_another(layer: str) -> None:
    """Natural Earth's names of countries as `world-atlas` (npm) carries them: each against all others."""
    path = ROOT / "web" / "node_modules" / "world-atlas" / f"{layer}.json"
    names = sorted(set(pyogrio.read_dataframe(path, layer="countries", read_geometry=False)["name"]))
    for name in names:
        sure = [one for one in suggested([name], [other for other in names if other != name])[name] if one.sure]
        assert sure == [], name


INCOME = [
    "Andorra", "Antigua and Barbuda", "Bosnia and Herzegovina", "Cape Verde", "Central African Republic", "Congo, Dem. Rep.", "Congo, Rep.",
    "Cote d'Ivoire", "Czech Republic", "Dominica", "Dominican Republic", "Equatorial Guinea", "Kyrgyz Republic", "Lao", "Macedonia, FYR",
    "Marshall Islands", "Micronesia, Fed. Sts.", "Sao Tome and Principe", "Slovak Republic", "Solomon Islands", "South Sudan",
    "St. Vincent and the Grenadines", "Swaziland", "United States", "West Bank and Gaza", "Niger", "Guinea", "Mali",
]  # fmt: skip
"""Names of lands as the table of incomes of `vega-datasets` (npm) writes them, those that `world-atlas` writes otherwise; the last three
stand for lands that were taken already."""


def test_countries_of_an_open_table_are_taken_surely_and_none_wrongly() -> None:
    """One press took 24 of them, of which four were wrong: Swaziland went to Åland."""
    path = ROOT / "web" / "node_modules" / "world-atlas" / "countries-50m.json"
    names = set(pyogrio.read_dataframe(path, layer="countries", read_geometry=False)["name"]) - {
        "Niger",
        "Guinea",
        "Mali",
    }
    taken = {
        key: found[0].area
        for key, found in suggested(INCOME, sorted(names - set(INCOME))).items()
        if found and found[0].sure
    }
    assert taken == {
        "Antigua and Barbuda": "Antigua and Barb.", "Bosnia and Herzegovina": "Bosnia and Herz.", "Central African Republic": "Central African Rep.",
        "Congo, Dem. Rep.": "Dem. Rep. Congo", "Congo, Rep.": "Congo", "Cote d'Ivoire": "Côte d'Ivoire", "Czech Republic": "Czechia",
        "Dominican Republic": "Dominican Rep.", "Equatorial Guinea": "Eq. Guinea", "Kyrgyz Republic": "Kyrgyzstan", "Lao": "Laos",
        "Macedonia, FYR": "Macedonia", "Marshall Islands": "Marshall Is.", "Micronesia, Fed. Sts.": "Micronesia",
        "Sao Tome and Principe": "São Tomé and Principe", "Slovak Republic": "Slovakia", "Solomon Islands": "Solomon Is.", "South Sudan": "S. Sudan",
        "St. Vincent and the Grenadines": "St. Vin. and Gren.", "United States": "United States of America",
    }  # fmt: skip


def test_two_spellings_of_one_area_are_left_to_the_hand() -> None:
    found = suggested(["Nether Skarra", "Nether Scara"], ["Nether Skara", "Tolm"])
    assert not any(one.sure for options in found.values() for one in options)


def test_codes_that_lost_their_leading_zeros_are_sure() -> None:
    # The counties of us-atlas (npm) have 01001 where the table of vega-datasets (npm) has 1001.
    found = suggested(["1001", "1005", "12"], ["01001", "01005", "15005", "0012", "012"])
    assert found["1001"] == [Suggestion("01001", 100.0, True)] and found["1005"] == [Suggestion("01005", 100.0, True)]
    assert [(one.area, one.sure) for one in found["12"]] == [("0012", False), ("012", False)]


def test_a_sure_spelling_stays_so_beside_others_far_from_it() -> None:
    found = suggested(["Aland", "Bouvet Island", "Aland I."], ["Åland"])
    assert found["Aland"][0].sure and not found["Bouvet Island"][0].sure
    assert not suggested(["Skarra", "Skara i"], ["Skara"])["Skarra"][0].sure


def test_keys_are_the_same_however_their_accents_are_written() -> None:
    composed, decomposed = "Ca\u00e9 Mor", "Cae\u0301 Mor"
    columns = pa.table({"k": [f" {decomposed} "]})
    assert keys_of(columns, "k") == [composed]
    assert match([composed], keys_of(columns, "k")).pairs == {0: 0}
    assert match([composed], ["X"], same={"X": decomposed}).pairs == {0: 0}


@pytest.mark.parametrize(
    ("names", "found"),
    [
        (["Latitude", "Longitud", "X", "Y"], ("Longitud", "Latitude")),  # of two pairs the one that needs no projection
        (["x_coord", "y_coord", "y", "yhat"], ("x_coord", "y_coord")), (["X_CENTROID", "Y_CENTROID"], ("X_CENTROID", "Y_CENTROID")),
        (["lat", "easting"], None), (["x", "y2"], None), (["LAT_N", "LON_E"], ("LON_E", "LAT_N")), (["start lat", "end lat", "end lon"], ("end lon", "end lat")),
    ],
)  # fmt: skip
def test_two_columns_of_one_kind_make_coordinates(names: list[str], found: tuple[str, str] | None) -> None:
    """The names of the first three are those of open tables of libpysal (PyPI): georgia, tokyo."""
    types: dict[str, FieldType] = dict.fromkeys(names, "number")
    assert guess_coordinate_columns(types) == (CoordinateColumns(*found) if found else None)


def test_coordinates_in_a_table() -> None:
    assert guess_coordinate_columns({"id": "integer", "easting": "number", "northing": "number"}) == CoordinateColumns(
        "easting", "northing"
    )
    assert guess_coordinate_columns({"id": "integer", "lon": "text", "lat": "number"}) is None
    columns = pa.table({"lon": [1.0, None], "lat": [2.0, 3.0]})
    points = located(columns, CoordinateColumns("lon", "lat"), LONLAT)
    assert points.shapes is not None
    assert [p.is_empty for p in points.shapes] == [False, True]
    whole = located(columns[:1], CoordinateColumns("lon", "lat"), LONLAT)
    assert whole.places is not None and whole.places.tolist() == [[1, 2]], "no shape is made that nobody wants"
    with pytest.raises(BadInput, match=r"Row 1 lies at \(500, 2\)"):
        located(pa.table({"lon": [500.0], "lat": [2.0]}), CoordinateColumns("lon", "lat"), LONLAT)
