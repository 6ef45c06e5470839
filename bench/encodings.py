"""Ink of 100,000 features by every kind of encoding, and what is made of 1,000,000 points; beside sorting as many numbers."""

import numpy as np
import pyarrow as pa
import shapely
from greylatch.encodings.by_category import ColourByCategory
from greylatch.encodings.by_classes import ColourByClasses
from greylatch.encodings.by_value import ColourByValue, OpacityByValue, SizeByValue
from greylatch.encodings.channels import Encodings
from greylatch.encodings.largest import ColourByLargest, Component
from greylatch.encodings.shares import Shares
from greylatch.encodings.two_way import ColourByTwo
from greylatch.paint.clusters import draw_clusters
from greylatch.paint.heat import draw_heat
from greylatch.paint.sources import VectorSource
from greylatch.places.crs import LONLAT
from greylatch.places.frame import MERCATOR
from greylatch.places.view import View
from greylatch.readings.grid import Grid
from greylatch.sheet.parts import Classing
from greylatch.sheet.symbology import Clusters, Heat, Symbols
from greylatch.symbols.ink import ink
from greylatch.tables.dataset import Dataset

from bench.table import median_seconds, print_table, timed

ROWS, MILLION = 100_000, 1_000_000


def main() -> None:
    rng = np.random.default_rng(3)
    kinds = np.array(["ling", "sedge", "moss", "bare", "wood"])
    columns = {name: rng.lognormal(size=ROWS) for name in "abc"} | {"kind": kinds[rng.integers(0, 5, ROWS)]}
    data = Dataset(pa.table(columns), "points", shapely.points(rng.uniform(0, 40, (ROWS, 2))), LONLAT)
    by_hand = Classing(field="a", method="manual", breaks=[0.5, 1, 2, 4, 1e9])
    parts = [Component(field=name) for name in "abc"]
    looks = {
        "classes": Encodings(colour=ColourByClasses(classing=by_hand)), "a ramp": Encodings(colour=ColourByValue(field="a")),
        "categories": Encodings(colour=ColourByCategory(field="kind")),
        "two ways": Encodings(colour=ColourByTwo(first=Classing(field="a", method="quantile", classes=3), second=Classing(field="b", method="quantile", classes=3))),
        "the largest": Encodings(colour=ColourByLargest(fields=parts)), "size": Encodings(size=SizeByValue(field="a")),
        "shares": Encodings(shares=Shares(fields=parts)), "opacity": Encodings(opacity=OpacityByValue(field="a")),
    }  # fmt: skip
    values = data.columns["a"].to_numpy()
    bare = median_seconds(lambda: np.argsort(values, kind="stable"))
    rows = [("the reference: sorting as many numbers", f"{bare * 1000:.1f} ms")]
    for name, encodings in looks.items():
        took = median_seconds(lambda encodings=encodings: ink(data, Symbols(encodings=encodings)))  # type: ignore[misc]
        rows.append((f"ink by {name} (50 ms asked)", f"{took * 1000:.1f} ms, {took / bare:.1f} of it"))
    print_table(f"Ink of {ROWS:,} features", rows)
    places = np.column_stack([rng.normal(0, 6, MILLION), np.clip(rng.normal(50, 4, MILLION), -80, 80)])
    many = Dataset(pa.table({"v": rng.lognormal(size=MILLION)}), "points", shapely.points(places), LONLAT)
    source = VectorSource(many)
    _ = source.shapes, source.tree
    cells, _ = timed(lambda: Grid(size=20_000).derived(many))
    x, y = MERCATOR.place(0, 50)
    view = View.around(MERCATOR, x, y, MERCATOR.grid.resolution(5), 512, 512)
    first, _ = timed(lambda: draw_heat(source, Heat(), view))
    again = median_seconds(lambda: draw_heat(source, Heat(), view))
    gathered, _ = timed(lambda: draw_clusters(source, Clusters(), view))
    print_table(
        f"{MILLION:,} points (1 s asked)",
        [
            ("hexagons of 20 km", f"{cells:.2f} s"),
            ("a heat surface, its first tile", f"{first:.2f} s"),
            ("another tile of it", f"{again:.2f} s"),
            ("clusters, the first tile", f"{gathered:.2f} s"),
        ],
    )


if __name__ == "__main__":
    main()
