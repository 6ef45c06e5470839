"""Joining a table to areas or points by key, with the match seen from both sides before anything is kept."""

import re
import unicodedata
from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np
import pyarrow as pa
from rapidfuzz import fuzz, process

from greylatch.errors import BadInput
from greylatch.places.abbreviations import initials, same_name
from greylatch.places.assignment import assigned
from greylatch.places.names import folded
from greylatch.tables.dataset import Dataset, column_named, named, text_of

__all__ = ["Match", "Suggestion", "joined", "key_of", "keys_of", "match", "suggested"]

LIKENESS = 62.0
"""Least likeness, 0..100, of a spelling that is suggested."""
SURE_LIKENESS, SURE_APART, WORD_LIKENESS = 88.0, 10.0, 80.0
"""Likeness from which a spelling may be sure, by how much the next must be less like, and of each word. Set on names of countries,
counties and the demo's islands, so that none of them is taken for another."""

SAME_NAME = 97.0
"""Likeness of names that are one but for abbreviations."""
WORTH_SHOWING = 0.65
"""Part of the likeliest one's likeness below which another spelling is not worth a look."""


@dataclass(frozen=True)
class Suggestion:
    """An area that a spelling may mean, how like the two are (0..100), and whether nothing else can be meant."""

    area: str
    likeness: float
    sure: bool


@dataclass(frozen=True)
class Match:
    """A join seen from both sides. Row numbers count from 0; keys are texts as people see them.

    `pairs` maps an area's row to the table's row that fits it. A key found twice in the table takes none of its rows
    until a person chooses, and is listed in `duplicate_keys`.
    """

    pairs: dict[int, int]
    rows_without_area: list[str]
    areas_without_row: list[str]
    duplicate_keys: list[str]
    suggestions: dict[str, list[Suggestion]] = field(default_factory=dict)

    @property
    def matched(self) -> int:
        """How many areas have a row."""
        return len(self.pairs)


def keys_of(columns: pa.Table, name: str) -> list[str]:
    """The key column as trimmed text, accents composed: the same name is the same key however its characters are written.

    Parameters
    ----------
    columns : pa.Table
        The columns as an Arrow table.
    name : str
        The name.

    Returns
    -------
    list[str]
    """
    # Most keys stand several times: each is composed once.
    values = column_named(columns, name).combine_chunks().dictionary_encode()
    keys = np.array([key_of(value) for value in values.dictionary.to_pylist()] + [""], dtype=object)
    at = values.indices.fill_null(len(keys) - 1).to_numpy(zero_copy_only=False)
    return list(keys[at])


def key_of(value: object) -> str:
    """A value as a key.

    >>> key_of("  Cafe\\u0301  Mor ") == key_of("Café Mor")
    True
    """
    return " ".join(unicodedata.normalize("NFC", text_of(value)).split())


def match(
    area_keys: Sequence[str], table_keys: Sequence[str], same: Mapping[str, str] | None = None,
    chosen: Mapping[str, int] | None = None, suggest: bool = False,
) -> Match:  # fmt: skip
    """Match two columns of keys. With `suggest`, spellings without an area get likely ones.

    Parameters
    ----------
    area_keys : Sequence[str]
        The keys of the areas.
    table_keys : Sequence[str]
        The keys of the rows.
    same : Mapping[str, str] | None
        A cross-reference: a spelling in the table → the area's key ('' leaves it out).
    chosen : Mapping[str, int] | None
        Settles duplicate keys: key → row of the table.
    suggest : bool
        Whether spellings without an area get likely ones.

    Returns
    -------
    Match

    Examples
    --------
    >>> result = match(["Ard", "Bay"], ["Ard", "Baye"], same={"Baye": "Bay"})
    >>> result.pairs, result.rows_without_area
    ({0: 0, 1: 1}, [])
    """
    same = {key_of(key): key_of(area) for key, area in (same or {}).items()}
    chosen = {key_of(key): row for key, row in (chosen or {}).items()}
    wanted = set(area_keys)
    rows: dict[str, list[int]] = defaultdict(list)
    without: list[str] = []
    for row, key in enumerate(table_keys):
        meant = same.get(key, key)
        if meant in wanted:
            rows[meant].append(row)
        elif meant or key not in same:  # one that is left out on purpose is not looked for
            without.append(key)
    pairs: dict[int, int] = {}
    areas_without: list[str] = []
    duplicates: dict[str, None] = {}
    for area, key in enumerate(area_keys):
        candidates = rows.get(key, []) if key else []
        if not candidates:
            areas_without.append(key)
        elif len(candidates) == 1:
            pairs[area] = candidates[0]
        elif chosen.get(key) in candidates:
            pairs[area] = chosen[key]
        else:
            duplicates[key] = None
    free = sorted({key for key in areas_without if key})
    suggestions = suggested(list(dict.fromkeys(key for key in without if key)), free) if suggest else {}
    return Match(pairs, without, areas_without, list(duplicates), suggestions)


