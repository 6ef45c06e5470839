"""Changes to a table by hand: each request is one new revision, which holds no more than what it changed."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import asdict, replace
from typing import Any

import numpy as np
import pyarrow as pa
import pyproj
import shapely
from django.contrib.auth.models import AbstractBaseUser
from django.db import transaction
from greylatch.errors import BadInput
from greylatch.places.crs import LONLAT, reproject
from greylatch.tables.dataset import field_type, missing_count
from greylatch.tables.edit import (
    AddField,
    AddRow,
    DeleteField,
    DeleteRows,
    DescribeField,
    Edit,
    MovePoint,
    SetCell,
    cell_value,
    said,
    stored_value,
)
from greylatch.tables.fieldtypes import ARROW
from greylatch.tables.meaning import Meaning, guess_meaning, without_marks
from greylatch.tables.record import KeptField, free_key
from greylatch.wording import counted

from library.derived import columns_of, fields_of
from library.models import Attributes, Dataset, Held, Shape
from library.record import end
from library.revisions import make_current, next_revision

DETAILED = 3
"""Up to how many changes of cells are told one by one in the history."""


class Conflict(ValueError):
    """Somebody else changed the same cell meanwhile."""


def edit(dataset: Dataset, author: AbstractBaseUser, edits: Sequence[Edit]) -> Dataset:
    """Apply all of `edits` as one revision, or none. Raises BadInput that names row and field, Conflict where a cell holds
    something else than its editor saw. What changes nothing makes no revision."""
    with transaction.atomic():
        held = Dataset.objects.select_for_update(of=("self",)).select_related("current").get(pk=dataset.pk)
        draft = Draft(held)
        draft.load(edits)
        for one in edits:
            draft.apply(one)
        return draft.keep(author)


class Draft:
    """The next revision of a dataset while it is made."""

    def __init__(self, dataset: Dataset) -> None:
        assert dataset.current is not None
        self.dataset, self.base = dataset, dataset.current
        if self.base.raster is not None:
            raise BadInput("A raster has no rows.")
        self.fields = fields_of(self.base)
        self.next_fid = dataset.next_fid
        self.rows: dict[int, dict[str, Any] | None] = {}
        self.changed: set[int] = set()
        self.shapes: dict[int, shapely.Geometry | None] = {}
        self.bounds = self.base.bounds
        self.told: list[str] = []
        self.done: Counter[str] = Counter()

    def load(self, edits: Sequence[Edit]) -> None:
        """Read the rows that the edits are about, at once."""
        fids = {one.fid for one in edits if isinstance(one, (SetCell, MovePoint))}
        fids |= {fid for one in edits if isinstance(one, DeleteRows) for fid in one.fids}
        held = Attributes.objects.filter(dataset=self.dataset, fid__in=fids, until=None)
        self.rows = dict(held.values_list("fid", "values"))

    def apply(self, change: Edit) -> None:
        """Take one change in."""
        match change:
            case SetCell():
                self._set_cell(change)
            case AddRow():
                self._add_row(change)
            case MovePoint():
                self._row(change.fid)
                self.shapes[change.fid] = self._point(change.place)
                self.done["point moved"] += 1
            case DeleteRows():
                for fid in dict.fromkeys(change.fids):
                    self._count_missing(self._row(fid), -1)
                    self.rows[fid], self.shapes[fid] = None, None
                    self.changed.add(fid)
                    self.done["row deleted"] += 1
            case AddField():
                self._add_field(change)
            case DescribeField():
                self._describe_field(change)
            case DeleteField():
                self._field(change.name)
                if len(self.fields) == 1:
                    raise BadInput(f"'{change.name}' is the only field.", "A table keeps at least one.")
                self.fields = [field for field in self.fields if field.name != change.name]
                self.done["field deleted"] += 1

    def keep(self, author: AbstractBaseUser) -> Dataset:
        """Write the revision; nothing where nothing changed."""
        if not self.done:
            return self.dataset
        dataset = self.dataset.pk
        gone = sum(self.rows[fid] is None and fid < self.dataset.next_fid for fid in self.changed)
        new = {fid for fid in self.changed if fid >= self.dataset.next_fid and self.rows[fid] is not None}
        number = next_revision(self.dataset)
        moved = {fid: shape for fid, shape in self.shapes.items() if self.base.projjson is not None}
        _replace(
            Attributes,
            dataset,
            number,
            {fid: {"values": self.rows[fid]} if self.rows[fid] is not None else None for fid in self.changed},
        )
        _replace(
            Shape,
            dataset,
            number,
            {fid: {"wkb": shapely.to_wkb(shape)} if shape is not None else None for fid, shape in moved.items()},
        )
        self.dataset.next_fid = self.next_fid
        return make_current(
            self.dataset,
            self.base,
            author,
            number=number,
            change=self._in_words(),
            fields=[asdict(field) for field in self.fields],
            rows=self.base.rows + len(new) - gone,
            shaped=None if moved else self.base.shapes,
            bounds=self.bounds,
            before=self.base.number,
            again=[],
        )

    def _set_cell(self, change: SetCell) -> None:
        row, field = self._row(change.fid), self._field(change.field)
        try:
            value = cell_value(field, change.value)
        except BadInput as error:
            raise BadInput(f"Row {change.fid + 1}, field '{field.name}':", str(error)) from error
        now = stored_value(field, row.get(field.key))
        if now == value:
            return
        if now != change.was:
            raise Conflict(
                f"Row {change.fid + 1}, field '{field.name}': {said(now)} was written there meanwhile; you wrote {said(value)} over {said(change.was)}."
            )
        self._more_missing(field, (value is None) - (now is None))
        self.rows[change.fid] = {**row, field.key: value}
        self.changed.add(change.fid)
        self.done["cell changed"] += 1
        self.told.append(f"Row {change.fid + 1}, {field.name}: {said(now)} → {said(value)}")

    def _add_row(self, change: AddRow) -> None:
        fid = self.next_fid
        values = {}
        for name, given in change.values.items():
            field = self._field(name)
            try:
                values[field.key] = cell_value(field, given)
            except BadInput as error:
                raise BadInput(f"New row, field '{name}':", str(error)) from error
        if self.base.projjson is not None:
            if self.dataset.kind == "points" and change.place is None:
                raise BadInput("A new point needs a place.", "Give its longitude and latitude.")
            self.shapes[fid] = self._point(change.place) if change.place else shapely.GeometryCollection()
        self.rows[fid] = {field.key: values.get(field.key) for field in self.fields}
        self._count_missing(self.rows[fid] or {}, 1)
        self.changed.add(fid)
        self.next_fid += 1
        self.done["row added"] += 1

    def _add_field(self, change: AddField) -> None:
        name = change.name.strip()
        if not name or any(field.name == name for field in self.fields):
            raise BadInput(f"There is a field '{name}' already." if name else "A field needs a name.")
        used = {field["key"] for fields in self.dataset.revisions.values_list("fields", flat=True) for field in fields}
        used |= {field.key for field in self.fields}
        there = self.base.rows + self.done["row added"] - self.done["row deleted"]
        arrow = ARROW[change.type]
        self.fields = [
            *self.fields,
            KeptField(
                name,
                field_type(arrow),
                there,
                free_key(name, used),
                str(arrow),
                guess_meaning(name, pa.chunked_array([], arrow)),
            ),
        ]
        self.done["field added"] += 1

    def _describe_field(self, change: DescribeField) -> None:
        field = self._field(change.name)
        meaning = Meaning(change.kind, change.unit.strip(), change.decimals, tuple(change.missing), "Said by hand.")
        if replace(meaning, reason="") == replace(field.meaning, reason=""):
            return
        _, columns = columns_of(self.base)
        # Counted on what is there: what the same request changed in cells before is counted with it.
        there = (
            0
            if field.key not in columns.column_names
            else sum(
                missing_count(without_marks(columns[field.key], marks)) * sign
                for marks, sign in ((meaning.missing, 1), (field.meaning.missing, -1))
            )
        )
        described = replace(field, meaning=meaning, missing=field.missing + there)
        self.fields = [described if one is field else one for one in self.fields]
        self.done["field described"] += 1

    def _point(self, place: tuple[float, float]) -> shapely.Geometry:
        if self.dataset.kind != "points" or self.base.projjson is None:
            raise BadInput(f"This dataset holds {self.dataset.kind}, not points.")
        there = reproject(np.array([shapely.Point(*place)]), LONLAT, pyproj.CRS.from_json_dict(self.base.projjson))
        self.bounds = _around(self.bounds, place)
        return there[0]

    def _row(self, fid: int) -> dict[str, Any]:
        row = self.rows.get(fid)
        if row is None:
            raise BadInput(f"Row {fid + 1} is not there any more.")
        return row

    def _field(self, name: str) -> KeptField:
        found = next((field for field in self.fields if field.name == name), None)
        if found is None:
            raise BadInput(f"There is no field '{name}' any more.")
        return found

    def _more_missing(self, field: KeptField, more: int) -> None:
        self.fields = [replace(one, missing=one.missing + more) if one is field else one for one in self.fields]

    def _count_missing(self, row: dict[str, Any], sign: int) -> None:
        self.fields = [replace(one, missing=one.missing + sign * (row.get(one.key) is None)) for one in self.fields]

    def _in_words(self) -> str:
        if set(self.done) == {"cell changed"} and self.done["cell changed"] <= DETAILED:
            return f"{'; '.join(self.told)}."[:500]
        words = ", ".join(counted(n, what.split()[0]) + " " + what.split()[1] for what, n in self.done.items())
        return f"{words}."


def _replace(kind: type[Held], dataset: Any, number: int, now: dict[int, dict[str, Any] | None]) -> None:
    """From the revision `number` on, what is held of these features is something else, or nothing."""
    if not now:
        return
    end(kind, dataset, now, number)
    kind._default_manager.bulk_create(
        kind(dataset_id=dataset, fid=fid, since=number, **what) for fid, what in now.items() if what is not None
    )


def _around(bounds: list[float] | None, place: tuple[float, float]) -> list[float]:
    """The bounds with a place in them."""
    if bounds is None:
        return [*place, *place]
    return [min(bounds[0], place[0]), min(bounds[1], place[1]), max(bounds[2], place[0]), max(bounds[3], place[1])]
