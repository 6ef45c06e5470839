"""Changes that people make to a table by hand, as plain data; and what may stand in a cell."""

from collections.abc import Sequence
from datetime import datetime
from typing import Annotated, Any, Literal

import pyarrow as pa
from pydantic import BaseModel, ConfigDict, Field

from greylatch.errors import BadInput
from greylatch.tables.dataset import MAX_NAME, text_of
from greylatch.tables.fieldtypes import FieldType, plain, typed
from greylatch.tables.meaning import MeaningKind, is_mark
from greylatch.tables.number_marks import Thousands, thousands_marks
from greylatch.tables.record import KeptField
from greylatch.tables.written_numbers import measured_in, written_number

__all__ = [
    "MAX_EDITS",
    "AddField",
    "AddRow",
    "ClearPlaces",
    "DeleteField",
    "DeleteRows",
    "DescribeField",
    "Edit",
    "MovePoint",
    "RetypeField",
    "SetCell",
    "SetCells",
    "cell_value",
    "retyped_values",
    "said",
    "stored_value",
]

MAX_EDITS = 10_000
Fid = Annotated[int, Field(ge=0, lt=2**53)]
Name = Annotated[str, Field(min_length=1, max_length=MAX_NAME)]
Cell = Annotated[str, Field(max_length=100_000)] | bool | int | float | None
Degrees = tuple[Annotated[float, Field(ge=-180, le=180)], Annotated[float, Field(ge=-90, le=90)]]