def suggested(keys: Sequence[str], areas: Sequence[str], most: int = 3) -> dict[str, list[Suggestion]]:
    """For each of `keys` the `areas` spelt most like it, first the one that it gets where every area is given to one key only, then the
    likeliest; keys like none get an empty list.

    Parameters
    ----------
    keys : Sequence[str]
        The spellings to be found.
    areas : Sequence[str]
        The spellings that are right.
    most : int
        How many at most.

    Returns
    -------
    dict[str, list[Suggestion]]

    Examples
    --------
    >>> suggested(["Nether Skarra"], ["Nether Skara", "Upper Skara"])["Nether Skarra"][0]
    Suggestion(area='Nether Skara', likeness=96.0, sure=True)
    """
    plain = {area: _folded(area) for area in areas}
    codes: dict[str, list[str]] = defaultdict(list)
    for area in areas:
        if area.isdecimal():
            codes[area.lstrip("0")].append(area)
    initialled: dict[frozenset[str], list[str]] = defaultdict(list)
    for area in areas:
        for letters in initials(area):
            initialled[letters].append(area)
    best: dict[str, list[tuple[float, str]]] = {}
    for key in keys:
        if same_code := codes.get(key.lstrip("0")) if key.isdecimal() else None:
            best[key] = [(100.0, area) for area in same_code[:most]]
            continue
        likely = process.extract(_folded(key), plain, scorer=fuzz.WRatio, limit=most, score_cutoff=LIKENESS)
        ranked = sorted(
            ((fuzz.ratio(_folded(key), plain[area]), area) for *_, area in likely), key=lambda r: (-r[0], r[1])
        )
        best[key] = [(likeness, area) for likeness, area in ranked if likeness >= WORTH_SHOWING * ranked[0][0]]
        alike = dict.fromkeys(area for letters in initials(key) for area in initialled[letters])
        same = [area for area in alike if same_name(key, area)]
        if len(same) == 1:
            others = [each for each in best[key] if each[1] != same[0]]
            best[key] = [(max(SAME_NAME, *(own for own, area in best[key] if area == same[0]), 0.0), same[0]), *others][
                :most
            ]
    wanted: dict[str, list[float]] = defaultdict(list)
    for ranked in best.values():
        if ranked:
            wanted[ranked[0][1]].append(ranked[0][0])

    def alone(likeness: float, area: str) -> bool:
        """Whether no other key wants the area nearly as much."""
        return sum(other > likeness - SURE_APART for other in wanted[area]) == 1

    assignment = assigned(best)
    return {
        key: sorted(
            (
                Suggestion(area, round(likeness, 1), i == 0 and alone(likeness, area) and _sure(key, ranked))
                for i, (likeness, area) in enumerate(ranked)
            ),
            # What is sure is its own likeliest; another key may only ever take what is not.
            key=lambda suggestion: not suggestion.sure and suggestion.area != assignment.get(key),
        )
        for key, ranked in best.items()
    }


def _sure(key: str, ranked: Sequence[tuple[float, str]]) -> bool:
    """Whether a spelling can mean its likeliest area only: the same words but for single letters, the same numbers, and no
    other area nearly as like. Niger is not a misspelt Nigeria, and East no misspelt West."""
    likeness, area = ranked[0]
    if same_name(key, area) and not any(same_name(key, other) for _, other in ranked[1:]):
        return True
    if key.isdecimal() and area.isdecimal() and key.lstrip("0") == area.lstrip("0"):
        return len(ranked) == 1  # a code that lost its leading zeros where it was taken for a number
    if _folded(key).replace(" ", "") == _folded(area).replace(" ", ""):
        return True
    words, others = _folded(key).split(), _folded(area).split()
    alike = len(words) == len(others) and all(
        a == b or (min(len(a), len(b)) >= 4 and fuzz.ratio(a, b) > WORD_LIKENESS and not (a + b).isdecimal())
        for a, b in zip(words, others, strict=True)
    )
    digits = [re.sub(r"\D+", " ", text).split() for text in (key, area)]
    apart = len(ranked) < 2 or likeness - ranked[1][0] >= SURE_APART
    return alike and digits[0] == digits[1] and likeness >= SURE_LIKENESS and apart


def _folded(key: str) -> str:
    """A key without what spellings differ in by habit: case, accents, punctuation."""
    return " ".join(re.sub(r"[^\w]+|_", " ", folded(key)).split())


def joined(areas: Dataset, table: pa.Table, matching: Match, fields: Sequence[str]) -> Dataset:
    """`areas` with the chosen `fields` of the table; areas without a row get nulls. Twins of names are numbered.

    Parameters
    ----------
    areas : Dataset
        The areas that the fields are brought to.
    table : pa.Table
        The rows that the fields are taken from.
    matching : Match
        Which row belongs to which area.
    fields : Sequence[str]
        The fields by name.

    Returns
    -------
    Dataset

    Raises
    ------
    BadInput
        Where not a single row matches.
    """
    if not matching.pairs:
        raise BadInput("Not a single row fits an area.", "Do the two key columns hold the same kind of key?")
    take = pa.array([matching.pairs.get(i) for i in range(len(areas))], pa.int64())
    columns = [*areas.columns.columns, *(column_named(table, name).take(take) for name in fields)]
    return areas.with_columns(pa.table(columns, names=named([*areas.columns.column_names, *fields])))
