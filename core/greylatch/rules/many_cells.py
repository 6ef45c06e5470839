"""Changes of many cells at once: a field worked out, cells filled, words replaced; as edits of a table, seen before they are made."""

import re
from collections import defaultdict
from dataclasses import dataclass
from typing import Annotated, Any, Literal

import pyarrow as pa
from pydantic import BaseModel, ConfigDict, Field

from greylatch.errors import BadInput
from greylatch.rules.evaluating import computed, taken
from greylatch.tables.dataset import MAX_NAME, Dataset, column_named, field_type
from greylatch.tables.edit import MAX_EDITS, AddField, Edit, SetCells
from greylatch.tables.fieldtypes import plain, typed

__all__ = ["AnyOfMany", "Calculate", "Change", "Fill", "ManyCells", "Order", "Planned", "Replace", "planned"]

MOST_ORDERED = 20_000
"""Rows that are put into an order by hand: each gets a number of its own."""
MOST_CHANGES = 200_000
"""Cells that are changed at once: each becomes a new record of its row."""
Name = Annotated[str, Field(min_length=1, max_length=MAX_NAME)]
Text = Annotated[str, Field(max_length=5_000)]


class _Asked(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    where: Text = ""


class Calculate(_Asked):
    """A field gets what an expression gives, row by row; one of that name is made where there is none."""

    do: Literal["calculate"] = "calculate"
    name: Name
    expression: Text = Field(min_length=1)


class Fill(_Asked):
    """The same value in many cells of a field."""

    do: Literal["fill"] = "fill"
    field: Name
    value: Annotated[str, Field(max_length=10_000)] | bool | float | None


class Replace(_Asked):
    """A text put for another within cells of a field of texts; '' means all such fields. Of `whole` cells only where it is all that
    stands there."""

    do: Literal["replace"] = "replace"
    field: Annotated[str, Field(max_length=MAX_NAME)] = ""
    find: Text = Field(min_length=1)
    put: Text = ""
    whole: bool = False
    case: bool = False


class Order(_Asked):
    """A field numbers all rows from 1: in the order of a field (`by`), or as it numbers them now; then the row `move` goes before the row
    `before`, or last. A field of that name is made where there is none."""

    do: Literal["order"] = "order"
    name: Name
    by: Annotated[str, Field(max_length=MAX_NAME)] = ""
    descending: bool = False
    move: int | None = Field(None, ge=0)
    before: int | None = Field(None, ge=0)


ManyCells = Annotated[Calculate | Fill | Replace | Order, Field(discriminator="do")]
AnyOfMany = Calculate | Fill | Replace | Order


@dataclass(frozen=True)
class Change:
    """A cell before and after."""

    fid: int
    field: str
    before: Any
    after: Any


@dataclass(frozen=True)
class Planned:
    """What would be changed, in the order of the rows; and a field that has to be made first, with its type."""

    changes: list[Change]
    new_field: AddField | None

    @property
    def edits(self) -> list[Edit]:
        """The same as edits of the table, cells that get the same together."""
        grouped: dict[tuple[str, str, Any], list[int]] = defaultdict(list)
        for change in self.changes:
            grouped[change.field, type(change.after).__name__, change.after].append(change.fid)
        cells = [
            SetCells(fids=fids[i : i + MAX_EDITS], field=field, value=value)
            for (field, _, value), fids in grouped.items()
            for i in range(0, len(fids), MAX_EDITS)
        ]
        return [*([self.new_field] if self.new_field else []), *cells]


def planned(dataset: Dataset, asked: AnyOfMany) -> Planned:
    """What a change of many cells comes to, in the rows that its condition takes.

    Parameters
    ----------
    dataset : Dataset
        The data.
    asked : AnyOfMany
        What is to be done.

    Returns
    -------
    Planned

    Raises
    ------
    BadExpression
        With line and column of a mistake in the condition or the expression.
    BadInput
        For a field that is not there or of another type, and for too many changes.

    Examples
    --------
    >>> data = Dataset(pa.table({"isle": ["Orin", "Ulvery"]}), "table")
    >>> planned(data, Replace(field="isle", find="orin", put="Orrin")).changes
    [Change(fid=0, field='isle', before='Orin', after='Orrin')]
    """
    rows = (
        dataset.described().taking(taken(dataset.described(), asked.where))
        if asked.where.strip()
        else dataset.described()
    )
    match asked:
        case Calculate():
            plan = _calculated(dataset, rows, asked)
        case Fill():
            plan = Planned(_changes(rows, asked.field, [_typed(dataset, asked)] * len(rows)), None)
        case Replace():
            plan = Planned(_replaced(rows, asked), None)
        case Order():
            plan = _ordered(dataset, asked)
    if len(plan.changes) > MOST_CHANGES:
        raise BadInput(
            f"{len(plan.changes):,} cells would change; at most {MOST_CHANGES:,} do at once.",
            "Narrow it by a condition.",
        )
    return plan


def _calculated(dataset: Dataset, rows: Dataset, asked: Calculate) -> Planned:
    values = computed(rows, asked.expression)
    name = asked.name.strip()
    if not name:
        raise BadInput("A field needs a name.")
    type = field_type(values.type)
    if name not in dataset.columns.column_names:
        changes = [
            Change(fid, name, None, plain(value))
            for fid, value in zip(rows.fids.tolist(), values.to_pylist(), strict=True)
            if value is not None
        ]
        return Planned(changes, AddField(name=name, type=type))
    held = field_type(dataset.columns[name].type)
    if type != held and not (held == "number" and type == "integer"):
        raise BadInput(f"'{name}' holds {held}, and the expression gives {type}.", "Give it another name.")
    return Planned(_changes(rows, name, [plain(value) for value in values.to_pylist()]), None)


def _ordered(dataset: Dataset, asked: Order) -> Planned:
    if len(dataset) > MOST_ORDERED:
        raise BadInput(f"At most {MOST_ORDERED:,} rows are numbered by hand.", "Work the numbers out instead.")
    name = asked.name.strip()
    known = name in dataset.columns.column_names
    if not name or (known and field_type(dataset.columns[name].type) != "integer"):
        raise BadInput(f"'{name}' does not hold whole numbers." if name else "A field needs a name.")
    by = asked.by or (name if known else "")
    places = list(range(len(dataset)))
    if by:
        values = column_named(dataset.columns, by).to_pylist()
        there = sorted(
            (row for row in places if values[row] is not None), key=lambda row: values[row], reverse=asked.descending
        )
        places = [*there, *(row for row in places if values[row] is None)]
    if asked.move is not None:
        row = dataset.row_of(asked.move)
        before = None if asked.before is None else dataset.row_of(asked.before)
        places = [each for each in places if each != row] if row != before else places
        if row != before:
            places.insert(len(places) if before is None else places.index(before), row)
    numbers = [0] * len(places)
    for number, row in enumerate(places, 1):
        numbers[row] = number
    if known:
        return Planned(_changes(dataset, name, numbers), None)
    changes = [Change(fid, name, None, number) for fid, number in zip(dataset.fids.tolist(), numbers, strict=True)]
    return Planned(changes, AddField(name=name, type="integer"))


def _typed(dataset: Dataset, asked: Fill) -> Any:
    """The value as the field holds it."""
    type = field_type(column_named(dataset.columns, asked.field).type)
    if not isinstance(asked.value, str) or type == "text":
        return asked.value
    try:
        return plain(typed(asked.value, type))
    except BadInput as error:
        raise BadInput(f"Field '{asked.field}':", str(error)) from error


def _changes(rows: Dataset, field: str, values: list[Any]) -> list[Change]:
    before = rows.columns[field].to_pylist()
    return [
        Change(fid, field, plain(old), new)
        for fid, old, new in zip(rows.fids.tolist(), before, values, strict=True)
        if plain(old) != new
    ]


def _replaced(rows: Dataset, asked: Replace) -> list[Change]:
    texts = [each.name for each in rows.columns.schema if pa.types.is_string(each.type)]
    if asked.field:
        column_named(rows.columns, asked.field)
        if asked.field not in texts:
            raise BadInput(f"'{asked.field}' holds no text.", "Choose a field of texts.")
        texts = [asked.field]
    sought = re.compile(re.escape(asked.find), 0 if asked.case else re.IGNORECASE)

    def after(text: str | None) -> str | None:
        if text is None:
            return None
        if asked.whole:
            return asked.put if sought.fullmatch(text) else text
        return sought.sub(lambda _: asked.put, text)

    return [
        change for field in texts for change in _changes(rows, field, list(map(after, rows.columns[field].to_pylist())))
    ]
