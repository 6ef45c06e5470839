"""python -m bench.info: what a file of about 4 MB holds, said by the command line, in each format.

The references in the same run are a process that only loads the libraries which reading needs, and one in which the library that
reads such a file reads it and nothing else: no types are guessed, no shape is looked at, nothing is said of it.
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
LIBRARIES = """
import sys
class OnlyForTests:
    def find_spec(self, name, path=None, target=None):
        if name in ("pandas", "geopandas", "pyproj"):
            raise ModuleNotFoundError(name)
sys.meta_path.insert(0, OnlyForTests())
import numpy, pyarrow.compute, pyarrow.csv, shapely
"""
"""Without those that only tests have installed, and PROJ, which some of these would load: what is in longitude and latitude needs none."""
BY_GDAL = "import pyogrio; pyogrio.read_arrow(sys.argv[1])"
ALONE = {
    ".csv": "pyarrow.csv.read_csv(sys.argv[1])", ".parquet": "import pyarrow.parquet; pyarrow.parquet.read_table(sys.argv[1])",
    ".zip": "import pyogrio; pyogrio.read_arrow('/vsizip/' + sys.argv[1])",
    # GDAL leaves beside a file what makes it quicker the next time.
    ".gml": f"{BY_GDAL}; import pathlib; pathlib.Path(sys.argv[1]).with_suffix('.gfs').unlink(missing_ok=True)",
    ".xlsx": "import python_calamine as c; b = c.CalamineWorkbook.from_path(sys.argv[1]); b.get_sheet_by_index(0).to_python()",
}  # fmt: skip
"""By ending, how the library that reads a file does it alone; all others are GDAL's. Over an ODS of GDAL's calamine stumbles."""
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
    path.with_suffix(".xsd").unlink(missing_ok=True)
    return path


def run(*command: str | Path) -> float:
    """Seconds that a process takes."""
    return median_seconds(lambda: subprocess.run(command, check=True, capture_output=True))


def main() -> None:
    loaded = run(sys.executable, "-c", LIBRARIES)
    with tempfile.TemporaryDirectory() as name:
        files = [written(rows, Path(name) / f"points.{ending}") for ending, rows in ROWS.items()]
        rows = [("the libraries loaded", f"{loaded:.2f} s")]
        for file in [*files, DENSE]:
            seconds = run(ROOT / "bin" / "greylatch", "info", file)
            line = f"{seconds:.2f} s (0.8 s asked), {seconds / loaded:.1f} times loading them"
            if file.suffix != ".ods":
                alone = run(sys.executable, "-c", f"{LIBRARIES}{ALONE.get(file.suffix, BY_GDAL)}", file)
                line += f", {seconds / alone:.1f} times reading it alone, {alone:.2f} s"
            rows.append((f"{file.name}, {file.stat().st_size / 1e6:.1f} MB", line))
    print_table("bin/greylatch info", rows)


if __name__ == "__main__":
    main()
