"""What is said is so: who is pointed at, how far a mark reaches, how many classes there are, what archives say of themselves."""

import json
import sqlite3
from pathlib import Path

import numpy as np
import pyarrow as pa
import pyproj
import pytest
import rasterio
import shapely
from greylatch.classes.breaks import breaks
from greylatch.classes.classify import classify
from greylatch.classes.distribution import distribution
from greylatch.cli.draw import beside
from greylatch.cli.main import main
from greylatch.paint.hits import hit
from greylatch.paint.passes import VectorPass, compose, pass_of
from greylatch.paint.picture import paint
from greylatch.paint.sources import VectorSource
from greylatch.places.frame import MERCATOR
from greylatch.places.grid import Tile
from greylatch.places.measures import remembered_areas
from greylatch.places.view import View
from greylatch.sheet.document import Sheet
from greylatch.sheet.reading import read_sheet
from greylatch.tables.dataset import Dataset
from greylatch.tables.meaning import guess_meaning
from greylatch.tiles.archive import ArchiveInfo, open_archive, raster_address, tilejson
from greylatch.tiles.map_pyramid import drawn_bounds, map_blocks, map_levels, padded_bounds, paint_block
from greylatch.tiles.raster_pyramid import Levels
from pmtiles.reader import MmapSource, Reader

PSEUDO_MERCATOR = pyproj.CRS.from_epsg(3857)


def points(radii: list[float], x: list[float]) -> VectorPass:
    """Circles of the given radii (px) along a line, at 1 m to a px."""
    data = Dataset(pa.table({"v": [r**2 for r in radii]}), "points", shapely.points(x, [0.0] * len(x)), PSEUDO_MERCATOR)
    layer = {
        "id": "a", "name": "A", "dataset": "d",
        "symbology": {"kind": "proportional", "field": "v", "largest": max(radii), "stroke": {"width": 0}},
    }  # fmt: skip
    made = pass_of(Sheet.model_validate({"title": "T", "layers": [layer]}).layers[0], lambda *_: VectorSource(data))
    assert isinstance(made, VectorPass)
    return made


@pytest.mark.parametrize(
    ("at", "row"),
    [
        (0.0, 0),  # on a large symbol, and 15 px from a small one
        (15.0, 1),  # on the small one, which is drawn over the large one
        (18.5, 0),  # still on the large one, next to the small one
        (22.0, 0),  # just beside it
        (24.0, None), (60.0, 2), (63.5, 2), (65.5, None),
    ],
)  # fmt: skip
def test_who_points_at_a_symbol_means_it(at: float, row: int | None) -> None:
    assert hit(points([20, 2, 2], [0, 15, 60]), at, 0.0, 1.0) == row


def test_lines_are_as_wide_as_they_are_drawn() -> None:
    data = Dataset(pa.table({"v": [1]}), "lines", np.array([shapely.LineString([(0, 0), (100, 0)])]), PSEUDO_MERCATOR)
    layer = {"id": "a", "name": "A", "dataset": "d", "symbology": {"kind": "single", "stroke": {"width": 10}}}
    made = pass_of(Sheet.model_validate({"title": "T", "layers": [layer]}).layers[0], lambda *_: VectorSource(data))
    assert isinstance(made, VectorPass)
    assert [hit(made, 50, y, 1.0) for y in (0, 7.5, 8.5)] == [0, 0, None]


def test_everything_that_is_drawn_lies_within_what_is_announced(demo: Path) -> None:
    """The demo sheet with long labels: what is drawn without any limit, against tiles, bounds and the number that was planned."""
    sheet = read_sheet(demo / "carbon.sheet.json")
    isles = next(layer for layer in sheet.layers if layer.id == "isles")
    assert isles.lettering
    long = isles.model_copy(
        update={
            "lettering": isles.lettering.model_copy(
                update={"lines": [isles.lettering.lines[0].model_copy(update={"size": 40.0})]}
            )
        }
    )
    layers = [long if layer.id == "isles" else layer for layer in sheet.layers]
    composition = compose(sheet.model_copy(update={"layers": layers}), beside(demo))
    levels = Levels(7, 8)
    tiles = {
        tile: data for block in map_blocks(composition, levels) for tile, data in paint_block(composition, block, 256)
    }
    for z in (7, 8):
        allowed = set(MERCATOR.grid.tiles_over(padded_bounds(composition, z), z))
        cut = {tile for tile in tiles if tile.z == z}
        assert cut <= allowed
        assert len(cut) <= MERCATOR.grid.count_tiles(padded_bounds(composition, z), z)
        around = {Tile(z, t.x + dx, t.y + dy) for t in allowed for dx in (-1, 0, 1) for dy in (-1, 0, 1)} - cut
        for tile in around:
            picture = paint(
                composition,
                View(MERCATOR, MERCATOR.grid.tile_bounds(tile), 256, 256),
                placement=composition.placement(MERCATOR.grid.resolution(z)),
                ground=False,
            )
            assert not picture[..., 3].any(), f"{tile} was never cut"
    west, south, east, north = drawn_bounds(composition, levels)
    for tile in tiles:
        lon = (
            np.array([MERCATOR.grid.tile_bounds(tile)[0], MERCATOR.grid.tile_bounds(tile)[2]])
            / 20037508.342789244
            * 180
        )
        assert lon[1] > west and lon[0] < east
    assert -90 < south < north < 90


