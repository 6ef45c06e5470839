"""Tile addresses, pyramids and archives against the standards and their libraries."""

import json
import sqlite3
from pathlib import Path

import morecantile
import numpy as np
import pyproj
import pytest
import rasterio
from greylatch.errors import BadInput
from greylatch.paint.sources import RasterSource
from greylatch.places.frame import MERCATOR, Frame
from greylatch.places.grid import KNOWN_SETS, Grid, Tile
from greylatch.tiles.archive import ArchiveInfo, open_archive, tilejson
from greylatch.tiles.image import halved, png
from greylatch.tiles.raster_pyramid import cut_raster, raster_levels
from greylatch.tiles.read import PMTilesFile, ZippedTiles, merge_zips
from PIL import Image
from pmtiles.reader import MmapSource, Reader, all_tiles
from pmtiles.tile import zxy_to_tileid

from tests.core.exact_warp import exact_warp, offset

INFO = ArchiveInfo("t", "png", 0, 1, (-180, -85, 180, 85))


def test_levels_of_web_mercator_quad() -> None:
    """OGC 17-083r4, WebMercatorQuad: cell sizes of levels 0 and 10 (from memory of the standard; morecantile agrees)."""
    assert MERCATOR.grid.resolution(0) == pytest.approx(156543.033928041, abs=1e-9)
    assert MERCATOR.grid.resolution(10) == pytest.approx(152.874056570353, abs=1e-9)
    assert morecantile.tms.get("WebMercatorQuad").matrix(0).scaleDenominator == pytest.approx(559082264.0287178)
    with pytest.raises(BadInput, match="not in 'GNOSISGlobalGrid'"):
        Grid.called("GNOSISGlobalGrid")


@pytest.mark.parametrize("name", KNOWN_SETS)
@pytest.mark.parametrize("tile", [Tile(0, 0, 0), Tile(5, 9, 10), Tile(12, 3423, 1763)])
def test_ground_of_tiles_as_morecantile(name: str, tile: Tile) -> None:
    """morecantile has the registered sets from the OGC's own documents, and computes their tiles itself;
    the European one's by its scale denominators, which are rounded to less than a tenth of a millimetre on the ground."""
    theirs = morecantile.tms.get(name).xy_bounds(morecantile.Tile(x=tile.x, y=tile.y, z=tile.z))
    assert Grid.called(name).tile_bounds(tile) == pytest.approx(tuple(theirs), abs=1e-4)


@pytest.mark.parametrize(
    "crs",
    [
        "EPSG:8857",
        "EPSG:3031",
        "EPSG:2154",
        "+proj=laea +lat_0=52 +lon_0=-27",
        "EPSG:2263",
        "EPSG:3035",
        "EPSG:31467",
        "EPSG:2136",
        "+proj=laea +to_meter=7",
    ],
)
def test_sets_made_for_a_projection(crs: str) -> None:
    """The document that is written beside the tiles, read by morecantile, has the same ground for every tile, and the same
    projection: written out where no register has a code for it; northing first where the system has it so, in whatever unit."""
    frame = Frame.named(crs)
    read = morecantile.TileMatrixSet.model_validate(frame.grid.document(9))
    assert pyproj.CRS.from_wkt(read.crs.to_wkt()) == frame.crs
    for tile in (Tile(0, 0, 0), Tile(4, 7, 3), Tile(9, 311, 200)):
        theirs = read.xy_bounds(morecantile.Tile(x=tile.x, y=tile.y, z=tile.z))
        assert frame.grid.tile_bounds(tile) == pytest.approx(tuple(theirs), abs=1e-3)
    west, south, east, north = frame.outline.bounds
    left, bottom, right, top = frame.grid.extent
    assert left <= west + 1 and bottom <= south + 1 and east <= right + 1 and north <= top + 1
    # A level shows as much ground as it does in WebMercatorQuad at the equator.
    assert frame.grid.resolution(0) / frame.unit == pytest.approx(MERCATOR.grid.resolution(0))


def test_tms_rows_count_from_the_bottom() -> None:
    """y' = 2^z − 1 − y."""
    assert [MERCATOR.grid.tms_row(Tile(3, 0, y)) for y in (0, 7)] == [7, 0]


