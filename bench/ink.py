"""Restyling 100,000 features: the ink table, and its answer as the server packs it."""

import tempfile
from pathlib import Path

import numpy as np
import pyarrow as pa
import shapely
from greylatch.encodings.by_classes import ColourByClasses
from greylatch.encodings.channels import Encodings
from greylatch.formats.geoparquet import read_geoparquet, write_geoparquet
from greylatch.places.crs import LONLAT, WEB_MERCATOR
from greylatch.sheet.layers import Layer
from greylatch.sheet.parts import Classing, NormaliseByArea
from greylatch.sheet.symbology import Symbols
from greylatch.symbols.ink import ink
from greylatch.symbols.key import key_entries
from greylatch.tables.dataset import Dataset

from bench.table import median_seconds, print_table, timed

N = 100_000


def main() -> None:
    rng = np.random.default_rng(7)
    shapes = shapely.points(rng.uniform(0, 1e6, (N, 2)))
    data = Dataset(pa.table({"v": rng.lognormal(size=N)}), "points", shapes, WEB_MERCATOR)
    rows = []
    for method in ("quantile", "natural-breaks", "manual"):
        breaks = [0.5, 1, 2, 4, 100] if method == "manual" else []
        symbology = by_classes(Classing(field="v", method=method, classes=6, breaks=breaks))
        layer = Layer(id="a", name="A", dataset="d", symbology=symbology)

        def once(layer: Layer = layer, symbology: Symbols = symbology) -> None:
            inked = ink(data, symbology)
            key_entries(layer, inked)
            inked.mark.tobytes()

        rows.append((f"ink by {method}", f"{median_seconds(once) * 1000:.1f} ms"))
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "a.parquet"
        write_geoparquet(data, path)
        reading = median_seconds(lambda: read_geoparquet(path))
        hand = float(rows[-1][1].split()[0]) / 1000
        rows += [
            ("reading the same from GeoParquet", f"{reading * 1000:.1f} ms"),
            ("a dragged break / reading", f"{hand / reading:.3f}"),
        ]
    print_table(f"Ink of {N:,} features at the server", rows)
    print_table("Ink of 10,000 areas with 28 vertices, divided by their area", by_area())


def by_classes(classing: Classing) -> Symbols:
    """A colour per class."""
    return Symbols(encodings=Encodings(colour=ColourByClasses(classing=classing)))


def by_area() -> list[tuple[str, str]]:
    """The first time areas are measured on the ellipsoid, which is the reference; they are remembered as long as the shapes are."""
    rng = np.random.default_rng(5)
    x, y = rng.uniform(-10, 10, (2, 10_000))
    shapes = shapely.buffer(shapely.points(x, y + 50), 0.05, quad_segs=7)
    data = Dataset(pa.table({"v": rng.lognormal(size=len(shapes))}), "areas", shapes, LONLAT)
    symbology = by_classes(Classing(field="v", normalise=NormaliseByArea(), classes=6))
    first, _ = timed(lambda: ink(data, symbology))
    again = median_seconds(lambda: ink(data, symbology))
    return [
        ("the first time", f"{first * 1000:.0f} ms"),
        ("again (30 ms asked)", f"{again * 1000:.1f} ms, {again / first:.3f} of it"),
    ]


if __name__ == "__main__":
    main()
