"""Work on many pieces in several processes of this machine."""

import gc
import os
import threading
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from multiprocessing import get_context
from typing import Any, TypeVar

__all__ = ["in_processes"]

Piece = TypeVar("Piece")
Result = TypeVar("Result")


def in_processes(
    work: Callable[[Piece], Result], pieces: Sequence[Piece], processes: int | None = None, sendable: bool = False
) -> Iterator[Result]:
    """What `work` makes of each piece, in their order. Who stops asking ends the work.

    Parameters
    ----------
    work : Callable[[Piece], Result]
        What is to be done. It need not be small: processes are forked with what it holds.
    pieces : Sequence[Piece]
        Of what; each is sent to a process.
    processes : int | None
        How many; None takes one for each core.
    sendable : bool
        Whether `work` can be sent as well. A process that has several threads can't be forked safely: without this it then works alone.

    Returns
    -------
    Iterator[Result]

    Examples
    --------
    >>> list(in_processes(abs, [-3, -1], processes=1))
    [3, 1]
    """
    workers = min(processes or os.cpu_count() or 1, len(pieces))
    forks = threading.active_count() == 1
    if workers <= 1 or not (forks or sendable):
        yield from map(work, pieces)
        return
    global _FORKED
    _FORKED = work
    if forks:
        # What is ready stays: looking through it for rubbish would also copy it into every process.
        gc.freeze()
    with ProcessPoolExecutor(workers, mp_context=get_context("fork" if forks else "spawn")) as pool:
        waiting = [pool.submit(_forked, piece) if forks else pool.submit(work, piece) for piece in pieces]
        try:
            for future in waiting:
                yield future.result()
        finally:
            pool.shutdown(cancel_futures=True)
            _FORKED = None


_FORKED: Callable[[Any], Any] | None = None
"""What forked processes do: it may be far too large to be sent."""


def _forked(piece: Any) -> Any:
    assert _FORKED is not None
    return _FORKED(piece)