def test_archive_tile_numbers() -> None:
    """PMTiles version 3 specification: Hilbert order (from memory; the pmtiles library agrees)."""
    assert [zxy_to_tileid(1, *xy) for xy in ((0, 0), (0, 1), (1, 1), (1, 0))] == [1, 2, 3, 4]
    assert zxy_to_tileid(12, 3423, 1763) == 19078479


def test_tiles_that_only_touch_are_not_taken() -> None:
    assert list(MERCATOR.grid.tiles_over(MERCATOR.grid.tile_bounds(Tile(4, 3, 5)), 4)) == [Tile(4, 3, 5)]
    assert len(list(MERCATOR.grid.tiles_over(MERCATOR.grid.tile_bounds(Tile(4, 3, 5)), 6))) == 16
    assert MERCATOR.grid.covering_level(MERCATOR.grid.tile_bounds(Tile(7, 3, 5))) == 7


@pytest.mark.parametrize("ending", [".pmtiles", ".mbtiles", ".zip", ""])
def test_archives_are_whole_or_absent(tmp_path: Path, ending: str) -> None:
    out = tmp_path / f"t{ending}"
    with pytest.raises(RuntimeError), open_archive(out, INFO) as sink:
        sink.add(Tile(0, 0, 0), b"x")
        raise RuntimeError("the power went")
    assert list(tmp_path.iterdir()) == []
    with pytest.raises(BadInput, match="not a single tile"), open_archive(out, INFO):
        pass
    assert list(tmp_path.iterdir()) == []
    with open_archive(out, INFO) as sink:
        sink.add(Tile(1, 1, 0), b"data")
    assert [p.name for p in tmp_path.iterdir()] == [out.name]


def test_archives_hold_the_same_tiles(tmp_path: Path) -> None:
    tiles = {Tile(0, 0, 0): b"a", Tile(1, 1, 0): b"b", Tile(1, 0, 1): b"c"}
    for ending in (".pmtiles", ".mbtiles", ".zip", ""):
        with open_archive(tmp_path / f"t{ending}", INFO) as sink:
            for tile, data in tiles.items():
                sink.add(tile, data)
    with (tmp_path / "t.pmtiles").open("rb") as file:
        assert {Tile(*zxy): data for zxy, data in all_tiles(MmapSource(file))} == tiles
        assert Reader(MmapSource(file)).header()["max_zoom"] == 1
    rows = (
        sqlite3.connect(tmp_path / "t.mbtiles")
        .execute("SELECT tile_data FROM tiles WHERE zoom_level=1 AND tile_column=1 AND tile_row=1")
        .fetchall()
    )
    assert rows == [(b"b",)]
    assert (tmp_path / "t" / "1" / "1" / "0.png").read_bytes() == b"b"
    assert json.loads((tmp_path / "t" / "tilejson.json").read_text())["tilejson"] == "3.0.0"
    assert merge_zips([tmp_path / "t.zip"], tmp_path / "m.pmtiles", INFO) == 3
    merged = PMTilesFile(tmp_path / "m.pmtiles")
    assert (merged.tile(Tile(1, 0, 1)), merged.tile(Tile(1, 0, 0))) == (b"c", None)
    merged.close()
    zipped = ZippedTiles(tmp_path / "t.zip")
    assert (zipped.tile(Tile(1, 0, 1)), zipped.tile(Tile(1, 0, 0))) == (b"c", None)
    zipped.close()


def test_a_full_folder_is_left_alone(tmp_path: Path) -> None:
    (tmp_path / "t").mkdir()
    (tmp_path / "t" / "mine.txt").write_text("keep")
    with pytest.raises(BadInput, match="not empty"), open_archive(tmp_path / "t", INFO):
        pass
    assert (tmp_path / "t" / "mine.txt").read_text() == "keep"


def test_tilejson() -> None:
    made = tilejson(INFO, "https://example.org/{z}/{x}/{y}.png")
    assert made["bounds"] == [-180, -85, 180, 85]
    assert (made["scheme"], made["minzoom"], made["maxzoom"], made["tileSize"]) == ("xyz", 0, 1, 256)


