"""Geometry tiles: shapes with nothing but their row, cut by PostGIS once per revision and kept for good."""

from typing import Any

from django.core.cache import caches
from django.db import connection
from greylatch.errors import BadInput

from library.models import Revision

EXTENT = 4096
BUFFER = 256
LAYER = "shapes"
_SQL = f"""
SELECT ST_AsMVT(tile, '{LAYER}', {EXTENT}, 'shape', 'row') FROM (
    SELECT feature.row, {{columns}} ST_AsMVTGeom(shape, ST_TileEnvelope(%(z)s, %(x)s, %(y)s), {EXTENT}, %(buffer)s, true) AS shape
    FROM library_feature AS feature {{join}}
    WHERE revision_id = %(revision)s AND shape && ST_TileEnvelope(%(z)s, %(x)s, %(y)s, margin => %(buffer)s / {EXTENT}.0)
    ORDER BY feature.row
) AS tile WHERE tile.shape IS NOT NULL
"""  # noqa: S608 (nothing in it comes from outside)

_POINTS_SQL = f"""
SELECT ST_AsMVT(tile, %(name)s, {EXTENT}, 'shape') FROM (
    SELECT properties, ST_AsMVTGeom(ST_Point(px, py, 3857), ST_TileEnvelope(%(z)s, %(x)s, %(y)s), {EXTENT}, 0, true) AS shape
    FROM unnest(%(xs)s::float8[], %(ys)s::float8[], %(properties)s::jsonb[]) AS given(px, py, properties)
) AS tile WHERE tile.shape IS NOT NULL
"""  # noqa: S608 (nothing in it comes from outside)


def geometry_tile(revision: Revision, z: int, x: int, y: int) -> bytes:
    """The Mapbox Vector Tile 2.1 at z/x/y; empty bytes where there is nothing."""
    _check(z, x, y)
    kept = caches["tiles"]
    key = f"{revision.pk}/{z}/{x}/{y}/{_buffer(revision)}"
    tile = kept.get(key)
    if tile is None:
        tile = _cut(_SQL.format(columns="", join=""), _values(revision, z, x, y))
        kept.set(key, tile)
    return tile


def attribute_tile(revision: Revision, z: int, x: int, y: int, rows: list[int], properties: list[str]) -> bytes:
    """The same tile with properties: of the row `rows[i]` those in `properties[i]`, a JSON object; other rows are left out."""
    _check(z, x, y)
    sql = _SQL.format(
        columns="given.properties,",
        join="JOIN unnest(%(rows)s::int[], %(properties)s::jsonb[]) AS given(row, properties) ON given.row = feature.row",
    )
    return _cut(sql, {**_values(revision, z, x, y), "rows": rows, "properties": properties})


def point_tile(name: str, z: int, x: int, y: int, places: list[tuple[float, float]], properties: list[str]) -> bytes:
    """A tile with one layer `name` of points: at `places[i]` (Web Mercator metres) with `properties[i]`, a JSON object."""
    _check(z, x, y)
    xs, ys = zip(*places, strict=True)
    values = {"name": name, "z": z, "x": x, "y": y, "xs": list(xs), "ys": list(ys), "properties": properties}
    return _cut(_POINTS_SQL, values)


def _values(revision: Revision, z: int, x: int, y: int) -> dict[str, Any]:
    return {"revision": revision.pk, "z": z, "x": x, "y": y, "buffer": _buffer(revision)}


def _buffer(revision: Revision) -> int:
    """Shapes reach over a tile's edge, so that their outlines do; a point is in one tile only, or it would be drawn twice."""
    return 0 if revision.dataset.kind == "points" else BUFFER


def _cut(sql: str, values: dict[str, Any]) -> bytes:
    with connection.cursor() as cursor:
        cursor.execute(sql, values)
        return bytes(cursor.fetchone()[0] or b"")


def _check(z: int, x: int, y: int) -> None:
    if not (0 <= z <= 24 and 0 <= x < 2**z and 0 <= y < 2**z):
        raise BadInput(f"There is no tile {z}/{x}/{y}.")
