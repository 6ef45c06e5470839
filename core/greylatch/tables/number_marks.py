"""What a comma and a point mean in a table's numbers: 2,263 may be two thousand or a little more than two."""

import re
from collections.abc import Mapping, Sequence
from typing import Literal

__all__ = ["MOST_DIGITS", "Thousands", "number_pattern", "thousands_marks"]

MOST_DIGITS = 18
"""Of a whole number: one more may not fit into 64 bits."""

Thousands = Literal[",", "."]
"""What parts thousands."""
MARKS: tuple[Thousands, ...] = (",", ".")


_DECIMAL, _WHOLE = re.compile(r"[+-]?([0-9]*)([.,])([0-9]*)"), re.compile(r"[+-]?[0-9]+")


def number_pattern(thousands: Thousands | None, whole: bool = False) -> str:
    """The numbers of a column as a regular expression: with thousands parted, or, with None, with a point or a comma before decimals.

    Parameters
    ----------
    thousands : Thousands | None
        What parts thousands.
    whole : bool
        Whether whole numbers are wanted.

    Returns
    -------
    str

    Examples
    --------
    >>> [bool(re.match(number_pattern(mark), "1,081,234.5")) for mark in (",", ".", None)]
    [True, False, False]
    """
    plain = rf"[0-9]{{1,{MOST_DIGITS}}}"
    if thousands is None:
        return rf"[+-]?{plain}$" if whole else r"[+-]?([0-9]+([.,][0-9]*)?|[.,][0-9]+)([eE][+-]?[0-9]+)?$"
    decimal, parted = re.escape(_other(thousands)), rf"[1-9][0-9]{{0,2}}({re.escape(thousands)}[0-9]{{3}}){{1,5}}"
    if whole:
        return rf"[+-]?({parted}|{plain})$"
    return rf"[+-]?(({parted}|[0-9]+)({decimal}[0-9]*)?|{decimal}[0-9]+)([eE][+-]?[0-9]+)?$"


def thousands_marks(columns: Mapping[str, Sequence[str]]) -> dict[str, Thousands]:
    """The columns of numbers whose thousands are parted, and by what.

    A number with several parts, or with a comma and a point, tells it of its column; a comma before one or two digits, or before more
    than three, tells of the whole table that it stands before decimals, and so does a point. Where nothing tells, three digits
    behind the mark are decimals, unless others of the column go without and some end in a nought, which nobody writes behind decimals
    and leaves away in the next row. That last rule is ours, with no source.

    Parameters
    ----------
    columns : Mapping[str, Sequence[str]]
        The cells of each column that hold something, without blanks around them.

    Returns
    -------
    dict[str, Thousands]

    Examples
    --------
    >>> thousands_marks({"people": ["2,263", "1,204", "81"], "share": ["9.7", "12", "8.25"]})
    {'people': ','}
    >>> thousands_marks({"people": ["2.263", "1.204"], "share": ["9,7", "8,25"]}), thousands_marks({"depth": ["2,263", "1,204"]})
    ({'people': '.'}, {})
    """
    marked = {name: cells for name, cells in columns.items() if any("," in cell or "." in cell for cell in cells)}
    decimal = {mark for cells in marked.values() for mark in _before_decimals(cells)}
    out: dict[str, Thousands] = {}
    for name, cells in marked.items():
        for mark in MARKS:
            if not _may_part(cells, mark):
                continue
            decided = decimal == {_other(mark)}
            if (
                decided
                or any(cell.count(mark) > 1 or _other(mark) in cell for cell in cells)
                or _are_whole(cells, mark)
            ):
                out[name] = mark
    return out


def _other(mark: Thousands) -> Thousands:
    return "." if mark == "," else ","


def _before_decimals(cells: Sequence[str]) -> list[Thousands]:
    """The mark that can stand before decimals alone in these numbers; none where that can't be told, or some are no numbers."""
    matches = list(map(_DECIMAL.fullmatch, cells))
    if any(match is None and not _WHOLE.fullmatch(cell) for match, cell in zip(matches, cells, strict=True)):
        return []
    sure = {
        match[2] for match in matches if match and (len(match[3]) != 3 or match[1] in ("", "0") or len(match[1]) > 3)
    }
    return [mark for mark in MARKS if mark in sure]


def _may_part(cells: Sequence[str], mark: Thousands) -> bool:
    """Whether all are numbers if `mark` parts thousands, and some have it."""
    fits = re.compile(number_pattern(mark))
    return any(mark in cell for cell in cells) and all(fits.match(cell) for cell in cells)


def _are_whole(cells: Sequence[str], mark: Thousands) -> bool:
    """Whether those with the mark are whole numbers by the look of all."""
    without = [cell for cell in cells if mark not in cell]
    return bool(without) and any(mark in cell and cell.endswith("0") for cell in cells)