def test_halving_does_not_darken_edges() -> None:
    block = np.zeros((2, 2, 4), dtype=np.uint8)
    block[0, 0] = (200, 100, 50, 255)
    assert halved(block)[0, 0].tolist() == [200, 100, 50, 64]


def test_png_keeps_alpha_only_where_there_is_some() -> None:
    rgba = np.full((4, 4, 4), 255, dtype=np.uint8)
    assert png(rgba)[25] == 2  # colour type of the header: RGB
    rgba[0, 0, 3] = 0
    assert png(rgba)[25] == 6  # RGBA


@pytest.fixture(scope="module")
def pyramid(demo: Path, tmp_path_factory: pytest.TempPathFactory) -> Path:
    out = tmp_path_factory.mktemp("pyramid") / "picture"
    cut_raster(demo / "picture.tif", out, processes=1)
    return out


def test_levels_follow_from_the_data(demo: Path, pyramid: Path) -> None:
    """Common practice: from the level at which one tile holds all to the raster's own resolution, no deeper."""
    levels = raster_levels(RasterSource(demo / "picture.tif"), 256)
    assert levels.max_zoom == 12  # 40.6 m per px; level 12 has 38.2
    assert sorted(int(p.name) for p in pyramid.iterdir() if p.is_dir()) == list(range(levels.min_zoom, 13))


def test_every_tile_lies_where_rasterio_puts_it(demo: Path, pyramid: Path) -> None:
    """The same warp through rasterio, exact: tiles of the deepest level, bilinear, are off by less than an eighth of a px, and
    differ by what that may make of a picture whose neighbouring pixels differ by some 20 levels."""
    with rasterio.open(demo / "picture.tif") as source:
        data, transform, crs = source.read(), source.transform, source.crs
    offsets = []
    for tile in list(MERCATOR.grid.tiles_over(RasterSource(demo / "picture.tif").bounds, 12))[::9]:
        file = pyramid / str(tile.z) / str(tile.x) / f"{tile.y}.png"
        if not file.exists():
            continue
        ours = np.asarray(Image.open(file).convert("RGBA")).astype(np.float32)
        exact = exact_warp(data.astype(np.float32), transform, crs, MERCATOR.grid.tile_bounds(tile), 256, nodata=np.nan)
        inside = ours[..., 3] == 255
        apart = np.abs(ours[..., :3] - exact.transpose(1, 2, 0))[inside]
        assert np.nanmean(apart) < 1.0
        offsets.append(offset(ours[..., 0], exact[0], inside))
    assert len(offsets) > 5
    assert np.nanmax(offsets) < 0.125


def test_tiles_outside_are_not_written_and_edges_are_clear(demo: Path, pyramid: Path) -> None:
    files = list(pyramid.rglob("*.png"))
    assert all(np.asarray(Image.open(f).convert("RGBA"))[..., 3].any() for f in files)
    top = next(
        f for f in files if f.parent.parent.name == str(raster_levels(RasterSource(demo / "picture.tif"), 256).min_zoom)
    )
    assert np.asarray(Image.open(top).convert("RGBA"))[..., 3].min() == 0


@pytest.mark.parametrize(
    ("more", "words"),
    [
        ({"size": 300}, "256 or 512"),
        ({"resampling": "magic"}, "no resampling"),
        ({"min_zoom": 9, "max_zoom": 4}, "cannot be cut"),
    ],
)
def test_bad_wishes(demo: Path, tmp_path: Path, more: dict[str, object], words: str) -> None:
    with pytest.raises(BadInput, match=words):
        cut_raster(demo / "picture.tif", tmp_path / "x.pmtiles", **more)  # type: ignore[arg-type]
    assert list(tmp_path.iterdir()) == []


def test_nearest_keeps_the_rasters_own_colours(demo: Path, tmp_path: Path) -> None:
    cut_raster(demo / "picture.tif", tmp_path / "n", max_zoom=9, resampling="nearest", processes=1)
    assert MERCATOR.grid.level_for(305.7) == 9
    assert len(list((tmp_path / "n").rglob("*.png"))) >= 2
