"""One to one: against every assignment there is, on small cases; and on suggestions for a join."""

from itertools import permutations

import numpy as np
import pytest
from greylatch.places import assignment
from greylatch.places.assignment import assigned
from greylatch.places.join import suggested

RNG = np.random.default_rng(11)


def best_of_all(likeness: np.ndarray) -> float:
    keys, areas = likeness.shape
    wide = np.hstack([likeness, np.zeros((keys, keys))])
    return max(sum(wide[i, j] for i, j in enumerate(chosen)) for chosen in permutations(range(areas + keys), keys))


@pytest.mark.parametrize("case", range(12))
def test_no_other_assignment_adds_up_to_more(case: int) -> None:
    keys, areas = RNG.integers(1, 5), RNG.integers(1, 4)
    likeness = np.where(RNG.random((keys, areas)) < 0.7, RNG.integers(60, 100, (keys, areas)), 0).astype(float)
    wanted = {
        f"k{i}": sorted(((likeness[i, j], f"a{j}") for j in range(areas) if likeness[i, j]), reverse=True) for i in range(keys)
    }  # fmt: skip
    given = assigned(wanted)
    assert len(set(given.values())) == len(given)
    total = sum(next(value for value, area in wanted[key] if area == given[key]) for key in given)
    assert total == pytest.approx(best_of_all(likeness))


def test_groups_that_are_too_large_take_the_likest_first(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(assignment, "LARGEST", 1)
    wanted = {"x": [(90.0, "a"), (80.0, "b")], "y": [(95.0, "a")], "z": [(70.0, "b"), (69.0, "c")]}
    assert assigned(wanted) == {"x": "b", "y": "a", "z": "c"}
    assert assigned({}) == {} and assigned({"x": []}) == {}


def test_a_spelling_gives_way_to_one_that_is_liker() -> None:
    """Both are most like Skaranor; the one that has another to go to is proposed that one first, and nothing of it is taken for sure."""
    found = suggested(["Skaranorr", "Skaranos"], ["Skaranor", "Skaranus"])
    assert [found[key][0].area for key in ("Skaranorr", "Skaranos")] == ["Skaranor", "Skaranus"]
    firsts = [
        each[0].area
        for each in suggested(["Hallan N", "Hallan S", "Hallan"], ["Hallan North", "Hallan South", "Hallan"]).values()
    ]
    assert len(set(firsts)) == 3
