"""A new delivery of a table beside the one that is there: which rows are new, gone or changed, and which fields."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
import shapely
from numpy.typing import NDArray

from greylatch.errors import BadInput
from greylatch.places.join import keys_of
from greylatch.tables.dataset import Dataset, Fids, field_type
from greylatch.tables.record import recordable, same_values
from greylatch.wording import counted

__all__ = ["BETWEEN", "Delivery", "delivery", "delivery_of", "known_again_by", "telling_key"]


@dataclass(frozen=True)
class Retyped:
    """A field that holds something else than before."""

    name: str
    was: str
    now: str


@dataclass(frozen=True)
class Delivery:
    """What a delivery brings. `rows` are all its rows in the order of fids; the others are fids: `changed` in what they say,
    `moved` in where they lie."""

    rows: Dataset
    new: Fids
    gone: Fids
    changed: Fids
    moved: Fids
    fields_new: list[str]
    fields_gone: list[str]
    retyped: list[Retyped]
    emptied: list[str]
    """Fields that held something and hold nothing any more."""

    @property
    def same(self) -> int:
        """How many rows are as they were."""
        return len(self.rows) - len(self.new) - len(np.union1d(self.changed, self.moved))

    @property
    def nothing(self) -> bool:
        """Whether it brings nothing that is not there."""
        touched = any(map(len, (self.new, self.gone, self.changed, self.moved)))
        return not (touched or self.fields_new or self.fields_gone or self.retyped)

    @property
    def words(self) -> str:
        """How much it changes: '1 row new, 2 rows changed'."""
        parts = (("new", self.new), ("gone", self.gone), ("changed", self.changed), ("moved", self.moved))
        return (
            ", ".join(f"{counted(len(fids), 'row')} {what}" for what, fids in parts if len(fids)) or "nothing changed"
        )


def delivery(now: Dataset, delivered: Dataset, key: str, next_fid: int, more: Sequence[str] = ()) -> Delivery:
    """Compare a delivery with what is there: rows with the same value in the field `key`, and in `more` where one alone does not tell
    them apart, are the same feature.

    Parameters
    ----------
    now : Dataset
        What is there.
    delivered : Dataset
        The rows that come.
    key : str
        The field by which rows are known again.
    next_fid : int
        The first fid that was never given.
    more : Sequence[str]
        Fields that have to agree as well: the year of a table of countries by year, say.

    Returns
    -------
    Delivery

    Raises
    ------
    BadInput
        Where the field does not tell rows apart in either, where the kinds of shapes differ, and where no row is the
        same.

    Examples
    --------
    >>> was, brought = pa.table({"k": ["a", "b"], "v": [1, 2]}), pa.table({"k": ["b", "c"], "v": [3, 4]})
    >>> result = delivery(Dataset(was, "table"), Dataset(brought, "table"), "k", 2)
    >>> result.rows.fids.tolist(), result.new.tolist(), result.gone.tolist(), result.changed.tolist()
    ([1, 2], [2], [0], [1])
    """
    if now.kind != delivered.kind:
        raise BadInput(f"This delivery holds {_words(delivered.kind)}, and the dataset {_words(now.kind)}.")
    keys = [key, *more]
    there, brought = _told_apart(now, keys, "what is there"), _told_apart(delivered, keys, "the delivery")
    rows = {text: row for row, text in enumerate(there) if text}
    match = np.array([rows.get(text, -1) if text else -1 for text in brought], dtype=np.int64)
    if not (match >= 0).any():
        raise BadInput(
            f"Not a single row has a value of {_named(keys)} that is there already.", "Choose another key field."
        )
    fids = np.where(match >= 0, now.fids[match] if len(now) else 0, 0)
    fids[match < 0] = next_fid + np.arange(int((match < 0).sum()))
    order = np.argsort(fids, kind="stable")
    return delivery_of(now, replace(_taken(delivered, order), fids=fids[order]))


def delivery_of(now: Dataset, rows: Dataset) -> Delivery:
    """Compare rows whose fids are settled, in the order of fids, with what is there.

    Parameters
    ----------
    now : Dataset
        What is there.
    rows : Dataset
        The rows as they are to be.

    Returns
    -------
    Delivery
    """
    rows = rows.with_columns(_as_before(now.columns, recordable(rows.columns)))
    both, at, at_now = np.intersect1d(rows.fids, now.fids, assume_unique=True, return_indices=True)
    before, after = now.columns.schema, rows.columns.schema
    shared = [name for name in after.names if name in before.names]
    retyped = [
        Retyped(name, field_type(before.field(name).type), field_type(after.field(name).type))
        for name in shared
        if before.field(name).type != after.field(name).type
    ]
    differing = np.zeros(len(both), dtype=np.bool_)
    for name in shared:
        was, now_is = _of_one_type(now.columns[name].take(at_now), rows.columns[name].take(at))
        differing |= ~same_values(was, now_is)
    return Delivery(
        rows,
        np.setdiff1d(rows.fids, now.fids, assume_unique=True),
        np.setdiff1d(now.fids, rows.fids, assume_unique=True),
        both[differing],
        both[_moved(now, rows, at_now, at)],
        [name for name in after.names if name not in before.names],
        [name for name in before.names if name not in after.names],
        retyped,
        [name for name in shared if _is_empty(rows.columns[name]) and not _is_empty(now.columns[name])],
    )


def _of_one_type(was: pa.ChunkedArray, now: pa.ChunkedArray) -> tuple[pa.ChunkedArray, pa.ChunkedArray]:
    """Two columns to be compared: whole numbers and others as numbers, what else is of two types as text."""
    if was.type == now.type:
        return was, now
    numbers = all(field_type(each.type) in ("integer", "number") for each in (was, now))
    kind = pa.float64() if numbers else pa.string()
    return was.cast(kind), now.cast(kind)


def _is_empty(column: pa.ChunkedArray) -> bool:
    return bool(column.null_count == len(column))


def _told_apart(dataset: Dataset, keys: Sequence[str], where: str) -> Sequence[str]:
    """A text per row; '' where a key is missing."""
    each = [keys_of(dataset.columns, key) for key in keys]
    texts = [BETWEEN.join(parts) if all(parts) else "" for parts in zip(*each, strict=True)]
    first: dict[str, int] = {}
    for row, text in enumerate(texts):
        if text and first.setdefault(text, row) != row:
            raise BadInput(
                f"{_named(keys)} {'does' if len(keys) == 1 else 'do'} not tell rows apart: in {where} '{text}' stands in rows {first[text] + 1} and {row + 1}.",
                "Choose another key field, or one more that has to agree.",
            )
    return texts


def _named(keys: Sequence[str]) -> str:
    return " and ".join(f"'{key}'" for key in keys)


BETWEEN = " · "
"""Several keys of a row, as they are shown."""


ALIKE = {("number", "integer"), *((type, type) for type in ("text", "integer", "number", "date", "boolean"))}
"""Types of a field before and now that are taken for the same."""


def _as_before(before: pa.Table, after: pa.Table) -> pa.Table:
    """Columns that people see as of the same type are of the same type, where their values fit; whole numbers are numbers, and what holds
    nothing is of any type."""
    for i, name in enumerate(after.column_names):
        was = before.schema.field(name).type if name in before.column_names else after.schema.field(name).type
        now = after.schema.field(name).type
        if was != now and _is_empty(after[name]):
            after = after.set_column(i, name, pa.chunked_array([pa.nulls(len(after), was)]))
        elif was != now and (field_type(was), field_type(now)) in ALIKE:
            try:
                after = after.set_column(i, name, after[name].cast(was))
            except pa.ArrowInvalid:
                continue
    return after


def _moved(now: Dataset, rows: Dataset, at_now: NDArray[np.intp], at: NDArray[np.intp]) -> NDArray[np.bool_]:
    if now.shapes is None or rows.shapes is None:
        return np.zeros(len(at), dtype=np.bool_)
    if now.crs != rows.crs:
        return np.ones(len(at), dtype=np.bool_)
    return np.asarray(shapely.to_wkb(now.shapes[at_now]) != shapely.to_wkb(rows.shapes[at]), dtype=np.bool_)


def _taken(delivered: Dataset, order: NDArray[np.intp]) -> Dataset:
    shapes = None if delivered.shapes is None else delivered.shapes[order]
    return replace(delivered, columns=delivered.columns.take(order), geometry=shapes)


def _words(kind: str) -> str:
    return "a table without shapes" if kind == "table" else kind


def known_again_by(dataset: Dataset) -> list[str]:
    """The fields by which rows of a new delivery may be known again, the likeliest first: texts and whole numbers, of these those that tell
    most rows apart.

    Parameters
    ----------
    dataset : Dataset
        What is there.

    Returns
    -------
    list[str]

    Examples
    --------
    >>> known_again_by(Dataset(pa.table({"peat": [1.5, 2.5], "isle": ["Ard", "Ard"], "code": ["A1", "A2"]}), "table"))
    ['code', 'isle', 'peat']
    """

    def rank(name: str) -> tuple[bool, int]:
        column = dataset.columns[name]
        return field_type(column.type) not in ("text", "integer"), -int(pc.count_distinct(column).as_py() or 0)

    return sorted(dataset.columns.column_names, key=rank)


def telling_key(dataset: Dataset) -> str:
    """The field by which rows that come again are known, where nobody says which: `id`, or the first whose values are all there and all
    different.

    Parameters
    ----------
    dataset : Dataset
        The data.

    Returns
    -------
    str

    Raises
    ------
    BadInput
        Where there is none.

    Examples
    --------
    >>> telling_key(Dataset(pa.table({"isle": ["Ard", "Ard"], "code": ["A1", "A2"]}), "table"))
    'code'
    """
    for name in sorted(dataset.columns.column_names, key=lambda name: name != "id"):
        column = dataset.columns[name]
        if column.null_count == 0 and pc.count_distinct(column).as_py() == len(dataset):
            return str(name)
    raise BadInput("No field tells the rows of this dataset apart.", "Fetch it anew instead.")
