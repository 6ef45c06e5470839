"""The keys of a join that nobody has chosen, told by what stands in them. Countries and counties are those of world-atlas and
us-atlas (npm, public domain: Natural Earth and the US Census Bureau); the tables' figures are made up."""

from pathlib import Path

import numpy as np
import pyarrow as pa
import pytest
from greylatch.formats.files import read_file
from greylatch.places.likely_fields import likely_keys
from greylatch.tables.dataset import Dataset

ATLASES = Path(__file__).parents[2] / "web" / "node_modules"


@pytest.fixture(scope="module")
def countries() -> Dataset:
    return read_file(ATLASES / "world-atlas" / "countries-110m.json", layer="countries").dataset


@pytest.fixture(scope="module")
def counties() -> Dataset:
    return read_file(ATLASES / "us-atlas" / "counties-10m.json", layer="counties").dataset


def test_names_in_whatever_case_beside_a_year_and_a_running_number(countries: Dataset) -> None:
    names = countries.columns["name"].to_pylist()
    table = pa.table({
        "n": range(1, 2 * len(names) + 1),
        "year": [2009, 2010] * len(names),
        "land": [name.upper() for name in names for _ in range(2)],
        "continent": ["Somewhere"] * 2 * len(names),
    })  # fmt: skip
    assert likely_keys(countries.columns, table) == ("name", "land")


def test_codes_without_their_noughts(counties: Dataset) -> None:
    codes = counties.columns["id"].to_pylist()
    table = pa.table({
        "state": [int(code[:2]) for code in codes],
        "county": [int(code[2:]) for code in codes],
        "fips": [int(code) for code in codes],
        "jobless": np.arange(len(codes)) % 97,
    })  # fmt: skip
    assert likely_keys(counties.columns, table) == ("id", "fips")


def test_one_more_key_is_of_fields_that_are_none_yet() -> None:
    areas = pa.table({"name": ["Ard", "Bay", "Ard"], "isle": ["North", "North", "South"], "n": [7, 8, 9]})
    table = pa.table({"place": ["Ard", "Bay", "Ard"], "lies_on": ["North", "North", "South"]})
    first = likely_keys(areas, table)
    assert first == ("name", "place")
    assert likely_keys(areas, table, [first]) == ("isle", "lies_on")
    assert likely_keys(areas, table, [first, ("isle", "lies_on")]) is None


def test_a_few_of_many(counties: Dataset) -> None:
    some = counties.columns["id"].to_pylist()[5:2000:100]
    table = pa.table({"place": [f"Place {i}" for i in range(len(some))], "code": some})
    assert likely_keys(counties.columns, table) == ("id", "code")


def test_a_kind_that_all_have_is_no_key() -> None:
    areas = pa.table({"kind": ["bog", "fen", "bog", "fen"], "plot": ["a", "b", "c", "d"]})
    assert likely_keys(areas, pa.table({"what": ["bog", "fen"], "which": ["A", "D"]})) == ("plot", "which")


def test_nothing_in_common(countries: Dataset) -> None:
    assert likely_keys(countries.columns, pa.table({"well": ["W1", "W2"], "depth": [1.5, 2.5]})) is None
    assert likely_keys(countries.columns, pa.table({"well": pa.array([], pa.string())})) is None
    odd = pa.table({"digits": ["²", "9" * 5_000, "٣"]})
    assert likely_keys(odd, odd) == ("digits", "digits")
