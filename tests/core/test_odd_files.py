"""Shapefiles, GeoJSON, zips and tables as people really have them: read as what they are, or refused in words."""

import json
import tempfile
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import geopandas
import numpy as np
import pyogrio
import pyproj
import pytest
import shapely
from greylatch.errors import BadInput
from greylatch.formats.files import read_file
from greylatch.formats.result import ReadResult
from greylatch.formats.written_geojson import feature_collection
from greylatch.paint.sources import VectorSource
from greylatch.places.antimeridian import cut_at_antimeridian
from greylatch.places.crs import lonlat_box, parse_crs
from greylatch.tables.delimited import Dialect, is_encoding, read_delimited

ATLAS = Path(__file__).parents[2] / "web" / "node_modules"
GEOD = pyproj.Geod(ellps="WGS84")


def shapefile(
    path: Path, frame: geopandas.GeoDataFrame, spoil: Callable[[Path], None] = lambda _: None, **how: Any
) -> Path:
    folder = path.parent / "parts"
    folder.mkdir()
    frame.to_file(folder / "a.shp", driver="ESRI Shapefile", **how)
    spoil(folder)
    with zipfile.ZipFile(path, "w") as archive:
        for file in sorted(folder.iterdir()):
            archive.write(file, file.name)
    return path


def named_points(n: int = 3) -> geopandas.GeoDataFrame:
    return geopandas.GeoDataFrame(
        {"name": ["Höhe", "Tälchen", "Saône"][:n], "v": range(n)}, geometry=[shapely.Point(-27 + i / 10, 52) for i in range(n)], crs="EPSG:4326"
    )  # fmt: skip


def test_a_shapefile_that_does_not_say_its_encoding(tmp_path: Path) -> None:
    def spoil(folder: Path) -> None:
        (folder / "a.cpg").unlink()
        table = bytearray((folder / "a.dbf").read_bytes())
        table[29] = 0  # the language driver, which some programs leave empty
        (folder / "a.dbf").write_bytes(table)

    found = read_file(shapefile(tmp_path / "a.zip", named_points(), spoil, encoding="cp1252"))
    assert found.dataset.columns["name"].to_pylist() == ["Höhe", "Tälchen", "Saône"]
    json.dumps(found.dataset.columns.to_pylist()).encode()


def test_a_shapefile_whose_encoding_is_a_lie(tmp_path: Path) -> None:
    path = shapefile(tmp_path / "a.zip", named_points(), lambda f: (f / "a.cpg").write_text("UTF-8"), encoding="cp1252")
    try:
        names = read_file(path).dataset.columns["name"].to_pylist()
        assert all(isinstance(name, str) and name.encode() for name in names)
    except BadInput as error:
        assert "is not" in str(error)


@pytest.mark.parametrize(
    "text", ["GEOGCS[", "nonsense", "", "\0\0\0", 'PROJCS["x",EXTENSION["PROJ4","+proj=merc +nadgrids=/etc/passwd"]]']
)
def test_a_broken_prj_is_said_and_guessed(tmp_path: Path, text: str) -> None:
    found = read_file(shapefile(tmp_path / "a.zip", named_points(), lambda f: (f / "a.prj").write_text(text)))
    assert found.dataset.crs is not None and found.dataset.crs.to_epsg() == 4326
    assert "cannot be read" in found.crs_reason
    assert "Guessed" in found.crs_reason


def test_fields_without_a_name_get_one(tmp_path: Path) -> None:
    def spoil(folder: Path) -> None:
        table = bytearray((folder / "a.dbf").read_bytes())
        table[32:43] = b"\0" * 11
        (folder / "a.dbf").write_bytes(table)

    columns = read_file(shapefile(tmp_path / "a.zip", named_points(), spoil)).dataset.columns
    assert all(columns.column_names)


def test_county_areas_are_repaired_into_areas() -> None:
    """us-atlas (npm): the Census Bureau's counties, of which 40 have rings that cross themselves once they are quantised."""
    frame = pyogrio.read_dataframe(ATLAS / "us-atlas" / "counties-10m.json", layer="counties")
    broken = frame[~shapely.is_valid(frame.geometry.values)]
    assert len(broken) >= 20
    document = {
        "type": "FeatureCollection",
        "features": [
            {"type": "Feature", "properties": {"n": i}, "geometry": shapely.geometry.mapping(g)}
            for i, g in enumerate(broken.geometry.values)
        ],
    }
    found = _geojson(document)
    assert found.dataset.kind == "areas"
    assert set(np.unique(shapely.get_type_id(found.dataset.shapes))) <= {3, 6}
    assert shapely.is_valid(found.dataset.shapes).all()
    assert VectorSource(found.dataset).anchors.shape == (len(broken), 2)


