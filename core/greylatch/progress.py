"""How long work reports how far it is, and hears that it should stop."""

from collections.abc import Callable

__all__ = ["Progress", "silent"]

# Called with (done, total, what is being done); raises `errors.Stopped` to end the work.
Progress = Callable[[int, int, str], None]


def silent(done: int, total: int, what: str) -> None:
    """Report nothing: the default where nobody watches.

    Parameters
    ----------
    done : int
        How much of it is done.
    total : int
        How much there is to do.
    what : str
        What is being done.
    """
