"""Frames: shapes and rasters in any projection, whole and nowhere smeared."""

import json
from pathlib import Path

import numpy as np
import pyogrio
import pyproj
import pytest
import rasterio
import shapely
from greylatch.cli.main import main
from greylatch.errors import BadInput
from greylatch.formats.geoparquet import read_geoparquet
from greylatch.places.crs import LONLAT
from greylatch.places.described import described
from greylatch.places.domain import cap, domain_of
from greylatch.places.frame import Frame
from greylatch.places.graticule import graticule
from greylatch.places.suggest import keeps_areas, reach_of, suggest_for
from rasterio.transform import from_origin

ATLAS = Path(__file__).parents[2] / "web" / "node_modules" / "world-atlas"
GEOD = pyproj.Geod(ellps="WGS84")
EARTH_KM2 = 510_065_622
"""The surface of the WGS 84 ellipsoid (from memory; the sum of its two halves by pyproj.Geod is the same)."""
EQUAL_AREA = ["EPSG:8857", "+proj=laea +lat_0=-90", "+proj=laea +lat_0=10 +lon_0=170", "EPSG:6933"]
OTHERS = ["EPSG:3857", "EPSG:3031", "EPSG:3995", "+proj=ortho +lat_0=40 +lon_0=-170", "+proj=omerc +lat_0=40 +lonc=10 +alpha=30",
          "EPSG:32660", "EPSG:2154", "+proj=igh", "EPSG:5514", "+proj=nsper +h=3000000 +lat_0=60 +lon_0=100"]  # fmt: skip


def way_back(frame: Frame, places: np.ndarray) -> np.ndarray:
    """PROJ's own inverse: longitude and latitude of coordinates of a frame."""
    there = pyproj.Transformer.from_crs(frame.crs, LONLAT, always_xy=True)
    return np.column_stack(there.transform(places[:, 0], places[:, 1]))


@pytest.fixture(scope="module")
def countries() -> tuple[list[str], np.ndarray]:
    """Natural Earth as `world-atlas` (npm) has it, at 1 : 110 million."""
    frame = pyogrio.read_dataframe(ATLAS / "countries-110m.json", layer="countries")
    return list(frame["name"]), np.array(frame.geometry.values)


@pytest.mark.parametrize("crs", [*EQUAL_AREA, *OTHERS])
def test_countries_are_whole_and_nowhere_smeared(crs: str, countries: tuple[list[str], np.ndarray]) -> None:
    frame = Frame.named(crs)
    shapes = frame.project(countries[1], LONLAT)
    sea = frame.outline
    assert len(shapes) == len(countries[1]) and shapely.is_valid(shapes).all() and sea.is_valid
    there = shapes[~shapely.is_empty(shapes)]
    assert shapely.covers(shapely.buffer(sea, 2_000), there).all()
    # What lies on the map lies in its country on the globe: PROJ's own way back, at places inside.
    inside = shapely.point_on_surface(there)
    back = way_back(frame, shapely.get_coordinates(inside))
    on_globe = shapely.points(back)
    names = np.flatnonzero(~shapely.is_empty(shapes))
    globe = Frame.named("EPSG:4326").project(countries[1], LONLAT)[names]
    assert (shapely.distance(on_globe, globe) < 0.02).all()


@pytest.mark.parametrize("crs", EQUAL_AREA)
def test_equal_areas_are_those_of_the_ellipsoid(crs: str, countries: tuple[list[str], np.ndarray]) -> None:
    """Russia, Fiji and Antarctica lie across the 180th meridian; areas by GeographicLib (pyproj.Geod) on shapes cut there."""
    frame = Frame.named(crs)
    shapes = dict(zip(countries[0], frame.project(countries[1], LONLAT), strict=True))
    cut = dict(zip(countries[0], Frame.named("EPSG:4326").project(countries[1], LONLAT), strict=True))
    assert frame.outline.area / 1e6 == pytest.approx(EARTH_KM2, rel=4e-4)
    for name in ("Russia", "Fiji", "Antarctica", "Brazil", "Greenland"):
        parts = shapely.get_parts(shapely.orient_polygons(shapely.segmentize(cut[name], 0.1)))
        true = sum(abs(GEOD.geometry_area_perimeter(part)[0]) for part in parts) / 1e6
        assert shapes[name].area / 1e6 == pytest.approx(true, rel=2e-3), name


