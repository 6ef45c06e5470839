"""A large delivery as it was taken in: on record at once as one file in parts, until each of its rows is there by itself.

To write a million rows takes ten times as long as to write the file that they were read from, and nobody should wait for that before the first map.
A dataset of which parts are here has one revision: whoever changes it waits until its rows are on record (see `library.revisions.locked`).
"""

from pathlib import Path
from uuid import UUID

from django.db import connection
from greylatch.formats.geoparquet import read_geoparquet
from greylatch.tables.dataset import Dataset as Data
from greylatch.tables.record import recordable
from jobs.tidying import scratch

from library.models import Delivered

MANY = 20_000
"""Rows from which on a delivery is kept so first."""
PART = 1 << 23
"""Bytes of a part."""
FILE = "data.parquet"


def hold(dataset: UUID, file: Path) -> int:
    """Put a file of rows, as `greylatch.formats.intake` writes them, on record; returns how many bytes."""
    command = f'COPY "{Delivered._meta.db_table}" (dataset_id, part, content) FROM STDIN (FORMAT binary)'
    with file.open("rb") as source, connection.cursor() as cursor, cursor.copy(command) as copy:
        copy.set_types(["uuid", "int4", "bytea"])
        for part, content in enumerate(iter(lambda: source.read(PART), b"")):
            copy.write_row((dataset, part, content))
    return file.stat().st_size


def is_held(dataset: UUID, alone: bool = False) -> bool:
    """Whether something of a dataset is here. Held `alone`, nobody else has it for this transaction: whoever waits for that finds nothing
    once the rows are on record."""
    parts = Delivered.objects.filter(dataset=dataset)
    return bool(list(parts.select_for_update().values_list("part"))) if alone else parts.exists()


def held(dataset: UUID) -> Data | None:
    """The rows of a dataset's only revision, in columns that are recordable; None where they are on record by themselves."""
    parts = Delivered.objects.filter(dataset=dataset).order_by("part").values_list("content", flat=True)
    contents = [bytes(content) for content in parts]
    if not contents:
        return None
    with scratch() as folder:
        (folder / FILE).write_bytes(b"".join(contents))
        rows = read_geoparquet(folder / FILE)
    return rows.with_columns(recordable(rows.columns))
