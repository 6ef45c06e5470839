"""Rows of a table in a sorted order, remembered so that scrolling does not sort again."""

from collections import OrderedDict

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from greylatch.tables.dataset import column_named
from numpy.typing import NDArray

KEPT = 32
_orders: OrderedDict[tuple[str, str, bool], NDArray[np.uint64]] = OrderedDict()


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
