"""Doubts about single cells: texts among numbers and dates, what stands for nothing, units that are mixed."""

import re
from collections import Counter
from collections.abc import Callable, Iterator
from datetime import datetime

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from greylatch.doubts.doubt import Doubt, about
from greylatch.doubts.kinds import are_kinds
from greylatch.doubts.mending import as_missing, retyped
from greylatch.errors import BadInput
from greylatch.tables.dataset import Dataset
from greylatch.tables.fieldtypes import typed
from greylatch.tables.meaning import BY_HAND, CODES, words_of
from greylatch.tables.written_numbers import NUMBER, UNIT_FACTORS
from greylatch.wording import counted

__all__ = ["blanks", "dates", "numbers_as_text", "placeholders", "units"]

MOSTLY = 0.8
"""The share of filled cells from which on a field is meant to hold what they are. Common practice, as the next."""
SOME = 0.5
"""The share of blank cells up to which they are doubted: a field that is mostly empty is meant to be."""
MEASURED = re.compile(r"\s*[+-]?[\d.,]+\s*([A-Za-zµ²³°/]{1,8})\s*")
NOTHING = {
    "n/a",
    "na",
    "none",
    "null",
    "nil",
    "?",
    "-",
    "--",
    "unknown",
    "not known",
    "missing",
    "tbd",
    "#n/a",
    "#value!",
    "x",
}
SHOWN = 3
LOOKED_AT = 400


def numbers_as_text(dataset: Dataset) -> Iterator[Doubt]:
    """Fields of texts that are numbers but for a few cells, or for the way in which they are written."""
    for name, words in _texts(dataset):
        if not _likely(words, lambda word: NUMBER.fullmatch(word) is not None):
            continue
        fits = _matched(words, NUMBER)
        filled = np.array([bool(word.strip()) for word in words])
        few = filled & ~fits
        if not filled.any() or fits.sum() < MOSTLY * filled.sum() or _are_codes(dataset, name, words):
            continue
        if not few.any():
            yield about(
                dataset, "numbers as text", name, filled, f"'{name}' holds numbers that are kept as text.",
                retyped(name, "number", "Read as numbers"),
            )  # fmt: skip
        else:
            yield about(
                dataset, "numbers as text", name, few,
                f"'{name}' would hold numbers but for {counted(int(few.sum()), 'cell')}: {_some(words, few)}.",
                retyped(name, "number", "Read as numbers; those cells become empty"),
            )  # fmt: skip


def placeholders(dataset: Dataset) -> Iterator[Doubt]:
    """Values that stand for nothing: -999 among numbers, 'n/a' and '?' among texts."""
    for name in dataset.columns.column_names:
        meaning = dataset.meaning(name)
        for mark in meaning.missing if meaning.reason != BY_HAND else ():
            rows = _equal(dataset.columns[name], mark)
            if not rows.any():
                continue
            shown = f"{mark:g}" if isinstance(mark, float | int) else f"'{mark}'"
            yield about(
                dataset, "placeholder", name, rows, f"{shown} in '{name}' seems to stand for no value.",
                as_missing(name, [mark], "It stands for no value"),
            )  # fmt: skip
    for name, words in _texts(dataset):
        nothing = NOTHING - {"na"} if _are_short_codes(words) else NOTHING
        known = dataset.meaning(name).missing
        rows = np.array([word.strip().lower() in nothing and word not in known for word in words])
        if rows.any() and rows.sum() < SOME * len(rows):
            marks = list(dict.fromkeys(words[i] for i in np.flatnonzero(rows).tolist()))
            yield about(
                dataset, "placeholder", name, rows, f"{_some(words, rows)} in '{name}' seems to stand for no value.",
                as_missing(name, marks, "It stands for no value"),
            )  # fmt: skip


def blanks(dataset: Dataset) -> Iterator[Doubt]:
    """Cells that are empty in fields that are mostly filled."""
    for name in dataset.columns.column_names:
        column = dataset.columns[name]
        rows = pc.is_null(column, nan_is_null=True).to_numpy(zero_copy_only=False)
        if pa.types.is_string(column.type):
            rows = rows | np.array([value is not None and not value.strip() for value in column.to_pylist()])
        if 0 < rows.sum() <= SOME * len(rows):
            yield about(dataset, "blank", name, rows, f"{counted(int(rows.sum()), 'row')} without '{name}'.")


