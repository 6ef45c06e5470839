"""The states of a dataset one after the other: making the next one current, and going back to an earlier one."""

from typing import Any

from django.contrib.auth.models import User
from django.db import connection, transaction
from django.db.models import Max
from greylatch.errors import BadInput
from psycopg.sql import SQL, Identifier

from library.models import Attributes, Dataset, Held, Revision, Shape
from library.quota import check_room
from library.row_by_row import row_by_row


def next_revision(dataset: Dataset) -> int:
    """The number of the revision that is made next."""
    return int(dataset.revisions.aggregate(last=Max("number"))["last"] or 0) + 1


def keys_ever(dataset: Dataset) -> set[str]:
    """The keys that fields of a dataset have or had."""
    return {field["key"] for fields in dataset.revisions.values_list("fields", flat=True) for field in fields}


def make_current(dataset: Dataset, like: Revision, author: User, **described: Any) -> Dataset:
    """Make a new revision current that is `like` another but for what is `described`."""
    inherited = ("file_name", "rows", "fields", "crs", "projjson", "crs_reason", "bounds", "notes", "raster", "join")
    dataset.current = Revision.objects.create(
        dataset=dataset, author=author, **({name: getattr(like, name) for name in inherited} | described)
    )
    dataset.save(update_fields=["current", "next_fid"])
    return dataset


def restore(dataset: Dataset, author: User, number: int) -> Dataset:
    """Go to the state of an earlier revision, as a change that can be undone. Raises BadInput for one that is not there."""
    with transaction.atomic():
        held = locked(dataset)
        target = held.revisions.filter(number=number).first()
        if target is None:
            raise BadInput(f"There is no revision {number}.")
        return as_it_was(held, target, author, repeats=target.same_as, change=f"Back to revision {number}.")


def locked(dataset: Dataset) -> Dataset:
    """The dataset as it stands, held for this transaction alone, with its current revision, and each of its rows on record."""
    alone = Dataset.objects.select_for_update(of=("self",), no_key=True).select_related("current").get(pk=dataset.pk)
    row_by_row(alone.pk)
    return alone


def as_it_was(dataset: Dataset, target: Revision, author: User, *, change: str, **described: Any) -> Dataset:
    """A new revision that holds what `target` holds; what is the same in both is not written again."""
    number = next_revision(dataset)
    _, size = _bring_back(Attributes, "values", dataset, target.number, number)
    moved, more = _bring_back(Shape, "wkb", dataset, target.number, number)
    check_room(author, size + more)
    return make_current(
        dataset, target, author, number=number, shaped=None if moved else dataset.newest.shapes, change=change[:500],
        bytes=size + more, **described,
    )  # fmt: skip


def _bring_back(kind: type[Held], column: str, dataset: Dataset, target: int, number: int) -> tuple[int, int]:
    """From the revision `number` on, hold what held in `target`. Returns how many begin or end to hold, and the bytes of what
    begins."""
    ended = kind._default_manager.filter(dataset=dataset, until=None, since__gt=target).update(until=number)
    # What held then and still does was never ended; the rest ended after it.
    command = SQL(
        "WITH begun AS (INSERT INTO {table} (dataset_id, fid, since, {column}) SELECT dataset_id, fid, %s, {column} FROM {table}"
        " WHERE dataset_id = %s AND since <= %s AND until > %s AND until < %s RETURNING pg_column_size({column}) AS bytes)"
        " SELECT count(*), coalesce(sum(bytes), 0) FROM begun"
    )
    named = command.format(table=Identifier(kind._meta.db_table), column=Identifier(column))
    with connection.cursor() as cursor:
        cursor.execute(named, [number, dataset.pk, target, target, number])
        begun, size = cursor.fetchone()
    return ended + begun, int(size)
