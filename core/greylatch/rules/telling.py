"""A condition for rows that were chosen by hand: what tells them from all others."""

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from greylatch.errors import BadInput
from greylatch.rules.language import named
from greylatch.rules.values import literals_of
from greylatch.tables.dataset import Dataset, Fids

__all__ = ["condition_telling"]

FIRST = ("identifier", "name", "category")
"""What a field means that is likeliest to tell rows from one another."""


def condition_telling(dataset: Dataset, fids: Fids) -> str:
    """A condition that takes just these rows, by what a field says of them: `isle IN ('Ard', 'Skara')`.

    Parameters
    ----------
    dataset : Dataset
        The data.
    fids : Fids
        The rows.

    Returns
    -------
    str

    Raises
    ------
    BadInput
        Where no field has values that these rows have and no others do.

    Examples
    --------
    >>> isles = Dataset(pa.table({"isle": ["Ard", "Skara", "Ulvery"], "ha": [3, 3, 8]}), "table")
    >>> condition_telling(isles, np.array([0, 2])), condition_telling(isles, np.array([0, 1]))
    ("isle IN ('Ard', 'Ulvery')", 'ha = 3')
    """
    chosen = pa.array(np.flatnonzero(np.isin(dataset.fids, fids)))
    if not len(chosen):
        raise BadInput("None of the chosen features is drawn by this layer.", "Choose some of them.")
    telling = [name for name in dataset.columns.column_names if _tells(dataset.columns[name], chosen)]
    if not telling:
        raise BadInput(
            "No field tells the chosen features from all others.",
            "Add a field that does, in the table, or choose others.",
        )

    def rank(name: str) -> tuple[int, int, bool]:
        values = len(pc.unique(dataset.columns[name].take(chosen)))
        meaning = dataset.meaning(name).kind
        # One value for all of them says more than a list of names does.
        return (
            0 if values == 1 and len(chosen) > 1 else 1,
            FIRST.index(meaning) if meaning in FIRST else len(FIRST),
            values > 1,
        )

    best = min(telling, key=rank)
    values = sorted(literals_of(dataset.columns[best].take(chosen), len(chosen)))
    return f"{named(best)} = {values[0]}" if len(values) == 1 else f"{named(best)} IN ({', '.join(values)})"


def _tells(column: pa.ChunkedArray, chosen: pa.Array) -> bool:
    """Whether the values of the chosen rows are theirs alone. Numbers with decimals are no names of anything."""
    own = column.take(chosen)
    if own.null_count or pa.types.is_floating(column.type) or pa.types.is_nested(column.type):
        return False
    return int(pc.sum(pc.is_in(column, value_set=pc.unique(own))).as_py()) == len(chosen)
