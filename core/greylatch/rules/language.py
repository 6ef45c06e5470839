"""Conditions and expressions as people write them: OGC CQL2 text, read into the JSON that the standard gives for it."""

import difflib
import re
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import cql2

from greylatch.errors import BadExpression
from greylatch.rules.expecting import RESERVED, expected_after, is_stray

__all__ = ["LONGEST", "Expression", "Node", "closest", "named", "parsed"]

Node = Any
"""A node of CQL2 JSON: {"op", "args"}, {"property"}, a literal."""
LONGEST = 10_000
"""Characters of a text."""
DEEPEST = 60
"""Brackets within brackets, and operations within operations."""
SIGNS = 20
"""NOTs or minuses in a row."""
SHAPES = {
    "POINT",
    "LINESTRING",
    "POLYGON",
    "MULTIPOINT",
    "MULTILINESTRING",
    "MULTIPOLYGON",
    "GEOMETRYCOLLECTION",
    "BBOX",
}
_WORD = re.compile(r"'(?:[^']|'')*'|\"[^\"]*\"|[^\W\d][\w.:]*|\d[\w.]*|\s+|.", re.DOTALL)
_RUN = re.compile(rf"(?:NOT\s*|-\s*){{{SIGNS},}}", re.IGNORECASE)
_PLACE = re.compile(r"--> (\d+):(\d+)")


def named(field: str) -> str:
    """A field as it is written in a condition: names of letters and digits as they are, others in double quotes.

    >>> named("peat_ha"), named("ha of peat"), named("in")
    ('peat_ha', '"ha of peat"', '"in"')
    """
    return field if _PLAIN.fullmatch(field) and field.upper() not in RESERVED else f'"{field}"'


_PLAIN = re.compile(r"[^\W\d]\w*")


@dataclass(frozen=True)
class Expression:
    """A text that was read, with the tree that it means."""

    text: str
    node: Node

    def mistake(self, problem: str, word: str, expected: str = "") -> BadExpression:
        """The error that says where `word` stands, a field, a function or a literal; at the beginning where it can't be found."""
        for place, candidate in words_of(self.text):
            bare = candidate.strip('"') if candidate.startswith('"') else candidate
            if bare == word or (bare.lower() == word.lower() and not candidate.startswith(("'", '"'))):
                return BadExpression(problem, *_line_and_column(self.text, place), expected)
        return BadExpression(problem, 1, 1, expected)

    @property
    def fields(self) -> set[str]:
        """All names that stand for a field."""
        return {node["property"] for node in nodes_of(self.node) if isinstance(node, dict) and "property" in node}


@lru_cache(maxsize=1024)
def parsed(text: str) -> Expression:
    """Read a condition or an expression.

    Parameters
    ----------
    text : str
        CQL2 text.

    Returns
    -------
    Expression

    Raises
    ------
    BadExpression
        With line and column of what can't be read, and what was expected there.

    Examples
    --------
    >>> parsed("peat_m > 2 AND isle = 'Ard'").node["op"]
    'and'
    """
    _check_bounds(text)
    try:
        read = cql2.parse_text(text)
    except cql2.ParseError as error:
        raise _in_words(text, str(error)) from error
    try:
        node = read.to_json()
    except RecursionError as error:
        raise _too_deep(text, 0) from error
    except Exception as error:  # the library has no kind of its own for a shape without places, say
        place = next((place for place, word in words_of(text) if word.upper() in SHAPES), 0)
        raise BadExpression(f"{str(error)[:200]}.", *_line_and_column(text, place)) from error
    expression = Expression(text, node)
    if _depth(node) > DEEPEST:
        raise _too_deep(text, 0)
    return expression


def closest(word: str, there: Iterable[str]) -> str:
    """The word that is likeliest to be meant, as a question; '' where none is near.

    Parameters
    ----------
    word : str
        What was written.
    there : Iterable[str]
        What could have been.

    Returns
    -------
    str

    Examples
    --------
    >>> closest("nmae", ["name", "peat"])
    "Is 'name' meant?"
    """
    likely = difflib.get_close_matches(word, list(there), 1, 0.6)
    return f"Is '{likely[0]}' meant?" if likely else ""


def words_of(text: str) -> Iterator[tuple[int, str]]:
    """Each word of a text with the place at which it begins: names, numbers, texts in quotes, single signs."""
    for match in _WORD.finditer(text):
        if not match.group().isspace():
            yield match.start(), match.group()


def nodes_of(node: Node) -> Iterator[Node]:
    """A node and all below it."""
    waiting = [node]
    while waiting:
        last = waiting.pop()
        yield last
        if isinstance(last, dict):
            waiting.extend(last.values())
        elif isinstance(last, list):
            waiting.extend(last)


def _check_bounds(text: str) -> None:
    """What the parser, which is compiled, would not survive."""
    if not text.strip():
        raise BadExpression("There is nothing here.", 1, 1, "a condition, such as a field, a sign and a value")
    if len(text) > LONGEST:
        raise BadExpression(f"This is longer than {LONGEST:,} characters.", 1, 1)
    run = _RUN.search(text)
    if run:
        raise _too_deep(text, run.start())
    depth = 0
    for place, word in words_of(text):
        if word == "(":
            depth += 1
            if depth > DEEPEST:
                raise _too_deep(text, place)
        elif word == ")":
            depth -= 1
        elif word in ("'", '"'):
            raise BadExpression(f"A text that begins with {word} does not end.", *_line_and_column(text, place), word)


def _too_deep(text: str, place: int) -> BadExpression:
    problem = "Too many brackets or operations stand within one another."
    return BadExpression(problem, *_line_and_column(text, place))


def _depth(node: Node) -> int:
    """How many operations stand within one another."""
    deepest, waiting = 0, [(node, 0)]
    while waiting:
        last, depth = waiting.pop()
        deepest = max(deepest, depth)
        if isinstance(last, dict):
            waiting.extend((child, depth + 1) for child in last.get("args", ()))
    return deepest


def _in_words(text: str, said: str) -> BadExpression:
    """What the parser says of a text that it can't read: only where that is, for the rest are names of its rules."""
    place = _PLACE.search(said)
    lines = text.splitlines(keepends=True)
    at = sum(map(len, lines[: int(place[1]) - 1])) + int(place[2]) - 1 if place else 0
    before = [(start, word) for start, word in words_of(text) if start < at]
    word = next((word for start, word in words_of(text) if start >= at), "")
    if before and is_stray([word for _, word in before]):
        # The parser took it for a field, and stopped at what follows.
        at, word = before.pop()
    problem = f"'{word}' can't stand here." if word else "Something is missing at the end."
    *some, last = expected_after([word for _, word in before])
    return BadExpression(problem, *_line_and_column(text, at), ", ".join(some) + (" or " if some else "") + last)


def _line_and_column(text: str, place: int) -> tuple[int, int]:
    before = text[:place]
    return before.count("\n") + 1, place - (before.rfind("\n") + 1) + 1
