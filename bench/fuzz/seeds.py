"""Sound files of every format that is read, small and odd, for others to spoil."""

import io
import json
import random
import struct
import tempfile
import zipfile
from pathlib import Path
from typing import Any

import geopandas
import numpy as np
import rasterio
import shapely
from rasterio.transform import from_origin

from bench.fuzz.layered_seeds import layered


def seeds(rng: random.Random) -> list[tuple[str, bytes]]:
    """Names and contents; other ones for another `rng`, so that a long run does not try the same again and again."""
    return [*_tables(rng), *_geojson(rng), *_shapefiles(rng), *_rasters(rng), *layered(rng)]


def _tables(rng: random.Random) -> list[tuple[str, bytes]]:
    rows = [
        [
            f"Höhe {i}",
            f"{rng.uniform(-30, -20):.5f}",
            f"{rng.uniform(50, 55):.5f}",
            str(rng.randint(-5, 900)),
            f"2026-0{1 + i % 9}-11",
            "yes",
        ]
        for i in range(rng.randint(3, 40))
    ]
    head = ["name", "lon", "lat", "n", "day", "open"]
    out = []
    for delimiter, encoding in (
        (",", "utf-8"),
        (";", "cp1252"),
        ("\t", "utf-16"),
        ("|", "utf-8-sig"),
        (",", "mac_roman"),
    ):
        text = "\n".join(delimiter.join(row) for row in [head, *rows]) + "\n"
        out.append((f"{encoding}.csv", text.encode(encoding, "replace")))
    quoted = "\n".join(",".join(f'"{cell}"' for cell in row) for row in [head, *rows])
    projected = "id,easting,northing,v\n" + "\n".join(f"{i:03},{5e5 + i * 10},{5.76e6 - i},{i / 7}" for i in range(20))
    odd = "a,a,,b\n1,,NaN,1e999\nx,-,99999999999999999999,0\n"
    return [*out, ("quoted.csv", quoted.encode()), ("projected.csv", projected.encode()), ("odd.csv", odd.encode())]


def _shape(rng: random.Random, kind: str) -> shapely.Geometry:
    x, y = rng.uniform(-180, 180), rng.uniform(-80, 80)
    place = shapely.Point(x, y)
    shapes = {
        "points": place,
        "lines": shapely.LineString([(x, y), (x + rng.uniform(-9, 9), y + 1), (x + 2, y - 1)]),
        "areas": place.buffer(rng.uniform(0.01, 5), quad_segs=rng.randint(1, 4)),
        "bow": shapely.Polygon([(x, y), (x + 1, y + 1), (x + 1, y), (x, y + 1)]),
        "many": shapely.MultiPolygon(
            [place.buffer(1), shapely.Point(x + 5, y).buffer(1).difference(shapely.Point(x + 5, y).buffer(0.4))]
        ),
        "meridian": shapely.Polygon([(170, y), (-170, y), (-170, y + 1), (175, y + 2)]),
    }
    return shapes[kind]


def _geojson(rng: random.Random) -> list[tuple[str, bytes]]:
    out = []
    for kind in ("points", "lines", "areas", "bow", "many", "meridian"):
        features = [
            {
                "type": "Feature", "id": i if rng.random() < 0.5 else f"f{i}",
                "properties": rng.choice([None, {"n": i, "t": "Ard", "x": None}, {"n": i * 1.5, "list": [1, {"a": 2}], "é": True}]),
                "geometry": None if rng.random() < 0.1 else shapely.geometry.mapping(_shape(rng, kind)),
            }
            for i in range(rng.randint(1, 12))
        ]  # fmt: skip
        document: dict[str, Any] = {"type": "FeatureCollection", "features": features}
        if rng.random() < 0.3:
            document["crs"] = {
                "type": "name",
                "properties": {"name": rng.choice(["urn:ogc:def:crs:OGC:1.3:CRS84", "EPSG:3857", "EPSG:32626"])},
            }
        out.append((f"{kind}.geojson", json.dumps(document, ensure_ascii=rng.random() < 0.5).encode()))
    return out


