"""Doubts about what values stand for: numbers that are kinds of something, rows that stand twice, words that are nearly the same."""

from collections import Counter
from collections.abc import Iterable, Iterator

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
import shapely
from numpy.typing import NDArray
from rapidfuzz.distance import Levenshtein
from rapidfuzz.process import cdist

from greylatch.doubts.doubt import Doubt, about
from greylatch.doubts.mending import retyped, reworded, without_rows
from greylatch.tables.dataset import Dataset
from greylatch.tables.meaning import words_of
from greylatch.wording import counted

__all__ = ["are_kinds", "codes_for_kinds", "near_twins", "twins"]

KINDS = {"class", "category", "type", "kind", "code", "group", "zone", "status", "landuse", "use", "cover"}
FEW_KINDS = 30
MOST_WORDS = 2_000
SELDOM = 0.1
"""A word is a slip of another where it stands at most so often as that. Common practice, as the rest of these figures."""
SHORTEST = 4
"""Letters from which on one letter less or more is a slip."""
MANY_ROWS = 4
"""So many rows to a word, on average, make categories of words."""


def codes_for_kinds(dataset: Dataset) -> Iterator[Doubt]:
    """Fields of few whole numbers that are named as kinds of something: what do they stand for?"""
    for name in dataset.columns.column_names:
        column = dataset.columns[name]
        if not pa.types.is_integer(column.type):
            continue
        different = pc.unique(column.drop_null())
        if are_kinds(name, len(different), len(column)):
            values = ", ".join(str(value) for value in sorted(different.to_pylist())[:6])
            yield about(
                dataset,
                "codes",
                name,
                [],
                f"'{name}' holds kinds of something as numbers: {values}{', …' if len(different) > 6 else ''}.",
                retyped(name, "text", "Keep them as words"),
            )


def are_kinds(name: str, different: int, rows: int) -> bool:
    """Whether whole numbers are kinds of something: few different ones, in a field that is called so.

    Parameters
    ----------
    name : str
        The field.
    different : int
        How many different values it holds.
    rows : int
        In how many rows.

    Returns
    -------
    bool

    Examples
    --------
    >>> are_kinds("land_class", 5, 100), are_kinds("depth", 5, 100)
    (True, False)
    """
    return bool(words_of(name) & KINDS) and 1 < different <= FEW_KINDS and different * MANY_ROWS <= rows


def twins(dataset: Dataset) -> Iterator[Doubt]:
    """Rows that are the same in everything, and keys that stand in several rows."""
    table = dataset.columns
    again = _again(_row_codes(dataset))
    # Where most rows stand several times over, that is how the table is meant.
    if 0 < again.sum() <= max(1, SELDOM * len(again)):
        yield about(
            dataset,
            "twins",
            "",
            again,
            f"{counted(int(again.sum()), 'row')} that stand{'s' if again.sum() == 1 else ''} there already.",
            without_rows("Take the second of each out"),
        )
    for name in table.column_names:
        column = table[name]
        if dataset.meaning(name).kind != "identifier" or column.null_count == len(column):
            continue
        same = _again(_codes(column)) & ~again
        different = len(column) - int(same.sum())
        if same.any() and same.sum() <= max(1, SELDOM * different):
            yield about(
                dataset, "twins", name, same, f"{counted(int(same.sum()), 'row')} with a '{name}' that another row has."
            )


def near_twins(dataset: Dataset) -> Iterator[Doubt]:
    """Categories that differ from a commoner one by a letter, by capitals or by blanks."""
    for name in dataset.columns.column_names:
        column = dataset.columns[name]
        if not pa.types.is_string(column.type):
            continue
        words = [value or "" for value in column.to_pylist()]
        counts = Counter(word for word in words if word.strip())
        if not 1 < len(counts) <= MOST_WORDS or len(counts) * MANY_ROWS > sum(counts.values()):
            continue
        slips = _slips(counts)
        if slips:
            rows = np.array([word in slips for word in words])
            said = ", ".join(f"'{slip}' beside '{usual}'" for slip, usual in list(slips.items())[:3])
            yield about(
                dataset, "near twins", name, rows, f"{said} in '{name}'{', …' if len(slips) > 3 else ''}.",
                reworded(name, slips, "Write them as the usual ones"),
            )  # fmt: skip


def _slips(counts: Counter[str]) -> dict[str, str]:
    """Seldom words, each with the common one that it is likely to be meant for."""
    words = sorted(counts, key=lambda word: (-counts[word], word))
    plain = [" ".join(word.casefold().split()) for word in words]
    apart = cdist(plain, plain, scorer=Levenshtein.distance, score_cutoff=1)
    slips: dict[str, str] = {}
    for i, word in enumerate(words):
        for j in range(i):
            same = plain[i] == plain[j]
            letter = (
                apart[i, j] == 1 and min(len(plain[i]), len(plain[j])) >= SHORTEST and not _numbered(plain[i], plain[j])
            )
            if same or (letter and counts[word] <= SELDOM * counts[words[j]]):
                slips[word] = words[j]
                break
    return slips


def _numbered(first: str, second: str) -> bool:
    """Whether two words differ in a figure, as 'zone 1' and 'zone 2' do on purpose."""
    return any(character.isdigit() for character in first + second)


def _row_codes(dataset: Dataset) -> NDArray[np.int64]:
    """A number for each row, the same for rows that are the same in all fields and in their shape."""
    codes = np.zeros(len(dataset), dtype=np.int64)
    columns: Iterable[pa.ChunkedArray] = dataset.columns.columns
    if dataset.shapes is not None:
        columns = [*columns, pa.chunked_array([pa.array(shapely.to_wkb(dataset.shapes), pa.binary())])]
    for column in columns:
        own = _codes(column)
        codes = np.unique(codes * (own.max(initial=0) + 2) + own + 1, return_inverse=True)[1]
        if len(codes) and codes.max() == len(codes) - 1:
            break  # no two are the same any more
    return codes


def _codes(column: pa.ChunkedArray) -> NDArray[np.int64]:
    """A number for each value, -1 for none."""
    indices = column.combine_chunks().dictionary_encode().indices
    return np.asarray(pc.fill_null(indices, -1).to_numpy(zero_copy_only=False), dtype=np.int64)


def _again(codes: NDArray[np.int64]) -> NDArray[np.bool_]:
    """Which values stand earlier already."""
    again = np.ones(len(codes), dtype=np.bool_)
    again[np.unique(codes, return_index=True)[1]] = False
    return again & (codes >= 0)
