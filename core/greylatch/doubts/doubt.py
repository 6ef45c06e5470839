"""What a doubt is: something in the data that a careful reader would ask about."""

import dataclasses
import hashlib
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from greylatch.tables.dataset import Dataset
from greylatch.tables.edit import Edit

__all__ = ["Doubt", "Mending", "about"]


@dataclass(frozen=True)
class Mending:
    """What can be done about a doubt at one press: in words, as on a button, and the changes that it makes to the rows in doubt."""

    words: str
    edits: Callable[[Dataset, Sequence[int]], Sequence[Edit]]


@dataclass(frozen=True)
class Doubt:
    """Of a kind, about a field ('' the shapes, or whole rows), with the feature ids of the rows, in words; and how it can be
    mended, where that is plain."""

    kind: str
    field: str
    rows: tuple[int, ...]
    text: str
    mending: Mending | None = dataclasses.field(default=None, compare=False, repr=False)

    @property
    def id(self) -> str:
        """By which it is known again: the same for the same rows, in whatever state of the data.

        >>> Doubt("blank", "name", (3,), "1 row without 'name'.").id
        'blank-e2121cacc815'
        """
        about = f"{self.kind}\n{self.field}\n{self.rows}\n{'' if self.rows else self.text}"
        return f"{self.kind.replace(' ', '-')}-{hashlib.sha256(about.encode()).hexdigest()[:12]}"


def about(
    dataset: Dataset,
    kind: str,
    field: str,
    rows: NDArray[np.bool_] | Sequence[int],
    text: str,
    mending: Mending | None = None,
) -> Doubt:
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
    mending : Mending | None
        How they can be mended.

    Returns
    -------
    Doubt
    """
    return Doubt(kind, field, tuple(dataset.fids[np.asarray(rows)].tolist() if len(rows) else ()), text, mending)