def _geojson(document: Any) -> ReadResult:
    with tempfile.NamedTemporaryFile(suffix=".geojson") as file:
        file.write((document if isinstance(document, str) else json.dumps(document)).encode("utf-8", "surrogatepass"))
        file.flush()
        return read_file(file.name)


PLACE = {"type": "Point", "coordinates": [-27, 52]}


def feature(properties: Any, geometry: Any = PLACE, **more: Any) -> dict[str, Any]:
    return {"type": "Feature", "properties": properties, "geometry": geometry, **more}


def collection(*features: Any, **more: Any) -> dict[str, Any]:
    return {"type": "FeatureCollection", "features": list(features), **more}


def test_identifiers_beside_the_properties_are_kept() -> None:
    columns = _geojson(collection(feature({"v": 1}, id="36061"), feature({"v": 2}, id="06001"))).dataset.columns
    assert columns.to_pydict() == {"id": ["36061", "06001"], "v": [1, 2]}
    assert _geojson(collection(feature({"id": 5}, id="x"))).dataset.columns.to_pydict() == {"id": [5]}


@pytest.mark.parametrize(
    ("value", "kept"),
    [
        (10**30, 1e30),
        (10**400, str(10**400)),
        (2**63 - 1, 2**63 - 1),
        ("a\ud800", "a�"),
        ("nul\0", "nul�"),
        ([1, {"a": 2}], '[1, {"a": 2}]'),
        (True, True),
    ],
)
def test_odd_values(value: Any, kept: Any) -> None:
    found = _geojson(json.dumps(collection(feature({"v": value}))))
    assert found.dataset.columns["v"].to_pylist() == [kept]
    json.dumps(feature_collection(found.dataset), allow_nan=False).encode()


def test_numbers_that_are_none_are_missing() -> None:
    text = json.dumps(collection(feature({"v": 1.5}), feature({"v": float("nan")}), feature({"v": float("inf")})))
    assert _geojson(text).dataset.columns["v"].to_pylist() == [1.5, None, None]


@pytest.mark.parametrize(
    ("document", "words"),
    [
        (collection(feature({"a": 1}, None)), "no shape"), (collection(feature({}, {"type": "Polygon", "coordinates": []})), "no shape"),
        (collection(feature([1, 2])), "properties of feature 1"), (collection(feature("text")), "properties of feature 1"), (collection(5), "Entry 1"),
        (collection(feature({}, {"type": "Point", "coordinates": ["a", 1]})), "shape of feature 1"), (collection(feature({}, [1])), "shape of feature 1"),
        (collection(feature({}, {"type": "Point", "coordinates": [500000, 5760000]})), "not longitude and latitude"),
        ({"type": "Topology"}, "TopoJSON"), ([feature({}, None)], "a list"), ({"a": 1}, "not GeoJSON"), ({"type": {}}, "not GeoJSON"), (collection(feature({str(i): i for i in range(5000)})), "more than 4,096"),
        ("[" * 100_000, "nested too deeply|not a kind|misspelt"), ('{"type": "FeatureCollection", "features": [' + "9" * 5000, "thousands of digits|misspelt"),
    ],
)  # fmt: skip
def test_geojson_that_cannot_be_kept_is_refused_in_words(document: Any, words: str) -> None:
    with pytest.raises(BadInput, match=words):
        _geojson(document)


@pytest.mark.parametrize(
    "named", ["EPSG:4326", 5, [], {"properties": None}, {"properties": {"name": 5}}, {"type": "link"}]
)
def test_an_odd_crs_is_taken_as_longitude_and_latitude(named: Any) -> None:
    found = _geojson(collection(feature({"v": 1}), crs=named))
    assert found.dataset.crs is not None and found.dataset.crs.to_epsg() in (4326, None)
    assert any("projection cannot be read" in note for note in found.notes)


def test_shapes_of_another_kind_are_left_out_and_said() -> None:
    square = {"type": "Polygon", "coordinates": [[[0, 0], [1, 0], [1, 1], [0, 0]]]}
    mixed = {"type": "GeometryCollection", "geometries": [square, {"type": "Point", "coordinates": [0, 0]}]}
    found = _geojson(collection(feature({"v": 1}, square), feature({"v": 2}, mixed), feature({"v": 3})))
    assert found.dataset.kind == "areas"
    assert [shape.geom_type for shape in found.dataset.shapes] == ["Polygon", "MultiPolygon", "GeometryCollection"]
    assert any("rows 2, 3" in note for note in found.notes)


