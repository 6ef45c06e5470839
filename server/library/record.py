"""Rows of record in the database: written and read in bulk by COPY, which Django's ORM has no word for."""

import io
import json
from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import Any
from uuid import UUID

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
import pyarrow.csv
import shapely
from django.db import connection
from django.db.models import Func, Q, QuerySet, TextField, Value
from django.db.models.functions import Cast
from greylatch.progress import Progress, silent
from greylatch.tables.dataset import Dataset as Data
from greylatch.tables.dataset import Fids, Shapes
from greylatch.tables.point_wkb import wkb_of
from greylatch.tables.record import KeptField, columns_of_json, rows_as_json
from psycopg.sql import SQL, Identifier

from library.delivered import held
from library.models import Attributes, Held, Revision, Shape

LOT = 50_000
"""Rows that are written at once."""
JSONB = b"\x01"
"""What PostgreSQL puts before the text of a jsonb: its version."""
SIGNATURE = b"PGCOPY\n\xff\r\n\x00" + bytes(8)
END = b"\xff\xff"
"""The beginning and the end of binary COPY: https://www.postgresql.org/docs/15/sql-copy.html."""
ROW = [
    ("columns", ">i2"), ("dataset_bytes", ">i4"), ("dataset", "V16"), ("fid_bytes", ">i4"), ("fid", ">i8"), ("since_bytes", ">i4"),
    ("since", ">i4"), ("value_bytes", ">i4"),
]  # fmt: skip
"""What stands before a value in a row of it."""
BLOCK = 1 << 24
"""Bytes that are read at once, unless a row is longer."""


class Encode(Func):
    """Bytes as text."""

    function = "encode"
    output_field = TextField()


def write_attributes(
    dataset: UUID, since: int, fids: Fids, columns: pa.Table, keys: Sequence[str], progress: Progress = silent
) -> int:
    """Put rows on record from the revision `since` on; returns how many bytes. The columns are recordable."""

    def json(part: slice) -> pa.Array | pa.ChunkedArray:
        return rows_as_json(columns.slice(part.start, LOT), keys)

    return _copy(Attributes, "values", JSONB, dataset, since, fids, json, progress)


def write_shapes(dataset: UUID, since: int, rows: Data, progress: Progress = silent) -> int:
    """Put the shapes of rows on record from the revision `since` on; returns how many bytes."""
    wkb = wkb_of(rows)
    return _copy(Shape, "wkb", b"", dataset, since, rows.fids, lambda part: wkb[part], progress)


def end(kind: type[Held], dataset: UUID, fids: Iterable[int], at: int) -> None:
    """What is on record of these features holds until the revision `at`, and no longer."""
    command = SQL("UPDATE {} SET until = %s WHERE dataset_id = %s AND until IS NULL AND fid = ANY(%s)")
    with connection.cursor() as cursor:  # an array is one parameter, however many they are
        cursor.execute(command.format(Identifier(kind._meta.db_table)), [at, dataset, [int(fid) for fid in fids]])


def put(kind: type[Held], column: str, dataset: UUID, number: int, now: Mapping[int, Any]) -> int:
    """From the revision `number` on, what is held of these features is something else, or nothing (None). Returns how many
    bytes are new. For changes by hand: those of a whole table are written by `write_attributes`."""
    end(kind, dataset, now, number)
    there = {fid: what for fid, what in now.items() if what is not None}
    kind._default_manager.bulk_create(
        kind(dataset_id=dataset, fid=fid, since=number, **{column: what}) for fid, what in there.items()
    )
    return sum(len(what if isinstance(what, bytes) else json.dumps(what)) for what in there.values())


def read_attributes(revision: Revision, fields: Sequence[KeptField], only: Fids | None = None) -> tuple[Fids, pa.Table]:
    """Fids and columns of a revision, of `only` some features where they are given, in the order of fids."""
    rows = _as_delivered(revision, only)
    if rows is not None:
        return rows.fids, rows.columns.select([field.key for field in fields])
    fids, texts = _read(Cast("values", TextField()), holding(Attributes, revision), only)
    return fids, columns_of_json(texts.to_pylist(), fields)


def read_shapes(revision: Revision, only: Fids | None = None) -> tuple[Fids, Shapes]:
    """Fids and shapes of a revision, of `only` some features where they are given, in the order of fids."""
    rows = _as_delivered(revision, only)
    if rows is not None and rows.shapes is not None:
        return rows.fids, np.asarray(rows.shapes)
    fids, wkb = _read(Encode("wkb", Value("hex")), holding(Shape, revision), only)
    return fids, shapely.from_wkb(wkb.to_numpy())


def _as_delivered(revision: Revision, only: Fids | None) -> Data | None:
    """The rows of a revision as long as they are on record as they came, of `only` some features where they are given."""
    rows = held(revision.dataset_id)
    return rows if rows is None or only is None else rows.taking(np.isin(rows.fids, only))


