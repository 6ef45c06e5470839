"""Whatever a file does to its reader costs a process and a sentence."""

import os
import signal
import subprocess
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path

import pytest
from greylatch.errors import BadInput
from greylatch.formats.bounded import within


def _takes_all_memory() -> None:
    held = []
    while True:
        held.append(bytearray(10**7))


def _never_ends() -> None:
    while True:
        pass


def _falls_over() -> None:
    os.kill(os.getpid(), signal.SIGSEGV)


def _leaves_files() -> str:
    return tempfile.mkdtemp()


@pytest.mark.parametrize(
    ("work", "seconds", "words"),
    [
        (_takes_all_memory, 60, "400.0 MB of memory"), (_never_ends, 1, "minutes of work"), (_falls_over, 60, "stops its reader"),
    ],
)  # fmt: skip
def test_a_reader_that_reaches_its_bounds_is_given_up_in_words(
    work: Callable[[], None], seconds: int, words: str
) -> None:
    with pytest.raises(BadInput, match=words):
        within(400_000_000, seconds, work)


def test_a_reader_leaves_nothing_behind() -> None:
    assert not Path(within(400_000_000, 5, _leaves_files)).exists()


def test_spoiled_files_are_read_or_refused() -> None:
    """Three hundred out of `bench/fuzz`, always the same ones, so that a failure is one of the change that is tested; new ones
    come from `python -m bench.fuzz.run`, each time from a fresh seed."""
    command = [sys.executable, "-W", "ignore", "-m", "bench.fuzz.run", "--files", "300", "--seed", "2026"]
    done = subprocess.run(command, cwd=Path(__file__).parents[2], capture_output=True, text=True)
    assert done.returncode == 0, done.stdout
    assert "300 files, 0 troubles" in done.stdout
