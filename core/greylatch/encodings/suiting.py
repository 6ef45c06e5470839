"""Which fields suit an encoding that begins."""

import pyarrow.compute as pc

from greylatch.errors import BadInput
from greylatch.tables.dataset import Dataset, fields
from greylatch.tables.meaning import COORDINATES, tells_little, words_of

__all__ = ["another_number", "numeric_fields", "parts_of_a_whole", "suits_categories", "telling_numbers", "two_or_more"]

FEW_WORDS = 24
"""Different words of a field up to which it is taken for categories."""
MOST_PARTS = 4
WHOLES = {"total", "totals", "sum", "all"}
"""What fields are called that hold the whole rather than a part of it."""


def numeric_fields(dataset: Dataset) -> list[str]:
    """The fields that hold numbers."""
    return [each.name for each in fields(dataset.columns) if each.type in ("number", "integer")]


def telling_numbers(dataset: Dataset) -> list[str]:
    """The fields of numbers that are worth to be shown first: identifiers and places come after all others."""
    return sorted(numeric_fields(dataset), key=lambda name: tells_little(name, dataset.meaning(name).kind))


def another_number(dataset: Dataset, than: str) -> str:
    """A field of numbers to be compared with one: no place and no identifier, where there is any other."""
    return next((name for name in telling_numbers(dataset) if name != than), than)


def suits_categories(dataset: Dataset, field: str) -> bool:
    """Whether a field holds words of which several rows share one, or which stand for kinds of something."""
    if field not in dataset.columns.column_names or field in numeric_fields(dataset):
        return False
    different = len(dataset.columns[field].unique())
    return 1 < different <= FEW_WORDS or dataset.meaning(field).kind == "category"


def parts_of_a_whole(dataset: Dataset) -> list[str]:
    """The fields whose numbers can be parts of a whole: none is negative, and they are neither names nor places nor rates, nor the whole."""
    return [name for name in numeric_fields(dataset) if _may_be_a_part(dataset, name)]


def two_or_more(dataset: Dataset, shown: list[str]) -> list[str]:
    """Fields that are parts of a whole: those shown where they are several, or else the first few there are of one unit, the one shown first.

    Raises
    ------
    BadInput
        Where there are not two.
    """
    if len(shown) > 1:
        return shown
    parts = parts_of_a_whole(dataset)
    first = [name for name in shown if name in parts]
    # Hectares are no part of what is counted in heads: those of the unit of the field that is shown, or of that which most have.
    units = [dataset.meaning(name).unit for name in (*first, *parts)]
    of_units = [[name for name in parts if dataset.meaning(name).unit == unit] for unit in units]
    alike = next((names for names in of_units[: len(first)] if len(names) > 1), max(of_units, key=len, default=[]))
    listed = sorted(alike if len(alike) > 1 else parts, key=lambda name: name not in first)
    if len(listed) < 2:
        raise BadInput("That needs two fields of numbers or more, and there is one.")
    return listed[:MOST_PARTS]


def _may_be_a_part(dataset: Dataset, name: str) -> bool:
    if name.lower() in COORDINATES or dataset.meaning(name).kind in ("identifier", "rate") or words_of(name) & WHOLES:
        return False
    least = pc.min(dataset.columns[name]).as_py()
    return least is not None and least >= 0