def _cut_as_read(frame: geopandas.GeoDataFrame) -> Any:
    """Its shapes as a file of them is read: what crosses the meridian looks broken on paper, and is not to be repaired there."""
    shapes = _geojson(frame.set_crs(4326).to_json()).dataset.shapes
    assert shapes is not None
    return cut_at_antimeridian(shapes)


@pytest.mark.parametrize("level", ["110m", "50m", "10m"])
def test_countries_over_the_180th_meridian(level: str) -> None:
    """Natural Earth as `world-atlas` (npm) has it. Areas of Russia and Fiji as in docs; no edge may run across the map (RFC 7946, 3.1.9)."""
    frame = pyogrio.read_dataframe(ATLAS / "world-atlas" / f"countries-{level}.json", layer="countries")
    cut = _cut_as_read(frame)
    assert shapely.is_valid(cut).all()
    square_km = {
        name: abs(GEOD.geometry_area_perimeter(shapely.orient_polygons(shape))[0]) / 1e6
        for name, shape in zip(frame["name"], cut, strict=True)
    }
    assert 16.4e6 < square_km["Russia"] < 17.1e6
    assert square_km["Fiji"] == pytest.approx(18_300, rel=0.06 if level == "110m" else 0.04)
    assert square_km["Antarctica"] == pytest.approx(12.35e6, rel=0.01)
    for name, shape in zip(frame["name"], cut, strict=True):
        if shape is None or shape.is_empty:
            continue
        west, south, east, north = shapely.total_bounds([shape])
        assert west >= -180 and east <= 180 and south >= -90 and north <= 90
        for ring in shapely.get_rings(shapely.get_parts(shape)):
            xy = shapely.get_coordinates(ring)
            along_pole = np.abs(xy[:-1, 1] + xy[1:, 1]) > 179.9
            assert (np.abs(np.diff(xy[:, 0])) <= 180)[~along_pole].all(), name


@pytest.mark.parametrize("turns", [-3, -1, 1, 2, 3])
def test_longitudes_counted_on_round_the_world_come_back(turns: int) -> None:
    # Open outlines of countries have longitudes of 715 to 901: drawn on a map that repeats itself.
    square = shapely.box(8.0, 42.0, 9.5, 43.0)
    moved = shapely.transform(square, lambda xy: xy + np.array([360.0 * turns, 0.0]))
    shapes = _geojson(collection(feature({}, shapely.geometry.mapping(moved)))).dataset.shapes
    assert shapes is not None and cut_at_antimeridian(shapes)[0].equals_exact(square, 1e-9, normalize=True)


def test_rings_that_do_not_end_where_they_begin_are_closed_and_told() -> None:
    ring = [[0, 0], [1, 0], [1, 1], [0, 1]]
    hole = [[0.2, 0.2], [0.4, 0.2], [0.4, 0.4]]
    found = _geojson(collection(feature({}, {"type": "Polygon", "coordinates": [ring, hole]}),
                                feature({}, {"type": "MultiPolygon", "coordinates": [[ring], [hole]]})))  # fmt: skip
    assert shapely.area(found.dataset.shapes) == pytest.approx([0.98, 1.0])
    assert found.notes[0] == "2 areas had rings that do not end where they begin, now closed: rows 1, 2."


def test_bare_shapes_are_geojson_too() -> None:
    # RFC 7946, 3: a GeoJSON text is a geometry, a feature or a collection of them.
    assert _geojson(PLACE).dataset.kind == "points"
    both = {"type": "GeometryCollection", "geometries": [PLACE, {**PLACE, "coordinates": [-26, 52]}]}
    assert len(shapely.get_parts(_geojson(both).dataset.shapes)) == 2


def test_what_does_not_cross_stays_as_it_is() -> None:
    shapes = np.array(
        [
            shapely.box(-10, 0, 10, 10),
            shapely.box(-170, -10, 170, 10),
            shapely.box(-180, -90, 180, 90),
            shapely.Point(5, 5),
        ]
    )
    assert cut_at_antimeridian(shapes) is shapes


