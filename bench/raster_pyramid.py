"""Tiles of a large RGB GeoTIFF against gdal2tiles over the same levels."""

import os
import re
import shutil
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import numpy as np
import rasterio
from greylatch.paint.sources import RasterSource
from greylatch.places.frame import MERCATOR
from greylatch.tiles.raster_pyramid import raster_levels
from PIL import Image
from rasterio.transform import from_origin

from bench.table import print_table
from tests.core.exact_warp import exact_warp, offset

SIDE = 8192


def picture(path: Path) -> None:
    """A made-up scene: smooth fields with grain, as aerial pictures have."""
    rng = np.random.default_rng(7)
    y, x = np.mgrid[0:SIDE, 0:SIDE].astype(np.float32) / SIDE
    profile = {
        "driver": "GTiff", "width": SIDE, "height": SIDE, "count": 3, "dtype": "uint8", "crs": "EPSG:32626", "photometric": "rgb",
        "transform": from_origin(470_000, 5_786_000, 5, 5), "tiled": True, "compress": "deflate", "predictor": 2,
    }  # fmt: skip
    with rasterio.open(path, "w", **profile) as out:
        for band in range(3):
            base = 128 + 60 * np.sin(9 * x * (band + 1) + 4 * y) + 40 * np.cos(23 * y - 7 * x)
            out.write((base + rng.normal(0, 5, (SIDE, SIDE))).clip(0, 255).astype(np.uint8), band + 1)


def watched(command: list[str]) -> float:
    """Run a command; returns the most memory in GB that it and its children had at once (shared pages count once)."""
    process = subprocess.Popen(command, stdout=subprocess.DEVNULL, start_new_session=True)
    most = 0
    while process.poll() is None:
        total = 0
        for status in Path("/proc").glob("[0-9]*/smaps_rollup"):
            try:
                if os.getpgid(int(status.parent.name)) == process.pid:
                    total += int(re.search(r"^Pss: +(\d+)", status.read_text(), re.M)[1])
            except (OSError, TypeError):
                continue  # it has ended meanwhile
        most = max(most, total)
        time.sleep(0.1)
    if process.returncode:
        raise RuntimeError(f"{command[2]} failed")
    return most / 1024**2


def worst_offset(path: Path, folder: Path, zoom: int) -> float:
    """The greatest of the tiles' mean offsets in px from the exact warp."""
    with rasterio.open(path) as source:
        data, transform, crs = source.read(1).astype(np.float32), source.transform, source.crs
    offsets = [0.0]
    for tile in list(MERCATOR.grid.tiles_over(RasterSource(path).bounds, zoom))[::41]:
        file = folder / str(tile.z) / str(tile.x) / f"{tile.y}.png"
        if file.exists():
            ours = np.asarray(Image.open(file).convert("RGBA")).astype(np.float32)
            exact = exact_warp(data, transform, crs, MERCATOR.grid.tile_bounds(tile), 256, nodata=np.nan)
            offsets.append(offset(ours[..., 0], exact, ours[..., 3] == 255))
    return float(np.nanmax(offsets))


def main() -> None:
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        path = folder / "scene.tif"
        # In a process of its own: a child first shows the memory of the process that starts it.
        subprocess.run([sys.executable, "-m", "bench.raster_pyramid", str(path)], check=True)
        levels = raster_levels(RasterSource(path), 256)
        command = [sys.executable, "-m", "greylatch.cli.main", "tiles", str(path), "--out", str(folder / "ours")]
        start = time.perf_counter()
        memory = watched(command)
        ours = time.perf_counter() - start
        tiles = len(list((folder / "ours").rglob("*.png")))
        off = worst_offset(path, folder / "ours", levels.max_zoom)
        size = sum(f.stat().st_size for f in (folder / "ours").rglob("*.png"))
        start = time.perf_counter()
        subprocess.run(
            ["gdal2tiles.py", "--xyz", "--processes=2", "-q", "-w", "none", "-x", "-r", "bilinear", "-z", f"{levels.min_zoom}-{levels.max_zoom}", str(path), str(folder / "theirs")],
            check=True, capture_output=True,
        )  # fmt: skip
        theirs = time.perf_counter() - start
        other = len(list((folder / "theirs").rglob("*.png")))
        their_size = sum(f.stat().st_size for f in (folder / "theirs").rglob("*.png"))
        shutil.rmtree(folder / "theirs")
    print_table(
        f"Pyramid of an {SIDE} × {SIDE} RGB GeoTIFF in EPSG:32626, levels {levels.min_zoom} to {levels.max_zoom}",
        [
            ("greylatch tiles", f"{ours:.1f} s, {tiles:,} tiles, {size / 1e6:.0f} MB"),
            ("gdal2tiles.py --xyz --processes=2", f"{theirs:.1f} s, {other:,} tiles, {their_size / 1e6:.0f} MB"),
            ("times faster", f"{theirs / ours:.1f}"),
            ("greatest offset from the exact warp", f"{off:.3f} px"),
            ("most memory of all its processes together", f"{memory:.2f} GB"),
        ],
    )


if __name__ == "__main__":
    picture(Path(sys.argv[1])) if len(sys.argv) > 1 else main()
