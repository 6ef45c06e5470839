"""What a doubt is: something in the data that a careful reader would ask about."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from greylatch.tables.dataset import Dataset

__all__ = ["Doubt", "about"]


@dataclass(frozen=True)
class Doubt:
    """Of a kind, about a field ('' the shapes, or whole rows), with the feature ids of the rows, in words."""

    kind: str
    field: str
    rows: tuple[int, ...]
    text: str


def about(dataset: Dataset, kind: str, field: str, rows: NDArray[np.bool_] | Sequence[int], text: str) -> Doubt:
    """A doubt about rows that are marked, or numbered.

    Parameters
    ----------
    dataset : Dataset
        The data.
    kind : str
        Of which kind it is.
    field : str
        The field.
    rows : NDArray[np.bool_] | Sequence[int]
        A mask of rows, or their places.
    text : str
        What is said of them.

    Returns
    -------
    Doubt
    """
    return Doubt(kind, field, tuple(dataset.fids[np.asarray(rows)].tolist() if len(rows) else ()), text)
