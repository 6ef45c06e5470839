"""Rows of a table, sorted and chosen, remembered so that scrolling does neither again."""

from collections import OrderedDict

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from greylatch.rules.evaluating import taken
from greylatch.tables.dataset import Dataset, column_named
from numpy.typing import NDArray

KEPT = 32
_orders: OrderedDict[tuple[str, str, bool], NDArray[np.uint64]] = OrderedDict()


_chosen: OrderedDict[tuple[str, str, bool, str, str], NDArray[np.int64]] = OrderedDict()


def rows_chosen(
    revision: str, data: Dataset, field: str, descending: bool, where: str, states: str = ""
) -> NDArray[np.int64] | None:
    """Row numbers in the order of `field`, '' that of the rows, of those that a condition takes, '' of all; None for all as they are.
    `states` says in which states the datasets are that the condition may name.

    Raises
    ------
    BadInput
        For a field that is not there, and for a condition with a mistake.
    """
    order = rows_sorted(revision, data.columns, field, descending).astype(np.int64) if field else None
    if not where.strip():
        return order
    key = (revision, field, descending, where, states)
    if key not in _chosen:
        rows = taken(data, where)
        _chosen[key] = np.flatnonzero(rows) if order is None else order[rows[order]]
        while len(_chosen) > KEPT:
            _chosen.popitem(last=False)
    return _chosen[key]


def rows_sorted(revision: str, columns: pa.Table, field: str, descending: bool) -> NDArray[np.uint64]:
    """Row numbers in the order of `field`, missing values last. Raises BadInput for a field that is not there."""
    key = (revision, field, descending)
    if key not in _orders:
        order = "descending" if descending else "ascending"
        column = pa.table({"field": column_named(columns, field)})
        _orders[key] = pc.sort_indices(column, sort_keys=[("field", order)], null_placement="at_end").to_numpy()
        while len(_orders) > KEPT:
            _orders.popitem(last=False)
    return _orders[key]
