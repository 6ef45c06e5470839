"""Many rows of a key as one, and cross-lists kept as files."""

import csv
import json
from pathlib import Path

import duckdb
import numpy as np
import pyarrow as pa
import pytest
from greylatch.cli.main import main
from greylatch.errors import BadFile, BadInput
from greylatch.formats.files import read_file
from greylatch.places.cross_list import read_cross_list
from greylatch.tables.summing import HOW, summed

SQL = {
    "count": "count(v)", "sum": "sum(v)", "mean": "avg(v)", "median": "median(v)", "minimum": "min(v)", "maximum": "max(v)",
    "first": "first(v ORDER BY n) FILTER (v IS NOT NULL)",
}  # fmt: skip


@pytest.mark.parametrize("how", HOW)
@pytest.mark.parametrize("whole", [True, False])
def test_every_way_is_that_of_duckdb(how: str, whole: bool) -> None:
    """The referee is DuckDB (PyPI)."""
    rng = np.random.default_rng(8)
    n = 3_000
    values = rng.integers(-50, 50, n).tolist() if whole else rng.normal(size=n).tolist()
    values = [None if rng.random() < 0.1 else value for value in values]
    keys = [f"k{value}" if value < 45 else "" for value in rng.integers(0, 50, n)]
    columns = pa.table({"v": values})
    mine = summed(columns, keys, {"v": how})  # type: ignore[dict-item]
    rows = duckdb.from_arrow(pa.table({"k": keys, "v": values, "n": range(n)}))
    theirs = dict(rows.filter("k <> ''").aggregate(f"k, {SQL[how]}").fetchall())
    assert mine["key"].to_pylist() == list(dict.fromkeys(key for key in keys if key))
    for key, value in zip(mine["key"].to_pylist(), mine["v"].to_pylist(), strict=True):
        assert value == pytest.approx(theirs[key]), key


def test_keys_without_a_value_have_none_and_texts_are_counted_only() -> None:
    rows = pa.table({"v": [None, None, 3.0], "w": ["x", "y", None]})
    made = summed(rows, ["a", "a", "b"], {"v": "sum", "w": "first"})
    assert made.to_pylist() == [{"key": "a", "v": None, "w": "x"}, {"key": "b", "v": 3.0, "w": None}]
    assert summed(rows, ["a", "a", "b"], {"v": "median", "w": "count"}).to_pylist()[0] == {
        "key": "a",
        "v": None,
        "w": 2,
    }
    assert summed(rows, ["a", "a", "b"], {"w": "maximum"})["w"].to_pylist() == ["y", None]
    for how in ("sum", "mean", "median"):
        with pytest.raises(BadInput, match="holds no numbers"):
            summed(rows, ["a"] * 3, {"w": how})  # type: ignore[dict-item]
    with pytest.raises(BadInput, match="no field 'q'"):
        summed(rows, ["a"] * 3, {"q": "sum"})


def test_beds_of_huts_are_summed_up_where_they_stand(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    areas = {"type": "FeatureCollection", "features": [
        {"type": "Feature", "properties": {"isle": isle}, "geometry": {"type": "Polygon", "coordinates": [[[x, 0], [x + 1, 0], [x + 1, 1], [x, 0]]]}}
        for x, isle in enumerate(["Ard", "Mor", "Skara"])
    ]}  # fmt: skip
    (tmp_path / "isles.geojson").write_text(json.dumps(areas))
    (tmp_path / "huts.csv").write_text("isle,hut,beds\nArd,One,4\nMor,Two,6\nArd,Three,10\nMoor,Four,2\n")
    (tmp_path / "same.csv").write_text("spelling,area\nMoor,Mor\n")
    out = tmp_path / "out.geojson"
    given = [
        "join",
        str(tmp_path / "isles.geojson"),
        str(tmp_path / "huts.csv"),
        "--area-key",
        "isle",
        "--table-key",
        "isle",
        "--out",
        str(out),
    ]
    summed_up = [*given, "--cross-list", str(tmp_path / "same.csv"), "--summarise", "beds=sum,hut=count", "--json"]
    assert main(summed_up) == 0
    told = json.loads(capsys.readouterr().out)
    assert (told["matched"], told["rows_without_area"], told["duplicate_keys"]) == (2, [], [])
    columns = read_file(out).dataset.columns
    assert columns["beds"].to_pylist() == [14, 8, None] and columns["hut"].to_pylist() == [2, 2, None]
    assert main([*given, "--summarise", "beds=most"]) == 2
    assert "'beds=most' does not say" in capsys.readouterr().err


PAIRS = {"Heskeneess": "Heskeness", 'A "quoted", one': "Ärd", "left out": "", " blank ": "Ness"}


@pytest.mark.parametrize("name", ["same.json", "same.csv"])
def test_cross_lists_are_read_as_they_were_written(name: str, tmp_path: Path) -> None:
    """By Python's own writers of JSON and CSV."""
    with open(tmp_path / name, "w", newline="", encoding="utf-8") as file:
        if name.endswith("json"):
            json.dump(PAIRS, file)
        else:
            csv.writer(file).writerows([("spelling", "area"), *PAIRS.items()])
    assert read_cross_list(tmp_path / name) == PAIRS


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("{", "not readable as JSON"), ('{"a": 1}', "a text for each"), ("spelling,area\nArd\n", "line 2: there are to be two columns"),
        ("spelling,area\nArd,Mor\n\nArd,Ness\n", "line 4: 'Ard' stands for 'Mor' already"),
    ],
)  # fmt: skip
def test_what_is_no_cross_list_is_said(text: str, words: str, tmp_path: Path) -> None:
    (tmp_path / "same").write_text(text)
    with pytest.raises(BadFile, match=words):
        read_cross_list(tmp_path / "same")
    with pytest.raises(BadFile, match="cannot be read"):
        read_cross_list(tmp_path / "nowhere")
    (tmp_path / "latin").write_bytes("Ärd,Mor\n".encode("latin-1"))
    with pytest.raises(BadFile, match="UTF-8"):
        read_cross_list(tmp_path / "latin")
