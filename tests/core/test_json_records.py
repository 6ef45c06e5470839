"""Tables that are a JSON list of records, as services and programs hand them out."""

import json
from pathlib import Path
from typing import Any

import pandas as pd
import pytest
from greylatch.errors import BadInput
from greylatch.formats.files import read_file
from greylatch.formats.kinds import file_kind


def written(folder: Path, records: Any) -> Path:
    path = folder / "t.json"
    path.write_text(json.dumps(records))
    return path


def test_records_are_the_rows_that_pandas_reads(tmp_path: Path) -> None:
    """Against pandas.read_json (PyPI): counts, parts, truths, and what is missing in some."""
    records = [
        {"isle": "Hallan", "wells": 12, "depth": 2.5, "open": True},
        {"isle": "Örrin", "wells": 7, "depth": None, "open": False},
        {"wells": 3, "isle": "Ulvery", "open": True, "seen": "2026-05-31"},
    ]
    path = written(tmp_path, records)
    columns, theirs = read_file(path).dataset.columns, pd.read_json(path)
    assert columns.column_names == list(theirs.columns)
    for name in ("isle", "wells", "open"):
        assert columns[name].to_pylist() == theirs[name].tolist()
    assert columns["depth"].to_pylist() == [2.5, None, None]
    assert [each and each.date().isoformat() for each in columns["seen"].to_pylist()] == [None, None, "2026-05-31"]


def test_coordinates_in_records_make_points(tmp_path: Path) -> None:
    found = read_file(
        written(tmp_path, [{"name": "A", "lon": -27.1, "lat": 52.0}, {"name": "B", "lon": -27, "lat": 52.1}])
    )
    assert (found.dataset.kind, len(found.dataset)) == ("points", 2)


def test_what_is_nested_stays_json(tmp_path: Path) -> None:
    columns = read_file(written(tmp_path, [{"a": {"b": [1, 2]}}, {"a": "x"}])).dataset.columns
    assert columns["a"].to_pylist() == ['{"b":[1,2]}', "x"]


def test_lists_of_features_and_of_anything_else_are_no_tables(tmp_path: Path) -> None:
    feature = {"type": "Feature", "properties": {}, "geometry": None}
    assert file_kind(written(tmp_path, [feature])).name == "geojson"
    assert file_kind(written(tmp_path, {"a": 1})).name == "geojson"
    for records, message in (
        ([{"a": 1}, 3], r"Item 2 of the list is no record"),
        ([{}, {}], "No record in this list has a field"),
        ([{"a": "x" * 2_000_000}], "longer than"),
    ):
        with pytest.raises(BadInput, match=message):
            read_file(written(tmp_path, records))
    (tmp_path / "t.json").write_text('[{"a": 1},')
    with pytest.raises(BadInput, match="not valid JSON"):
        read_file(tmp_path / "t.json")
