"""The one exception that means "the input is wrong, and here is where"."""

import re


class BadInput(ValueError):
    """Input that cannot be used. The message says what, where and what to do, in one line.

    >>> str(BadInput("The field 'name' holds text.", "Choose a field of numbers."))
    "The field 'name' holds text. Choose a field of numbers."
    """

    def __init__(self, *sentences: str) -> None:
        super().__init__(printable(" ".join(" ".join(part.split()) for part in sentences)))


def printable(text: str) -> str:
    """Text that can be shown, kept and sent everywhere: what is no character (NUL, half of a surrogate pair) shows as �.

    >>> printable("a\\0b\\ud800")
    'a�b�'
    """
    return _NO_CHARACTER.sub("�", text)


_NO_CHARACTER = re.compile("[\0\ud800-\udfff]")


class Stopped(RuntimeError):
    """The person who started a piece of long work asked for it to end."""
