"""Changes to a table by hand: each request is one new revision, which holds no more than what it changed."""

from collections.abc import Sequence
from dataclasses import asdict
from typing import Any

import pyproj
import shapely
from django.contrib.auth.models import User
from django.db import transaction
from greylatch.errors import BadInput
from greylatch.places.draft import Draft
from greylatch.tables.edit import ClearPlaces, DeleteRows, Edit, MovePoint, RetypeField, SetCell, SetCells

from library.derived import columns_of, fields_of
from library.models import Attributes, Dataset, Shape
from library.quota import check_room
from library.record import put
from library.revisions import keys_ever, locked, make_current, next_revision

MOST_RETYPED = 200_000
"""Rows of which a field is read anew by hand: each becomes a new record."""


def edit(dataset: Dataset, author: User, edits: Sequence[Edit]) -> Dataset:
    """Apply all of `edits` as one revision, or none. Raises BadInput that names row and field, Conflict where a cell holds
    something else than its editor saw. What changes nothing makes no revision."""
    with transaction.atomic():
        held = locked(dataset)
        base = held.newest
        if base.raster is not None:
            raise BadInput("A raster has no rows.")
        draft = Draft(
            held.holds, pyproj.CRS.from_json_dict(base.projjson) if base.projjson else None, fields_of(base), base.rows,
            held.next_fid, base.bounds, rows_of(held, edits), lambda: keys_ever(held), lambda: columns_of(base),
        )  # fmt: skip
        if not draft.take(edits):
            return held
        number = next_revision(held)
        size = put(Attributes, "values", held.pk, number, draft.changed)
        wkb = {fid: None if shape is None else shapely.to_wkb(shape) for fid, shape in draft.shapes.items()}
        size += put(Shape, "wkb", held.pk, number, wkb)
        check_room(author, size)
        held.next_fid = draft.next_fid
        return make_current(
            held, base, author, number=number, change=draft.words()[:500], fields=[asdict(field) for field in draft.fields],
            rows=draft.count, shaped=None if wkb else base.shapes, bounds=draft.bounds, bytes=size,
        )  # fmt: skip


def rows_of(dataset: Dataset, edits: Sequence[Edit]) -> dict[int, dict[str, Any] | None]:
    """The rows that edits are about, by fid, read at once."""
    fids = {change.fid for change in edits if isinstance(change, (SetCell, MovePoint))}
    fids |= {fid for change in edits if isinstance(change, (ClearPlaces, DeleteRows, SetCells)) for fid in change.fids}
    held = Attributes.objects.filter(dataset=dataset, until=None)
    if any(isinstance(change, RetypeField) for change in edits):
        if dataset.newest.rows > MOST_RETYPED:
            raise BadInput(
                f"A field of more than {MOST_RETYPED:,} rows is not retyped here.",
                "Send the file as a new delivery, with the type corrected in the preview.",
            )
    else:
        held = held.filter(fid__in=fids)
    return dict(held.values_list("fid", "values"))