def test_the_pole_and_the_meridian_are_no_lines_on_a_polar_map(countries: tuple[list[str], np.ndarray]) -> None:
    shapes = dict(zip(countries[0], Frame.named("+proj=laea +lat_0=-90").project(countries[1], LONLAT), strict=True))
    main_part = max(shapely.get_parts(shapes["Antarctica"]), key=shapely.area)
    assert main_part.contains(shapely.Point(0, 0)) and main_part.contains(shapely.Point(0, -500_000))
    assert max(shapely.get_parts(main_part.buffer(-50_000)), key=shapely.area).area > 0.85 * main_part.area


def test_a_shape_in_many_parts_stays_one() -> None:
    band = np.array([shapely.box(100, -10, 250, 10), None, shapely.Point()], dtype=object)
    moved = Frame.named("EPSG:8857").project(band, LONLAT)
    assert len(moved) == 3 and shapely.get_num_geometries(moved[0]) == 2
    assert moved[1] is None and moved[2].is_empty


def test_long_edges_follow_their_course() -> None:
    parallel = np.array([shapely.LineString([(-60, 60), (60, 60)])], dtype=object)
    frame = Frame.named("EPSG:3995")
    moved = frame.project(parallel, LONLAT)[0]
    # A parallel round the pole is a circle: nowhere further from it than the tolerance of 10 m.
    xy = shapely.get_coordinates(shapely.segmentize(moved, 1_000))
    radius = np.hypot(*xy.T)
    assert radius.max() - radius.min() < 10.5


def test_edges_of_projected_data_are_straight_where_they_were() -> None:
    square = np.array([shapely.box(200_000, 5_000_000, 800_000, 5_600_000)], dtype=object)
    there = Frame.named("EPSG:3035").project(square, pyproj.CRS("EPSG:32632"))
    back = Frame.named("EPSG:32632").project(there, pyproj.CRS("EPSG:3035"))
    assert back[0].symmetric_difference(square[0]).area / square[0].area < 1e-4


@pytest.mark.parametrize(
    ("latitude", "radius"), [(90, 30), (-90, 120), (10, 89.9), (40, 179), (0, 30), (60, 30.5), (-45, 100)]
)
def test_caps_have_the_size_that_caps_have(latitude: float, radius: float) -> None:
    """A spherical cap is 2π(1 − cos r) large (common practice)."""
    shape = shapely.segmentize(cap(latitude, radius), 0.25)
    xy = shapely.transform(shape, lambda at: np.column_stack([np.radians(at[:, 0]), np.sin(np.radians(at[:, 1]))]))
    assert xy.area == pytest.approx(2 * np.pi * (1 - np.cos(np.radians(radius))), rel=1e-3)


def test_limits_of_methods() -> None:
    assert domain_of(pyproj.CRS("EPSG:32626")).middle == -27
    assert domain_of(pyproj.CRS("EPSG:3857")).area.bounds[3] == pytest.approx(85.0511287798066)
    assert domain_of(pyproj.CRS("EPSG:5514")).family == "tried"
    # What lies behind the horizon is not there, and is not an error.
    behind = Frame.named("+proj=ortho +lat_0=90").project(
        np.array([shapely.box(0, -60, 10, -50)], dtype=object), LONLAT
    )
    assert behind[0].is_empty


def test_projections_are_suggested_by_reach() -> None:
    assert suggest_for((-180, -90, 180, 84))[0].crs == "EPSG:8857"
    assert "lat_0=-90" in suggest_for((-180, -90, 180, -60))[0].crs
    assert suggest_for((20, 41, 190, 82))[0].crs.startswith("+proj=aea")
    assert suggest_for((6, 47, 15, 55))[0].equal_area
    assert "EPSG:3035" in [one.crs for one in suggest_for((6, 47, 15, 55))]
    for reach in [
        (-180, -90, 180, 84),
        (-27.4, 51.8, -26.5, 52.2),
        (166, -47, 179, -34),
        (160, -50, 200, -10),
        (0, 0, 0, 0),
    ]:
        for one in suggest_for(reach):
            assert keeps_areas(Frame.named(one.crs).crs) == one.equal_area
            assert one.reason.endswith(".")


def test_the_reach_of_data_on_both_sides_of_the_180th_meridian() -> None:
    fiji = shapely.multipolygons([shapely.box(177, -18, 180, -16), shapely.box(-180, -18, -179, -17)])
    assert reach_of(np.array([fiji, None], dtype=object)) == (177, -18, 181, -16)
    assert reach_of(np.array([shapely.box(-10, 0, 10, 5)], dtype=object)) == (-10, 0, 10, 5)


