"""Undo and redo: each who works on a table takes back what they did themselves, whatever others did since."""

from collections.abc import Iterable
from dataclasses import asdict, dataclass, field, replace
from typing import Any
from uuid import UUID

from django.contrib.auth.models import User
from django.db import transaction
from greylatch.errors import BadInput, Conflict
from greylatch.tables.dataset import missing_count
from greylatch.tables.edit import stored_value
from greylatch.tables.meaning import without_marks
from greylatch.tables.merging import merged_fields, merged_rows, merged_shapes
from greylatch.tables.record import KeptField

from library.derived import fields_of
from library.models import Attributes, Dataset, Held, Revision, Shape
from library.quota import check_room
from library.record import changed_between, holding, put, read_attributes
from library.revisions import as_it_was, locked, make_current, next_revision

MOST = 200_000
"""Rows of a change that is taken back from among others' changes."""
WHOLE = ("crs", "projjson", "raster", "join")
"""What a new delivery may change besides rows and fields."""


@dataclass
class Steps:
    """The changes of a person that can be taken back, and those that were, by number; the next one last."""

    undo: list[int] = field(default_factory=list)
    redo: list[int] = field(default_factory=list)

    def take(self, number: int, undoes: int | None, redoes: int | None) -> None:
        """Go on by one revision of that person."""
        if undoes is not None:
            self.undo.remove(undoes)
            self.redo.append(undoes)
        elif redoes is not None:
            self.redo.remove(redoes)
            self.undo.append(redoes)
        else:
            self.undo.append(number)
            self.redo.clear()


def steps_of(person: User, datasets: Iterable[UUID]) -> dict[UUID, Steps]:
    """Where a person stands in the history of each dataset."""
    steps = {pk: Steps() for pk in datasets}
    own = Revision.objects.filter(author=person, dataset__in=steps, number__gt=1).order_by("number")
    for dataset, number, undoes, redoes in own.values_list("dataset_id", "number", "undoes", "redoes"):
        steps[dataset].take(number, undoes, redoes)
    return steps


def undo(dataset: Dataset, author: User) -> Dataset:
    """Take back what the author did last. Raises BadInput where that is nothing, Conflict that names row and field where somebody else
    wrote over it since."""
    with transaction.atomic():
        held = locked(dataset)
        own = steps_of(author, [held.pk])[held.pk].undo
        if not own:
            others = held.newest.number > 1
            raise BadInput(
                "There is nothing of yours to undo.", *(["What others did is in the history."] if others else [])
            )
        done, before = _around(held, own[-1])
        return _step(held, done, before, author, change=f"Undone: {done.change}", undoes=done.number)


def redo(dataset: Dataset, author: User) -> Dataset:
    """Do again what the author took back last. Raises BadInput where nothing was, or they did something else since, and Conflict as
    `undo` does."""
    with transaction.atomic():
        held = locked(dataset)
        own = steps_of(author, [held.pk])[held.pk].redo
        if not own:
            raise BadInput("There is nothing to do again.")
        done, before = _around(held, own[-1])
        return _step(held, before, done, author, change=f"Again: {done.change}", redoes=done.number)


def _around(dataset: Dataset, number: int) -> tuple[Revision, Revision]:
    """A change, and the state on which it was made."""
    before, done = dataset.revisions.filter(number__lte=number).order_by("-number")[:2][::-1]
    return done, before


def _step(dataset: Dataset, was: Revision, then: Revision, author: User, **described: Any) -> Dataset:
    """Make the step between two states upon the state of today."""
    now = dataset.newest
    if now.same_as == was.same_as:
        return as_it_was(dataset, then, author, repeats=then.same_as, **described)
    if any(getattr(was, name) != getattr(then, name) for name in WHOLE):
        raise Conflict(
            "Others changed the table since, and this change is one of the whole table.",
            "Go back to an earlier state in the history.",
        )
    fields, recount = merged_fields(fields_of(was), fields_of(then), fields_of(now))
    names = {field.key: field.name for field in (*fields, *fields_of(was))}
    rows = merged_rows(*_held(Attributes, "values", dataset, was, then), names)
    shapes = merged_shapes(*_held(Shape, "wkb", dataset, was, then))
    before = dict(_of(Attributes, "values", now, rows))
    fields = _counted(now, fields, recount, before, rows)
    number = next_revision(dataset)
    size = put(Attributes, "values", dataset.pk, number, rows) + put(Shape, "wkb", dataset.pk, number, shapes)
    check_room(author, size)
    count = now.rows + sum((row is not None) - (fid in before) for fid, row in rows.items())
    return make_current(
        dataset, now, author, number=number, rows=count, fields=[asdict(field) for field in fields], bytes=size,
        shaped=None if shapes else now.shapes, bounds=_around_both(now.bounds, then.bounds) if shapes else now.bounds,
        **{**described, "change": described["change"][:500]},
    )  # fmt: skip


def _held(
    kind: type[Held], column: str, dataset: Dataset, was: Revision, then: Revision
) -> tuple[dict[int, Any], dict[int, Any], dict[int, Any]]:
    """What the step is about, as it was, as it is then, and now."""
    first, last = sorted((was.number, then.number))
    touched = changed_between(kind, dataset.pk, first, last)
    if len(touched) > MOST:
        raise Conflict(
            f"The change is of {len(touched):,} rows, and others changed the table since.",
            "Go back to an earlier state in the history.",
        )
    a, b, c = (dict(_of(kind, column, revision, touched.tolist())) for revision in (was, then, dataset.newest))
    return a, b, c


def _of(kind: type[Held], column: str, revision: Revision, fids: Iterable[int]) -> Iterable[tuple[int, Any]]:
    held = holding(kind, revision).filter(fid__in=list(fids)).values_list("fid", column)
    return ((fid, bytes(what) if isinstance(what, memoryview) else what) for fid, what in held)


def _counted(
    now: Revision, fields: list[KeptField], recount: set[str], before: dict[int, Any], rows: dict[int, Any]
) -> list[KeptField]:
    """The fields with how many values are missing: counted anew where that is asked, else by what the rows gain and lose."""
    anew = [field for field in fields if field.key in recount]
    columns = read_attributes(now, anew)[1] if anew else None

    def lacking(of: KeptField) -> int:
        gained = sum(stored_value(of, row.get(of.key)) is None for row in rows.values() if row is not None)
        lost = sum(stored_value(of, row.get(of.key)) is None for row in before.values())
        stood = (
            missing_count(without_marks(columns[of.key], of.meaning.missing)) if columns and of in anew else of.missing
        )
        return stood + gained - lost

    return [replace(of, missing=lacking(of)) for of in fields]


def _around_both(one: list[float] | None, other: list[float] | None) -> list[float] | None:
    if one is None or other is None:
        return one or other
    return [*map(min, one[:2], other[:2]), *map(max, one[2:], other[2:])]
