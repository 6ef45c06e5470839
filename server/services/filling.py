"""Filling the tagged store by COPY, which Django's ORM has no word for."""

from collections.abc import Iterable
from typing import Any

import shapely
from django.db import connections, transaction
from psycopg.types.json import Jsonb

from services.store import DATABASE

COPY = "COPY services_taggedfeature (id, tags, shape) FROM STDIN"


def fill(lots: Iterable[tuple[Any, Any, Any]]) -> int:
    """Put features into the store, all or none: lots of ids, tags and shapes in degrees. Returns how many."""
    written = 0
    with transaction.atomic(using=DATABASE), connections[DATABASE].cursor() as cursor, cursor.copy(COPY) as copy:
        for ids, tags, shapes in lots:
            for pk, each, wkb in zip(
                ids, tags, shapely.to_wkb(shapely.set_srid(shapes, 4326), hex=True, include_srid=True), strict=True
            ):
                copy.write_row((int(pk), Jsonb(each), wkb))
                written += 1
    return written
