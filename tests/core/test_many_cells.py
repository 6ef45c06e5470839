"""Many cells changed at once. The referee for expressions and replacing is DuckDB (PyPI)."""

from pathlib import Path
from typing import Any

import duckdb
import pyarrow as pa
import pytest
from greylatch.errors import BadExpression, BadInput
from greylatch.formats.files import read_file
from greylatch.rules import many_cells
from greylatch.rules.many_cells import Calculate, Change, Fill, Order, Replace, planned
from greylatch.tables.dataset import Dataset
from greylatch.tables.edit import AddField, SetCells

ISLES = Dataset(pa.table({"isle": ["Orin", "Ulvery", None], "ha": [3.0, 5.5, None], "n": [1, 2, 3]}), "table")


def test_a_field_is_worked_out_as_a_database_does(demo: Path) -> None:
    wells = read_file(demo / "dip_wells.csv").dataset
    found = planned(
        wells, Calculate(name="share", expression="heather / (sphagnum + heather)", where="condition = 'intact'")
    )
    plots = wells.columns
    theirs = duckdb.sql(
        "SELECT fid, heather / nullif(sphagnum + heather, 0) FROM (SELECT *, row_number() OVER () - 1 AS fid FROM plots) "
        "WHERE condition = 'intact'"
    ).fetchall()
    assert len(theirs) > 100 and plots.num_rows == 2400
    assert {change.fid: change.after for change in found.changes} == pytest.approx(
        {fid: value for fid, value in theirs if value is not None}
    )
    assert found.new_field == AddField(name="share", type="number") and found.edits[0] == found.new_field


def test_a_field_that_is_there_keeps_its_type() -> None:
    assert [change.after for change in planned(ISLES, Calculate(name="ha", expression="n * 2")).changes] == [2, 4, 6]
    with pytest.raises(BadInput, match="'isle' holds text, and the expression gives integer"):
        planned(ISLES, Calculate(name="isle", expression="n"))
    with pytest.raises(BadExpression, match="Line 1, column 5"):
        planned(ISLES, Calculate(name="x", expression="n + "))


def test_cells_are_filled_with_what_fits_their_field() -> None:
    assert planned(ISLES, Fill(field="ha", value="5,5")).changes == [
        Change(0, "ha", 3.0, 5.5),
        Change(2, "ha", None, 5.5),
    ]
    assert planned(ISLES, Fill(field="isle", value=None, where="n < 2")).changes == [Change(0, "isle", "Orin", None)]
    with pytest.raises(BadInput, match="Field 'ha': 'much' is not a number"):
        planned(ISLES, Fill(field="ha", value="much"))


@pytest.mark.parametrize(
    ("asked", "sql"),
    [
        (Replace(find="or", put="OR"), "regexp_replace(isle, 'or', 'OR', 'gi')"),
        (Replace(find="or", put="OR", case=True), "replace(isle, 'or', 'OR')"),
        (Replace(find=".", put="!"), "replace(isle, '.', '!')"),
        (Replace(find="orin", put=r"\1", whole=True), r"CASE WHEN lower(isle) = 'orin' THEN '\1' ELSE isle END"),
    ],
)
def test_words_are_replaced_as_a_database_does(asked: Replace, sql: str) -> None:
    isles = pa.table({"isle": ["Orin", "Orr. orin", "a.b", "orin", None]})
    theirs = [value for (value,) in duckdb.sql(f"SELECT {sql} FROM isles").fetchall()]
    after = dict(enumerate(isles["isle"].to_pylist()))
    after |= {change.fid: change.after for change in planned(Dataset(isles, "table"), asked).changes}
    assert list(after.values()) == theirs


def test_equal_cells_change_together_and_too_many_do_not(monkeypatch: pytest.MonkeyPatch) -> None:
    data = Dataset(pa.table({"v": ["a", "b", "a"]}), "table")
    (edit,) = planned(data, Replace(find="a", put="c")).edits
    assert edit == SetCells(fids=[0, 2], field="v", value="c")
    monkeypatch.setattr(many_cells, "MOST_CHANGES", 1)
    with pytest.raises(BadInput, match="2 cells would change; at most 1 do at once"):
        planned(data, Replace(find="a", put="c"))
    with pytest.raises(BadInput, match="holds no text"):
        planned(ISLES, Replace(field="n", find="1"))


def numbered(data: Dataset, **asked: Any) -> dict[int, Any]:
    """The number of each row after a change, by fid."""
    before = data.columns["rank"].to_pylist() if "rank" in data.columns.column_names else [None] * len(data)
    after = dict(zip(data.fids.tolist(), before, strict=True))
    return after | {change.fid: change.after for change in planned(data, Order(name="rank", **asked)).changes}


def test_rows_are_numbered_and_moved() -> None:
    data = Dataset(pa.table({"name": ["c", None, "a", "b"]}), "table")
    assert numbered(data) == {0: 1, 1: 2, 2: 3, 3: 4}, "as they stand"
    assert numbered(data, by="name") == {2: 1, 3: 2, 0: 3, 1: 4}, "what has no value comes last"
    assert numbered(data, by="name", descending=True) == {0: 1, 3: 2, 2: 3, 1: 4}
    assert planned(data, Order(name="rank")).new_field is not None
    ranked = Dataset(pa.table({"rank": [2, 1, None, 4]}), "table")
    assert numbered(ranked) == {1: 1, 0: 2, 3: 3, 2: 4}, "without gaps"
    assert numbered(ranked, move=2, before=1) == {2: 1, 1: 2, 0: 3, 3: 4}
    assert numbered(ranked, move=1) == {0: 1, 3: 2, 2: 3, 1: 4}, "last"
    assert numbered(ranked, move=0, before=0) == numbered(ranked), "where it is"
    assert [
        change.fid
        for change in planned(
            Dataset(pa.table({"rank": [1, 2, 3, 4]}), "table"), Order(name="rank", move=3, before=2)
        ).changes
    ] == [2, 3]


def test_what_cannot_be_numbered() -> None:
    data = Dataset(pa.table({"name": ["a", "b"], "x": [1.5, 2]}), "table")
    for asked, words in (
        ({"name": "name"}, "whole numbers"), ({"name": " "}, "needs a name"), ({"name": "n", "move": 9}, "no feature 9"), ({"name": "n", "by": "no"}, "no"),
    ):  # fmt: skip
        with pytest.raises(BadInput, match=words):
            planned(data, Order(**asked))
