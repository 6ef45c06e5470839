"""Rasters at a glance: the figures are NumPy's over the same pixels, the picture has the colours that the file says."""

import base64
import io
import warnings
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import rasterio
from greylatch.errors import BadFile
from greylatch.formats.corrections import Corrections
from greylatch.formats.intake import take_in
from greylatch.formats.preview import preview
from greylatch.rasters.glance import RasterGlance, raster_glance
from greylatch.rasters.unusual import looked_at
from PIL import Image
from rasterio.control import GroundControlPoint
from rasterio.transform import from_origin

from tests.core.test_odd_rasters import raster

RNG = np.random.default_rng(5)


def pixels(seen: RasterGlance) -> np.ndarray:
    return np.asarray(Image.open(io.BytesIO(base64.b64decode(seen.picture))).convert("RGBA"))


def test_a_small_raster_is_looked_at_whole(tmp_path: Path) -> None:
    data = RNG.normal(100, 30, (60, 80)).astype(np.float32)
    data[:6] = -9999
    seen = raster_glance(raster(tmp_path / "a.tif", data, nodata=-9999))
    (band,) = seen.bands
    there = data[6:].astype(float)
    assert (band.low, band.high) == (there.min(), there.max()) and band.mean == pytest.approx(there.mean())
    assert band.missing == pytest.approx(0.1)
    assert band.bars == list(np.histogram(there, 48, (there.min(), there.max()))[0]) and sum(band.bars) == there.size
    shown = pixels(seen)
    assert shown.shape == (60, 80, 4) and (shown[:6, :, 3] == 0).all() and (shown[6:, :, 3] == 255).all()
    assert (shown[..., 0] == shown[..., 1]).all(), "grey"
    dark, light = np.percentile(there, (2, 98))
    assert (shown[6:, :, 0][there <= dark] == 0).all() and (shown[6:, :, 0][there >= light] == 255).all()


def test_a_large_one_by_every_so_many_pixels(tmp_path: Path) -> None:
    data = np.add.outer(np.arange(900), np.arange(1600)).astype(np.uint16)
    seen = raster_glance(raster(tmp_path / "a.tif", data, transform=from_origin(-27, 52, 0.001, 0.001)))
    assert pixels(seen).shape[:2] == (180, 320)
    assert seen.bands[0].mean == pytest.approx(data.mean(), rel=0.01)


def test_pixels_next_to_each_other_have_bars(tmp_path: Path) -> None:
    """Found by spoiled files."""
    data = np.array([[1, np.nextafter(1, 2)]])
    assert sum(raster_glance(raster(tmp_path / "a.tif", data)).bands[0].bars) == 2


def test_palettes_colours_and_one_bit(tmp_path: Path) -> None:
    codes = np.array([[0, 1], [2, 1]], np.uint8)
    path = raster(tmp_path / "a.tif", codes)
    with rasterio.open(path, "r+") as target:
        target.write_colormap(1, {0: (10, 20, 30, 255), 1: (200, 0, 0, 255), 2: (0, 0, 200, 255)})
    seen = raster_glance(path)
    assert seen.colours == 256 and [tuple(each) for each in pixels(seen)[0]] == [(10, 20, 30, 255), (200, 0, 0, 255)]
    rgb = RNG.integers(0, 255, (3, 4, 5), dtype=np.uint8)
    seen = raster_glance(raster(tmp_path / "b.tif", rgb, photometric="RGB"))
    assert (np.moveaxis(pixels(seen)[..., :3], 2, 0) == rgb).all() and [band.name for band in seen.bands] == [
        "red",
        "green",
        "blue",
    ]
    bits = raster(tmp_path / "c.tif", np.eye(16, dtype=np.uint8), nbits=1)
    assert raster_glance(bits).bands[0].high == 1


def test_what_one_band_lacks_is_there_as_long_as_another_has_it(tmp_path: Path) -> None:
    """Found with a satellite picture of a bay whose water has no red: it was white at a glance and blue on the map."""
    data = np.full((3, 8, 8), 90, np.uint8)
    data[0, :4], data[:, :2] = 0, 0
    file = raster(tmp_path / "bay.tif", data, nodata=0, photometric="rgb")
    shown = pixels(raster_glance(file))
    assert (shown[..., 3] > 0).tolist() == [[row >= 2] * 8 for row in range(8)]
    assert shown[3, 0].tolist() == [0, 90, 90, 255]


def test_what_has_no_numbers(tmp_path: Path) -> None:
    empty = raster_glance(raster(tmp_path / "a.tif", np.full((4, 4), np.nan, np.float32)))
    assert (empty.bands[0].low, empty.bands[0].bars, empty.bands[0].missing) == (None, [], 1)