@pytest.mark.parametrize("k", [2, 3, 4, 5, 6, 7, 9])
@pytest.mark.parametrize(("low", "high"), [(0, 100), (3, 97), (148.2, 2492.1), (-5, 5), (0.001, 0.0074), (1e6, 1.9e6)])
def test_pretty_classes_are_about_as_many_as_asked(k: int, low: float, high: float) -> None:
    values = np.linspace(low, high, 500)
    limits = breaks(values, "pretty", k)
    assert abs(len(limits) - k) <= 1 + (k > 5)


def test_where_there_are_other_classes_than_asked_for_it_is_said() -> None:
    values = np.concatenate([np.full(900, 1.0), np.linspace(1, 2, 100)])
    found = classify(values, "standard-deviation", 3)
    assert len(found.classes) != 3
    assert found.note == f"{len(found.classes)} of 3: limits that no value reaches are left out."
    assert classify(np.arange(100.0), "quantile", 4).note == ""
    assert "equal limits are one" in classify(values, "quantile", 4).note


@pytest.mark.parametrize(
    ("name", "count"),
    [("income", False), ("income_per_head", False), ("GDP per capita", False), ("median_age", False), ("year", False), ("fips_code", False), ("population", True), ("carbon_t", True), ("households", True)],
)  # fmt: skip
def test_income_is_no_count(name: str, count: bool) -> None:
    assert (guess_meaning(name, pa.chunked_array([[12_000.0, 34_000, 51_000]])).kind == "count") == count


@pytest.mark.parametrize(
    "values",
    [
        [5e-324, 1e-323, 2e-323],
        [-1.7e308, 1.7e308],
        [1.0, 1.0 + 2.3e-16],
        [1e300],
        [0.0, 1e-310],
        [1.387868329151634e-309, 198.9],
        [1e16, 1e16 + 2, 1e16 + 4],
    ],
)
def test_any_numbers_have_a_distribution(values: list[float]) -> None:
    found = distribution(np.array(values))
    assert sum(found.counts) == len(values)
    assert len(found.edges) == len(found.counts) + 1
    json.dumps(vars(found), allow_nan=False)


def test_areas_are_computed_once_while_their_shapes_live(monkeypatch: pytest.MonkeyPatch) -> None:
    asked = []
    monkeypatch.setattr(
        "greylatch.places.measures.geodesic_areas", lambda shapes, crs: asked.append(1) or np.ones(len(shapes))
    )
    shapes = np.array([shapely.box(0, 0, 1, 1)])
    for _ in range(3):
        remembered_areas(shapes, PSEUDO_MERCATOR)
    assert len(asked) == 1
    del shapes
    for _ in range(2):
        remembered_areas(np.array([shapely.box(0, 0, 1, 1)]), PSEUDO_MERCATOR)
    assert len(asked) == 3


INFO = ArchiveInfo("T", "png", 3, 5, (-27.5, 51.5, -26.5, 52.5), "credits", 512, view=(-27.1, 52.1, 4))


def test_pmtiles_are_clustered_in_whatever_order_tiles_come(tmp_path: Path) -> None:
    """PMTiles version 3: tiles lie in the order of their numbers, so that neighbours are read together."""
    tiles = [Tile(5, x, y) for x in range(8) for y in range(8)] + [Tile(3, 1, 2), Tile(4, 3, 3)]
    with open_archive(tmp_path / "a.pmtiles", INFO) as sink:
        for i in np.random.default_rng(3).permutation(len(tiles)):
            sink.add(tiles[i], f"{tiles[i]}".encode())
    with (tmp_path / "a.pmtiles").open("rb") as file:
        reader = Reader(MmapSource(file))
        header = reader.header()
        assert header["clustered"]
        assert (header["center_zoom"], header["center_lon_e7"], header["center_lat_e7"]) == (
            4,
            -271_000_000,
            521_000_000,
        )
        assert all(reader.get(*tile) == f"{tile}".encode() for tile in tiles)
    assert [one.name for one in tmp_path.iterdir()] == ["a.pmtiles"]


def test_mbtiles_say_where_they_open_and_what_they_are(tmp_path: Path) -> None:
    """MBTiles 1.3: `center`, and the application id 0x4d504258 that it asks for (values from memory)."""
    with open_archive(tmp_path / "a.mbtiles", INFO) as sink:
        sink.add(Tile(3, 1, 2), b"x")
    assert (tmp_path / "a.mbtiles").read_bytes()[68:72] == b"MPBX"
    rows = dict(sqlite3.connect(tmp_path / "a.mbtiles").execute("SELECT name, value FROM metadata"))
    assert rows["center"] == "-27.100000,52.100000,4"


