"""A condition for chosen rows. Referee: the language of conditions itself, which must take these rows and no others."""

import numpy as np
import pyarrow as pa
import pytest
from greylatch.errors import BadInput
from greylatch.rules.evaluating import taken
from greylatch.rules.telling import condition_telling
from greylatch.tables.dataset import Dataset

ISLES = Dataset(
    pa.table(
        {
            "depth": [1.5, 2.5, 3.5, 4.5, 5.5, 6.5],
            "of what": ["peat", "peat", "rock", "rock", "O'Mhór", "sand"],
            "isle": ["Ard", "Skara", "Ulvery", "Pellay", "Orrin", None],
            "well_id": [11, 12, 13, 14, 15, 16],
        }
    ),
    "table",
)


@pytest.mark.parametrize(
    ("rows", "text"),
    [
        ([0, 1], "\"of what\" = 'peat'"),
        ([4], "well_id = 15"),
        ([0, 3], "well_id IN (11, 14)"),
        ([2, 5], "well_id IN (13, 16)"),
        ([0, 1, 2, 3], "well_id IN (11, 12, 13, 14)"),
    ],
)
def test_it_takes_them_and_no_others(rows: list[int], text: str) -> None:
    assert condition_telling(ISLES, np.array(rows)) == text
    assert np.flatnonzero(taken(ISLES, text)).tolist() == rows


def test_names_are_taken_where_there_is_no_number_of_its_own() -> None:
    isles = Dataset(ISLES.columns.drop_columns(["well_id", "depth"]), "table")
    assert condition_telling(isles, np.array([4, 2])) == "isle IN ('Orrin', 'Ulvery')"
    # The sixth has no name: what it is of tells it.
    assert condition_telling(isles, np.array([5])) == "\"of what\" = 'sand'"


def test_every_choice_of_a_made_table_is_told() -> None:
    rng = np.random.default_rng(2)
    codes = [f"A{i}'{i}" for i in range(40)]
    data = Dataset(pa.table({"kind": rng.choice(["a", "b"], 40), "code": codes}), "table")
    for _ in range(30):
        rows = np.sort(rng.choice(40, rng.integers(1, 12), replace=False))
        assert np.flatnonzero(taken(data, condition_telling(data, rows))).tolist() == rows.tolist()


def test_what_cannot_be_told_apart_is_said() -> None:
    alike = Dataset(pa.table({"isle": ["Ard", "Ard", "Skara"], "depth": [1.5, 2.5, 3.5]}), "table")
    with pytest.raises(BadInput, match="No field tells"):
        condition_telling(alike, np.array([0]))
    with pytest.raises(BadInput, match="None of the chosen"):
        condition_telling(alike, np.array([77]))
