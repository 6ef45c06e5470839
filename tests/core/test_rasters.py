"""Rasters against gdaldem and rasterio."""

import subprocess
from functools import partial
from pathlib import Path

import numpy as np
import pytest
import rasterio
from greylatch.errors import BadInput
from greylatch.places.frame import MERCATOR
from greylatch.places.grid import Tile
from greylatch.places.view import View
from greylatch.rasters.colouring import coloured
from greylatch.rasters.info import check_all_pixels, raster_info
from greylatch.rasters.ink import draw_raster
from greylatch.rasters.shade import hillshade, multidirectional
from greylatch.rasters.window import read_part, warp
from greylatch.sheet.parts import RampChoice
from greylatch.sheet.symbology import Hillshade, Picture, RasterRamp

from tests.core.exact_warp import exact_warp


@pytest.mark.parametrize(("azimuth", "altitude", "z"), [(315, 45, 1), (90, 30, 2.5), (None, 30, 1.5)])
def test_hillshade_as_gdaldem(demo: Path, tmp_path: Path, azimuth: float | None, altitude: float, z: float) -> None:
    """Horn (1981), and in four lights Mark (1992), as `gdaldem hillshade` of Debian's gdal-bin computes them: the same to one grey
    level, rounding."""
    out = tmp_path / "shade.tif"
    light = ["-multidirectional"] if azimuth is None else ["-az", str(azimuth)]
    subprocess.run(
        ["gdaldem", "hillshade", "-q", *light, "-alt", str(altitude), "-z", str(z), demo / "relief.tif", out],
        check=True,
        capture_output=True,
    )
    with rasterio.open(out) as theirs, rasterio.open(demo / "relief.tif") as relief:
        expected = theirs.read(1)
        heights = relief.read(1, masked=True).filled(np.nan).astype(float)
    shade = partial(multidirectional) if azimuth is None else partial(hillshade, azimuth=azimuth)
    ours = shade(heights, (25, 25), altitude=altitude, exaggeration=z)
    both = (expected > 0) & np.isfinite(ours)
    assert both.sum() > 500_000
    assert np.abs(ours[both] - expected[both]).max() <= 1.0


def test_warp_as_rasterio(demo: Path) -> None:
    """The same warp through rasterio, exact (tolerance 0), pixel by pixel: values differ by no more than what 0.125 px of
    offset can make of them."""
    with rasterio.open(demo / "peat_depth.tif") as source:
        middle = source.bounds.left + 20_000, source.bounds.top - 16_000
        from rasterio.warp import transform

        (x,), (y,) = transform(source.crs, "EPSG:3857", [middle[0]], [middle[1]])
        bounds = (x, y, x + 20_000, y + 20_000)
        view = View(MERCATOR, bounds, 500, 500)
        part = read_part(source, view, [1])
        assert part is not None
        moved, there = warp(part.data, part.mask > 0, part, source.crs, view, "nearest")
        ours = np.where(there, moved[0], np.nan)
        whole = source.read(1, masked=True).filled(np.nan).astype(np.float32)
        exact = exact_warp(whole, source.transform, source.crs, bounds, 500, "nearest", np.nan)
    same = (ours == exact) | (np.isnan(ours) & np.isnan(exact))
    # Nearest switches to a neighbour where a centre lies within 0.1 px of a border between pixels: a few in a hundred may.
    assert same.mean() > 0.93


def test_neighbouring_tiles_show_no_seam(demo: Path) -> None:
    info = raster_info(demo / "relief.tif")
    z = MERCATOR.grid.level_for(info.mercator_resolution)
    from greylatch.paint.sources import RasterSource

    tiles = list(MERCATOR.grid.tiles_over(RasterSource(demo / "relief.tif").bounds, z))
    tile = tiles[len(tiles) // 2 - 4]
    a, b = MERCATOR.grid.tile_bounds(tile), MERCATOR.grid.tile_bounds(Tile(z, tile.x + 1, tile.y))
    left = draw_raster(demo / "relief.tif", Hillshade(), View(MERCATOR, a, 256, 256))
    right = draw_raster(demo / "relief.tif", Hillshade(), View(MERCATOR, b, 256, 256))
    both = draw_raster(demo / "relief.tif", Hillshade(), View(MERCATOR, (a[0], a[1], b[2], a[3]), 512, 256))
    assert left is not None and right is not None and both is not None
    apart = np.hstack([left, right]).astype(int) - both
    # The approximate transformation is fitted to each picture anew: offsets of up to 0.1 px.
    assert np.abs(apart[:, 200:312]).mean() < 1.5


def test_ramps_are_clamped_and_nodata_is_clear() -> None:
    rgba = coloured(np.array([[-5.0, 0, 10, 99, 3]]), np.array([[True] * 4 + [False]]), 0, 10, RampChoice(name="slate"))
    assert rgba[0, 0].tolist() == rgba[0, 1].tolist()
    assert rgba[0, 2].tolist() == rgba[0, 3].tolist()
    assert rgba[0, 4, 3] == 0


def test_outside_the_raster_is_clear(demo: Path) -> None:
    assert draw_raster(demo / "relief.tif", Picture(), View(MERCATOR, (0, 0, 1000, 1000), 8, 8)) is None
    with pytest.raises(BadInput, match="1 band"):
        draw_raster(
            demo / "relief.tif", RasterRamp(band=3), View(MERCATOR, MERCATOR.grid.tile_bounds(Tile(8, 108, 84)), 64, 64)
        )


def test_info(demo: Path) -> None:
    info = raster_info(demo / "picture.tif")
    assert (info.width, info.height, info.bands, info.colour) == (2400, 1920, 3, "rgb")
    assert info.crs.startswith("EPSG:32626")
    # 25 m on the ground are 25 / cos(52°) m of Web Mercator, on the sphere.
    assert info.mercator_resolution == pytest.approx(25 / np.cos(np.radians(52)), rel=0.01)


def test_a_truncated_geotiff_is_told(demo: Path, tmp_path: Path) -> None:
    whole = (demo / "relief.tif").read_bytes()
    for share in (0.4, 0.9):
        path = tmp_path / f"cut-{share}.tif"
        path.write_bytes(whole[: int(len(whole) * share)])
        with pytest.raises(BadInput, match="breaks off|not a readable GeoTIFF"):
            check_all_pixels(path)


def test_other_rasters_are_not_opened(tmp_path: Path) -> None:
    path = tmp_path / "a.tif"
    path.write_text("<VRTDataset rasterXSize='1' rasterYSize='1'><VRTRasterBand/></VRTDataset>")
    with pytest.raises(BadInput, match="not a readable GeoTIFF"):
        raster_info(path)
