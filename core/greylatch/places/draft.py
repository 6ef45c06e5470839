"""A table while it is changed by hand: what becomes of rows, shapes and fields, before anything of it is kept."""

from collections import Counter
from collections.abc import Callable, Collection, Iterable
from dataclasses import dataclass, field, replace
from datetime import datetime
from typing import Any

import numpy as np
import pyarrow as pa
import pyproj
import shapely

from greylatch.errors import BadInput, Conflict
from greylatch.places.crs import LONLAT, reproject
from greylatch.tables.dataset import MAX_COLUMNS, Fids, Kind, field_type, missing_count
from greylatch.tables.edit import (
    AddField,
    AddRow,
    ClearPlaces,
    DeleteField,
    DeleteRows,
    DescribeField,
    Edit,
    MovePoint,
    RetypeField,
    SetCell,
    SetCells,
    cell_value,
    retyped_values,
    said,
    stored_value,
)  # fmt: skip
from greylatch.tables.fieldtypes import ARROW
from greylatch.tables.meaning import BY_HAND, Meaning, guess_meaning, without_marks
from greylatch.tables.record import KeptField, free_key
from greylatch.wording import counted

__all__ = ["Draft"]

DETAILED = 3
"""Up to how many changes of cells are told one by one in the history."""
Row = dict[str, Any]


