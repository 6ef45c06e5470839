"""Which fields of two tables hold the same: names and regions of a table and of a gazetteer, keys of areas and of rows."""

import math
from collections.abc import Collection
from dataclasses import dataclass

import pyarrow as pa

from greylatch.places.join import key_of
from greylatch.places.locating import name_key
from greylatch.places.names import folded
from greylatch.tables.dataset import Dataset, field_type
from greylatch.tables.meaning import COORDINATES

__all__ = ["NameFields", "likely_fields", "likely_keys", "likely_to_come_along"]

SAMPLE = 400
ALIKE = 0.5
"""The share of regions of the one that the other has too, from which on two fields are of the same regions."""
LOOKED_AT = 20_000
"""Different values of a field that are compared with those of another."""
LEAST = 0.05
"""Likeness below which no two fields are keys of each other. Ours, with no source, as the next."""
RUNNING = 0.5
"""The worth of fields that only number their rows: so does every other table."""
MOST_DIGITS = 18
"""Longer ones number nothing."""


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


def likely_keys(areas: pa.Table, table: pa.Table, but: Collection[tuple[str, str]] = ()) -> tuple[str, str] | None:
    """The field of `areas` and that of `table` that hold most of the same values; None where none do.

    How many values both have is divided by the root of how many different ones the table has times how many areas there are, so that
    neither a continent nor a year that all have is a key; one more key beside others may be that. Names are alike whatever their case and accents, numbers whatever noughts
    stand before them.

    Parameters
    ----------
    areas : pa.Table
        Fields of the features that are joined to.
    table : pa.Table
        Fields of the rows that are joined.
    but : Collection[tuple[str, str]]
        Pairs that are keys already: neither of their fields is one of another pair.

    Returns
    -------
    tuple[str, str] | None

    Examples
    --------
    >>> states = pa.table({"id": [1, 2, 3], "name": ["Ard", "Bay", "Cor"]})
    >>> likely_keys(states, pa.table({"year": [1, 2, 3], "place": ["BAY", "Ard", "Elsewhere"], "n": [7, 8, 9]}))
    ('name', 'place')
    """
    own, other = ({pair[side] for pair in but} for side in (0, 1))
    ours = {name: _values(areas, name) for name in _keyable(areas) if name not in own}
    theirs = {name: _values(table, name) for name in _keyable(table) if name not in other}
    best, likeliest = (LEAST, 0), None
    for area_key, here in ours.items():
        for table_key, there in theirs.items():
            if not here or not there:
                continue
            # Beside another key, one that says no more than which region is a key all the same.
            likeness = len(here & there) / math.sqrt(len(there) * (len(here) if but else len(areas)))
            likeness *= RUNNING if _are_running(here) and _are_running(there) else 1
            # Of two that are as like, that which tells more areas apart.
            if (likeness, len(here)) > best:
                best, likeliest = (likeness, len(here)), (area_key, table_key)
    return likeliest


def likely_to_come_along(table: Dataset, key: str) -> list[str]:
    """The fields of a table that its rows bring to areas: all but their key, and where they lie.

    Parameters
    ----------
    table : Dataset
        The rows.
    key : str
        The field by which they are joined.

    Returns
    -------
    list[str]

    Examples
    --------
    >>> likely_to_come_along(Dataset(pa.table({"isle": ["Ard"], "Lat": [52.0], "sheep": [310]}), "table"), "isle")
    ['sheep']
    """
    return [name for name in table.columns.column_names if name != key and name.lower() not in COORDINATES]


def _texts(data: Dataset) -> list[str]:
    return [field.name for field in data.columns.schema if field_type(field.type) == "text"]


def _keys(data: Dataset, name: str, most: int | None) -> set[str]:
    """The keys of the names in a field; of very many some from all over."""
    values = list(dict.fromkeys(data.columns[name].drop_null().to_pylist()))
    step = max(1, len(values) // most) if most else 1
    return {key for value in values[::step] if (key := name_key(str(value)))}


def _keyable(table: pa.Table) -> list[str]:
    return [name for name in table.column_names if field_type(table.schema.field(name).type) in ("text", "integer")]


def _values(table: pa.Table, name: str) -> set[str]:
    """What stands in a field, folded; numbers without the noughts before them."""
    different = table[name].unique().drop_null().to_pylist()
    keys = {folded(key_of(value)) for value in different[:: math.ceil(len(different) / LOOKED_AT) or 1]} - {""}
    return {key.lstrip("0") or "0" if key.isdecimal() else key for key in keys}


def _are_running(values: set[str]) -> bool:
    if not all(value.isdecimal() and len(value) < MOST_DIGITS for value in values):
        return False
    numbers = {int(value) for value in values}
    return min(numbers) in (0, 1) and max(numbers) - min(numbers) < 2 * len(numbers)
