"""Pictures and tiles in any projection: every pixel shows what PROJ says lies there."""

import json
import sqlite3
import zipfile
from pathlib import Path

import morecantile
import numpy as np
import pyogrio
import pyproj
import pytest
import rasterio
import shapely
from greylatch.cli.main import main
from greylatch.places.crs import LONLAT
from greylatch.places.frame import MERCATOR, Frame
from greylatch.places.grid import Tile
from greylatch.places.listed import search_projections
from greylatch.places.view import View
from greylatch.rasters.resample import source_positions
from greylatch.sheet.document import Projection
from greylatch.tiles.image import encoded
from PIL import Image
from pydantic import ValidationError
from rasterio.transform import from_origin

ATLAS = Path(__file__).parents[2] / "web" / "node_modules" / "world-atlas"
WORLD = from_origin(-180, 90, 0.5, 0.5)
FRAMES = [
    "EPSG:8857", "+proj=eqearth +lon_0=150", "EPSG:3031", "+proj=laea +lat_0=10 +lon_0=170", "+proj=ortho +lat_0=40 +lon_0=-170",
    "EPSG:32660", "EPSG:2154", "EPSG:3857",
]  # fmt: skip


@pytest.mark.parametrize("crs", FRAMES)
def test_pixels_come_from_where_proj_says(crs: str) -> None:
    """Of a raster of the whole world: every pixel of the whole map, and of pieces of it, within 0.125 px of PROJ's own way
    back; pixels beyond the projection's limits come from nowhere."""
    frame = Frame.named(crs)
    west, south, east, north = frame.outline.bounds
    back = pyproj.Transformer.from_crs(frame.crs, LONLAT, always_xy=True)
    for share, x, y in ((1.0, 0.5, 0.5), (0.2, 0.4, 0.6), (0.02, 0.55, 0.45), (0.1, 0.0, 0.5)):
        middle = west + x * (east - west), south + y * (north - south)
        side = share * max(east - west, north - south)
        view = View.around(frame, *middle, side / 160, 160, 120)
        found = source_positions(view, WORLD, LONLAT)
        across = view.bounds[0] + (np.arange(160) + 0.5) * view.cell
        down = view.bounds[3] - (np.arange(120) + 0.5) * view.cell
        px, py = np.meshgrid(across, down)
        lon, lat = back.transform(px, py, errcheck=False)
        inside = shapely.contains_xy(shapely.buffer(frame.outline, -view.cell), px, py)
        columns, rows = at_pixels(found.columns, found.step), at_pixels(found.rows, found.step)
        off_x = (columns - (lon + 180) * 2 + 360) % 720 - 360
        off_y = rows - (90 - lat) * 2
        span = max(1.0, *found.spans)
        assert np.hypot(off_x, off_y)[inside].max(initial=0) <= 0.125 * span
        if crs != "EPSG:3857":  # whose world goes round and round
            outside = ~shapely.contains_xy(shapely.buffer(frame.outline, view.cell), px, py)
            assert np.isnan(columns[outside]).all()


def at_pixels(grid: np.ndarray, step: int) -> np.ndarray:
    """Positions in the middle of each pixel, as the sampler takes them."""
    if step == 0:
        return grid
    u, v = (np.arange(160) + 0.5) / step, (np.arange(120) + 0.5) / step
    a, b = v.astype(int)[:, None], u.astype(int)[None]
    v, u = (v - v.astype(int))[:, None], (u - u.astype(int))[None]
    return (grid[a, b] * (1 - u) + grid[a, b + 1] * u) * (1 - v) + (
        grid[a + 1, b] * (1 - u) + grid[a + 1, b + 1] * u
    ) * v


