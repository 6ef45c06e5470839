"""Doubts about pictures that rows name by their addresses: whose are they?"""

from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from greylatch.doubts.doubt import Doubt, about
from greylatch.doubts.mending import added_field
from greylatch.tables.dataset import Dataset
from greylatch.tables.meaning import credit_fields
from greylatch.wording import counted

__all__ = ["uncredited"]


def uncredited(dataset: Dataset) -> Iterator[Doubt]:
    """Fields of pictures by address of which no field says whose they are, and rows in which those are empty."""
    names = dataset.columns.column_names
    pictures = [name for name in names if dataset.meaning(name).kind == "picture"]
    credits = [name for name in credit_fields(names) if name not in pictures]
    for name in pictures:
        shown = _filled(dataset, name)
        if not credits:
            yield about(
                dataset, "no credit", name, shown, f"'{name}' holds addresses of pictures, and no field says whose they are.",
                added_field(f"{name}_credit", "Add a field for it"),
            )  # fmt: skip
            continue
        rows = shown & ~np.any([_filled(dataset, credit) for credit in credits], axis=0)
        if rows.any():
            named = " or ".join(f"'{credit}'" for credit in credits)
            yield about(
                dataset,
                "no credit",
                name,
                rows,
                f"{counted(int(rows.sum()), 'row')} with a picture in '{name}' and nothing in {named}.",
            )


def _filled(dataset: Dataset, name: str) -> NDArray[np.bool_]:
    return np.array([value is not None and bool(str(value).strip()) for value in dataset.columns[name].to_pylist()])
