"""Spatial conditions, against PostGIS (Debian's package, the referee)."""

from __future__ import annotations

import numpy as np
import pyarrow as pa
import pytest
import shapely
from django.db import connection
from greylatch.places.crs import LONLAT
from greylatch.rules.evaluating import taken
from greylatch.tables.dataset import Dataset

pytestmark = pytest.mark.django_db
LITERALS = {
    "polygon": "POLYGON ((-3 -3, 4 -3, 4 4, -3 4, -3 -3), (-1 -1, 1 -1, 1 1, -1 1, -1 -1))",
    "multipolygon": "MULTIPOLYGON (((0 0, 3 0, 3 3, 0 0)), ((-4 -4, -2 -4, -2 -2, -4 -4)))",
    "line": "LINESTRING (-5 -5, 5 5, 5 -5)",
    "point": "POINT (2 2)",
    "square": "POLYGON ((0 0, 1 0, 1 1, 0 1, 0 0))",
}
RELATIONS = ("intersects", "within", "contains", "disjoint", "equals", "touches", "crosses", "overlaps")


def shapes_of(kind: str) -> np.ndarray:
    """Shapes on a small grid of whole numbers, so that many touch and some are alike."""
    rng = np.random.default_rng(13)
    at, size = rng.integers(-5, 5, (120, 2)), rng.integers(1, 4, (120, 2))
    if kind == "points":
        return shapely.points(at)
    if kind == "lines":
        return shapely.linestrings(np.stack([at, at + size, at + size * [1, -1]], 1))
    return shapely.box(at[:, 0], at[:, 1], at[:, 0] + size[:, 0], at[:, 1] + size[:, 1])


def asked(sql: str, shapes: np.ndarray) -> list[bool]:
    with connection.cursor() as cursor:
        cursor.execute("CREATE EXTENSION IF NOT EXISTS postgis")
        cursor.execute(
            f"SELECT {sql} FROM unnest(%s::text[]) WITH ORDINALITY AS rows(wkt, n), "
            "LATERAL (SELECT ST_GeomFromText(wkt, 4326) AS geometry) AS shaped ORDER BY n",
            [shapely.to_wkt(shapes).tolist()],
        )
        return [value for (value,) in cursor.fetchall()]


@pytest.mark.parametrize("kind", ["points", "lines", "areas"])
@pytest.mark.parametrize("literal", LITERALS)
def test_relations_are_those_of_postgis(kind: str, literal: str) -> None:
    shapes = shapes_of(kind)
    data = Dataset(pa.table({"n": range(len(shapes))}), kind, shapes, LONLAT)  # type: ignore[arg-type]
    text = LITERALS[literal]
    for name in RELATIONS:
        for condition, sql in (
            (f"S_{name}(geometry, {text})", f"ST_{name}(geometry, ST_GeomFromText('{text}', 4326))"),
            (f"S_{name}({text}, geometry)", f"ST_{name}(ST_GeomFromText('{text}', 4326), geometry)"),
        ):
            assert taken(data, condition).tolist() == asked(sql, shapes), condition


@pytest.mark.parametrize("kind", ["points", "lines", "areas"])
@pytest.mark.parametrize("literal", LITERALS)
def test_distances_are_those_of_postgis_on_the_ellipsoid(kind: str, literal: str) -> None:
    shapes = shapes_of(kind)
    # Far enough north for a degree of longitude to be half of one of latitude.
    north = shapely.transform(shapes, lambda xy: xy / 4 + [10, 60])
    fixed = shapely.transform(shapely.from_wkt(LITERALS[literal]), lambda xy: xy / 16 + [10, 60])
    data = Dataset(pa.table({"n": range(len(shapes))}), kind, north, LONLAT)  # type: ignore[arg-type]
    text = shapely.to_wkt(fixed, rounding_precision=9)
    # Edges are straight in degrees (RFC 7946, 3.1.1), and the geodesics of PostGIS are made to follow them.
    sides = ("ST_Segmentize(geometry, 0.01)", f"ST_Segmentize(ST_GeomFromText('{text}', 4326), 0.01)")
    sql = "ST_Distance({}::geography, {}::geography)".format(*sides)
    metres = np.array(asked(sql, north), dtype=float)
    for reach in (0.0, 5_000.0, 20_000.0, 60_000.0):
        mask = taken(data, f"s_dwithin(geometry, {text}, {reach})")
        # Within a thousandth of the limit either answer will do.
        sure = np.abs(metres - reach) > reach / 1000 + 0.1
        assert (mask == (metres <= reach))[sure].all(), (reach, metres[sure & (mask != (metres <= reach))])
        assert sure.sum() > 0.9 * len(shapes) or reach == 0
