"""Work in several processes: the same as in one, in its order, ended when nobody asks for more; tiles of a map byte for byte."""

import os
import threading
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from greylatch.cli.draw import beside
from greylatch.paint.passes import compose
from greylatch.sheet.reading import read_sheet
from greylatch.tiles.map_pyramid import cut_map, map_blocks, map_levels, padded_bounds
from greylatch.tiles.processes import in_processes

HERE = os.getpid()


def squared(n: int) -> tuple[int, int]:
    return n * n, os.getpid()


def failing(n: int) -> int:
    if n == 3:
        raise ValueError("the fourth piece")
    return n


@pytest.fixture
def alone() -> Iterator[None]:
    """Forking asks for a process of a single thread; where the test runner has more, there is nothing to be seen."""
    if threading.active_count() > 1:
        pytest.skip("this process has several threads")
    yield


def test_pieces_come_back_in_their_order_from_other_processes(alone: None) -> None:
    made = list(in_processes(squared, range(20), processes=2))
    assert [square for square, _ in made] == [n * n for n in range(20)]
    assert HERE not in {pid for _, pid in made} and len({pid for _, pid in made}) <= 2


def test_what_is_too_large_to_be_sent_is_forked(alone: None) -> None:
    held: dict[str, Any] = {"open": open(__file__), "factor": 3}  # noqa: SIM115 - no such thing can be sent
    try:
        assert list(in_processes(lambda n: n * held["factor"], [1, 2], processes=2)) == [3, 6]
    finally:
        held["open"].close()


def test_one_process_and_nothing_to_do_need_no_pool() -> None:
    assert list(in_processes(squared, [], processes=4)) == []
    assert list(in_processes(squared, [5], processes=1)) == [(25, HERE)]
    assert list(in_processes(squared, [5, 6], processes=1)) == [(25, HERE), (36, HERE)]


def test_with_several_threads_it_is_done_here_unless_it_can_be_sent() -> None:
    stop = threading.Event()
    other = threading.Thread(target=stop.wait)
    other.start()
    try:
        assert {pid for _, pid in in_processes(squared, [1, 2, 3], processes=2)} == {HERE}
        made = list(in_processes(squared, [1, 2, 3], processes=2, sendable=True))
        assert [square for square, _ in made] == [1, 4, 9] and HERE not in {pid for _, pid in made}
    finally:
        stop.set()
        other.join()


@pytest.mark.parametrize("processes", [1, 2])
def test_a_mistake_in_a_piece_is_heard(processes: int) -> None:
    done = []
    with pytest.raises(ValueError, match="the fourth piece"):
        for n in in_processes(failing, range(8), processes):
            done.append(n)
    assert done == [0, 1, 2]


def test_who_stops_asking_ends_the_work(alone: None) -> None:
    pieces = in_processes(squared, range(200), processes=2)
    assert next(pieces)[0] == 0
    pieces.close()  # type: ignore[attr-defined]
    assert [square for square, _ in in_processes(squared, [2, 3], processes=2)] == [4, 9]


def test_a_map_is_the_same_from_any_number_of_processes(demo: Path, tmp_path: Path) -> None:
    composition = compose(read_sheet(demo / "carbon.sheet.json"), beside(demo))
    told = [
        cut_map(composition, tmp_path / f"{n}.pmtiles", "map", max_zoom=10, processes=n) for n in (1, 2)
    ]  # fmt: skip
    assert told[0] == told[1] and told[0]["tiles"] > 10
    assert (tmp_path / "1.pmtiles").read_bytes() == (tmp_path / "2.pmtiles").read_bytes()


def test_blocks_are_painted_where_the_map_is_and_nowhere_else(demo: Path) -> None:
    """Their tiles together are those of the level that share ground with the map, each once (no outside source)."""
    composition = compose(read_sheet(demo / "carbon.sheet.json"), beside(demo))
    grid, levels = composition.frame.grid, map_levels(composition)
    for z in range(levels.min_zoom, levels.max_zoom + 1):
        box = padded_bounds(composition, z)
        blocks = [block for block in map_blocks(composition, levels) if block.bottom == z]
        painted = [tile for block in blocks for tile in block.over(grid, box)]
        assert sorted(painted) == sorted(grid.tiles_over(box, z))
        assert len(painted) < sum(block.side**2 for block in blocks) or z == levels.min_zoom