def _shapefiles(rng: random.Random) -> list[tuple[str, bytes]]:
    out = []
    for kind, encoding in (("points", "utf-8"), ("lines", "cp1252"), ("areas", None), ("many", "utf-8")):
        frame = geopandas.GeoDataFrame(
            {"name": [f"Höhe {i}" for i in range(6)], "n": range(6), "v": [i / 3 for i in range(6)]},
            geometry=[_shape(rng, kind) for _ in range(6)], crs=rng.choice(["EPSG:4326", "EPSG:3857"]),
        )  # fmt: skip
        with tempfile.TemporaryDirectory() as folder:
            frame.to_file(Path(folder) / "a.shp", driver="ESRI Shapefile", encoding=encoding or "utf-8")
            if encoding is None:
                (Path(folder) / "a.cpg").unlink()
            packed = io.BytesIO()
            way = zipfile.ZIP_DEFLATED if rng.random() < 0.5 else zipfile.ZIP_STORED
            with zipfile.ZipFile(packed, "w", way) as archive:
                for file in sorted(Path(folder).iterdir()):
                    archive.write(file, f"{'folder/' if kind == 'lines' else ''}{file.name}")
        out.append((f"{kind}.zip", packed.getvalue()))
    return out


def _rasters(rng: random.Random) -> list[tuple[str, bytes]]:
    out = []
    looks: list[dict[str, Any]] = [
        {"dtype": "uint8", "count": 1}, {"dtype": "float32", "count": 1, "nodata": float("nan")}, {"dtype": "int16", "count": 2, "nodata": -9999},
        {"dtype": "uint8", "count": 3, "photometric": "rgb"}, {"dtype": "uint8", "count": 4}, {"dtype": "uint16", "count": 3, "photometric": "rgb"},
        {"dtype": "uint8", "count": 1, "nbits": 1}, {"dtype": "float64", "count": 1, "tiled": True, "blockxsize": 16, "blockysize": 16},
        {"dtype": "complex64", "count": 1}, {"dtype": "int8", "count": 1}, {"dtype": "uint32", "count": 1, "compress": "deflate"},
    ]  # fmt: skip
    for i, look in enumerate(looks):
        side = rng.randint(3, 48)
        place = rng.choice(
            [
                ("EPSG:4326", from_origin(-27, 52, 0.01, 0.01)),
                ("EPSG:32660", from_origin(8e5, 1e5, 30, 30)),
                ("EPSG:4326", from_origin(0, 60, 7, 2)),
            ]
        )
        data = (
            np.random.default_rng(rng.randint(0, 2**31))
            .uniform(0, 1 if look.get("nbits") else 200, (look["count"], side, side))
            .astype(look["dtype"])
        )
        with rasterio.MemoryFile() as file:
            with file.open(driver="GTiff", width=side, height=side, crs=place[0], transform=place[1], **look) as target:
                target.write(data)
            out.append((f"raster-{i}.tif", file.read()))
    # Six hundred bytes that ask for a block of 32,768 × 32,768 pixels.
    entries = [
        (256, 4, 1, 32768),
        (257, 4, 1, 32768),
        (258, 3, 1, 32),
        (259, 3, 1, 8),
        (262, 3, 1, 1),
        (277, 3, 1, 1),
        (322, 4, 1, 32768),
        (323, 4, 1, 32768),
        (324, 4, 1, 0),
        (325, 4, 1, 0),
        (339, 3, 1, 3),
    ]
    head = struct.pack("<2sHI", b"II", 42, 8) + struct.pack("<H", len(entries))
    out.append(
        ("huge-block.tif", head + b"".join(struct.pack("<HHII", *entry) for entry in entries) + struct.pack("<I", 0))
    )
    return out