@pytest.mark.parametrize("kind", [np.complex64, np.complex128])
def test_complex_numbers_become_their_size_and_angle(tmp_path: Path, kind: Any) -> None:
    waves = np.array([[3 + 4j, -2], [1j, 0]]).astype(kind)
    path = raster(tmp_path / "a.tif", waves)
    seen = preview(path, "a.tif", Corrections())
    assert seen.problem is None and seen.look is not None and seen.raster is not None
    assert [band.name for band in seen.look.bands] == ["band 1, size", "band 1, angle"] and seen.raster["bands"] == 2
    assert "their size, and their angle" in seen.notes[-1]
    taken = take_in(path, Corrections(), tmp_path)
    assert "their size" in taken.notes[-1]
    with rasterio.open(tmp_path / "raster.tif") as kept:
        assert kept.read(1).tolist() == [[5, 2], [1, 0]]
        assert kept.read(2) == pytest.approx(np.angle(waves), abs=1e-6)


def test_control_points_place_a_raster(tmp_path: Path) -> None:
    """Four corners of a square that lies straight: what GDAL warps by them is the grid that the same corners would state."""
    path = tmp_path / "a.tif"
    data = np.arange(1, 401, dtype=np.float32).reshape(20, 20)
    corners = [(r, c) for r in (0, 20) for c in (0, 20)]
    points = [GroundControlPoint(r, c, -27 + c / 100, 52 - r / 100) for r, c in corners]
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        with rasterio.open(
            path,
            "w",
            driver="GTiff",
            width=20,
            height=20,
            count=1,
            dtype="float32",
            gcps=points,
            crs="EPSG:4326",
            nodata=-1,
        ) as target:
            target.write(data[None])
    seen = preview(path, "a.tif", Corrections())
    assert seen.problem is None and "4 ground control points" in seen.notes[-1]
    take_in(path, Corrections(), tmp_path)
    with rasterio.open(tmp_path / "raster.tif") as kept:
        assert kept.crs.to_epsg() == 4326 and kept.bounds == pytest.approx((-27, 51.8, -26.8, 52), abs=1e-6)
        for r, c in ((0, 0), (7, 13), (19, 19)):
            (value,) = next(kept.sample([(-27 + (c + 0.5) / 100, 52 - (r + 0.5) / 100)]))
            assert value == data[r, c]


def test_of_a_large_unusual_one_only_so_many_pixels_are_looked_at(tmp_path: Path) -> None:
    """A radar scene of 13,509 × 22,694 complex numbers with 210 control points (of a test of a package from PyPI) took more than a minute to
    be looked at."""
    height, width = 700, 1500
    waves = (np.add.outer(np.arange(height), np.arange(width)) + 1j).astype(np.complex64)
    points = [GroundControlPoint(r, c, 10 + c / 1000, 50 - r / 1000) for r in (0, height) for c in (0, width)]
    path = tmp_path / "a.tif"
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        with rasterio.open(
            path,
            "w",
            driver="GTiff",
            width=width,
            height=height,
            count=1,
            dtype="complex64",
            gcps=points,
            crs="EPSG:4326",
        ) as target:
            target.write(waves[None])
    with looked_at(path, 150) as (plain, full), rasterio.open(plain) as seen:
        assert full is not None and full == pytest.approx((width, height), abs=2)
        assert max(seen.width, seen.height) <= 152 and seen.count == 2
        assert seen.bounds == pytest.approx((10, 49.3, 11.5, 50), abs=0.02)
        (value,) = next(seen.sample([(10.75, 49.65)], indexes=[1]))
        assert value == pytest.approx(750 + 350, abs=25)
    shown = preview(path, "a.tif", Corrections())
    assert (
        shown.raster is not None
        and shown.raster["width"] == full[0]
        and shown.raster["cell"][0] == pytest.approx(0.001, rel=0.01)
    )


def test_points_that_place_nothing_are_said(tmp_path: Path) -> None:
    path = tmp_path / "a.tif"
    points = [GroundControlPoint(r, r, 10 + r, 50 + r) for r in (0, 3, 6, 9)]
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        with rasterio.open(
            path, "w", driver="GTiff", width=9, height=9, count=1, dtype="uint8", gcps=points, crs="EPSG:4326"
        ) as target:
            target.write(np.ones((1, 9, 9), np.uint8))
    for look in (lambda: preview(path, "a.tif", Corrections()), lambda: take_in(path, Corrections(), tmp_path)):
        with pytest.raises(BadFile, match="not placed"):
            look()
