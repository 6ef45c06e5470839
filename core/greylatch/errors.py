"""What Grey Latch itself raises. Most of it means "the input is wrong, and here is where"; who catches names the kind that is meant."""

import re

__all__ = [
    "BadExpression",
    "BadFile",
    "BadInput",
    "BadTemplate",
    "CannotDraw",
    "Conflict",
    "GreyLatchError",
    "OffMap",
    "Stopped",
    "printable",
]


class GreyLatchError(Exception):
    """The root of all errors that Grey Latch raises on purpose."""


class BadInput(GreyLatchError):
    """Input that cannot be used. The message says what, where and what to do, in one line.

    >>> str(BadInput("The field 'name' holds text.", "Choose a field of numbers."))
    "The field 'name' holds text. Choose a field of numbers."
    """

    def __init__(self, *sentences: str) -> None:
        super().__init__(printable(" ".join(" ".join(part.split()) for part in sentences)))


class BadFile(BadInput):
    """A file that cannot be read as what it is."""


class BadExpression(BadInput):
    """A condition or an expression with a mistake: where it is, counted from 1, and what could have stood there."""

    def __init__(self, problem: str, line: int, column: int, expected: str = "") -> None:
        self.problem, self.line, self.column, self.expected = printable(problem), line, column, expected
        super().__init__(
            *filter(None, (f"Line {line}, column {column}: {problem}", expected and f"Expected {expected}."))
        )


class BadTemplate(BadInput):
    """A card's template with a mistake, or one that can't be filled."""


class CannotDraw(BadInput):
    """A layer that cannot be drawn or lettered as its sheet says."""


class OffMap(BadInput):
    """A place or a ground that a projection does not show, or a map on which nothing lies."""


class Conflict(BadInput):
    """Somebody else changed the same meanwhile."""


class Stopped(GreyLatchError):
    """The person who started a piece of long work asked for it to end."""


def printable(text: str) -> str:
    """Text that can be shown, kept and sent everywhere: what is no character (NUL, half of a surrogate pair) shows as �.

    >>> printable("a\\0b\\ud800")
    'a�b�'
    """
    return _NO_CHARACTER.sub("�", text)


_NO_CHARACTER = re.compile("[\0\ud800-\udfff]")