@dataclass
class Draft:
    """The next state of a table of `kind` in `crs` (None for a bare table).

    `rows` are those that the edits are about, by fid, as they are on record (values by key); those that are changed or new are
    in `changed`, and None there if they are taken out. `shapes` are those that come, go (None) or move. `count` is how many rows
    there are. `used` gives the keys that fields ever had, `stored` fids and columns by key as they were: both are asked for only
    where they are needed.
    """

    kind: Kind
    crs: pyproj.CRS | None
    fields: list[KeptField]
    count: int
    next_fid: int
    bounds: list[float] | None
    rows: dict[int, Row | None]
    used: Callable[[], Collection[str]]
    stored: Callable[[], tuple[Fids, pa.Table]]
    shapes: dict[int, shapely.Geometry | None] = field(default_factory=dict)
    _touched: set[int] = field(default_factory=set)
    _described: set[str] = field(default_factory=set)
    _told: list[str] = field(default_factory=list)
    _done: Counter[str] = field(default_factory=Counter)

    @property
    def changed(self) -> dict[int, Row | None]:
        """The rows that are other than before, by fid."""
        return {fid: self.rows[fid] for fid in self._touched}

    def take(self, edits: Iterable[Edit]) -> bool:
        """Take changes in, one after the other; whether any of them changed something.

        Raises
        ------
        BadInput
            That names row and field, Conflict where a cell holds something else than its editor saw.
        """
        for change in edits:
            self._take(change)
        for key in self._described:
            self._recount(key)
        return bool(self._done)

    def words(self) -> str:
        """What was done, for the history."""
        if set(self._done) == {"cell changed"} and self._done["cell changed"] <= DETAILED:
            return f"{'; '.join(self._told)}."
        parts = (f"{counted(n, what.split()[0])} {what.split()[1]}" for what, n in self._done.items())
        return ", ".join(parts) + "."

    def _take(self, change: Edit) -> None:
        match change:
            case SetCell():
                self._set_cell(change)
            case SetCells():
                self._set_cells(change)
            case RetypeField():
                self._retype_field(change)
            case ClearPlaces():
                for fid in dict.fromkeys(change.fids):
                    self._row(fid)
                    self.shapes[fid] = shapely.GeometryCollection()
                    self._done["place cleared"] += 1
            case AddRow():
                self._add_row(change)
            case MovePoint():
                self._row(change.fid)
                self.shapes[change.fid] = self._point(change.place)
                self._done["point moved"] += 1
            case DeleteRows():
                for fid in dict.fromkeys(change.fids):
                    self._delete_row(fid)
            case AddField():
                self._add_field(change)
            case DescribeField():
                self._describe_field(change)
            case DeleteField():
                gone = self._field(change.name)
                if len(self.fields) == 1:
                    raise BadInput(f"'{change.name}' is the only field.", "A table keeps at least one.")
                self.fields = [field for field in self.fields if field is not gone]
                self._described.discard(gone.key)
                self._done["field deleted"] += 1

    def _set_cell(self, change: SetCell) -> None:
        row, of = self._row(change.fid), self._field(change.field)
        where = f"Row {change.fid + 1}, field '{of.name}':"
        try:
            value = cell_value(of, change.value)
        except BadInput as error:
            raise BadInput(where, str(error)) from error
        now = stored_value(of, row.get(of.key))
        if now == value:
            return
        if now != change.was:
            raise Conflict(
                where, f"{said(now)} was written there meanwhile; you wrote {said(value)} over {said(change.was)}."
            )
        after = {**row, of.key: value}
        self._count(row, after)
        self.rows[change.fid] = after
        self._touched.add(change.fid)
        self._done["cell changed"] += 1
        self._told.append(f"Row {change.fid + 1}, {of.name}: {said(now)} → {said(value)}")

    def _set_cells(self, change: SetCells) -> None:
        of = self._field(change.field)
        try:
            value = cell_value(of, change.value)
        except BadInput as error:
            raise BadInput(f"Field '{of.name}':", str(error)) from error
        for fid in dict.fromkeys(change.fids):
            row = self._row(fid)
            after = {**row, of.key: value}
            if stored_value(of, row.get(of.key)) != value:
                self._count(row, after)
                self.rows[fid] = after
                self._touched.add(fid)
                self._done["cell changed"] += 1
                self._told.append(f"Row {fid + 1}, {of.name}: {said(row.get(of.key))} → {said(value)}")

    def _retype_field(self, change: RetypeField) -> None:
        """The values go under a new key: what stood there before stays in the revisions in which it holds."""
        of, arrow = self._field(change.name), ARROW[change.type]
        key = free_key(of.name, {*self.used(), *(field.key for field in self.fields)})
        new = KeptField(of.name, field_type(arrow), 0, key, str(arrow), of.meaning)
        held = {fid: row for fid, row in self.rows.items() if row is not None}
        kept = retyped_values([stored_value(of, row.get(of.key)) for row in held.values()], new, change.unit)
        values = dict(zip(held, kept, strict=True))
        for fid, row in held.items():
            self.rows[fid] = {**{name: value for name, value in row.items() if name != of.key}, key: values[fid]}
            self._touched.add(fid)
        column = pa.chunked_array([pa.array([_as_arrow(value, arrow) for value in values.values()], arrow)])
        meaning = guess_meaning(of.name, column)
        meaning = replace(meaning, unit=change.unit or meaning.unit)
        missing = missing_count(without_marks(column, meaning.missing))
        self.fields = [
            replace(new, meaning=meaning, missing=missing) if field is of else field for field in self.fields
        ]
        self._described.discard(of.key)
        self._done["field retyped"] += 1

    def _add_row(self, change: AddRow) -> None:
        fid, row = self.next_fid, {field.key: None for field in self.fields}
        for name, value in change.values.items():
            of = self._field(name)
            try:
                row[of.key] = cell_value(of, value)
            except BadInput as error:
                raise BadInput(f"New row, field '{name}':", str(error)) from error
        if self.crs is not None:
            if self.kind == "points" and change.place is None:
                raise BadInput("A new point needs a place.", "Give its longitude and latitude.")
            self.shapes[fid] = self._point(change.place) if change.place else shapely.GeometryCollection()
        self._count(None, row)
        self.rows[fid] = row
        self._touched.add(fid)
        self.next_fid, self.count = fid + 1, self.count + 1
        self._done["row added"] += 1

    def _delete_row(self, fid: int) -> None:
        self._count(self._row(fid), None)
        self.rows[fid] = None
        if self.crs is not None:
            self.shapes[fid] = None
        self._touched.add(fid)
        self.count -= 1
        self._done["row deleted"] += 1

    def _add_field(self, change: AddField) -> None:
        name = change.name.strip()
        if not name or any(field.name == name for field in self.fields):
            raise BadInput(f"There is a field '{name}' already." if name else "A field needs a name.")
        if len(self.fields) >= MAX_COLUMNS:
            raise BadInput(f"A table has at most {MAX_COLUMNS:,} fields.")
        arrow = ARROW[change.type]
        key = free_key(name, {*self.used(), *(field.key for field in self.fields)})
        meaning = guess_meaning(name, pa.chunked_array([], arrow))
        self.fields = [*self.fields, KeptField(name, field_type(arrow), self.count, key, str(arrow), meaning)]
        self._done["field added"] += 1

    def _describe_field(self, change: DescribeField) -> None:
        of = self._field(change.name)
        meaning = Meaning(change.kind, change.unit.strip(), change.decimals, tuple(change.missing), BY_HAND)
        if replace(meaning, reason="") == replace(of.meaning, reason="") and of.meaning.reason == BY_HAND:
            return
        self.fields = [replace(field, meaning=meaning) if field is of else field for field in self.fields]
        self._described.add(of.key)
        self._done["field described"] += 1

    def _recount(self, key: str) -> None:
        """Count what is missing in a field anew, whose meaning says now what stands for that."""
        of = next(field for field in self.fields if field.key == key)
        fids, columns = self.stored()
        missing = sum(stored_value(of, row.get(key)) is None for row in self.changed.values() if row is not None)
        if key in columns.column_names:
            same = columns[key].filter(pa.array(~np.isin(fids, list(self._touched))))
            missing += missing_count(without_marks(same, of.meaning.missing))
        self.fields = [replace(field, missing=missing) if field is of else field for field in self.fields]

    def _count(self, before: Row | None, after: Row | None) -> None:
        """Keep count of what is missing in each field when a row becomes another, comes (None before) or goes (None after)."""

        def lacks(row: Row | None, of: KeptField) -> bool:
            return row is not None and stored_value(of, row.get(of.key)) is None

        self.fields = [
            replace(field, missing=field.missing + lacks(after, field) - lacks(before, field))
            if lacks(after, field) != lacks(before, field)
            else field
            for field in self.fields
        ]

    def _point(self, place: tuple[float, float]) -> shapely.Geometry:
        if self.kind != "points" or self.crs is None:
            raise BadInput(f"This dataset holds {self.kind}, not points.")
        west, south, east, north = self.bounds or [*place, *place]
        self.bounds = [min(west, place[0]), min(south, place[1]), max(east, place[0]), max(north, place[1])]
        return reproject(np.array([shapely.Point(*place)]), LONLAT, self.crs)[0]

    def _row(self, fid: int) -> Row:
        row = self.rows.get(fid)
        if row is None:
            raise BadInput(f"Row {fid + 1} is not there any more.")
        return row

    def _field(self, name: str) -> KeptField:
        named = next((field for field in self.fields if field.name == name), None)
        if named is None:
            raise BadInput(f"There is no field '{name}' any more.")
        return named


def _as_arrow(value: Any, arrow: pa.DataType) -> Any:
    """A value of the record, as a column of that type takes it: dates stand there as text."""
    return datetime.fromisoformat(value) if isinstance(value, str) and pa.types.is_temporal(arrow) else value
