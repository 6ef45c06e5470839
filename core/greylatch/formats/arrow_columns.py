"""Columns as a stranger's file has them, made such as are kept: truth values, numbers, texts, dates."""

import json
from typing import Any

import pyarrow as pa
import pyarrow.compute as pc

from greylatch.tables.dataset import named_columns
from greylatch.wording import counted

__all__ = ["plain_columns"]


def plain_columns(columns: pa.Table, notes: list[str]) -> pa.Table:
    """The same columns with simple types: lists and structures as JSON text, decimals as numbers, times of day as text; bytes
    are left out, with a note.

    Parameters
    ----------
    columns : pa.Table
        The columns as an Arrow table.
    notes : list[str]
        Where what is left out is noted.

    Returns
    -------
    pa.Table

    Raises
    ------
    BadInput
        For too many.

    Examples
    --------
    >>> plain_columns(pa.table({"tags": [["a", "b"], None]}), []).to_pylist()
    [{'tags': '["a", "b"]'}, {'tags': None}]
    """
    binary = [field.name for field in columns.schema if _is_bytes(field.type)]
    if binary:
        notes.append(f"{counted(len(binary), 'field')} of bytes left out: {', '.join(binary[:8])}.")
    kept = [i for i, field in enumerate(columns.schema) if not _is_bytes(field.type)]
    arrays = [_plain(columns.column(i)) for i in kept]
    return named_columns(pa.table(arrays, names=[columns.schema.field(i).name for i in kept]))


def _is_bytes(arrow: pa.DataType) -> bool:
    return bool(pa.types.is_binary(arrow) or pa.types.is_large_binary(arrow) or pa.types.is_fixed_size_binary(arrow))


def _plain(column: pa.ChunkedArray) -> pa.ChunkedArray:
    arrow = column.type
    if pa.types.is_dictionary(arrow):
        return _plain(column.cast(arrow.value_type))
    if isinstance(arrow, pa.BaseExtensionType):
        return _plain(pa.chunked_array([chunk.storage for chunk in column.chunks], arrow.storage_type))
    if pa.types.is_decimal(arrow) or pa.types.is_float16(arrow):
        return column.cast(pa.float64())
    if pa.types.is_large_string(arrow) or pa.types.is_string_view(arrow):
        return column.cast(pa.string())
    if pa.types.is_timestamp(arrow) or pa.types.is_date(arrow):
        if pa.types.is_timestamp(arrow) and arrow.tz:
            column = column.cast(pa.timestamp(arrow.unit, "UTC")).cast(pa.timestamp(arrow.unit))
        return column.cast(pa.timestamp("ms"), safe=False)
    if pa.types.is_time(arrow) or pa.types.is_duration(arrow) or pa.types.is_interval(arrow):
        return pa.chunked_array([pa.array([None if v is None else str(v) for v in column.to_pylist()], pa.string())])
    if pa.types.is_uint64(arrow):
        largest = pc.max(column).as_py()
        return column.cast(pa.int64() if largest is None or largest < 2**63 else pa.float64(), safe=False)
    if pa.types.is_null(arrow):
        return column.cast(pa.string())
    if pa.types.is_nested(arrow):
        return pa.chunked_array([pa.array([_json(value) for value in column.to_pylist()], pa.string())])
    return column


def _json(value: Any) -> str | None:
    return None if value is None else json.dumps(value, default=str, ensure_ascii=False)
