"""Joining a table to areas or points by key, with the match seen from both sides before anything is kept."""

from collections import Counter, defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import pyarrow as pa
from rapidfuzz import fuzz, process

from greylatch.errors import BadInput
from greylatch.tables.dataset import Dataset, column_named, text_of

LIKENESS = 62.0
"""Least likeness, 0..100, of a spelling that is suggested."""


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
    suggestions: dict[str, list[str]] = field(default_factory=dict)

    @property
    def matched(self) -> int:
        """How many areas have a row."""
        return len(self.pairs)


def keys_of(columns: pa.Table, name: str) -> list[str]:
    """The key column as trimmed text."""
    return [" ".join(text_of(value).split()) for value in column_named(columns, name).to_pylist()]


def match(
    area_keys: Sequence[str], table_keys: Sequence[str], same: Mapping[str, str] | None = None,
    chosen: Mapping[str, int] | None = None, suggest: bool = False,
) -> Match:  # fmt: skip
    """Match two columns of keys. `same` is a cross-reference: a spelling in the table → the area's key ('' leaves it out).
    `chosen` settles duplicate keys: key → row of the table. With `suggest`, spellings without an area get likely ones.

    >>> found = match(["Ard", "Bay"], ["Ard", "Baye"], same={"Baye": "Bay"})
    >>> found.pairs, found.rows_without_area
    ({0: 0, 1: 1}, [])
    """
    same, chosen = same or {}, chosen or {}
    rows: dict[str, list[int]] = defaultdict(list)
    for row, key in enumerate(table_keys):
        rows[same.get(key, key)].append(row)
    counts = Counter(area_keys)
    pairs: dict[int, int] = {}
    areas_without: list[str] = []
    duplicates: list[str] = []
    for area, key in enumerate(area_keys):
        candidates = rows.get(key, []) if key else []
        if not candidates:
            areas_without.append(key)
        elif len(candidates) == 1:
            pairs[area] = candidates[0]
        elif chosen.get(key) in candidates:
            pairs[area] = chosen[key]
        elif key not in duplicates:
            duplicates.append(key)
    left_out = {key for key, to in same.items() if to == ""}
    without = [key for key in table_keys if same.get(key, key) not in counts and key not in left_out]
    free = sorted({key for key in areas_without if key})
    suggestions = {key: likely(key, free) for key in dict.fromkeys(without) if key} if suggest else {}
    return Match(pairs, without, areas_without, duplicates, suggestions)


def likely(key: str, candidates: Sequence[str], most: int = 3) -> list[str]:
    """The candidates spelt most like `key`, the likeliest first.

    >>> likely("Nether Skarra", ["Nether Skara", "Upper Skara", "Tolm"])[0]
    'Nether Skara'
    """
    found = process.extract(
        key, candidates, scorer=fuzz.WRatio, processor=str.casefold, limit=most, score_cutoff=LIKENESS
    )
    return [candidate for candidate, *_ in found]


def joined(areas: Dataset, table: pa.Table, found: Match, fields: Sequence[str]) -> Dataset:
    """`areas` with the chosen `fields` of the table; areas without a row get nulls. Twins of names are numbered.

    Raises BadInput where not a single row matches.
    """
    if not found.pairs:
        raise BadInput("Not a single row fits an area.", "Do the two key columns hold the same kind of key?")
    take = pa.array([found.pairs.get(i) for i in range(len(areas))], pa.int64())
    columns = areas.columns
    for name in fields:
        column = column_named(table, name).take(take)
        title, n = name, 2
        while title in columns.column_names:
            title, n = f"{name}_{n}", n + 1
        columns = columns.append_column(title, column)
    return areas.with_columns(columns)
