"""By what readers choose among features, and find them, before anybody has said so."""

from collections.abc import Collection, Sequence

from greylatch.sheet.reader import ChoiceFilter, RangeFilter, ReaderFilter, Search
from greylatch.tables.fieldtypes import FieldType
from greylatch.tables.meaning import MeaningKind, likeliest_name, tells_little

__all__ = ["filter_of", "first_asked", "starting_search"]

LATENESS: dict[MeaningKind, int] = {
    "category": 0, "rate": 1, "measure": 1, "count": 1, "date": 1, "name": 2, "identifier": 4, "picture": 5,
}  # fmt: skip
PLACE = 3
"""Where something lies is asked of the map."""
Fields = Sequence[tuple[str, FieldType, MeaningKind]]


def first_asked(fields: Fields, shown: str | None = None, taken: Collection[str] = ()) -> str | None:
    """The field that readers are likeliest to ask about: the one that the map shows, then kinds and numbers; names and codes are the last.

    Parameters
    ----------
    fields : Fields
        Names, with their type and what they mean.
    shown : str | None
        What the map shows.
    taken : Collection[str]
        Those that they can ask about already.

    Returns
    -------
    str | None
        None where there is no field.

    Examples
    --------
    >>> fields = [("isle", "text", "name"), ("lat", "number", "measure"), ("ha", "number", "count"), ("kind", "text", "category")]
    >>> first_asked(fields), first_asked(fields, "ha"), first_asked(fields, "ha", ["ha", "kind"])
    ('kind', 'ha', 'isle')
    """
    free = [field for field in fields if field[0] not in taken] or list(fields[:1])

    def lateness(field: tuple[str, FieldType, MeaningKind]) -> tuple[bool, int]:
        name, _, means = field
        place = means not in ("identifier", "picture") and tells_little(name, means)
        return name != shown, PLACE if place else LATENESS[means]

    return min(free, key=lateness)[0] if free else None


def filter_of(layer: str, field: str, type: FieldType) -> ReaderFilter:
    """A filter by a field: numbers and dates are chosen between two ends, all else from a list.

    >>> filter_of("wells", "depth", "number").kind, filter_of("wells", "kind", "text").kind
    ('range', 'choices')
    """
    if type in ("number", "integer", "date"):
        return RangeFilter(layer=layer, field=field)
    return ChoiceFilter(layer=layer, field=field)


def starting_search(layer: str, fields: Fields) -> Search | None:
    """What features are found by: the field that is likeliest to name them.

    >>> starting_search("wells", [("depth", "number", "measure"), ("well", "text", "name")]).field
    'well'
    """
    named = likeliest_name(fields)
    return None if named is None else Search(layer=layer, field=named)
