"""Reading tables that are a JSON list of records: an object for each row, fields by their names."""

from pathlib import Path
from typing import Any

import orjson
import pyarrow as pa

from greylatch.errors import BadFile
from greylatch.tables.dataset import named
from greylatch.tables.delimited import MAX_CELL, RawTable

__all__ = ["read_cells"]


def read_cells(
    path: str | Path, layer: str | None = None, header_row: int | None = None, limit: int | None = None
) -> tuple[RawTable, None]:  # fmt: skip
    """The cells of a list of records; fields are those of all records, in the order in which they first come.

    What is nested in a field stays there as JSON.

    Parameters
    ----------
    path : str | Path
        The file.
    layer : str | None
        Of kinds that have several; a list is one.
    header_row : int | None
        Of kinds whose names stand in a row; here each record has its own.
    limit : int | None
        Records read at most; None reads all.

    Returns
    -------
    tuple[RawTable, None]

    Raises
    ------
    BadFile
        For what is no JSON, or a list of anything else, which is named by its place.
    """
    try:
        records = orjson.loads(Path(path).read_bytes().removeprefix(b"\xef\xbb\xbf"))
    except ValueError as error:
        raise BadFile(f"This is not valid JSON: {error}.") from error
    for i, record in enumerate(records):
        if not isinstance(record, dict):
            raise BadFile(f"Item {i + 1:,} of the list is no record with named fields.", "Save a table as CSV.")
    records = records if limit is None else records[:limit]
    names = list(dict.fromkeys(name for record in records for name in record))
    if not names:
        raise BadFile("No record in this list has a field.")
    columns = [[_cell(record.get(name)) for record in records] for name in names]
    if any(len(cell) > MAX_CELL for column in columns for cell in column):
        raise BadFile(f"A cell of this table is longer than {MAX_CELL:,} characters.")
    return RawTable(pa.table([pa.array(column, pa.string()) for column in columns], names=named(names)), 1), None


def _cell(value: Any) -> str:
    """A value as a table of text would have it."""
    if value is None:
        return ""
    return value if isinstance(value, str) else orjson.dumps(value).decode()
