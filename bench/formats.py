"""python -m bench.formats: a million points and 50,000 areas of 28 vertices in each format that can hold them: seen, and read to be kept.

The reference in the same run is geopandas (PyPI) reading the same file into memory and writing it as GeoParquet.
"""

import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import geopandas
import numpy as np
import shapely
from greylatch.formats.bounded import bounded
from greylatch.formats.corrections import Corrections
from greylatch.formats.intake import take_in
from greylatch.formats.preview import preview

WRITTEN = {
    "gpkg": ["GPKG"], "geojsonl": ["GeoJSONSeq"], "geojson": ["GeoJSON"], "shp.zip": ["ESRI Shapefile"], "gml": ["GML"],
    "csv": ["CSV", "-lco", "GEOMETRY=AS_WKT"], "kml": ["KML"], "gpx": ["GPX", "-lco", "FORCE_GPX_TRACK=NO", "-dsco", "GPX_USE_EXTENSIONS=YES"],
}  # fmt: skip
"""By ending what GDAL writes a file with, of those that it is to write."""
POINTS, SIDE = 1_000_000, 224
"""Rows of points; areas along each side."""


def timed(work: Callable[[], Any]) -> float:
    began = time.perf_counter()
    work()
    return time.perf_counter() - began


def points() -> geopandas.GeoDataFrame:
    rng = np.random.default_rng(1)
    xy = rng.uniform((-28, 51), (-26, 53), (POINTS, 2))
    columns = {
        "name": [f"w{i}" for i in range(POINTS)],
        "depth": rng.uniform(0, 90, POINTS),
        "n": rng.integers(0, 9, POINTS),
    }
    return geopandas.GeoDataFrame(columns, geometry=shapely.points(xy), crs=4326)


def areas() -> geopandas.GeoDataFrame:
    x, y = np.mgrid[0:SIDE, 0:SIDE].reshape(2, -1) * 200.0
    cells = shapely.segmentize(shapely.box(x + 5e5, y + 5.7e6, x + 5e5 + 200, y + 5.7e6 + 200), 29)
    return geopandas.GeoDataFrame({"name": [f"c{i}" for i in range(len(cells))], "v": x}, geometry=cells, crs=32626)


def main() -> None:
    """Print seconds, and how they stand to the reference; of the formats whose endings are named, or of all."""
    wanted = sys.argv[1:] or ["parquet", "fgb", *WRITTEN]
    with tempfile.TemporaryDirectory() as home:
        for kind, frame in (("1,000,000 points", points()), ("50,176 areas", areas())):
            files = {ending: Path(home) / f"{kind[0]}.{ending}" for ending in ("parquet", "fgb", *WRITTEN)}
            frame.to_parquet(files["parquet"])
            frame.to_file(files["fgb"], driver="FlatGeobuf")
            for ending in wanted:
                file = files[ending]
                # Waypoints are points, and a table says no projection: these lie in degrees.
                if ending in WRITTEN and (ending not in ("gpx", "csv") or len(frame) == POINTS):
                    subprocess.run(["ogr2ogr", "-q", "-f", *WRITTEN[ending], file, files["fgb"]], check=True)
                if not file.exists():
                    continue
                out = Path(home) / "kept"
                out.mkdir(exist_ok=True)
                seen = timed(lambda file=file: bounded(file, preview, file, file.name, Corrections()))
                taken = timed(lambda file=file, out=out: bounded(file, take_in, file, Corrections(), out))
                reader = geopandas.read_parquet if file.suffix == ".parquet" else geopandas.read_file
                theirs = timed(
                    lambda file=file, out=out, reader=reader: reader(file).to_parquet(out / "theirs.parquet")
                )
                print(
                    f"{kind} {ending:9} {file.stat().st_size / 1e6:6.0f} MB: seen {seen:5.2f} s, taken in {taken:5.2f} s, "
                    f"{taken / theirs:.2f} of the reference's {theirs:.2f} s",
                    flush=True,
                )


if __name__ == "__main__":
    main()
