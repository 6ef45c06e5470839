"""The numbers that get classified: a field, divided by what normalises it."""

import numpy as np
from numpy.typing import NDArray

from greylatch.errors import BadExpression, BadInput
from greylatch.places.measures import remembered_areas
from greylatch.rules.evaluating import computed_numbers
from greylatch.rules.language import parsed
from greylatch.rules.values import MEASURES
from greylatch.sheet.parts import Normalise
from greylatch.tables.dataset import Dataset, numbers
from greylatch.tables.meaning import Meaning

__all__ = ["is_expression", "meaning_of", "numbers_of", "values_of"]


def values_of(dataset: Dataset, field: str, normalise: Normalise | None = None) -> NDArray[np.float64]:
    """Field values as float64 (NaN: missing), normalised where asked; a denominator of zero, or too small a one, gives NaN.

    Parameters
    ----------
    dataset : Dataset
        The data.
    field : str
        The name of a field, or an expression (see `numbers_of`).
    normalise : Normalise | None
        What the values are divided by; None divides by nothing.

    Returns
    -------
    NDArray[np.float64]
    """
    values = numbers_of(dataset, field)
    if normalise is None:
        return values
    if normalise.by == "total":
        total = float(np.nansum(np.where(np.isfinite(values), values, 0.0)))
        return values / total * 100 if total else np.full(len(values), np.nan)
    per, least = 1.0, None
    if normalise.by == "field":
        below, per, least = numbers_of(dataset, normalise.field), normalise.per, normalise.least
    else:
        if dataset.kind != "areas" or dataset.shapes is None or dataset.crs is None:
            raise BadInput("Only areas have an area to divide by.", "Normalise by a field instead.")
        below = remembered_areas(dataset.shapes, dataset.crs)
    with np.errstate(divide="ignore", invalid="ignore"):
        few = below == 0 if least is None else (below == 0) | (below < least)
        return np.where(few, np.nan, values / below * per)


def numbers_of(dataset: Dataset, text: str) -> NDArray[np.float64]:
    """The numbers of a field or, where no field has that name, of a CQL2 expression; NaN where there is none.

    Parameters
    ----------
    dataset : Dataset
        The data.
    text : str
        The name of a field, or an expression.

    Returns
    -------
    NDArray[np.float64]

    Raises
    ------
    BadInput
        For text that is neither, and for what gives no numbers.

    Examples
    --------
    >>> import pyarrow as pa
    >>> numbers_of(Dataset(pa.table({"t": [10, 4], "ha": [4, 0]}), "table"), "t / ha * 100").tolist()
    [250.0, nan]
    """
    if text in dataset.columns.column_names or not is_expression(text):
        return numbers(dataset.columns, text)
    return computed_numbers(dataset, text)


def meaning_of(dataset: Dataset, text: str) -> Meaning:
    """What the numbers of a field mean; of an expression that they are a measure.

    Parameters
    ----------
    dataset : Dataset
        The data.
    text : str
        The name of a field, or an expression.

    Returns
    -------
    Meaning
    """
    return dataset.meaning(text) if text in dataset.columns.column_names else Meaning("measure")


def is_expression(text: str) -> bool:
    """Whether a text reads as more than a name: then what is wrong with it is told as of an expression."""
    try:
        node = parsed(text).node
    except BadExpression:
        return any(sign in text for sign in "+*/()^%")
    return not (isinstance(node, dict) and node.get("property") == text and text not in MEASURES)