class _Change(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class SetCell(_Change):
    """Another value in a cell, as it is typed. `was` is what its editor saw there: where somebody else wrote meanwhile, nothing is
    changed."""

    do: Literal["set-cell"] = "set-cell"
    fid: Fid
    field: Name
    value: Cell
    was: Cell


class AddRow(_Change):
    """A new feature: values by field, and for points where it lies (longitude, latitude)."""

    do: Literal["add-row"] = "add-row"
    values: dict[Name, Cell] = Field({}, max_length=5_000)
    place: Degrees | None = None


class MovePoint(_Change):
    """A point lies elsewhere."""

    do: Literal["move-point"] = "move-point"
    fid: Fid
    place: Degrees


class DeleteRows(_Change):
    """Features are taken out, with their shapes."""

    do: Literal["delete-rows"] = "delete-rows"
    fids: list[Fid] = Field(min_length=1, max_length=MAX_EDITS)


class AddField(_Change):
    """A new field, empty in every row."""

    do: Literal["add-field"] = "add-field"
    name: Name
    type: FieldType


class DeleteField(_Change):
    """A field is taken out."""

    do: Literal["delete-field"] = "delete-field"
    name: Name


class DescribeField(_Change):
    """What a field means: its kind, its unit, the decimals that its numbers are shown with, and values that stand for none."""

    do: Literal["describe-field"] = "describe-field"
    name: Name
    kind: MeaningKind
    unit: Annotated[str, Field(max_length=40)] = ""
    decimals: Annotated[int, Field(ge=0, le=10)] | None = None
    missing: list[float | Annotated[str, Field(max_length=200)]] = Field([], max_length=20)


class SetCells(_Change):
    """The same value in many cells of a field, whatever stands there."""

    do: Literal["set-cells"] = "set-cells"
    fids: list[Fid] = Field(min_length=1, max_length=MAX_EDITS)
    field: Name
    value: Cell


class RetypeField(_Change):
    """The values of a field read as those of another type, as people write numbers: with thousands apart, say. With a `unit` beside
    them they are turned into that one. What is no such value stays empty."""

    do: Literal["retype-field"] = "retype-field"
    name: Name
    type: FieldType
    unit: Annotated[str, Field(max_length=40)] = ""


class ClearPlaces(_Change):
    """Features lie nowhere any more; their values stay."""

    do: Literal["clear-places"] = "clear-places"
    fids: list[Fid] = Field(min_length=1, max_length=MAX_EDITS)


Edit = Annotated[
    SetCell
    | SetCells
    | AddRow
    | MovePoint
    | ClearPlaces
    | DeleteRows
    | AddField
    | RetypeField
    | DeleteField
    | DescribeField,
    Field(discriminator="do"),
]


def cell_value(field: KeptField, entry: Any) -> Any:
    """What a cell of the field keeps of what is typed into it, as JSON has it: null for nothing.

    Parameters
    ----------
    field : KeptField
        The field that the cell belongs to.
    entry : Any
        What was typed.

    Returns
    -------
    Any

    Raises
    ------
    BadInput
        For what does not fit the field's type.

    Examples
    --------
    >>> cell_value(KeptField("a", "number", 0, "a", "double"), "12,5")
    12.5
    """
    if field.type == "text":
        return None if entry is None else str(entry).strip() or None
    wrong_kind = isinstance(entry, bool) != (field.type == "boolean") or field.type == "date"
    value = typed(str(entry), field.type) if entry is not None and (isinstance(entry, str) or wrong_kind) else entry
    if value is None:
        return None
    try:
        kept = pa.scalar(_as_kept(value, field), pa.type_for_alias(field.arrow)).as_py()
    except (pa.ArrowInvalid, pa.ArrowTypeError, OverflowError, ValueError) as error:
        raise BadInput(f"{entry!r} does not fit into the field '{field.name}'.") from error
    return plain(kept)


def stored_value(field: KeptField, held: Any) -> Any:
    """What a row on record holds, as a table shows it: nothing where it stands for "missing".

    Parameters
    ----------
    field : KeptField
        The field that the cell belongs to.
    held : Any
        What the record holds.

    Returns
    -------
    Any
    """
    value = held if field.type == "text" else cell_value(field, held)
    return None if is_mark(value, field.meaning.missing) else value


def retyped_values(values: Sequence[Any], field: KeptField, unit: str = "") -> list[Any]:
    """What the cells of the field keep of values of another type; null for what is none of its own.

    Parameters
    ----------
    values : Sequence[Any]
        The values of all rows: how some are written tells what a comma means in others.
    field : KeptField
        The field as it is to be.
    unit : str
        Into which measured values are turned.

    Returns
    -------
    list[Any]

    Examples
    --------
    >>> number = KeptField("a", "number", 0, "a", "double")
    >>> retyped_values(["1 234,5", "many"], number), retyped_values(["2 m"], number, "cm")
    ([1234.5, None], [200.0])
    >>> retyped_values(["1,234,567", "2,263"], number)
    [1234567.0, 2263.0]
    """
    texts = [value.strip() for value in values if isinstance(value, str)]
    written = [text for text in texts if written_number(text) is not None]
    thousands = thousands_marks({field.name: written}).get(field.name)
    return [_retyped(value, field, unit, thousands) for value in values]


def _retyped(value: Any, field: KeptField, unit: str, thousands: Thousands | None) -> Any:
    if isinstance(value, str) and field.type in ("integer", "number"):
        value = measured_in(value, unit, thousands) if unit else written_number(value, thousands)
    elif value is not None and field.type == "text":
        value = text_of(value)
    try:
        return cell_value(field, value)
    except BadInput:
        return None


def said(value: Any) -> str:
    """A cell in words for the history.

    >>> said(None), said("Ard"), said(2.5)
    ('nothing', '“Ard”', '2.5')
    """
    if value is None:
        return "nothing"
    return f"“{value[:60]}{'…' if len(value) > 60 else ''}”" if isinstance(value, str) else text_of(value)


def _as_kept(value: Any, field: KeptField) -> Any:
    if isinstance(value, datetime) and field.arrow.startswith("date"):
        return value.date()
    if field.type == "integer" and isinstance(value, float):
        if not value.is_integer():
            raise ValueError
        return int(value)
    return float(value) if field.type == "number" else value
