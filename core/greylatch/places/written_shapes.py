"""Shapes that a table has written out in a column: well-known text (OGC 06-103r4), or its bytes as hexadecimal digits."""

import re

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
import shapely

from greylatch.errors import BadInput
from greylatch.tables.dataset import Shapes, column_named

__all__ = ["guess_shape_column", "shapes_written"]

_WORDS = "POINT|LINESTRING|LINEARRING|POLYGON|MULTIPOINT|MULTILINESTRING|MULTIPOLYGON|GEOMETRYCOLLECTION"
_TEXT = rf"(?i)^\s*(SRID=\d+;)?\s*({_WORDS})\s*(Z|M|ZM)?\s*(\(|EMPTY)"
_BYTES = r"^(00[0-9A-Fa-f]{8}|01[0-9A-Fa-f]{8})[0-9A-Fa-f]{16,}$"
_SRID = re.compile(r"\s*SRID=(\d+);\s*", re.I)
SAMPLE = 200


def guess_shape_column(columns: pa.Table) -> str | None:
    """The first column of texts that are all shapes, as far as one looks; None where there is none.

    >>> guess_shape_column(pa.table({"name": ["a"], "shape": ["POINT (1 2)"]}))
    'shape'
    """
    for name in columns.column_names:
        if pa.types.is_string(columns.schema.field(name).type):
            cells = columns[name].drop_null().slice(0, SAMPLE)
            for pattern in (_TEXT, _BYTES):
                if len(cells) and pc.all(pc.match_substring_regex(cells, pattern)).as_py():
                    return name
    return None


def shapes_written(columns: pa.Table, field: str) -> tuple[Shapes, str | None]:
    """The shapes in a column, None in blank cells, and the reference system that they state, if they do.

    Parameters
    ----------
    columns : pa.Table
        The columns as an Arrow table.
    field : str
        The name of the column.

    Returns
    -------
    tuple[Shapes, str | None]

    Raises
    ------
    BadInput
        That names the first row with anything else, and for shapes of several systems.

    Examples
    --------
    >>> shapes_written(pa.table({"shape": ["SRID=4326;POINT (1 2)"]}), "shape")
    (array([<POINT (1 2)>], dtype=object), 'EPSG:4326')
    """
    column = column_named(columns, field)
    if not pa.types.is_string(column.type):
        raise BadInput(f"The field '{field}' holds no text, and so no shapes.")
    cells = column.to_pylist()
    stated = {match[1] for cell in cells if cell and (match := _SRID.match(cell))}
    if len(stated) > 1:
        raise BadInput(f"The shapes in '{field}' are in several systems: {', '.join(sorted(stated)[:5])}.")
    texts = np.array([_SRID.sub("", cell, count=1) if cell else None for cell in cells], dtype=object)
    hexadecimal = next((text for text in texts if text), "")[:2] in ("00", "01")
    shapes = _read(texts, hexadecimal)
    if shapes is None:
        shapes = np.array([_read_one(text, hexadecimal, field, i) for i, text in enumerate(texts)], dtype=object)
    within = {int(srid) for srid in np.unique(shapely.get_srid(shapes[~shapely.is_missing(shapes)]))} - {0}
    stated |= {str(srid) for srid in within}
    return shapes, f"EPSG:{stated.pop()}" if len(stated) == 1 else None


def _read(texts: np.ndarray, hexadecimal: bool) -> Shapes | None:
    try:
        return np.asarray(shapely.from_wkb(texts) if hexadecimal else shapely.from_wkt(texts))
    except (shapely.GEOSException, NotImplementedError, TypeError, ValueError):
        return None


def _read_one(text: str | None, hexadecimal: bool, field: str, row: int) -> shapely.Geometry | None:
    if text is None:
        return None
    try:
        return shapely.from_wkb(text) if hexadecimal else shapely.from_wkt(text)
    except (shapely.GEOSException, NotImplementedError, TypeError, ValueError) as error:
        raise BadInput(f"Row {row + 1}, field '{field}': '{text[:40]}' is no shape that can be read.") from error
