"""Sound files of the formats that GDAL, pyarrow and calamine read, for others to spoil."""

import json
import random
import tempfile
from pathlib import Path

import geopandas
import openpyxl
import shapely

Seeds = list[tuple[str, bytes]]
DRIVERS = (
    ("GPKG", ".gpkg"), ("FlatGeobuf", ".fgb"), ("LIBKML", ".kml"), ("LIBKML", ".kmz"), ("KML", ".kml"), ("GML", ".gml"),
    ("GPX", ".gpx"), ("GeoJSONSeq", ".geojsonl"), ("ODS", ".ods"), ("XLSX", ".xlsx"),
)  # fmt: skip


def layered(rng: random.Random) -> Seeds:
    """One file of each kind."""
    with tempfile.TemporaryDirectory() as folder:
        out = [_written(rng, Path(folder), driver, ending) for driver, ending in DRIVERS]
        return [
            *out,
            _parquet(rng, Path(folder)),
            _workbook(rng, Path(folder)),
            _topology(rng),
            _records(rng),
            _written_out(rng),
        ]


def _frame(rng: random.Random, points: bool) -> geopandas.GeoDataFrame:
    n = rng.randint(2, 9)
    places = [shapely.Point(rng.uniform(-180, 180), rng.uniform(-80, 80)) for _ in range(n)]
    shapes = places if points else [place.buffer(rng.uniform(0.01, 3), quad_segs=2) for place in places]
    columns = {"name": [f"Höhe {i}" for i in range(n)], "n": range(n), "v": [i / 3 for i in range(n)]}
    return geopandas.GeoDataFrame(columns, geometry=shapes, crs=4326)


def _written(rng: random.Random, folder: Path, driver: str, ending: str) -> tuple[str, bytes]:
    file = folder / f"{driver}{ending}"
    frame = _frame(rng, points=driver in ("GPX", "ODS", "XLSX"))
    if driver == "GPX":
        frame = frame[["name", "geometry"]]
    elif driver in ("ODS", "XLSX"):
        frame = geopandas.GeoDataFrame(
            frame.drop(columns="geometry").assign(lon=frame.geometry.x, lat=frame.geometry.y)
        )
        import pyogrio

        pyogrio.write_dataframe(frame, file, driver=driver)
        return f"{driver.lower()}{ending}", file.read_bytes()
    frame.to_file(file, driver=driver, engine="pyogrio")
    return f"{driver.lower()}{ending}", file.read_bytes()


def _parquet(rng: random.Random, folder: Path) -> tuple[str, bytes]:
    file = folder / "a.parquet"
    _frame(rng, points=False).to_parquet(file)
    return "a.parquet", file.read_bytes()


def _workbook(rng: random.Random, folder: Path) -> tuple[str, bytes]:
    book = openpyxl.Workbook()
    sheet = book.active
    assert sheet is not None
    for row in [["Title"], [], ["name", "lon", "lat"], *[[f"w{i}", rng.uniform(-9, 9), i] for i in range(8)]]:
        sheet.append(row)
    book.create_sheet("Other").append(["x"])
    book.save(folder / "b.xlsx")
    return "b.xlsx", (folder / "b.xlsx").read_bytes()


def _records(rng: random.Random) -> tuple[str, bytes]:
    rows = [{"name": f"Höhe {i}", "lon": rng.uniform(-9, 9), "lat": i, "more": {"a": [i, None]}} for i in range(6)]
    return "records.json", json.dumps(rows).encode()


def _topology(rng: random.Random) -> tuple[str, bytes]:
    arcs = [[[rng.randint(0, 99), rng.randint(0, 99)] for _ in range(4)] for _ in range(3)]
    areas = [{"type": "Polygon", "arcs": [[i]], "id": i, "properties": {"n": i}} for i in range(3)]
    lines = [{"type": "LineString", "arcs": [~1]}]
    objects = {
        "a": {"type": "GeometryCollection", "geometries": areas},
        "b": {"type": "GeometryCollection", "geometries": lines},
    }
    document = {
        "type": "Topology",
        "transform": {"scale": [0.1, 0.1], "translate": [-9, 40]},
        "arcs": arcs,
        "objects": objects,
    }
    return "a.topojson", json.dumps(document).encode()


def _written_out(rng: random.Random) -> tuple[str, bytes]:
    frame = _frame(rng, points=False)
    return "wkt.csv", ("n;shape\n" + "".join(f"{i};{shape.wkt}\n" for i, shape in enumerate(frame.geometry))).encode()
