"""What may stand next in a condition that is being written."""

from collections.abc import Sequence
from dataclasses import dataclass

__all__ = ["RESERVED", "expected_after", "is_stray"]

RESERVED = frozenset(["AND", "OR", "NOT", "IN", "LIKE", "BETWEEN", "IS", "NULL", "TRUE", "FALSE"])
"""Words of the language, which are no fields unless they stand in double quotes."""
_SIGNS = ["+", "−", "*", "/"]
_TEXT = "a text in 'single quotes'"
_OPERAND = ["a field", "a number", _TEXT]
_ASKING = ("S_", "T_", "A_")
"""How functions of the standard begin that compare shapes, times and arrays."""
_COMPARING = ["=", ">", "<", "LIKE", "IN", "BETWEEN", "IS NULL"]


@dataclass
class _Clause:
    """What stands between two ANDs, ORs, commas or brackets, as far as it was written."""

    within: str = ""  # what the bracket around it is: "" none, "(" of a group, "," of things in a row
    shapes: bool = False  # they are those of a spatial function
    whole: bool = False  # they are those of a function that is a condition by itself
    compared: str = ""  # by which sign or word it compares, or ")" of what is a condition already
    waits: bool = False  # for the AND of a BETWEEN


def expected_after(words: Sequence[str]) -> list[str]:
    """What may stand after the first words of a condition, in words.

    Parameters
    ----------
    words : Sequence[str]
        Names, numbers, texts in quotes and single signs, as they were written.

    Returns
    -------
    list[str]

    Examples
    --------
    >>> expected_after(["(", "depth", ">", "3"])
    ['AND', 'OR', '+', '−', '*', '/', ')']
    >>> expected_after(["depth", "BETWEEN", "3"])
    ['AND', '+', '−', '*', '/']
    >>> expected_after(["name", "LIKE"])
    ["a text in 'single quotes'"]
    """
    last = words[-1].upper() if words else "AND"
    before = words[-2].upper() if len(words) > 1 else ""
    clause = _clause(words)
    if last == "IS":
        return ["NULL", "NOT NULL"]
    if last == "NOT" and before == "IS":
        return ["NULL"]
    if last == "NOT" and before not in ("", "AND", "OR", "NOT", "("):
        return ["LIKE", "IN", "BETWEEN"]
    if last == "IN":
        return ["("]
    if last == "LIKE":
        return [_TEXT]
    if last in ("(", ",") and clause.within == ",":
        return ["a shape", *_OPERAND] if clause.shapes else _OPERAND
    if last in ("AND", "OR", "NOT", "("):
        # The second end of a BETWEEN is no condition.
        return [*_OPERAND, *([] if clause.compared else ["NOT"]), "("]
    if last in ("BETWEEN", "DIV", *"=<>+-*/^%"):
        return [*_OPERAND, "("]
    signs = [] if last.startswith("'") or clause.shapes or clause.compared in ("IS", "IN", "LIKE", ")") else _SIGNS
    if clause.waits:
        return ["AND", *signs]
    if clause.within == ",":
        return ["a comma", ")", *signs]
    joined = ["AND", "OR"] if clause.compared else _COMPARING
    return [*joined, *signs, ")" if clause.within else "the end"]


def is_stray(words: Sequence[str]) -> bool:
    """Whether the last of some words joins or compares where there is nothing to be joined or compared.

    Parameters
    ----------
    words : Sequence[str]
        As they were written.

    Returns
    -------
    bool

    Examples
    --------
    >>> is_stray(["depth", ">", "AND"]), is_stray(["depth", ">", "3", "AND"])
    (True, False)
    """
    return words[-1].upper() in ("AND", "OR", "IN", "LIKE", "BETWEEN", "IS") and _TEXT in expected_after(words[:-1])


def _clause(words: Sequence[str]) -> _Clause:
    """The clause that the last word stands in."""
    around = [_Clause()]
    before = ""
    for word in map(str.upper, words):
        clause = around[-1]
        if word == "(":
            row = before == "IN" or (before[-1:].isalnum() and before not in RESERVED)
            around.append(_Clause("," if row else "(", before[:2] == "S_", whole=row and before[:2] in _ASKING))
        elif word == ")" and len(around) > 1:
            inner = around.pop()
            if inner.whole or (inner.within == "(" and inner.compared):
                around[-1].compared = ")"
        elif word == "AND" and clause.waits:
            clause.waits = False
        elif word in ("AND", "OR", ","):
            clause.compared, clause.waits = "", False
        elif word in ("<", ">", "=", "LIKE", "IN", "BETWEEN", "IS"):
            clause.compared = word
            clause.waits = word == "BETWEEN"
        before = word
    return around[-1]
