"""All doubts about a dataset. A new kind is one more line here."""

from collections.abc import Callable, Iterator
from dataclasses import replace
from datetime import datetime

from greylatch.doubts.cells import blanks, dates, numbers_as_text, placeholders, units
from greylatch.doubts.doubt import Doubt
from greylatch.doubts.figures import few_cases, outliers, shares
from greylatch.doubts.kinds import codes_for_kinds, near_twins, twins
from greylatch.doubts.pictures import uncredited
from greylatch.doubts.places import elsewhere, misplaced
from greylatch.tables.dataset import Dataset

__all__ = ["FINDERS", "doubts_about"]

Finder = Callable[[Dataset, datetime], Iterator[Doubt]]


def _timeless(find: Callable[[Dataset], Iterator[Doubt]]) -> Finder:
    return lambda dataset, now: find(dataset)


FINDERS: tuple[Finder, ...] = (
    _timeless(numbers_as_text),
    _timeless(units),
    _timeless(placeholders),
    _timeless(blanks),
    dates,
    _timeless(shares),
    _timeless(few_cases),
    _timeless(outliers),
    _timeless(codes_for_kinds),
    _timeless(twins),
    _timeless(near_twins),
    _timeless(misplaced),
    _timeless(elsewhere),
    _timeless(uncredited),
)
"""In the order in which they are told."""


def doubts_about(dataset: Dataset, now: datetime | None = None) -> list[Doubt]:
    """What a careful reader would ask about the data, before anything is drawn of them.

    Parameters
    ----------
    dataset : Dataset
        The data as they were read: what stands for "missing" still in them.
    now : datetime | None
        After which dates lie in the future; None is this moment.

    Returns
    -------
    list[Doubt]

    Examples
    --------
    >>> import pyarrow as pa
    >>> [(doubt.kind, doubt.rows) for doubt in doubts_about(Dataset(pa.table({"a": ["1", "2", "3", "4", "many"]}), "table"))]
    [('numbers as text', (4,))]
    """
    moment = now or datetime.now()
    # What fields mean is guessed once for all of them.
    known = replace(dataset, meanings={name: dataset.meaning(name) for name in dataset.columns.column_names})
    return [doubt for find in FINDERS for doubt in find(known, moment)]
