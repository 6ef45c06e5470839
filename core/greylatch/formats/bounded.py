"""Reading strangers' files in a process of its own, with bounds on memory, time and what it writes.

A file can be made so that its reader takes all memory, never ends, or falls over. Here that costs one small process, and the
person a sentence.
"""

import contextlib
import ctypes
import gc
import os
import resource
import signal
import tempfile
from collections.abc import Callable, Iterator
from functools import lru_cache
from pathlib import Path
from typing import TYPE_CHECKING, Any, ParamSpec, TypeVar

from greylatch.errors import BadFile
from greylatch.wording import megabytes

if TYPE_CHECKING:
    from multiprocessing.connection import Connection
    from multiprocessing.context import ForkServerContext

__all__ = ["LIBRARIES", "beside", "bounded", "may_fork", "memory_for", "within"]

P = ParamSpec("P")
R = TypeVar("R")
LEAST, TIMES, TIMES_PACKED, MOST = 640 * 1024**2, 24, 72, 6 * 1024**3
"""Bytes of memory for reading any file, as many more for each of its own (or of one that is packed), and never more than these."""
PACKED = (b"PK\x03\x04", b"PAR1")
"""First bytes of files that are larger than they look: zips, Parquet."""
SECONDS = 240
"""Of processor time."""
WRITTEN = 16 * 1024**3
"""Bytes of the largest file that reading may write."""
LIBRARIES = ["greylatch.formats.preview"]
"""What is loaded once, before the first file."""


_begun = False
"""Whether `within` has begun this process."""


def bounded(path: str | Path, work: Callable[P, R], *arguments: P.args, **named: P.kwargs) -> R:
    """What `work` returns, done in a process of its own within the memory that the file at `path` may take, and
    `SECONDS`.

    Nothing that it left in the folder for temporary files stays.

    Parameters
    ----------
    path : str | Path
        The file.
    work : Callable[P, R]
        A function of a module; what it takes and returns is sent over.

    Returns
    -------
    R

    Raises
    ------
    BadInput
        Where a bound is reached or the process dies, and whatever else `work` raises.
    """
    return within(memory_for(path), SECONDS, work, *arguments, **named)


def memory_for(path: str | Path) -> int:
    """Bytes of memory that reading a file may take, beyond what the libraries themselves do."""
    if not Path(path).is_file():
        return LEAST
    with open(path, "rb") as file:
        times = TIMES_PACKED if file.read(4) in PACKED else TIMES
    return min(LEAST + times * Path(path).stat().st_size, MOST)


def within(memory: int, seconds: int, work: Callable[P, R], *arguments: P.args, **named: P.kwargs) -> R:
    """As `bounded`, with bounds of one's own: bytes of memory, seconds of processor time.

    Parameters
    ----------
    memory : int
        Bytes that the work may take.
    seconds : int
        Seconds of processor time that the work may take.
    work : Callable[P, R]
        What is to be done.

    Returns
    -------
    R
    """
    receiver, sender = _processes().Pipe(duplex=False)
    with tempfile.TemporaryDirectory(prefix=f"{os.getpid()}-") as folder:
        process = _processes().Process(
            target=_work, args=(sender, folder, memory, seconds, work, arguments, named), daemon=True
        )
        process.start()
        sender.close()
        answer = None
        with receiver, contextlib.suppress(EOFError, OSError):
            if receiver.poll(3 * seconds):
                answer = receiver.recv()
        process.join(1)  # one that died is waited for, so that it is known why
        if process.exitcode is None:
            process.kill()
            process.join()
    if answer is None:
        raise BadFile(_why(process.exitcode, memory, seconds))
    failed, value = answer
    if failed:
        raise value
    return value


def may_fork() -> bool:
    """Whether this process was begun by `within`: such a one has no threads that hold locks, and may be copied."""
    return _begun


