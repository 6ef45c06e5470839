"""Rasters as people really have them: drawn as what they are, or refused with the right reason."""

import base64
import json
import struct
import warnings
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import pyproj
import pytest
import rasterio
from greylatch.errors import BadInput
from greylatch.formats.bounded import bounded
from greylatch.formats.corrections import Corrections
from greylatch.formats.intake import take_in
from greylatch.formats.preview import preview
from greylatch.paint.sources import RasterSource
from greylatch.places.crs import parse_crs
from greylatch.places.frame import MERCATOR
from greylatch.places.grid import Tile
from greylatch.places.view import View
from greylatch.rasters.info import raster_info
from greylatch.rasters.ink import draw_raster
from greylatch.rasters.keep import keep_as_cog
from greylatch.sheet.symbology import Picture, RasterRamp
from rasterio.transform import from_bounds, from_origin


def raster(path: Path, data: np.ndarray[Any, Any], **look: Any) -> Path:
    bands = data if data.ndim == 3 else data[None]
    given = {"crs": "EPSG:4326", "transform": from_origin(-27, 52, 0.01, 0.01), **look}
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        with rasterio.open(
            path,
            "w",
            driver="GTiff",
            width=bands.shape[2],
            height=bands.shape[1],
            count=bands.shape[0],
            dtype=bands.dtype,
            **given,
        ) as target:
            target.write(bands)
    return path


SLOPE = np.arange(40 * 40, dtype=np.float32).reshape(40, 40)


@pytest.mark.parametrize("nodata", [float("nan"), float("inf"), -float("inf")])
def test_nodata_that_is_no_number(tmp_path: Path, nodata: float) -> None:
    data = SLOPE.copy()
    data[:20] = nodata
    path = raster(tmp_path / "a.tif", data, nodata=nodata)
    info = raster_info(path)
    assert (info.nodata, info.first_band.missing) == (None, 800)
    assert "marked by" in info.notes[0]
    json.dumps(info.as_json(), allow_nan=False)
    kept = keep_as_cog(path, tmp_path / "kept.tif")
    assert (kept.low, kept.high) == (info.low, info.high)
    picture = draw_raster(tmp_path / "kept.tif", RasterRamp(), View(MERCATOR, RasterSource(path).bounds, 40, 40))
    assert picture is not None
    assert picture[:15, :, 3].max() == 0
    assert picture[25:, :, 3].min() == 255


def test_infinite_pixels_are_no_data(tmp_path: Path) -> None:
    data = SLOPE.copy()
    data[5, 5] = np.inf
    info = raster_info(raster(tmp_path / "a.tif", data))
    assert (info.first_band.missing, info.first_band.maximum) == (1, 1599)


