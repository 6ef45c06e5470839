"""A state of a dataset made of an earlier one and of what changed since."""

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from greylatch.tables.dataset import Fids, Shapes

__all__ = ["patched_columns", "patched_shapes"]


def patched_columns(
    fids: Fids, columns: pa.Table, touched: Fids, there: Fids, fresh: pa.Table
) -> tuple[Fids, pa.Table]:
    """Fids and columns after a change: of the features `touched`, those in `there` are now as in `fresh`, the others are gone.

    The result has the fields of `fresh`; those that `columns` lacks are missing in rows that were not touched. Columns in which
    nothing changed are shared, not copied.

    Parameters
    ----------
    fids : Fids
        Feature ids of the rows.
    columns : pa.Table
        The columns as an Arrow table.
    touched : Fids
        Feature ids of what changed.
    there : Fids
        Those of the touched features that there are.
    fresh : pa.Table
        What there is now.

    Returns
    -------
    tuple[Fids, pa.Table]

    Examples
    --------
    >>> before = pa.table({"a": [1, 2, 3]})
    >>> fids, after = patched_columns(np.arange(3), before, np.array([0, 1, 5]), np.array([1, 5]), pa.table({"a": [9, 8]}))
    >>> fids.tolist(), after["a"].to_pylist()
    ([1, 2, 5], [9, 3, 8])
    """
    base = _as_fields_of(columns, fresh.schema)
    if len(there) == len(touched) and np.isin(there, fids).all():
        mask = np.zeros(len(fids), dtype=np.bool_)
        mask[np.searchsorted(fids, there)] = True
        changed = {
            name: pc.replace_with_mask(base[name].combine_chunks(), mask, fresh[name].combine_chunks())
            for name in fresh.column_names
            if not base[name].filter(mask).equals(fresh[name])
        }
        return fids, pa.table([changed.get(name, base[name]) for name in fresh.column_names], names=fresh.column_names)
    kept = ~np.isin(fids, touched)
    everything, order = _ordered(fids[kept], there)
    return everything, pa.concat_tables([base.filter(kept), fresh]).take(order)


def patched_shapes(fids: Fids, shapes: Shapes, touched: Fids, there: Fids, fresh: Shapes) -> tuple[Fids, Shapes]:
    """Fids and shapes after a change, in the same way.

    Parameters
    ----------
    fids : Fids
        Feature ids of the rows.
    shapes : Shapes
        The shapes.
    touched : Fids
        Feature ids of what changed.
    there : Fids
        Those of the touched features that there are.
    fresh : Shapes
        What there is now.

    Returns
    -------
    tuple[Fids, Shapes]
    """
    kept = ~np.isin(fids, touched)
    everything, order = _ordered(fids[kept], there)
    return everything, np.concatenate([shapes[kept], fresh])[order]


def _ordered(kept: Fids, there: Fids) -> tuple[Fids, NDArray[np.intp]]:
    together = np.concatenate([kept, there])
    order = np.argsort(together, kind="stable")
    return together[order], order


def _as_fields_of(columns: pa.Table, schema: pa.Schema) -> pa.Table:
    return pa.table(
        [
            columns[field.name] if field.name in columns.column_names and columns.schema.field(field.name).type == field.type
            else pa.chunked_array([pa.nulls(columns.num_rows, field.type)])
            for field in schema
        ],
        schema=schema,
    )  # fmt: skip