@pytest.fixture(scope="module")
def world(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Natural Earth's countries as `world-atlas` (npm) has them, each with its row, and a raster with its column of degrees."""
    folder = tmp_path_factory.mktemp("world")
    frame = pyogrio.read_dataframe(ATLAS / "countries-110m.json", layer="countries").set_crs(4326)
    frame["n"] = range(len(frame))
    frame[["name", "n", "geometry"]].to_file(folder / "countries.geojson", driver="GeoJSON")
    data = np.tile(np.linspace(0, 255, 720).astype(np.uint8), (360, 1))
    with rasterio.open(
        folder / "world.tif",
        "w",
        driver="GTiff",
        width=720,
        height=360,
        count=1,
        dtype="uint8",
        crs="EPSG:4326",
        transform=WORLD,
    ) as out:
        out.write(data, 1)
    return folder


def draw(folder: Path, crs: str | None, symbology: dict, dataset: str, *options: str) -> np.ndarray:
    layer = {"id": "a", "name": "A", "dataset": dataset, "symbology": symbology}
    sheet = {"version": 2, "title": "T", "layers": [layer], "furniture": {"ground": "#ffffff"}}
    (folder / "s.json").write_text(json.dumps(sheet | ({"projection": {"crs": crs}} if crs else {})))
    assert main(["draw", str(folder / "s.json"), "--out", str(folder / "s.png"), *options]) == 0
    return np.asarray(Image.open(folder / "s.png").convert("RGB")).astype(int)


@pytest.mark.parametrize(
    "crs",
    [None, "EPSG:8857", "EPSG:3031", "+proj=laea +lat_0=60 +lon_0=100", "+proj=omerc +lat_0=40 +lonc=10 +alpha=30"],
)
def test_countries_are_drawn_where_they_lie(world: Path, crs: str | None) -> None:
    """Russia, Fiji, Antarctica and all others: a pixel of the picture is coloured where PROJ's own inverse puts it into a
    country, and is ground where it does not; only pixels at borders may differ."""
    picture = draw(
        world,
        crs,
        {"kind": "single", "fill": "#000000", "stroke": {"width": 0}},
        "countries.geojson",
        "--size",
        "320x240",
    )
    shapes = pyogrio.read_dataframe(world / "countries.geojson").geometry.values
    frame = Frame.named(crs or "EPSG:3857")
    box = frame.project(np.array(shapes, dtype=object), LONLAT)
    view = View.fitted(frame, tuple(shapely.total_bounds(box)), 320, 240)
    x = view.bounds[0] + (np.arange(320) + 0.5) * view.cell
    y = view.bounds[3] - (np.arange(240) + 0.5) * view.cell
    px, py = np.meshgrid(x, y)
    lon, lat = pyproj.Transformer.from_crs(frame.crs, LONLAT, always_xy=True).transform(px, py, errcheck=False)
    sea = shapely.contains_xy(frame.outline, px, py) & np.isfinite(lon)
    land = unrolled(shapes)
    near = shapely.boundary(shapely.union_all(box)).buffer(view.cell * 1.5)
    sure = sea & ~shapely.contains_xy(near, px, py)
    wanted = np.zeros_like(sea)
    turned = (lon[sea] + 180) % 360 - 180
    wanted[sea] = np.any([shapely.contains_xy(land, turned + turn, lat[sea]) for turn in (-360, 0, 360)], axis=0)
    drawn = picture[..., 0] < 128
    assert sure.sum() > 10_000
    assert (drawn == wanted)[sure].mean() > 0.999
    beyond = ~shapely.contains_xy(shapely.buffer(frame.outline, view.cell * 1.5), px, py)
    assert not drawn[beyond].any()


def unrolled(shapes: list) -> shapely.Geometry:
    """All shapes as one, longitudes counted on over the 180th meridian: nothing is cut, so nothing that cuts is trusted."""
    out = []
    for part in shapely.get_parts(np.array(shapes, dtype=object)):
        rings = []
        for ring in shapely.get_rings(part):
            lon, lat = shapely.get_coordinates(ring).T
            on = np.unwrap(lon, period=360)
            if abs(on[0] - on[-1]) > 1e-9:  # it goes round a pole, which is inside
                pole = np.copysign(90, lat[0])
                on, lat = np.append(on, [on[-1], on[0]]), np.append(lat, [pole, pole])
            rings.append(np.column_stack([on, lat]))
        out.append(shapely.make_valid(shapely.Polygon(rings[0], rings[1:])))
    return shapely.union_all(out)


def test_a_box_of_degrees_in_any_projection(world: Path) -> None:
    """--bbox is in degrees whatever the map's projection; what lies in the box is in the picture."""
    look = {"kind": "picture"}
    picture = draw(world, "EPSG:3031", look, "world.tif", "--bbox", "-180,-90,180,-80", "--size", "200x200")
    # The ring at 80° south touches the middle of each side; its corners show what lies further north.
    assert (picture[100, 100] != 255).any()
    assert main(["draw", str(world / "s.json"), "--out", str(world / "x.png"), "--bbox", "0,60,10,70"]) == 2


def test_a_projection_that_names_a_file_is_refused(world: Path, capsys: pytest.CaptureFixture[str]) -> None:
    (world / "bad.json").write_text(
        json.dumps({"version": 2, "title": "T", "projection": {"crs": "+proj=laea +nadgrids=/etc/passwd"}})
    )
    assert main(["draw", str(world / "bad.json"), "--out", str(world / "bad.png")]) == 2
    assert "names a file" in capsys.readouterr().err


@pytest.mark.parametrize("name", ["WorldCRS84Quad", "EuropeanETRS89_LAEAQuad"])
@pytest.mark.parametrize("rows", ["xyz", "tms"])
def test_tiles_in_registered_sets(world: Path, tmp_path: Path, name: str, rows: str) -> None:
    """Every tile's colours against the degrees that morecantile's bounds and PROJ's inverse give for its pixels."""
    out = tmp_path / "tiles"
    command = [
        "tiles",
        str(world / "world.tif"),
        "--out",
        str(out),
        "--matrix-set",
        name,
        "--rows",
        rows,
        "--max-zoom",
        "2",
        "--min-zoom",
        "2",
    ]
    assert main([*command, "--resampling", "nearest"]) == 0
    tms = morecantile.tms.get(name)
    read = morecantile.TileMatrixSet.model_validate_json((out / "tilematrixset.json").read_text())
    assert read.matrix(2).matrixWidth == tms.matrix(2).matrixWidth
    told = json.loads((out / "tileset.json").read_text())
    assert told["tileMatrixSetURI"].endswith(name)
    back = pyproj.Transformer.from_crs(tms.crs.to_wkt(), LONLAT, always_xy=True)
    files = list(out.rglob("*.png"))
    assert len(files) == tms.matrix(2).matrixWidth * tms.matrix(2).matrixHeight
    for file in files[::3]:
        x, row = int(file.parent.name), int(file.stem)
        y = row if rows == "xyz" else tms.matrix(2).matrixHeight - 1 - row
        box = tms.xy_bounds(morecantile.Tile(x, y, 2))
        px, py = np.meshgrid(
            box.left + (np.arange(256) + 0.5) * (box.right - box.left) / 256,
            box.top - (np.arange(256) + 0.5) * (box.top - box.bottom) / 256,
        )
        lon, _ = back.transform(px, py)
        wanted = np.linspace(0, 255, 720).astype(np.uint8)[((lon + 180) * 2).astype(int) % 720]
        assert np.abs(np.asarray(Image.open(file).convert("L")).astype(int) - wanted).max() <= 1


def test_what_pmtiles_and_mbtiles_cannot_say_is_refused(
    world: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    raster = str(world / "world.tif")
    assert main(["tiles", raster, "--out", str(tmp_path / "a.pmtiles"), "--matrix-set", "WorldCRS84Quad"]) == 2
    assert "WebMercatorQuad only" in capsys.readouterr().err
    assert main(["tiles", raster, "--out", str(tmp_path / "a.mbtiles"), "--rows", "tms"]) == 2
    assert main(["tiles", raster, "--out", str(tmp_path / "a.zip"), "--matrix-set", "Nonsense"]) == 2
    assert "Nonsense" in capsys.readouterr().err
    assert list(tmp_path.iterdir()) == []


def test_webp_tiles_show_the_same_pixels(world: Path, tmp_path: Path) -> None:
    """WebP read by Pillow (PyPI), against the PNG of the same tile; both archives say what they hold."""
    for kind in ("png", "webp"):
        for ending in ("zip", "mbtiles"):
            command = [
                "tiles",
                str(world / "world.tif"),
                "--out",
                str(tmp_path / f"{kind}.{ending}"),
                "--format",
                kind,
                "--max-zoom",
                "1",
            ]
            assert main(command) == 0
    with zipfile.ZipFile(tmp_path / "png.zip") as png, zipfile.ZipFile(tmp_path / "webp.zip") as webp:
        names = [name for name in png.namelist() if name.endswith(".png")]
        assert len(names) == 5
        for name in names:
            one, other = (
                np.asarray(Image.open(z.open(n)).convert("RGBA")) for z, n in ((png, name), (webp, name[:-3] + "webp"))
            )
            assert np.array_equal(one, other)
    rows = (
        sqlite3.connect(tmp_path / "webp.mbtiles")
        .execute("SELECT value FROM metadata WHERE name = 'format'")
        .fetchall()
    )
    assert rows == [("webp",)]
    noise = np.random.default_rng(1).integers(0, 256, (64, 64, 4), dtype=np.uint8)
    noise[..., 3] = 255
    (tmp_path / "n.webp").write_bytes(encoded(noise, "webp"))
    assert np.array_equal(np.asarray(Image.open(tmp_path / "n.webp").convert("RGBA")), noise)


@pytest.mark.parametrize("crs", ["EPSG:8857", "EPSG:3031", "EPSG:2154", "EPSG:3857"])
def test_boxes_in_degrees_hold_what_is_shown(crs: str) -> None:
    """Sampled places of a box on the map, by PROJ's inverse, lie in the box in degrees that is announced for it."""
    frame = Frame.named(crs)
    west, south, east, north = frame.outline.bounds
    rng = np.random.default_rng(7)
    back = pyproj.Transformer.from_crs(frame.crs, LONLAT, always_xy=True)
    for _ in range(20):
        x, y = np.sort(rng.uniform(west, east, 2)), np.sort(rng.uniform(south, north, 2))
        w, s, e, n = frame.lonlat_bounds((x[0], y[0], x[1], y[1]))
        px, py = rng.uniform(*x, 400), rng.uniform(*y, 400)
        inside = shapely.contains_xy(frame.outline, px, py)
        lon, lat = back.transform(px[inside], py[inside])
        slack = 3.0  # degrees between two of the places that are asked
        assert ((lon >= w - slack) & (lon <= e + slack) & (lat >= s - slack) & (lat <= n + slack)).all()
        assert -180 <= w <= e <= 180 and -90 <= s <= n <= 90


def test_a_place_there_and_back() -> None:
    assert MERCATOR.lonlat(*MERCATOR.place(-27.5, 57.25)) == pytest.approx((-27.5, 57.25))
    assert Tile(1, 1, 1) == MERCATOR.grid.tile_at(1.0, -1.0, 1)


def test_a_registered_set_is_found_beside_its_projection() -> None:
    """OGC 17-083r4, annex D: EuropeanETRS89_LAEAQuad begins at 2,000,000, 5,500,000; from memory,
    and so in morecantile."""
    found = search_projections("3035")
    assert [one.crs for one in found[:2]] == ["EPSG:3035", "EuropeanETRS89_LAEAQuad"]
    assert search_projections("laeaquad")[0].bounds == found[0].bounds
    frame = Frame.named("EuropeanETRS89_LAEAQuad")
    assert (frame.grid.left, frame.grid.top) == (2_000_000, 5_500_000)
    assert frame.name.endswith("LAEA Europe · EuropeanETRS89_LAEAQuad") and frame != Frame.named("EPSG:3035")
    assert Frame.named("WorldCRS84Quad").grid == Frame.named("EPSG:4326").grid
    with pytest.raises(ValidationError):
        Projection(crs="SomeOtherQuad")


def test_names_are_found_without_their_accents() -> None:
    assert (
        [one.crs for one in search_projections("Réunion")] == [one.crs for one in search_projections("reunion")] != []
    )
    assert search_projections("no such thing at all") == []


def test_an_edition_in_another_matrix_set(world: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """Europe in its own set: a zip with tiles, a tile set document, and no file that could only be read in Web Mercator."""
    layer = {
        "id": "a",
        "name": "A",
        "dataset": "countries.geojson",
        "symbology": {"kind": "symbols"},
        "lettering": {"field": "name"},
    }
    (world / "e.json").write_text(json.dumps({"version": 2, "title": "Countries", "layers": [layer]}))
    command = [
        "publish",
        str(world / "e.json"),
        "--matrix-set",
        "EuropeanETRS89_LAEAQuad",
        "--max-zoom",
        "2",
        "--format",
        "webp",
    ]
    assert main([*command, "--out", str(tmp_path / "e.zip")]) == 0
    with zipfile.ZipFile(tmp_path / "e.zip") as archive:
        names = set(archive.namelist())
        assert {"map.zip", "map.json", "tilematrixset.json", "edition.json", "a.geojson", "sheet.json"} <= names
        assert not [name for name in names if name.endswith(".pmtiles") or name == "style.json"]
        told = json.loads(archive.read("edition.json"))
        with zipfile.ZipFile(archive.open("map.zip")) as tiles:
            inside = [name for name in tiles.namelist() if name.startswith("2/")]
            assert len(inside) == 16  # land is on every tile of Europe at this level
            picture = np.asarray(Image.open(tiles.open("2/1/1.webp")).convert("RGBA"))
    assert picture[..., 3].any()
    assert (told["frame"]["matrix_set"], told["format"]) == ("EuropeanETRS89_LAEAQuad", "webp")
    # A sheet may name the set as where it lies: the same tiles.
    named = {"version": 2, "title": "Countries", "projection": {"crs": "EuropeanETRS89_LAEAQuad"}, "layers": [layer]}
    (world / "n.json").write_text(json.dumps(named))
    plain = [*command[:1], str(world / "n.json"), *command[4:]]
    assert main([*plain, "--out", str(tmp_path / "n.zip")]) == 0
    with zipfile.ZipFile(tmp_path / "n.zip") as by_name, zipfile.ZipFile(tmp_path / "e.zip") as by_option:
        assert by_name.read("map.zip") == by_option.read("map.zip")
        assert json.loads(by_name.read("edition.json"))["frame"] == told["frame"]
    (tmp_path / "n.zip").unlink()
    assert main([*command, "--out", str(tmp_path / "e.pdf")]) == 2
    far = {"type": "Feature", "properties": {}, "geometry": {"type": "Point", "coordinates": [-120, -30]}}
    (world / "far.geojson").write_text(json.dumps({"type": "FeatureCollection", "features": [far]}))
    (world / "e.json").write_text(
        json.dumps({"version": 2, "title": "T", "layers": [{**layer, "dataset": "far.geojson", "lettering": None}]})
    )
    capsys.readouterr()
    assert main([*command, "--out", str(tmp_path / "f.zip")]) == 2
    assert "beside the tiles" in capsys.readouterr().err
    assert [file.name for file in tmp_path.iterdir()] == ["e.zip"]


def test_without_a_box_the_whole_map_is_drawn_wherever_the_sheet_opens(world: Path) -> None:
    whole = draw(world, "EPSG:8857", {"kind": "picture"}, "world.tif", "--size", "400x240")
    sheet = json.loads((world / "s.json").read_text()) | {"view": {"lon": 20, "lat": 50, "zoom": 6}}
    (world / "opens.json").write_text(json.dumps(sheet))
    pictures = []
    for options in ([], ["--zoom", "6"]):
        assert (
            main(["draw", str(world / "opens.json"), "--out", str(world / "o.png"), "--size", "400x240", *options]) == 0
        )
        pictures.append(np.asarray(Image.open(world / "o.png").convert("RGB")).astype(int))
    assert np.array_equal(pictures[0], whole) and not np.array_equal(pictures[1], whole)


@pytest.mark.parametrize("radius", [2.0, 20.0, 60.0])
def test_a_whole_map_has_room_for_its_marks(radius: float, tmp_path: Path) -> None:
    """None is cut by the edge of the picture; of very large ones no more room is made than a tenth of it."""
    (tmp_path / "corners.csv").write_text("lon,lat\n-3,51\n-3,54\n3,51\n3,54\n")
    layer = {
        "id": "a",
        "name": "A",
        "dataset": "corners.csv",
        "symbology": {"kind": "symbols", "symbol": {"radius": radius}},
    }
    sheet = {"version": 4, "title": "Corners", "layers": [layer], "furniture": {"scale_bar": False}}
    (tmp_path / "a.sheet.json").write_text(json.dumps(sheet))
    picture = tmp_path / "a.png"
    assert main(["draw", str(tmp_path / "a.sheet.json"), "--out", str(picture), "--size", "400x400"]) == 0
    pixels = np.asarray(Image.open(picture).convert("RGB"))
    corner = np.argwhere((pixels[:200, :200] != pixels[200, 200]).any(axis=2))
    wide, free = np.ptp(corner, axis=0) + 1, corner.min(axis=0)
    assert (wide.min() >= 2 * radius) == (radius < 60)
    assert free.min() <= (8 if radius == 2 else 0), "and no more than they need"
