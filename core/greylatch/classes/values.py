"""The numbers that get classified: a field, divided by what normalises it."""

import numpy as np
from numpy.typing import NDArray

from greylatch.errors import BadInput
from greylatch.places.measures import remembered_areas
from greylatch.sheet.document import Normalise
from greylatch.tables.dataset import Dataset, numbers

__all__ = ["values_of"]


def values_of(dataset: Dataset, field: str, normalise: Normalise | None = None) -> NDArray[np.float64]:
    """Field values as float64 (NaN: missing), normalised where asked; a denominator of zero gives NaN.

    Parameters
    ----------
    dataset : Dataset
        The data.
    field : str
        The name of the field.
    normalise : Normalise | None
        What the values are divided by; None divides by nothing.

    Returns
    -------
    NDArray[np.float64]
    """
    values = numbers(dataset.columns, field)
    if normalise is None:
        return values
    if normalise.by == "field":
        below = numbers(dataset.columns, normalise.field)
    else:
        if dataset.kind != "areas" or dataset.shapes is None or dataset.crs is None:
            raise BadInput("Only areas have an area to divide by.", "Normalise by a field instead.")
        below = remembered_areas(dataset.shapes, dataset.crs)
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.where(below == 0, np.nan, values / below)