def raster(path: Path, west: float = -180.0, dtype: str = "float32") -> Path:
    """The whole globe in cells of a degree, each holding its longitude and latitude in two bands."""
    lon, lat = np.meshgrid(np.arange(west + 0.5, west + 360, 1), np.arange(89.5, -90, -1))
    lon = (lon + 180) % 360 - 180
    with rasterio.open(path, "w", driver="GTiff", width=360, height=180, count=2, dtype=dtype, crs="EPSG:4326",
                       transform=from_origin(west, 90, 1, 1)) as sink:  # fmt: skip
        sink.write(np.stack([lon, lat]).astype(dtype))
    return path


@pytest.mark.parametrize("west", [-180.0, 0.0])
@pytest.mark.parametrize("crs", ["EPSG:8857", "EPSG:3031", "+proj=laea +lat_0=40 +lon_0=170"])
def test_rasters_lie_where_they_belong(tmp_path: Path, crs: str, west: float) -> None:
    out = tmp_path / "out.tif"
    assert main(["reproject", str(raster(tmp_path / "in.tif", west)), "--to", crs, "--out", str(out)]) == 0
    frame = Frame.named(crs)
    with rasterio.open(out) as made:
        data = made.read()
        rows, columns = np.nonzero(np.isfinite(data[0]))
        xy = np.column_stack(rasterio.transform.xy(made.transform, rows, columns))
        sea = frame.outline.buffer(made.res[0])
    assert len(rows) > 30_000 and np.isfinite(data[0]).mean() < 0.9
    back = way_back(frame, xy)
    off = np.abs((data[0][rows, columns] - back[:, 0] + 180) % 360 - 180) * np.cos(np.radians(back[:, 1]))
    # Between two cells on both sides of the seam a mean of their longitudes means nothing.
    clear = (np.abs(back[:, 0]) < 178) & (np.abs(back[:, 1]) < 88)
    assert np.percentile(off[clear], 99) < 0.5 and (np.abs(data[1][rows, columns] - back[:, 1])[clear] < 0.8).all()
    assert shapely.covers(sea, shapely.points(xy)).all()


