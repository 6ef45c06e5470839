"""python -m bench.info: what a file of about 4 MB holds, said by the command line, in each format.

The reference in the same run is a process that only loads the libraries which reading needs: nothing could be quicker.
"""

import subprocess
import sys
import tempfile
from pathlib import Path

import geopandas
import numpy as np
import shapely

from bench.table import median_seconds, print_table

ROOT = Path(__file__).parents[1]
DENSE = ROOT / "web" / "node_modules" / "world-atlas" / "countries-10m.json"
"""Half a million places in lines that are kept once (npm, Natural Earth)."""
LIBRARIES = "import numpy, pyarrow.compute, pyarrow.csv, pyproj, shapely"
ROWS = {
    "csv": 92_000, "geojson": 23_000, "fgb": 22_000, "gpkg": 33_000, "parquet": 125_000, "kml": 8_500, "gml": 6_500, "gpx": 21_000,
    "shp.zip": 130_000, "xlsx": 135_000, "ods": 260_000,
}  # fmt: skip
"""By ending, how many points make a file of about 4 MB."""


def written(rows: int, path: Path) -> Path:
    """Points with a name, a number, a whole number and a letter each."""
    rng = np.random.default_rng(4)
    columns = {
        "name": [f"well {i}" for i in range(rows)], "depth": rng.lognormal(size=rows).round(3), "n": rng.integers(0, 10**6, rows),
        "kind": rng.choice(list("abc"), rows),
    }  # fmt: skip
    places = geopandas.GeoDataFrame(
        columns, geometry=shapely.points(rng.uniform(-60, 60, (rows, 2)).round(5)), crs=4326
    )
    if path.suffix == ".parquet":
        places.to_parquet(path)
    elif path.suffix == ".csv":
        places.drop(columns="geometry").assign(lon=places.geometry.x, lat=places.geometry.y).to_csv(path, index=False)
    else:
        places.to_file(path if path.suffix == ".fgb" else path.with_name("source.fgb"))
        if path.suffix != ".fgb":
            options = {".gpx": ["-dsco", "GPX_USE_EXTENSIONS=YES"]}.get(path.suffix, [])
            subprocess.run(["ogr2ogr", *options, path, path.with_name("source.fgb")], check=True, capture_output=True)
    return path


def main() -> None:
    reference = median_seconds(lambda: subprocess.run([sys.executable, "-c", LIBRARIES], check=True))
    with tempfile.TemporaryDirectory() as name:
        files = [written(rows, Path(name) / f"points.{ending}") for ending, rows in ROWS.items()]
        rows = [("the libraries alone", f"{reference:.2f} s")]
        for file in [*files, DENSE]:
            command = [ROOT / "bin" / "greylatch", "info", file]
            seconds = median_seconds(lambda command=command: subprocess.run(command, check=True, capture_output=True))
            size = file.stat().st_size / 1e6
            rows.append(
                (f"{file.name}, {size:.1f} MB", f"{seconds:.2f} s, {seconds / reference:.1f} times (0.8 s asked)")
            )
    print_table("bin/greylatch info", rows)


if __name__ == "__main__":
    main()
