"""Our own resampling against GDAL's, pixel by pixel, and the kinds of rasters that there are."""

from pathlib import Path

import numpy as np
import pyproj
import pytest
import rasterio
from affine import Affine
from greylatch.paint.sources import RasterSource
from greylatch.places.frame import MERCATOR
from greylatch.places.view import View
from greylatch.rasters.info import raster_info
from greylatch.rasters.ink import draw_raster
from greylatch.rasters.resample import resample, source_positions
from greylatch.rasters.window import ground_cell
from greylatch.sheet.symbology import Picture, RasterRamp
from rasterio.transform import from_origin

from tests.core.exact_warp import exact_warp

UTM = pyproj.CRS.from_epsg(32626)
PLACE = from_origin(480_000, 5_780_000, 20, 20)
BOUNDS = (-3_030_000.0, 6_800_000.0, -3_010_000.0, 6_820_000.0)


def surface(dtype: type, bands: int = 3, side: int = 700) -> np.ndarray:
    """Smooth fields, so that a shift shows as a difference and grain does not hide it."""
    y, x = np.mgrid[0:side, 0:side] / side
    fields = [127 + 100 * np.sin(9 * x * (b + 1) + 4 * y) * np.cos(7 * y) for b in range(bands)]
    return np.stack(fields).astype(dtype)


def by_gdal(data: np.ndarray, size: int, how: str) -> np.ndarray:
    return exact_warp(data, PLACE, UTM.to_wkt(), BOUNDS, size, how)


@pytest.mark.parametrize("size", [300, 620, 1400])
@pytest.mark.parametrize("dtype", [np.uint8, np.float32])
def test_bilinear_as_gdal(size: int, dtype: type) -> None:
    """rasterio's exact warp (tolerance 0) of the same data, finer, alike and coarser than the raster's own pixels."""
    data = surface(dtype)
    valid = np.ones(data.shape[1:], dtype=bool)
    ours, there = resample(
        data, valid, source_positions(View(MERCATOR, BOUNDS, size, size), PLACE, UTM), size, size, False
    )
    theirs = by_gdal(data, size, "bilinear")
    inner = there & (theirs[0] != 0)
    assert inner.mean() > 0.2
    assert np.abs(ours.astype(float) - theirs)[:, inner].mean() < 0.35
    assert np.percentile(np.abs(ours.astype(float) - theirs)[:, inner], 99.5) <= 2


def test_nearest_as_gdal() -> None:
    data = surface(np.uint8)
    valid = np.ones(data.shape[1:], dtype=bool)
    ours, there = resample(data, valid, source_positions(View(MERCATOR, BOUNDS, 620, 620), PLACE, UTM), 620, 620, True)
    theirs = by_gdal(data, 620, "nearest")
    # A centre within a hundredth of a px of a border between two pixels may fall on either side.
    assert (ours == theirs)[:, there].mean() > 0.97


def test_positions_between_nodes_are_exact_to_a_fiftieth_of_a_pixel() -> None:
    """Against pyproj at every single pixel."""
    size = 250
    found = source_positions(View(MERCATOR, BOUNDS, size, size), PLACE, UTM)
    x = BOUNDS[0] + (np.arange(size) + 0.5) * 20_000 / size
    y = BOUNDS[3] - (np.arange(size) + 0.5) * 20_000 / size
    east, north = pyproj.Transformer.from_crs(3857, 32626, always_xy=True).transform(*np.meshgrid(x, y))
    exact = (east - PLACE.c) / 20, (PLACE.f - north) / 20
    at = (np.arange(size) + 0.5) / 8
    low, share = at.astype(int), at - at.astype(int)

    def between(grid: np.ndarray) -> np.ndarray:
        lines = grid[low] * (1 - share)[:, None] + grid[low + 1] * share[:, None]
        return lines[:, low] * (1 - share) + lines[:, low + 1] * share

    assert np.abs(between(found.columns) - exact[0]).max() < 0.02
    assert np.abs(between(found.rows) - exact[1]).max() < 0.02


def test_missing_pixels_do_not_bleed() -> None:
    """A hole in the data stays a hole, and what lies around it keeps its own values."""
    data = np.full((1, 700, 700), 50, dtype=np.float32)
    valid = np.ones((700, 700), dtype=bool)
    valid[300:400, 300:400] = False
    data[0, 300:400, 300:400] = -9999
    ours, there = resample(data, valid, source_positions(View(MERCATOR, BOUNDS, 600, 600), PLACE, UTM), 600, 600, False)
    assert ours[0][there].min() == pytest.approx(50, abs=1e-3)
    assert not there.all()