def test_whole_numbers_without_a_nodata_value_get_a_mask(tmp_path: Path) -> None:
    out = tmp_path / "out.tif"
    assert (
        main(["reproject", str(raster(tmp_path / "in.tif", dtype="int16")), "--to", "EPSG:8857", "--out", str(out)])
        == 0
    )
    with rasterio.open(out) as made:
        mask = made.dataset_mask()
        assert made.nodata is None and mask[0, 0] == 0 and mask[made.height // 2, made.width // 2] == 255


def test_the_command_line_reprojects_and_suggests(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    source = tmp_path / "in.geojson"
    shapes = [shapely.box(170, -20, 190, -10), shapely.box(0, 0, 10, 10)]
    source.write_text(
        json.dumps({"type": "FeatureCollection", "features": [
            {"type": "Feature", "properties": {"n": i}, "geometry": shapely.geometry.mapping(s)} for i, s in enumerate(shapes)]})
    )  # fmt: skip
    assert main(["reproject", str(source), "--to", "EPSG:8857", "--out", str(tmp_path / "o.parquet")]) == 0
    made = read_geoparquet(tmp_path / "o.parquet")
    assert len(made) == 2 and made.crs is not None and made.crs.to_epsg() == 8857
    assert made.shapes is not None and shapely.get_num_geometries(made.shapes[0]) == 2
    assert main(["reproject", str(source), "--to", "+proj=ortho", "--out", str(tmp_path / "o.gpkg")]) == 0
    assert "1 lie beyond" in capsys.readouterr().out
    assert pyogrio.read_info(tmp_path / "o.gpkg")["features"] == 2
    assert main(["suggest-projection", str(source), "--json"]) == 0
    assert {"crs", "name", "reason", "equal_area"} == set(json.loads(capsys.readouterr().out)[0])
    for bad, words in [
        (["reproject", str(source), "--to", "+proj=laea +nadgrids=/etc/passwd", "--out", str(tmp_path / "x.gpkg")], "names a file"),
        (["reproject", str(source), "--to", "EPSG:8857", "--out", str(tmp_path / "x.shp")], ".parquet or .gpkg"),
        (["reproject", str(source), "--to", "EPSG:999999", "--out", str(tmp_path / "x.gpkg")], "not a coordinate reference system"),
        (["reproject", str(raster(tmp_path / "in.tif")), "--to", "EPSG:8857", "--out", str(tmp_path / "x.gpkg")], "as .tif"),
    ]:  # fmt: skip
        assert main(bad) == 2
        assert words in capsys.readouterr().err
    assert not list(tmp_path.glob("x.*")) and not list(tmp_path.glob(".*"))


@pytest.mark.parametrize("crs", [
    "+proj=merc +x_0=1e300", "+proj=cea +lat_ts=90", "+proj=nsper +h=1e-9", "+proj=laea +lat_0=nan", "+proj=laea +lat_0=91", "+proj=isea",
    "+proj=utm +zone=61", "+proj=laea +R=1", "IAU_2015:30110", "+proj=aea +lat_1=50 +lat_2=-50", "EPSG:4978", "EPSG:9999999",
])  # fmt: skip
def test_projections_that_show_nothing_are_refused_in_words(crs: str) -> None:
    with pytest.raises(BadInput):
        Frame.named(crs)


@pytest.mark.parametrize("crs", [
    "+proj=geos +h=35785831", "+proj=ob_tran +o_proj=moll +o_lat_p=45 +o_lon_p=0", "+proj=laea +units=us-ft",
    "+proj=peirce_q +shape=square", "+proj=krovak", "+proj=healpix", "EPSG:3067", "EPSG:22234", "ESRI:54030",
])  # fmt: skip
def test_odd_projections_are_frames_like_any(crs: str) -> None:
    """Also from a satellite, in feet and folded into a square: tiles, degrees and lines have finite places."""
    frame = Frame.named(crs)
    figures = described(frame)
    assert np.isfinite([figures.left, figures.top, figures.side, figures.metres]).all()
    assert figures.columns * figures.rows <= 16
    box = frame.grid.shared(frame.outline.bounds)
    west, south, east, north = frame.lonlat_bounds(box)
    assert -180 <= west <= east <= 180 and -90 <= south <= north <= 90
    assert graticule(frame, 30.0, box)


def test_reach_over_the_180th_meridian() -> None:
    frame = Frame.named("EPSG:3832")
    x, y = frame.place(179, -17)
    west, south, east, north = frame.reach((x - 3e5, y - 1e5, x + 3e5, y + 1e5)) or (0, 0, 0, 0)
    assert (west, east) == (pytest.approx(176.3, abs=0.1), pytest.approx(181.7, abs=0.1))
    assert -18 < south < -17 < north < -16
    assert frame.lonlat_bounds((x - 3e5, y - 1e5, x + 3e5, y + 1e5))[::2] == (-180, 180)


@pytest.mark.parametrize("crs", ["EPSG:3857", "EPSG:8857", "EPSG:3035"])
def test_a_box_round_a_single_place_has_its_place(crs: str) -> None:
    frame = Frame.named(crs)
    left, bottom, right, top = frame.box_of((10.0, 52.0, 10.0, 52.0))
    x, y = frame.place(10.0, 52.0)
    assert (left, bottom) == pytest.approx((x, y), abs=0.01)
    assert (right, top) == pytest.approx((x, y), abs=0.01)


@pytest.mark.parametrize("crs", ["EPSG:3857", "EPSG:8857", "EPSG:3035", "EPSG:3995", "+proj=laea +lat_0=52 +lon_0=-27"])
@pytest.mark.parametrize("source", ["EPSG:4326", "EPSG:32626"])
def test_places_lie_where_their_points_do(crs: str, source: str) -> None:
    """Against the same frame's way with shapes."""
    frame, own = Frame.named(crs), pyproj.CRS(source)
    rng = np.random.default_rng(1)
    lonlat = rng.uniform((-29, 50), (-25, 60), (500, 2))
    there = pyproj.Transformer.from_crs(4326, own, always_xy=True)
    places = np.column_stack(there.transform(*lonlat.T))
    source_crs = LONLAT if own.is_geographic else own
    expected = shapely.get_coordinates(frame.project(shapely.points(places), source_crs))
    found = frame.project_places(places, source_crs)
    assert found is not None
    np.testing.assert_allclose(found, expected, rtol=0, atol=1e-6)


def test_places_beyond_a_frame_are_left_to_shapes() -> None:
    poles = np.array([[0.0, 89.9], [0.0, 10.0]])
    assert Frame.named("EPSG:3857").project_places(poles, LONLAT) is None
    assert Frame.named("EPSG:8857").project_places(np.array([[180.0, 0.0]]), LONLAT) is None, "either side of the seam"
