"""Rows of record in the database: written and read in bulk by COPY, which Django's ORM has no word for."""

import io
from collections.abc import Callable, Iterable, Sequence
from typing import Any
from uuid import UUID

import numpy as np
import pyarrow as pa
import pyarrow.csv
import shapely
from django.db import connection
from django.db.models import Func, Q, QuerySet, TextField, Value
from django.db.models.functions import Cast
from greylatch.progress import Progress, silent
from greylatch.tables.dataset import Fids, Shapes
from greylatch.tables.record import KeptField, columns_of_json, rows_as_json
from psycopg.sql import SQL, Identifier

from library.models import Attributes, Held, Revision, Shape

LOT = 50_000
"""Rows that are written at once."""
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
    return _copy(
        Attributes,
        "values",
        dataset,
        since,
        fids,
        lambda part: rows_as_json(columns.slice(part.start, LOT), keys),
        progress,
    )


def write_shapes(dataset: UUID, since: int, fids: Fids, shapes: Shapes, progress: Progress = silent) -> int:
    """Put shapes on record from the revision `since` on; returns how many bytes."""

    def wkb(part: slice) -> pa.Array:
        hexed = shapely.to_wkb(shapes[part], hex=True)
        return pa.array(np.char.add("\\x", hexed.astype(str)) if len(hexed) else [], pa.string())

    return _copy(Shape, "wkb", dataset, since, fids, wkb, progress)


def end(kind: type[Held], dataset: UUID, fids: Iterable[int], at: int) -> None:
    """What is on record of these features holds until the revision `at`, and no longer."""
    command = SQL("UPDATE {} SET until = %s WHERE dataset_id = %s AND until IS NULL AND fid = ANY(%s)")
    with connection.cursor() as cursor:  # an array is one parameter, however many they are
        cursor.execute(command.format(Identifier(kind._meta.db_table)), [at, dataset, [int(fid) for fid in fids]])


def read_attributes(revision: Revision, fields: Sequence[KeptField], only: Fids | None = None) -> tuple[Fids, pa.Table]:
    """Fids and columns of a revision, of `only` some features where they are given, in the order of fids."""
    fids, rows = _read(Cast("values", TextField()), holding(Attributes, revision), only)
    return fids, columns_of_json(rows.to_pylist(), fields)


def read_shapes(revision: Revision, only: Fids | None = None) -> tuple[Fids, Shapes]:
    """Fids and shapes of a revision, of `only` some features where they are given, in the order of fids."""
    fids, wkb = _read(Encode("wkb", Value("hex")), holding(Shape, revision), only)
    return fids, shapely.from_wkb(wkb.to_numpy())


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
    kind: type[Held], column: str, dataset: UUID, since: int, fids: Fids, texts: Callable[[slice], pa.Array | pa.ChunkedArray],
    progress: Progress,
) -> int:  # fmt: skip
    """Write one lot after the other; `texts` gives what the column takes, as text."""
    total = 0
    columns = ", ".join(f'"{name}"' for name in ("dataset_id", "fid", "since", column))
    command = f'COPY "{kind._meta.db_table}" ({columns}) FROM STDIN (FORMAT csv)'
    for start in range(0, len(fids), LOT):
        part = slice(start, min(len(fids), start + LOT))
        n = part.stop - start
        held = pa.table(
            [pa.repeat(str(dataset), n), fids[part], pa.repeat(since, n), texts(part)], names=["d", "f", "s", "t"]
        )
        sink = io.BytesIO()
        pyarrow.csv.write_csv(held, sink, pyarrow.csv.WriteOptions(include_header=False))
        with connection.cursor() as cursor, cursor.copy(command) as copy:
            copy.write(sink.getvalue())
        total += sink.tell()
        # Between two commands: what it reports goes through the same connection.
        progress(part.stop, len(fids), f"{part.stop:,} rows kept")
    return total


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