def test_a_picture_beside_the_raster_is_empty() -> None:
    away = (0.0, 0.0, 1000.0, 1000.0)
    data = surface(np.uint8)
    _, there = resample(
        data, np.ones(data.shape[1:], bool), source_positions(View(MERCATOR, away, 16, 16), PLACE, UTM), 16, 16, False
    )
    assert not there.any()


def write(path: Path, data: np.ndarray, **profile: object) -> Path:
    bands, height, width = data.shape
    settings = {
        "driver": "GTiff",
        "width": width,
        "height": height,
        "count": bands,
        "dtype": data.dtype,
        "crs": UTM.to_wkt(),
        "transform": PLACE,
    }
    with rasterio.open(path, "w", **{**settings, **{k: v for k, v in profile.items() if k != "colormap"}}) as out:
        out.write(data)
        if "colormap" in profile:
            out.write_colormap(1, profile["colormap"])
    return path


def middle(path: Path) -> np.ndarray:
    west, south, east, north = RasterSource(path).bounds
    x, y = (west + east) / 2, (south + north) / 2
    picture = draw_raster(path, Picture(), View(MERCATOR, (x - 800, y - 800, x + 800, y + 800), 32, 32))
    assert picture is not None
    return picture[16, 16]


def test_palettes_keep_their_colours(tmp_path: Path) -> None:
    data = np.full((1, 200, 200), 7, dtype=np.uint8)
    path = write(tmp_path / "p.tif", data, colormap={7: (200, 30, 60, 255)}, photometric="palette")
    assert raster_info(path).colour == "palette"
    assert middle(path).tolist() == [200, 30, 60, 255]


def test_four_bands_bring_their_alpha(tmp_path: Path) -> None:
    data = np.full((4, 200, 200), 90, dtype=np.uint8)
    data[3] = 0
    data[3, :, :150] = 255
    path = write(tmp_path / "a.tif", data, photometric="rgb", alpha="yes")
    assert raster_info(path).colour == "rgba"
    assert middle(path)[3] == 255
    west, south, east, north = RasterSource(path).bounds
    picture = draw_raster(path, Picture(), View(MERCATOR, (west, south, east, north), 64, 64))
    assert picture is not None
    assert picture[32, 60, 3] == 0


def test_one_band_of_bytes_is_grey(tmp_path: Path) -> None:
    path = write(tmp_path / "g.tif", np.full((1, 200, 200), 77, dtype=np.uint8))
    assert middle(path).tolist() == [77, 77, 77, 255]


def test_one_band_of_numbers_is_stretched(tmp_path: Path) -> None:
    ramp = np.linspace(0, 1000, 200, dtype=np.float32)[None, None, :].repeat(200, axis=1)
    path = write(tmp_path / "f.tif", ramp, nodata=-1)
    info = raster_info(path)
    assert (info.low, info.high) == pytest.approx((20, 980), abs=6)
    assert middle(path)[3] == 255


def test_sixteen_bits_are_read(tmp_path: Path) -> None:
    path = write(tmp_path / "s.tif", np.full((1, 200, 200), 1200, dtype=np.uint16))
    west, south, east, north = RasterSource(path).bounds
    picture = draw_raster(path, RasterRamp(low=0, high=2400), View(MERCATOR, (west, south, east, north), 32, 32))
    assert picture is not None
    assert picture[16, 16, 3] == 255


@pytest.mark.parametrize("how", ["cubic", "average", "lanczos"])
def test_other_kinds_are_left_to_gdal(tmp_path: Path, how: str) -> None:
    path = write(tmp_path / "r.tif", surface(np.uint8), photometric="rgb")
    ours = draw_raster(path, Picture(), View(MERCATOR, BOUNDS, 500, 500), how)
    assert ours is not None
    bilinear = draw_raster(path, Picture(), View(MERCATOR, BOUNDS, 500, 500))
    both = (ours[..., 3] > 0) & (bilinear[..., 3] > 0)  # type: ignore[index]
    assert np.abs(ours.astype(int) - bilinear)[both].mean() < 3  # type: ignore[operator]


def test_cells_of_degrees_are_taken_at_their_latitude() -> None:
    """On the sphere a degree of longitude shrinks with the cosine of the latitude."""
    wide, high = ground_cell(Affine(0.01, 0, -27, 0, -0.01, 60.5), rasterio.crs.CRS.from_epsg(4326), 50)
    assert wide == pytest.approx(1113.2 * np.cos(np.radians(60)), rel=1e-3)
    assert high == pytest.approx(1105.74, rel=1e-3)
    assert ground_cell(Affine(25, 0, 0, 0, -25, 0), rasterio.crs.CRS.from_epsg(32626), 0) == (25, 25)