def test_single_bits_are_black_and_white(tmp_path: Path) -> None:
    bits = (np.indices((40, 40)).sum(axis=0) // 10 % 2).astype(np.uint8)
    path = raster(tmp_path / "a.tif", bits, nbits=1)
    keep_as_cog(path, tmp_path / "kept.tif")
    picture = draw_raster(
        tmp_path / "kept.tif", Picture(), View(MERCATOR, RasterSource(path).bounds, 80, 80), "nearest"
    )
    assert picture is not None
    assert len(np.unique(picture.reshape(-1, 4), axis=0)) == 2
    assert np.ptp(picture[..., 0].astype(int)) > 100


def test_colours_of_sixteen_bits(tmp_path: Path) -> None:
    colours = np.stack([SLOPE, SLOPE[::-1], np.full_like(SLOPE, 800)]).astype(np.uint16) * 20
    path = raster(tmp_path / "a.tif", colours, photometric="rgb")
    assert raster_info(path).colour == "rgb"
    picture = draw_raster(path, Picture(), View(MERCATOR, RasterSource(path).bounds, 40, 40))
    assert picture is not None
    assert picture[2, 20, 0] < 40 < 200 < picture[37, 20, 0]
    assert picture[2, 20, 1] > 200 > 40 > picture[37, 20, 1]


def no_transform(path: Path) -> None:
    raster(path, SLOPE, transform=rasterio.Affine.identity())


def huge_block(path: Path) -> None:
    entries = [(256, 4, 1, 32768), (257, 4, 1, 32768), (258, 3, 1, 32), (259, 3, 1, 8), (262, 3, 1, 1), (277, 3, 1, 1), (322, 4, 1, 32768), (323, 4, 1, 32768), (324, 4, 1, 0), (325, 4, 1, 0), (339, 3, 1, 3)]  # fmt: skip
    head = struct.pack("<2sHI", b"II", 42, 8) + struct.pack("<H", len(entries))
    path.write_bytes(head + b"".join(struct.pack("<HHII", *one) for one in entries) + struct.pack("<I", 0))


@pytest.mark.parametrize(
    ("make", "words"),
    [
        (no_transform, "not where in it the pixels lie"),
        (lambda path: raster(path, SLOPE, transform=from_origin(5e5, 5e6, 1e-7, 1e-7), crs="EPSG:32626"), "covers no ground"),
        (huge_block, "blocks of 32,768 × 32,768 pixels"),
        (lambda path: raster(path, SLOPE, transform=from_origin(1e300, 1e300, 1e299, 1e299), crs="EPSG:3857"), "no place on earth|are no numbers"),
        (lambda path: raster(path, SLOPE, crs="EPSG:5773"), "is not a map's reference system"),
        (lambda path: path.write_bytes(b"II*\0" + b"\0" * 40), "not a readable GeoTIFF"),
    ],
)  # fmt: skip
def test_rasters_that_cannot_be_drawn_are_refused_with_the_right_reason(
    tmp_path: Path, make: Callable[[Path], Any], words: str
) -> None:
    path = tmp_path / "a.tif"
    make(path)
    with pytest.raises(BadInput, match=words):
        preview(path, "a.tif", Corrections())


def test_a_raster_without_a_projection_is_seen_and_given_one(tmp_path: Path) -> None:
    path = tmp_path / "a.tif"
    raster(path, SLOPE, crs=None)
    seen = preview(path, "a.tif", Corrections())
    assert "says nothing about its projection" in (seen.problem or "")
    assert (seen.kind, seen.raster["width"]) == ("raster", SLOPE.shape[1])  # type: ignore[index]
    with pytest.raises(BadInput, match="says nothing about its projection"):
        take_in(path, Corrections(), tmp_path)
    chosen = Corrections(crs="EPSG:4326")
    assert preview(path, "a.tif", chosen).problem is None
    assert take_in(path, chosen, tmp_path).crs_reason == "Chosen by hand."


def test_a_projection_is_chosen_for_a_raster_that_does_not_say_it(tmp_path: Path) -> None:
    path = raster(tmp_path / "a.tif", SLOPE, crs=None, transform=from_origin(5e5, 5.76e6, 25, 25))
    shown = preview(path, "a.tif", Corrections(crs="EPSG:32626"))
    assert (shown.crs, shown.crs_reason) == ("EPSG:32626 · WGS 84 / UTM zone 26N", "Chosen by hand.")
    take_in(path, Corrections(crs="EPSG:32626"), tmp_path)
    assert raster_info(tmp_path / "raster.tif").bounds[0] == pytest.approx(-27.0, abs=0.01)


def test_a_raster_from_0_to_360_degrees_is_wrapped(tmp_path: Path) -> None:
    """Values are longitudes from −180 to 180, so every pixel says where it has to be drawn."""
    lon = np.arange(0, 360, 1.0) + 0.5
    values = np.tile((lon + 180) % 360 - 180, (140, 1)).astype(np.float32)
    path = raster(tmp_path / "a.tif", values, transform=from_origin(0, 70, 1, 1))
    info = raster_info(path)
    assert info.bounds == (-180, -70, 180, 70)
    for tile in (Tile(0, 0, 0), Tile(2, 0, 1), Tile(2, 1, 1), Tile(2, 2, 1), Tile(2, 3, 1)):
        west, _, east, _ = MERCATOR.grid.tile_bounds(tile)
        picture = draw_raster(
            path, RasterRamp(low=-180, high=180), View(MERCATOR, MERCATOR.grid.tile_bounds(tile), 256, 256), "nearest"
        )
        assert picture is not None
        middle = picture[128] if tile.z == 0 else picture[200]
        assert middle[:, 3].min() == 255, f"a gap in {tile}"
        # A ramp is darker on one side: its order along the row is that of the longitudes.
        there = np.linspace(west, east, 256) / 20037508.342789244 * 180
        level = middle[:, :3].astype(int).sum(axis=1)
        assert abs(np.corrcoef(there, level)[0, 1]) > 0.9


def test_a_raster_over_the_180th_meridian_lies_on_both_sides(tmp_path: Path) -> None:
    west, south, east, north = pyproj.Transformer.from_crs(4326, 32660, always_xy=True).transform_bounds(
        178, -18, 182, -15
    )
    path = raster(tmp_path / "a.tif", SLOPE, crs="EPSG:32660", transform=from_bounds(west, south, east, north, 40, 40))
    info = raster_info(path)
    assert (info.bounds[0], info.bounds[2]) == (-180, 180)
    assert "180th meridian" in info.notes[0]
    left, right = (
        draw_raster(path, RasterRamp(), View(MERCATOR, MERCATOR.grid.tile_bounds(Tile(5, x, 17)), 64, 64))
        for x in (0, 31)
    )
    assert left is not None and left[..., 3].any()
    assert right is not None and right[..., 3].any()
    middle = draw_raster(path, RasterRamp(), View(MERCATOR, MERCATOR.grid.tile_bounds(Tile(5, 15, 17)), 64, 64))
    assert middle is None or not middle[..., 3].any()


BROKEN_WITHIN = base64.b64decode(
    "SUkqAAgAAAARAAABAwABAAAACQAAAAEBAwABAAAACQAAAAIBAwAEAAAA2gAAAAMBAwABAAAAAQAAAAYBAwABAAAAAgAAABEBBBEB"
    "BAAAigEAABUBAwABAAAABAAAABYBAwABAAAACQAAABcBBAABAAAARAEAABwBAwABAAAAAQAAAFIBAwABAAAAAgAAAFMBAwAEAAAA"
    "4gAAAA6DDAADAAAA6gAAAIKEDAAGAAAAAgEAAK+HAwAgAAAAMgEAALCHDAACAAAAcgEAALGHAgAIAAAAggEAAAAAAAAIAAgACAAI"
    "AAEAAQABAAEAexSuR+F6hD97FK5H4XqEPwAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAO8AAAAAAAABKQAAA"
    "AAAAAAAAAQABAAAABwAABAAAAQACAAEEAABevNmBsix2BgABAAAIAAABAOYQAQixhwcAAAAGCAAAAQCOIwkIsIcBAAEACwiwhwEA"
    "AACIbXSWHaRyQAAAAECmVFhBV0dTIDg0fAAgFKRetSlxnB5eTDc9Vn1xkksCSFScPWprP4xgv5Inl4Grs0mhuCU2hR+NtmWJgla4"
    "A6wCbBnBwgcfl6AQX5gqXMQ/uyK8oLq+aLl6hm0oApdXZAFxiolmmsepdwC5xWFeQg9mURQ1oCOALA9RhKwbg1o3BTRPuE0FfTIk"
    "HYFokMIKOGt5wqsvDG+cxnAmGVqTMwWFkEohpWAJez84GMF8fVQSLZq2IBMYTbJLqVqoZHUyBKA6jBO6PlsebnVsbKHAiF4irgBU"
    "WA2CZCNaMgF+Sw6EtZRqLGxhHL6BuHFdUaAztSIAQwYJl4hbLAcOPEBKO04hRbSSURZukx0so1BpI39xx1+xCgjEPgI5mwu/KkRY"
    "tD+FNxyklIa/TnKvSJN2lURlr7NhMAVGIjqHgHYUcqx4TxU/GVRGVFRGNZEwxx/ASni4"
)
"""A made-up raster whose structure was spoiled (`bench/fuzz`, seed 2374147888): it can be read, but not written into."""


def test_a_raster_broken_within_is_given_a_projection_without_ending_the_process(tmp_path: Path) -> None:
    file, out = tmp_path / "a.tif", tmp_path / "kept"
    file.write_bytes(BROKEN_WITHIN)
    out.mkdir()
    assert bounded(file, take_in, file, Corrections(crs="EPSG:32626"), out).kind == "raster"


def test_a_raster_that_breaks_off_says_where_also_when_it_is_given_a_projection(tmp_path: Path) -> None:
    file, out = tmp_path / "a.tif", tmp_path / "kept"
    out.mkdir()
    place = rasterio.transform.from_origin(0, 64, 1, 1)
    with rasterio.open(file, "w", driver="GTiff", width=64, height=64, count=1, dtype="float32", transform=place, compress="deflate", blockysize=1) as target:  # fmt: skip
        target.write(np.random.default_rng(1).random((1, 64, 64), dtype=np.float32))
    data = bytearray(file.read_bytes())
    data[len(data) // 2 : len(data) // 2 + 400] = bytes(400)
    file.write_bytes(data)
    with pytest.raises(BadInput, match="breaks off at row"):
        take_in(file, Corrections(crs="EPSG:32626"), out)


def test_web_mercator_is_no_file(tmp_path: Path) -> None:
    """GDAL writes EPSG:3857 as WKT with an extension that names the grid "@null", which is none. It was refused as if it were a file's name;
    "@null" before the name of a file still is."""
    path = raster(
        tmp_path / "a.tif", np.ones((4, 4), np.uint8), crs="EPSG:3857", transform=from_origin(-3e6, 68e5, 10, 10)
    )
    assert "+nadgrids=@null" in rasterio.open(path).crs.to_wkt()
    assert raster_info(path).crs.startswith("EPSG:3857")
    with pytest.raises(BadInput, match="names a file"):
        parse_crs("+proj=merc +nadgrids=@null,/etc/passwd")
