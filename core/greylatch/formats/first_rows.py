"""The first rows of a file as a dataset, for what is asked of them before they are kept."""

from dataclasses import dataclass
from pathlib import Path

import numpy as np

from greylatch.errors import BadExpression, BadFile
from greylatch.formats.cells import read_raw, result_of_cells
from greylatch.formats.corrections import Corrections, cell_choice, choice
from greylatch.formats.kinds import file_kind
from greylatch.tables.dataset import Dataset

__all__ = ["MOST_CELL_ROWS", "Tried", "first_rows", "tried"]

MOST_CELL_ROWS = 1_000
"""Of a table of cells. Of shapes their readers say how many."""


@dataclass(frozen=True)
class Tried:
    """How many of how many first rows a condition takes, and whether there are no more; or what is wrong with it, where (counted from 1), and what
    was expected."""

    taken: int | None
    of: int
    problem: str = ""
    line: int = 0
    column: int = 0
    expected: str = ""
    whole: bool = True


def first_rows(path: str | Path, corrections: Corrections) -> Dataset:
    """The first rows of a file, placed or not.

    Parameters
    ----------
    path : str | Path
        The file.
    corrections : Corrections
        What a person has corrected of the guesses.

    Returns
    -------
    Dataset

    Raises
    ------
    BadInput
        For a raster, and for what cannot be read.
    """
    kind = file_kind(path)
    if kind.holds == "raster":
        raise BadFile("A raster has no rows.")
    wanted = choice(corrections, placed=False, head=True)
    if kind.holds == "shapes":
        data: Dataset = kind.read(path, wanted).dataset
        return data
    cells = cell_choice(str(path), kind, corrections)
    raw, _ = read_raw(path, kind, wanted, cells, limit=MOST_CELL_ROWS)
    return result_of_cells(raw, wanted, cells).dataset


def tried(path: str | Path, corrections: Corrections, condition: str) -> Tried:
    """What a condition takes of the first rows of a file.

    Parameters
    ----------
    path : str | Path
        The file.
    corrections : Corrections
        What a person has corrected of the guesses.
    condition : str
        CQL2 text.

    Returns
    -------
    Tried

    Raises
    ------
    BadInput
        For what cannot be read. A mistake in the condition is an answer.
    """
    from greylatch.rules.evaluating import taken

    data = first_rows(path, corrections).described()
    try:
        rows = int(np.count_nonzero(taken(data, condition))) if condition.strip() else len(data)
    except BadExpression as error:
        return Tried(None, len(data), error.problem, error.line, error.column, error.expected)
    return Tried(rows, len(data), whole=len(data) < MOST_CELL_ROWS)