@pytest.mark.parametrize(
    ("text", "parts"),
    [
        ("POLYGON ((170 0, 190 0, 190 10, 170 10, 170 0))", [(170, 0, 180, 10), (-180, 0, -170, 10)]),
        ("POLYGON ((170 0, -170 0, -170 10, 170 10, 170 0))", [(170, 0, 180, 10), (-180, 0, -170, 10)]),
        ("POLYGON ((200 0, 210 0, 210 10, 200 10, 200 0))", [(-160, 0, -150, 10)]),
        ("LINESTRING (170 0, -170 5)", [(170, 0, 180, 2.5), (-180, 2.5, -170, 5)]),
        ("MULTIPOINT (200 5, 10 10)", [(-160, 5, -160, 5), (10, 10, 10, 10)]),
    ],
)
def test_shapes_are_cut_where_they_cross(text: str, parts: list[tuple[float, ...]]) -> None:
    cut = cut_at_antimeridian(np.array([shapely.from_wkt(text)]))[0]
    assert sorted(tuple(part.bounds) for part in shapely.get_parts(cut)) == sorted(parts)


@pytest.mark.parametrize(
    ("code", "box", "degrees"),
    [
        ("EPSG:4326", (0, -90, 360, 90), (-180, -90, 180, 90)), ("EPSG:4326", (190, -10, 210, 10), (-170, -10, -150, 10)),
        ("EPSG:4326", (150, -10, 210, 10), (-180, -10, 180, 10)), ("EPSG:4326", (-27, 51, -26, 52), (-27, 51, -26, 52)),
    ],
)  # fmt: skip
def test_boxes_in_degrees(code: str, box: Any, degrees: Any) -> None:
    assert lonlat_box(parse_crs(code), *box) == degrees


@pytest.mark.parametrize(
    "spoil",
    [
        lambda d: d[:200],
        lambda d: d[:-30],
        lambda d: d.replace(b"PK\x01\x02", b"PK\x01\x09"),
        lambda d: d[:60] + b"\xff" * 40 + d[100:],
    ],
)
def test_damaged_zips(tmp_path: Path, spoil: Callable[[bytes], bytes]) -> None:
    path = shapefile(tmp_path / "a.zip", named_points())
    path.write_bytes(spoil(path.read_bytes()))
    try:
        read_file(path)
    except BadInput as error:
        assert str(error)


@pytest.mark.parametrize(
    "name", ["hex", "idna", "unicode_escape", "rot13", "nonsense", "utf-8\0", "zlib", "undefined", "x" * 100]
)
def test_what_is_no_encoding_of_text(name: str) -> None:
    assert not is_encoding(name)


def test_equal_names_of_columns_take_no_longer_than_others(tmp_path: Path) -> None:
    path = tmp_path / "a.csv"
    path.write_text(",".join(["same"] * 4000) + "\n" + ",".join(["1"] * 4000) + "\n")
    names = read_delimited(path, Dialect("utf-8", ",", True)).names
    assert (names[0], names[-1], len(set(names))) == ("same", "same_4000", 4000)
    path.write_text(",".join(["same"] * 20_000) + "\n")
    with pytest.raises(BadInput, match="20,000 columns; at most 4,096"):
        read_delimited(path, Dialect("utf-8", ",", True))


def test_coordinates_far_off_any_earth_are_named_at_once(tmp_path: Path) -> None:
    """One spoiled corner at -1e308 kept GEOS busy for a quarter of a minute."""
    ring = [[5e5, 5e6], [5.1e5, 5e6], [5.1e5, -1e308], [5e5, 5e6]]
    feature = {"type": "Feature", "properties": {"n": 1}, "geometry": {"type": "Polygon", "coordinates": [ring]}}
    crs = {"type": "name", "properties": {"name": "EPSG:32626"}}
    file = tmp_path / "far.geojson"
    file.write_text(json.dumps({"type": "FeatureCollection", "features": [feature], "crs": crs}))
    with pytest.raises(BadInput, match="no place on earth: row 1"):
        read_file(file)


def test_namibia_is_a_country_and_no_missing_value(tmp_path: Path) -> None:
    """Found with airportsdata (PyPI): 63 airfields of NA were drawn as no data."""
    file = tmp_path / "fields.csv"
    file.write_text("country,depth\nBW,1\nNA,NA\nZA,3\nAO,4\n")
    columns = read_file(file).dataset.columns
    assert columns["country"].to_pylist() == ["BW", "NA", "ZA", "AO"]
    assert columns["depth"].to_pylist() == [1, None, 3, 4]
    file.write_text("name,depth\nArd,1\nNA,2\nBren,3\nCorra,4\n")
    assert read_file(file).dataset.columns["name"].to_pylist()[1] is None, "among names it stands for none"
