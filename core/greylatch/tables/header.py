"""Whether a row of cells names the columns below it."""

import itertools
from collections.abc import Sequence

__all__ = ["is_number", "names_columns", "numbers_are_names"]

YEARS = range(1500, 2201)
LOOKED_AT = 40
"""Rows below by which a row is judged."""


def names_columns(row: Sequence[str], below: Sequence[Sequence[str]]) -> bool:
    """Whether a row names the columns: no cell in it is a number, unless numbers are names there; and it is complete and without twins,
    or mostly so and over numbers.

    Parameters
    ----------
    row : Sequence[str]
        Its cells.
    below : Sequence[Sequence[str]]
        Rows below it.

    Returns
    -------
    bool

    Examples
    --------
    >>> names_columns(["name", "depth"], [["Aller", "2.5"]]), names_columns(["Aller", "2.5"], [["Bren", "3"]])
    (True, False)
    >>> names_columns(["state", "1929", "1930"], [["Arda", "323", "267"], ["Bel", "600", "520"]])
    True
    """
    cells = [cell.strip() for cell in row]
    if not any(cells):
        return False
    if any(map(is_number, cells)):
        return all(cells) and len(set(cells)) == len(cells) and numbers_are_names(cells, below)
    if all(cells) and len(set(cells)) == len(cells):
        return True
    return len(set(cells) - {""}) > len(cells) / 2 and _over_numbers(cells, below)


def numbers_are_names(row: Sequence[str], below: Sequence[Sequence[str]]) -> bool:
    """Whether the numbers of a row stand for its columns beside texts that do: years or others in equal steps, as no row below has
    them; a single year where a text stands over nothing but numbers.

    Parameters
    ----------
    row : Sequence[str]
        Its cells.
    below : Sequence[Sequence[str]]
        Rows below it.

    Returns
    -------
    bool

    Examples
    --------
    >>> numbers_are_names(["id", "name", "2020"], [["7", "Aller", "12.5"]]), numbers_are_names(["Aller", "2020"], [["Bren", "2021"]])
    (True, False)
    """
    numbered = [i for i, cell in enumerate(row) if is_number(cell)]
    others = [cells for cells in below[:LOOKED_AT] if len(cells) == len(row) and any(cell.strip() for cell in cells)]
    if not numbered or len(numbered) == len(row) or not others:
        return False
    if len(numbered) == 1:
        return _whole(row[numbered[0]]) in YEARS and _over_numbers(row, others)
    return _in_equal_steps([row[i] for i in numbered]) and not any(
        _in_equal_steps([cells[i] for i in numbered]) for cells in others
    )


def is_number(text: str) -> bool:
    """Whether a cell is written as a number, with a point or a comma.

    >>> is_number("1,5"), is_number("5 t")
    (True, False)
    """
    try:
        float(text.replace(",", "."))
        return True
    except ValueError:
        return False


def _over_numbers(row: Sequence[str], below: Sequence[Sequence[str]]) -> bool:
    """Whether a text stands over a column of nothing but numbers."""
    columns = (
        [cells[i] for cells in below[:LOOKED_AT] if i < len(cells) and cells[i].strip()] for i in range(len(row))
    )
    return any(
        column and not is_number(cell) and cell.strip() and all(map(is_number, column))
        for cell, column in zip(row, columns, strict=True)
    )


def _whole(text: str) -> int | None:
    return int(text) if text.strip().isascii() and text.strip().isdigit() else None


def _in_equal_steps(cells: Sequence[str]) -> bool:
    """Whether the cells are whole numbers in equal steps: three at least, or two that are years."""
    numbers = [number for cell in cells if (number := _whole(cell)) is not None]
    steps = {after - before for before, after in itertools.pairwise(numbers)}
    if len(numbers) < len(cells) or len(steps) != 1 or steps == {0}:
        return False
    return len(numbers) > 2 or all(number in YEARS for number in numbers)
