"""The one exception that means "the input is wrong, and here is where"."""


class BadInput(ValueError):
    """Input that cannot be used. The message says what, where and what to do, in one line.

    >>> str(BadInput("The field 'name' holds text.", "Choose a field of numbers."))
    "The field 'name' holds text. Choose a field of numbers."
    """

    def __init__(self, *sentences: str) -> None:
        super().__init__(" ".join(" ".join(part.split()) for part in sentences))


class Stopped(RuntimeError):
    """The person who started a piece of long work asked for it to end."""