def holding(kind: type[Held], revision: Revision) -> QuerySet[Any]:
    """What holds in a revision."""
    number = revision.number
    return kind._default_manager.filter(
        Q(until=None) | Q(until__gt=number), dataset_id=revision.dataset_id, since__lte=number
    )


def changed_between(kind: type[Held], dataset: UUID, earlier: int, later: int) -> Fids:
    """The features of which something began or ended to hold after the revision `earlier` and up to `later`."""
    about = kind._default_manager.filter(dataset_id=dataset)
    begun = about.filter(since__gt=earlier, since__lte=later).values_list("fid", flat=True)
    ended = about.filter(until__gt=earlier, until__lte=later, until__isnull=False).values_list("fid", flat=True)
    return np.unique(np.array([*begun, *ended], dtype=np.int64))


def _copy(
    kind: type[Held], column: str, before: bytes, dataset: UUID, since: int, fids: Fids,
    values: Callable[[slice], pa.Array | pa.ChunkedArray], progress: Progress,
) -> int:  # fmt: skip
    """Write one lot after the other; `values` gives what the column takes, which is put after the bytes `before` it."""
    total = 0
    columns = ", ".join(f'"{name}"' for name in ("dataset_id", "fid", "since", column))
    command = f'COPY "{kind._meta.db_table}" ({columns}) FROM STDIN (FORMAT binary)'
    for start in range(0, len(fids), LOT):
        part = slice(start, min(len(fids), start + LOT))
        rows = _as_copied(dataset, since, fids[part], before, values(part))
        with connection.cursor() as cursor, cursor.copy(command) as copy:
            copy.write(SIGNATURE)
            for row_bytes in rows:
                copy.write(row_bytes)
            copy.write(END)
        total += sum(map(len, rows))
        # Between two commands: what it reports goes through the same connection.
        progress(part.stop, len(fids), f"{part.stop:,} rows kept")
    return total


def _as_copied(
    dataset: UUID, since: int, fids: Fids, before: bytes, values: pa.Array | pa.ChunkedArray
) -> list[memoryview]:
    """Rows as PostgreSQL takes them in bulk: how many columns, then each behind its length. As text they are twice as large."""
    values = values.cast(pa.large_binary())
    heads = np.empty(len(fids), dtype=[*ROW, ("before", f"S{len(before)}")] if before else ROW)
    heads["columns"] = 4
    heads["dataset"], heads["dataset_bytes"] = np.void(dataset.bytes), 16
    heads["fid"], heads["fid_bytes"] = fids, 8
    heads["since"], heads["since_bytes"] = since, 4
    heads["value_bytes"] = pc.binary_length(values).to_numpy() + len(before)
    if before:
        heads["before"] = before
    fixed = pa.Array.from_buffers(pa.binary(heads.itemsize), len(heads), [None, pa.py_buffer(heads)])
    joined = pc.binary_join_element_wise(fixed.cast(pa.large_binary()), values, pa.scalar(b"", pa.large_binary()))
    chunks = joined.chunks if isinstance(joined, pa.ChunkedArray) else [joined]
    return [_joined_bytes(chunk) for chunk in chunks if len(chunk)]


def _joined_bytes(values: pa.Array) -> memoryview:
    """The bytes of all values, one after the other."""
    _, offsets, data = values.buffers()
    ends = np.frombuffer(offsets, dtype=np.int64)[values.offset : values.offset + len(values) + 1]
    return memoryview(data)[ends[0] : ends[-1]]


def _read(column: Func, rows: QuerySet[Any], only: Fids | None) -> tuple[Fids, pa.ChunkedArray]:
    """Fids and a column as text of what was found."""
    if only is not None and not len(only):
        return np.empty(0, dtype=np.int64), pa.chunked_array([], pa.string())
    if only is not None:
        rows = rows.filter(fid__in=only.tolist())
    query, parameters = rows.order_by("fid").values_list("fid", column).query.sql_with_params()
    pieces: list[Any] = []
    with connection.cursor() as cursor, cursor.copy(f"COPY ({query}) TO STDOUT (FORMAT csv)", parameters) as copy:
        pieces.extend(copy)
    body = b"".join(pieces)
    if not body:
        return np.empty(0, dtype=np.int64), pa.chunked_array([], pa.string())
    table = pyarrow.csv.read_csv(
        io.BytesIO(body),
        pyarrow.csv.ReadOptions(column_names=["fid", "text"], block_size=max(BLOCK, 2 * max(map(len, pieces)))),
        pyarrow.csv.ParseOptions(newlines_in_values=False),
        pyarrow.csv.ConvertOptions(column_types={"fid": pa.int64(), "text": pa.string()}, strings_can_be_null=False),
    )
    return table["fid"].to_numpy(), table["text"]
