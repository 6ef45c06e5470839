"""Asking the tagged store: which features carry any or all of some tags within an area, and how many."""

from collections.abc import Iterator
from typing import Annotated, Any, Literal
from uuid import UUID

import orjson
import shapely
from django.contrib.auth.models import User
from django.contrib.gis.geos import GEOSGeometry, Polygon
from django.core.cache import caches
from django.db import connections
from django.db.models import Q, QuerySet
from greylatch.errors import BadInput
from greylatch.places.crs import to_lonlat
from library.derived import data_of
from library.seen import dataset_for
from ninja import Schema
from pydantic import Field

from services.models import TaggedFeature

DATABASE = "default"
MOST, AT_ONCE, OFFERED = 500_000, 2_000, 400
"""Features that are taken of the store; that are read at a time; names of tags that are offered."""
COMMONEST = """
SELECT name, sum(n), (array_agg(value ORDER BY n DESC))[:12]
FROM (SELECT key AS name, value, count(*) AS n FROM services_taggedfeature, jsonb_each_text(tags) GROUP BY 1, 2) AS each
GROUP BY name ORDER BY 2 DESC LIMIT %s"""
"""Names of tags, in how many features each stands, and its commonest values: a set for each row, which the ORM can't group by."""
Degrees = Annotated[float, Field(ge=-180, le=180)]


class Tag(Schema):
    """A tag: its name, and its value, '' for any."""

    name: str = Field(min_length=1, max_length=100)
    value: str = Field("", max_length=300)


class Within(Schema):
    """An area: a box in degrees (west, south, east, north), or a feature of a dataset of areas; neither is everywhere."""

    bounds: list[Degrees] | None = Field(None, min_length=4, max_length=4)
    dataset: UUID | None = None
    fid: int | None = Field(None, ge=0, lt=2**53)


class StoreAsked(Schema):
    """What is asked of the store."""

    kind: Literal["store"] = "store"
    tags: list[Tag] = Field(min_length=1, max_length=20)
    match: Literal["any", "all"] = "any"
    within: Within = Within(bounds=None, dataset=None, fid=None)


class TagCount(Schema):
    """Of the features in the area: how many carry a tag, and how many do not."""

    tag: Tag
    carry: int
    lack: int


class StoreCount(Schema):
    """Features in the area, those that the question takes, and each tag by itself."""

    there: int
    taken: int
    tags: list[TagCount]


def counts(who: User, asked: StoreAsked) -> StoreCount:
    """Raises BadInput for an area that is none."""
    there = _within(who, asked.within)
    whole = there.count()
    each = [(tag, there.filter(_carries(tag)).count()) for tag in asked.tags]
    return StoreCount(
        there=whole, taken=there.filter(_question(asked)).count(),
        tags=[TagCount(tag=tag, carry=carry, lack=whole - carry) for tag, carry in each],
    )  # fmt: skip


def features(who: User, asked: StoreAsked) -> Iterator[dict[str, Any]]:
    """The features that a question takes, as GeoJSON, in the order of their ids: each tag that one of them carries is a field."""
    matching = _within(who, asked.within).filter(_question(asked)).order_by("pk")
    if matching.count() > MOST:
        raise BadInput(f"These are more than {MOST:,} features.", "Ask for a smaller area, or for all of the tags.")
    for feature in matching.iterator(chunk_size=AT_ONCE):
        shape = orjson.loads(shapely.to_geojson(shapely.from_wkb(bytes(feature.shape.wkb))))
        yield {"type": "Feature", "id": feature.pk, "properties": {"id": feature.pk, **feature.tags}, "geometry": shape}


def offered() -> list[dict[str, Any]]:
    """The names of tags with how often they stand and their commonest values, the commonest first; remembered for a while."""
    # Named by how many features there are: a store that was filled anew is asked anew.
    cache, name = caches["tiles"], f"store-tags/{TaggedFeature.objects.using(DATABASE).count()}"
    known = cache.get(name)
    if known is None:
        with connections[DATABASE].cursor() as cursor:
            cursor.execute(COMMONEST, [OFFERED])
            known = [
                {"name": name, "features": int(n), "values": list(values)} for name, n, values in cursor.fetchall()
            ]
        cache.set(name, known, 3_600)
    return list(known)


def _question(asked: StoreAsked) -> Q:
    out = _carries(asked.tags[0])
    for tag in asked.tags[1:]:
        out = out & _carries(tag) if asked.match == "all" else out | _carries(tag)
    return out


def _carries(tag: Tag) -> Q:
    # Both are answered by the index of tags.
    return Q(tags__contains={tag.name: tag.value}) if tag.value else Q(tags__has_key=tag.name)


def _within(who: User, within: Within) -> QuerySet[TaggedFeature]:
    every = TaggedFeature.objects.using(DATABASE)
    if within.dataset is not None:
        area = _area(who, within.dataset, within.fid)
        return every.filter(shape__intersects=GEOSGeometry(memoryview(shapely.to_wkb(area)), srid=4326))
    if within.bounds is not None:
        west, south, east, north = within.bounds
        if west >= east or south >= north:
            raise BadInput("The box is empty: west is less than east, and south less than north.")
        return every.filter(shape__intersects=Polygon.from_bbox((west, south, east, north)))
    return every


def _area(who: User, pk: UUID, fid: int | None) -> shapely.Geometry:
    dataset = dataset_for(who, pk)
    data = None if dataset.kind != "areas" else data_of(dataset.newest)
    if data is None or data.shapes is None or data.crs is None:
        raise BadInput(f"'{dataset.title}' holds no areas.")
    if fid is not None:
        row = data.row_of(fid)
        if row < 0:
            raise BadInput(f"'{dataset.title}' has no feature {fid} any more.")
        shapes = data.shapes[row : row + 1]
    else:
        shapes = data.shapes
    area = shapely.union_all(shapely.make_valid(to_lonlat(shapes, data.crs)))
    if shapely.is_empty(area):
        raise BadInput("This area has no shape.")
    return area