def test_tiles_of_double_density_are_told_of_as_ones_of_256_px() -> None:
    told = tilejson(INFO, raster_address("map", INFO))
    assert (told["tileSize"], told["tiles"], told["center"]) == (256, ["map/{z}/{x}/{y}@2x.png"], [-27.1, 52.1, 4])


def test_values_that_begin_with_a_minus(demo: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    picture = tmp_path / "map.png"
    assert (
        main(
            [
                "draw",
                str(demo / "carbon.sheet.json"),
                "--out",
                str(picture),
                "--bbox",
                "-27.2,51.9,-26.6,52.2",
                "--size",
                "300x200",
            ]
        )
        == 0
    )
    assert picture.exists()
    assert (
        main(
            [
                "classify",
                str(demo / "dip_wells.csv"),
                "--field",
                "water_table_cm",
                "--method",
                "manual",
                "--breaks",
                "-1,0,50",
                "--json",
            ]
        )
        == 0
    )
    assert len(json.loads(capsys.readouterr().out.split("\n", 1)[1])["classes"]) == 4


@pytest.mark.parametrize("zoom", ["99", "-1", "nan"])
def test_levels_that_are_not_there(demo: Path, tmp_path: Path, zoom: str, capsys: pytest.CaptureFixture[str]) -> None:
    for out in ("map.png", "map.pmtiles"):
        assert main(["draw", str(demo / "carbon.sheet.json"), "--out", str(tmp_path / out), "--zoom", zoom]) == 2
        assert "There is no level" in capsys.readouterr().err


def test_info_is_json_for_everybody(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    (tmp_path / "a.csv").write_text("x,y\n500000,5760000\n500100,5760100\n")

    def refuse(_: str) -> None:
        raise AssertionError("no JSON")

    assert main(["info", str(tmp_path / "a.csv"), "--json"]) == 0
    told = json.loads(capsys.readouterr().out, parse_constant=refuse)
    assert (told["crs"], told["kind"], told["notes"]) == (None, "points", [])
    assert main(["info", str(tmp_path / "a.csv"), "--crs", "EPSG:32626", "--json"]) == 0
    assert json.loads(capsys.readouterr().out)["crs"].startswith("EPSG:32626")
    assert (
        main(["classify", str(tmp_path / "a.csv"), "--field", "x", "--method", "equal-interval", "--classes", "2"]) == 0
    )


def test_info_of_a_raster_that_does_not_say_where_it_lies(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    with rasterio.open(
        tmp_path / "a.tif", "w", driver="GTiff", width=4, height=3, count=1, dtype="float32", nodata=np.nan
    ) as target:
        target.write(np.full((1, 3, 4), np.nan, dtype=np.float32))
    assert main(["info", str(tmp_path / "a.tif"), "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert (told["kind"], told["crs"], told["bounds"], told["nodata"], told["width"]) == ("raster", None, None, None, 4)
    assert any("nothing about its projection" in note for note in told["notes"])


def test_join_suggests(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    square = {"type": "Polygon", "coordinates": [[[0, 0], [1, 0], [1, 1], [0, 0]]]}
    features = [
        {"type": "Feature", "properties": {"name": name}, "geometry": square}
        for name in ("Nether Skara", "Tolm", "Cafe\u0301 Mor")
    ]
    (tmp_path / "a.geojson").write_text(json.dumps({"type": "FeatureCollection", "features": features}))
    (tmp_path / "t.csv").write_text("name,v\nNether Skarra,1\nTolm,2\nCaf\u00e9 Mor,3\n", "utf-8")
    command = [
        "join",
        str(tmp_path / "a.geojson"),
        str(tmp_path / "t.csv"),
        "--area-key",
        "name",
        "--table-key",
        "name",
        "--suggest",
        "--json",
    ]
    assert main(command) == 0
    told = json.loads(capsys.readouterr().out)
    assert told["matched"] == 2
    assert told["suggestions"][0] == {"row": "Nether Skarra", "area": "Nether Skara", "likeness": 96.0, "sure": True}


def test_a_card_on_the_command_line(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    (tmp_path / "a.csv").write_text("name,t\nArd <b>,3\nTolm,\n")
    (tmp_path / "card.md").write_text("## {{ name }}\n{% if t %}{{ t | number: 1 }} t{% endif %}")
    assert main(["card", str(tmp_path / "a.csv"), "--template", f"@{tmp_path / 'card.md'}", "--row", "0"]) == 0
    assert capsys.readouterr().out == "<h2>Ard &lt;b&gt;</h2>\n<p>3.0 t</p>\n"
    assert main(["card", str(tmp_path / "a.csv"), "--template", "{% include 'x' %}", "--row", "0"]) == 2
    assert "line 1, column 1" in capsys.readouterr().err
    for row in ("2", "-1"):
        assert main(["card", str(tmp_path / "a.csv"), "--template", "x", "--row", row]) == 2
        assert "There is no row" in capsys.readouterr().err


def test_the_levels_of_the_demo_are_those_of_before(demo: Path) -> None:
    composition = compose(read_sheet(demo / "carbon.sheet.json"), beside(demo))
    assert map_levels(composition) == Levels(8, 12)