@contextlib.contextmanager
def beside(work: Callable[P, object], *arguments: P.args, **named: P.kwargs) -> Iterator[Callable[[], bool]]:
    """Have `work` done by a copy of this process while it goes on, within the bounds that it has itself; only where one `may_fork`.

    Parameters
    ----------
    work : Callable[P, object]
        What is to be done. It leaves what it makes in files.

    Yields
    ------
    Callable[[], bool]
        Waits for it, and says whether it was done. What was not waited for is stopped in the end.
    """
    this = os.getpid()
    copy = os.fork()
    if not copy:
        failed = 1
        # Whatever happens, nothing of what this process was about to do is done twice.
        with contextlib.suppress(BaseException):
            _end_with(this)
            work(*arguments, **named)
            failed = 0
        os._exit(failed)
    waited = False

    def done() -> bool:
        nonlocal waited
        waited = True
        return os.waitpid(copy, 0)[1] == 0

    try:
        yield done
    finally:
        if not waited:
            os.kill(copy, signal.SIGKILL)
            os.waitpid(copy, 0)


def _end_with(parent: int) -> None:
    """Have the kernel end this process when its parent ends (prctl(2), PR_SET_PDEATHSIG)."""
    ctypes.CDLL(None).prctl(1, signal.SIGKILL)
    if os.getppid() != parent:
        os._exit(1)


def limit_this_process(memory: int, seconds: int = SECONDS) -> None:
    """Put the bounds on the process that calls: memory beyond what it has by now, and processor time from now on."""
    _limit(resource.RLIMIT_DATA, _data_bytes() + memory)
    _limit(resource.RLIMIT_CPU, int(sum(os.times()[:2])) + seconds)
    _limit(resource.RLIMIT_FSIZE, WRITTEN)
    _limit(resource.RLIMIT_CORE, 0)


@lru_cache(maxsize=1)
def _processes() -> "ForkServerContext":
    # A process that was started before any thread and holds nothing open; forking the server itself, which has threads,
    # would copy locks that nobody opens again.
    import multiprocessing

    context = multiprocessing.get_context("forkserver")
    context.set_forkserver_preload(LIBRARIES)
    return context


def _work(
    sender: "Connection", folder: str, memory: int, seconds: int, work: Callable[..., Any], arguments: Any, named: Any
) -> None:
    global _begun
    _begun = True
    tempfile.tempdir = os.environ["TMPDIR"] = folder
    signal.signal(signal.SIGXFSZ, signal.SIG_IGN)  # then writing too much is an error, not the end
    limit_this_process(memory, seconds)
    # Reading makes millions of objects that live to its end, and no cycles: to look for some took most of the time.
    gc.disable()
    try:
        answer = (False, work(*arguments, **named))
    except MemoryError:
        answer = (True, BadFile(_memory_words(memory)))
    except BaseException as error:
        # GEOS and GDAL say so in words of their own.
        answer = (True, BadFile(_memory_words(memory)) if "bad_alloc" in str(error) else error)
    try:
        sender.send(answer)
    except MemoryError:
        sender.send((True, BadFile(_memory_words(memory))))
    except Exception as error:  # what can't be sent over is told by its words
        sender.send((True, RuntimeError(f"{type(error).__name__}: {error}; {str(answer[1])[:500]}")))
    sender.close()
    # To take down what it has read, object by object, would take as long as many a reading.
    os._exit(0)


def _why(exit_code: int | None, memory: int, seconds: int) -> str:
    if exit_code in (-signal.SIGXCPU, -signal.SIGKILL, None):
        return f"Reading this file takes more than {seconds / 60:.3g} minutes of work, so it was given up. Cut it into smaller ones."
    if exit_code == -signal.SIGABRT:
        return _memory_words(memory)
    return "This file cannot be read: it is broken in a way that stops its reader. Write it anew with the program that it comes from."


def _memory_words(memory: int) -> str:
    return f"Reading this file takes more than {megabytes(memory)} of memory, so it was given up. Cut it into smaller ones."


def _data_bytes() -> int:
    """Private writable memory of this process, which the limit counts from."""
    with contextlib.suppress(OSError, ValueError, StopIteration):
        lines = Path("/proc/self/status").read_text().splitlines()
        return int(next(line for line in lines if line.startswith("VmData")).split()[1]) * 1024
    return 0


def _limit(which: int, value: int) -> None:
    hard = resource.getrlimit(which)[1]
    limit = value if hard == resource.RLIM_INFINITY else min(value, hard)
    with contextlib.suppress(ValueError, OSError):
        resource.setrlimit(which, (limit, hard))
