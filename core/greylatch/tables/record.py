"""Rows as they are kept on record: a JSON object each, from and to Arrow columns, in bulk.

What JSON can't say is settled before: `recordable` makes columns of types that come back from the record exactly as they were.
"""

import io
import json
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
import pyarrow.json

from greylatch.tables.dataset import FieldInfo, field_type, missing_count
from greylatch.tables.fieldtypes import plain
from greylatch.tables.meaning import Meaning, guess_meaning, without_marks

__all__ = [
    "KeptField",
    "columns_of_json",
    "fields_after",
    "free_key",
    "kept_fields",
    "recordable",
    "rows_as_json",
    "same_values",
]

BLOCK = 1 << 22
"""Bytes that are parsed at once; no row may be longer."""
_CONTROL = "[\\x00-\\x1f]"


MEASURE = Meaning("measure")


@dataclass(frozen=True)
class KeptField(FieldInfo):
    """A field on record: under which key its values stand in a row's object, and the Arrow type that they come back as.

    The key is given once and stays when the field gets another name.
    """

    key: str
    arrow: str
    meaning: Meaning = MEASURE


def recordable(columns: pa.Table) -> pa.Table:
    """The columns in types that a record can keep: numbers, truth values, dates and text; NaN, infinities and the character NUL
    are no values there. Lists, structures and bytes become text.

    >>> recordable(pa.table({"a": [[1, 2]], "b": [float("nan")]})).to_pylist()
    [{'a': '[1, 2]', 'b': None}]
    """
    return pa.table([_recordable(column) for column in columns.columns], names=columns.column_names)


def kept_fields(
    columns: pa.Table, keys: Sequence[str] | None = None, meanings: Mapping[str, Meaning] | None = None
) -> list[KeptField]:
    """The fields of recordable columns, under `keys` or under their names, with `meanings` or what they probably mean.

    Parameters
    ----------
    columns : pa.Table
        The columns as an Arrow table.
    keys : Sequence[str] | None
        Keys under which values are kept.
    meanings : Mapping[str, Meaning] | None
        What fields mean, by name.

    Returns
    -------
    list[KeptField]

    Examples
    --------
    >>> [(item.key, item.type, item.missing, item.meaning.kind) for item in kept_fields(pa.table({"a": [1, None, -9999]}))]
    [('a', 'integer', 2, 'count')]
    """
    out = []
    for name, column, key in zip(columns.column_names, columns.columns, keys or columns.column_names, strict=True):
        meaning = (meanings or {}).get(name) or guess_meaning(name, column)
        missing = missing_count(without_marks(column, meaning.missing))
        out.append(KeptField(name, field_type(column.type), missing, key, str(column.type), meaning))
    return out


def free_key(name: str, used: Collection[str]) -> str:
    """A key for a field of that name which no field ever had.

    Parameters
    ----------
    name : str
        The name.
    used : Collection[str]
        Keys that fields ever had.

    Returns
    -------
    str

    Examples
    --------
    >>> free_key("a", {"a", "a (2)"})
    'a (3)'
    """
    key, n = name, 1
    while key in used:
        n += 1
        key = f"{name} ({n})"
    return key


def fields_after(
    before: Sequence[KeptField], columns: pa.Table, used: Collection[str], meanings: Mapping[str, Meaning]
) -> list[KeptField]:
    """The fields of recordable columns that take the place of others: those that hold what they held keep their keys and what
    they mean, the others get keys that are not `used`, and `meanings` or what they probably mean.

    Parameters
    ----------
    before : Sequence[KeptField]
        The fields that there were.
    columns : pa.Table
        The columns as an Arrow table.
    used : Collection[str]
        Keys that fields ever had.
    meanings : Mapping[str, Meaning]
        What fields mean, by name.

    Returns
    -------
    list[KeptField]

    Examples
    --------
    >>> was = kept_fields(pa.table({"a": [1], "b": [2]}))
    >>> [item.key for item in fields_after(was, pa.table({"a": [3], "b": ["x"]}), {"a", "b"}, {})]
    ['a', 'b (2)']
    """
    known = {field.name: field for field in before}
    keys: list[str] = []
    for field in kept_fields(columns):
        was = known.get(field.name)
        keys.append(was.key if was and was.arrow == field.arrow else free_key(field.name, {*used, *keys}))
    goes_on = {field.name: field.meaning for field in before if field.key in keys}
    return kept_fields(columns, keys, {**meanings, **goes_on})


def rows_as_json(columns: pa.Table, keys: Sequence[str]) -> pa.ChunkedArray:
    """One JSON object per row of recordable columns, under these keys. Missing values are null.

    Parameters
    ----------
    columns : pa.Table
        The columns as an Arrow table.
    keys : Sequence[str]
        Keys under which values are kept.

    Returns
    -------
    pa.ChunkedArray

    Examples
    --------
    >>> rows_as_json(pa.table({"a": ["x\\"", None], "b": [1.5, 2.0]}), ["a", "b"]).to_pylist()
    ['{"a":"x\\\\"","b":1.5}', '{"a":null,"b":2}']
    """
    parts: list[Any] = []
    for i, (key, column) in enumerate(zip(keys, columns.columns, strict=True)):
        parts += [pa.scalar(("{" if i == 0 else ",") + json.dumps(key) + ":"), _as_json(column)]
    return pc.binary_join_element_wise(*parts, pa.scalar("}"), pa.scalar(""))


