"""Conditions on 100,000 rows, and on 100,000 points beside areas: beside DuckDB with the same text."""

from dataclasses import replace

import duckdb
import numpy as np
import pyarrow as pa
import shapely
from greylatch.places.crs import LONLAT
from greylatch.rules.evaluating import taken
from greylatch.tables.dataset import Dataset

from bench.table import median_seconds, print_table

ROWS = 100_000
TEN = (
    "n > 2", "v BETWEEN 1 AND 2", "name LIKE 'Ard%'", "isle IN ('Ard', 'Orrin')", "v / w > 1.5", "NOT (n IS NULL) AND v < 0",
    "n > 1 OR v > 3", "upper(name) = 'ARD 7'", "round(v, 1) = 0.5", "ok AND w <> 0",
)  # fmt: skip


def main() -> None:
    rng = np.random.default_rng(1)
    isles = np.array(["Ard", "Orrin", "Pellay", "Sunder"])
    columns = pa.table(
        {
            "n": rng.integers(-5, 6, ROWS), "v": rng.normal(size=ROWS), "w": rng.normal(size=ROWS), "ok": rng.random(ROWS) < 0.5,
            "name": [f"Ard {i % 100}" for i in range(ROWS)], "isle": isles[rng.integers(0, 4, ROWS)],
        }
    )  # fmt: skip
    points = shapely.points(rng.uniform((-10, 40), (10, 60), (ROWS, 2)))
    data = Dataset(columns, "points", points, LONLAT)
    areas = Dataset(pa.table({"a": range(200)}), "areas", shapely.buffer(points[:200], 0.5), LONLAT)
    compared = replace(data, others={"other": areas})
    connection = duckdb.connect()
    connection.register("data", columns)

    def referee() -> None:
        for condition in TEN:
            connection.execute(f"SELECT count(*) FROM data WHERE {condition}").fetchall()

    bare = median_seconds(referee)
    rows = [("the reference: ten conditions in DuckDB", f"{bare * 1000:.0f} ms")]
    for words, work in (
        ("ten conditions (100 ms asked)", lambda: [taken(data, condition) for condition in TEN]),
        ("within any of 200 areas", lambda: taken(compared, "S_WITHIN(geometry, other)")),
        ("within 50 km of a place", lambda: taken(data, "s_dwithin(geometry, POINT(0 50), 50, 'km')")),
    ):
        seconds = median_seconds(work)
        rows.append((words, f"{seconds * 1000:.0f} ms, {seconds / bare:.2f} of it"))
    print_table("Conditions on 100,000 rows", rows)


if __name__ == "__main__":
    main()
