"""Which fields of a table and of a gazetteer hold the same names, and which the same regions."""

from dataclasses import dataclass

from greylatch.places.locating import name_key
from greylatch.tables.dataset import Dataset, field_type

__all__ = ["NameFields", "likely_fields"]

SAMPLE = 400
ALIKE = 0.5
"""The share of regions of the one that the other has too, from which on two fields are of the same regions."""


@dataclass(frozen=True)
class NameFields:
    """Fields of names and of regions in a table and in a gazetteer; '' where there are none."""

    name: str
    region: str
    gazetteer_name: str
    gazetteer_region: str


def likely_fields(table: Dataset, places: Dataset) -> NameFields:
    """The fields of texts that have the most names in common, and then those that have most regions in common.

    Parameters
    ----------
    table : Dataset
        The rows to be found.
    places : Dataset
        The gazetteer.

    Returns
    -------
    NameFields

    Examples
    --------
    >>> import pyarrow as pa
    >>> huts = Dataset(pa.table({"hut": ["1", "2"], "near": ["Skara", "Mor"], "isle": ["Ard", "Ard"]}), "table")
    >>> places = Dataset(pa.table({"place": ["Mor", "Skara"], "island": ["Ard", "Ard"]}), "table")
    >>> likely_fields(huts, places)
    NameFields(name='near', region='isle', gazetteer_name='place', gazetteer_region='island')
    """
    rows = {name: _keys(table, name, SAMPLE) for name in _texts(table)}
    known = {name: _keys(places, name, None) for name in _texts(places)}
    shares = {
        (own, theirs): sum(key in known[theirs] for key in keys) / len(keys)
        for own, keys in rows.items()
        for theirs in known
        if keys
    }
    # Names are many: of two pairs that fit as well, that with more different names in the gazetteer.
    ranked = sorted(shares, key=lambda pair: (shares[pair] > 0, len(known[pair[1]]), shares[pair]), reverse=True)
    if not ranked:
        return NameFields(next(iter(rows), ""), "", next(iter(known), ""), "")
    own, theirs = ranked[0]
    regions = [pair for pair in shares if own != pair[0] and theirs != pair[1] and shares[pair] >= ALIKE]
    region = max(regions, key=lambda pair: (shares[pair], len(known[pair[1]])), default=("", ""))
    return NameFields(own, region[0], theirs, region[1])


def _texts(data: Dataset) -> list[str]:
    return [field.name for field in data.columns.schema if field_type(field.type) == "text"]


def _keys(data: Dataset, name: str, most: int | None) -> set[str]:
    """The keys of the names in a field; of very many some from all over."""
    values = list(dict.fromkeys(data.columns[name].drop_null().to_pylist()))
    step = max(1, len(values) // most) if most else 1
    return {key for value in values[::step] if (key := name_key(str(value)))}