def columns_of_json(rows: Sequence[str], fields: Sequence[KeptField]) -> pa.Table:
    """The columns of rows on record, named by key; keys that are not among the fields are passed over, those that a row lacks
    are null.

    Parameters
    ----------
    rows : Sequence[str]
        Rows as JSON, by key.
    fields : Sequence[KeptField]
        The fields that the rows have.

    Returns
    -------
    pa.Table

    Examples
    --------
    >>> columns_of_json(['{"a": 1, "old": 2}', '{}'], kept_fields(pa.table({"a": [1]}))).to_pylist()
    [{'a': 1}, {'a': None}]
    """
    types = {field.key: pa.type_for_alias(field.arrow) for field in fields}
    schema = pa.schema([(key, _parsed_as(type_)) for key, type_ in types.items()])
    if not rows:
        table = schema.empty_table()
    else:
        table = pyarrow.json.read_json(
            io.BytesIO("\n".join(rows).encode()),
            pyarrow.json.ReadOptions(block_size=max(BLOCK, 4 * max(map(len, rows)) + 2)),
            pyarrow.json.ParseOptions(explicit_schema=schema, unexpected_field_behavior="ignore"),
        )
    return pa.table({key: _cast(table[key], type_) for key, type_ in types.items()})


def _recordable(column: pa.ChunkedArray) -> pa.ChunkedArray:
    column_type = column.type
    if pa.types.is_dictionary(column_type):
        return _recordable(column.cast(column_type.value_type))
    if pa.types.is_floating(column_type):
        wide = column.cast(pa.float64())
        return pc.if_else(pc.is_finite(wide), wide, pa.scalar(None, pa.float64()))
    if pa.types.is_decimal(column_type):
        return _recordable(column.cast(pa.float64(), safe=False))
    if pa.types.is_boolean(column_type) or pa.types.is_integer(column_type) or pa.types.is_date32(column_type):
        return column
    if pa.types.is_date64(column_type):
        return column.cast(pa.date32())
    if pa.types.is_timestamp(column_type):
        return column.cast(pa.timestamp("ms"), safe=False)
    if pa.types.is_large_string(column_type) or pa.types.is_string_view(column_type):
        column = column.cast(pa.string())
    if not pa.types.is_string(column.type):
        texts = [None if value is None else str(plain(value)) for value in column.to_pylist()]
        column = pa.chunked_array([pa.array(texts, pa.string())])
    return pc.replace_substring(column, "\0", "\ufffd") if pc.any(pc.match_substring(column, "\0")).as_py() else column


def _as_json(column: pa.ChunkedArray) -> pa.ChunkedArray:
    """Values as JSON text, 'null' where missing."""
    if pa.types.is_string(column.type):
        text = pc.replace_substring(pc.replace_substring(column, "\\", "\\\\"), '"', '\\"')
        if pc.any(pc.match_substring_regex(text, _CONTROL)).as_py():
            for code in range(1, 32):
                text = pc.replace_substring(text, chr(code), f"\\u{code:04x}")
        text = pc.binary_join_element_wise(pa.scalar('"'), text, pa.scalar('"'), pa.scalar(""))
    elif pa.types.is_temporal(column.type):
        text = pc.binary_join_element_wise(pa.scalar('"'), column.cast(pa.string()), pa.scalar('"'), pa.scalar(""))
    else:
        text = column.cast(pa.string())
    return pc.fill_null(text, "null")


def _cast(column: pa.ChunkedArray, wanted: pa.DataType) -> pa.ChunkedArray:
    """What was parsed as the type that the field has; of moments the fractions that it has no room for are left out."""
    if pa.types.is_timestamp(wanted) and pa.types.is_string(column.type):
        return column.cast(pa.timestamp("us")).cast(wanted, safe=False)
    return column.cast(wanted)


def _parsed_as(wanted: pa.DataType) -> pa.DataType:
    """As what the parser of JSON reads values that are to become `wanted`."""
    if pa.types.is_temporal(wanted):
        return pa.string()
    return (
        pa.float64()
        if pa.types.is_floating(wanted)
        else pa.uint64()
        if pa.types.is_uint64(wanted)
        else pa.int64()
        if pa.types.is_integer(wanted)
        else wanted
    )


def same_values(first: pa.ChunkedArray, other: pa.ChunkedArray) -> np.ndarray[Any, np.dtype[np.bool_]]:
    """Where two columns of one type hold the same, missing values being alike.

    Parameters
    ----------
    first : pa.ChunkedArray
        One of the two.
    other : pa.ChunkedArray
        The other of the two.

    Returns
    -------
    np.ndarray[Any, np.dtype[np.bool_]]

    Examples
    --------
    >>> same_values(pa.chunked_array([[1, None, 3]]), pa.chunked_array([[1, None, 4]])).tolist()
    [True, True, False]
    """
    both = pc.and_(pc.is_null(first), pc.is_null(other))
    return np.asarray(pc.or_(both, pc.fill_null(pc.equal(first, other), False)).to_numpy(), dtype=np.bool_)