def dates(dataset: Dataset, now: datetime) -> Iterator[Doubt]:
    """Texts among dates, and dates that have not come yet."""
    for name in dataset.columns.column_names:
        column = dataset.columns[name]
        if pa.types.is_temporal(column.type):
            rows = pc.fill_null(pc.greater(column.cast(pa.timestamp("us")), pa.scalar(now, pa.timestamp("us"))), False)
            later = rows.to_numpy(zero_copy_only=False)
            if later.any():
                yield about(
                    dataset, "date", name, later, f"{counted(int(later.sum()), 'date')} in '{name}' lie in the future."
                )
    for name, words in _texts(dataset):
        if not _likely(words, _is_date):
            continue
        known = {word: _is_date(word) for word in set(words)}
        fits = np.array([known[word] for word in words])
        filled = np.array([bool(word.strip()) for word in words])
        few = filled & ~fits
        if few.any() and fits.sum() >= MOSTLY * filled.sum():
            yield about(
                dataset, "date", name, few,
                f"'{name}' would hold dates but for {counted(int(few.sum()), 'cell')}: {_some(words, few)}.",
                retyped(name, "date", "Read as dates; those cells become empty"),
            )  # fmt: skip


def units(dataset: Dataset) -> Iterator[Doubt]:
    """Numbers with their units beside them, of which some have another than most."""
    for name, words in _texts(dataset):
        if not _likely(words, lambda word: MEASURED.fullmatch(word) is not None):
            continue
        matches = [MEASURED.fullmatch(word) for word in words]
        measured = [match[1] for match in matches if match]
        filled = sum(bool(word.strip()) for word in words)
        kinds = Counter(measured)
        if len(kinds) < 2 or len(measured) < MOSTLY * filled:
            continue
        usual = kinds.most_common(1)[0][0]
        rows = np.array([match is not None and match[1] != usual for match in matches])
        others = ", ".join(f"'{unit}'" for unit in kinds if unit != usual)
        yield about(
            dataset,
            "units",
            name,
            rows,
            f"'{name}' is mostly in '{usual}', and in {others} in {counted(int(rows.sum()), 'row')}.",
            retyped(name, "number", f"Turn all into {usual}", usual) if _alike(kinds) else None,
        )


def _alike(units: Counter[str]) -> bool:
    """Whether all units measure the same, so that one can be turned into another."""
    return len({UNIT_FACTORS[unit][0] if unit in UNIT_FACTORS else None for unit in units} - {None}) == 1 and all(
        unit in UNIT_FACTORS for unit in units
    )


def _texts(dataset: Dataset) -> Iterator[tuple[str, list[str]]]:
    for name in dataset.columns.column_names:
        column = dataset.columns[name]
        if pa.types.is_string(column.type) or pa.types.is_large_string(column.type):
            yield name, [value or "" for value in column.to_pylist()]


def _likely(words: list[str], fits: Callable[[str], bool]) -> bool:
    """Whether enough of some cells, far apart, are what a field may be meant to hold: then all are looked at."""
    some = [word for word in words[:: max(1, len(words) // LOOKED_AT)] if word.strip()]
    return bool(some) and sum(map(fits, some)) >= SOME * len(some)


def _are_short_codes(words: list[str]) -> bool:
    """Whether 'NA' is Namibia rather than nothing: most words are two capitals."""
    different = {word for word in words if word.strip()}
    return sum(len(word) == 2 and word.isupper() for word in different) >= MOSTLY * len(different)


def _matched(words: list[str], pattern: re.Pattern[str]) -> NDArray[np.bool_]:
    return np.array([pattern.fullmatch(word) is not None for word in words])


def _are_codes(dataset: Dataset, name: str, words: list[str]) -> bool:
    """Whether numbers are text on purpose: named as codes, with zeros before them, each only once, or kinds of something."""
    if dataset.meaning(name).kind == "identifier" or words_of(name) & CODES:
        return True
    filled = [word for word in words if word.strip()]
    whole = all(word.isdigit() for word in filled)
    if whole and are_kinds(name, len(set(filled)), len(words)):
        return True
    return any(len(word) > 1 and word[0] == "0" and word.isdigit() for word in filled) or (
        whole and len(set(filled)) == len(filled)
    )


def _is_date(word: str) -> bool:
    try:
        return bool(word.strip()) and typed(word, "date") is not None
    except BadInput:
        return False


def _equal(column: pa.ChunkedArray, mark: float | str) -> NDArray[np.bool_]:
    compared = column if isinstance(mark, str) else column.cast(pa.float64(), safe=False)
    return np.asarray(pc.fill_null(pc.equal(compared, mark), False).to_numpy(zero_copy_only=False), dtype=np.bool_)


def _some(words: list[str], rows: NDArray[np.bool_]) -> str:
    different = list(dict.fromkeys(words[i] for i in np.flatnonzero(rows).tolist()))
    return ", ".join(f"'{word[:24]}'" for word in different[:SHOWN]) + (", …" if len(different) > SHOWN else "")
