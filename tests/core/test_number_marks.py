"""What commas and points mean in a table's numbers. The forms are those of counties' unemployment (the United States' labour
statistics, as bokeh-sampledata ships them), and of tables that German and French offices write; which of them is meant is common
practice, with no source."""

from pathlib import Path

import pyarrow as pa
import pytest
from greylatch.errors import BadInput
from greylatch.formats.corrections import Corrections
from greylatch.formats.files import read_file
from greylatch.formats.preview import preview
from greylatch.tables.delimited import RawTable
from greylatch.tables.fieldtypes import guess_types, typed_columns
from greylatch.tables.number_marks import thousands_marks


@pytest.mark.parametrize(
    ("cells", "beside", "mark"),
    [
        (["2,263", "456"], ["9.7", "12.25"], ","),
        (["2.263", "456"], ["9,7", "12,25"], "."),
        (["1,081,234", "2,263"], [], ","),
        (["1.081.234", "2.263"], [], "."),
        (["1,234.5", "2,263"], [], ","),
        (["1.234,5"], [], "."),
        (["2,263", "12.5"], [], ","),
        (["2,260", "456", "1,999"], [], ","),
        # Three places behind the mark and nothing that tells.
        (["2,263", "1,204"], [], None),
        (["2,263", "12"], [], None),
        (["2,260", "12,000"], [], None),
        # Decimals.
        (["0,125", "2,263"], ["9.7"], None),
        (["12,5", "2,263"], [], None),
        (["52.123", "51.9"], ["12,5"], None),
        (["52.123", "51.987"], ["52.25"], None),
        # What is no number tells of nothing.
        (["2,263", "12"], ["5.6.", "12.5"], None),
        (["192.168.1.1", "10.0.0.1"], [], None),
        # Two ways at once.
        (["2,263", "1,204"], ["1,5", "1.5"], None),
    ],
)
def test_what_parts_thousands(cells: list[str], beside: list[str], mark: str | None) -> None:
    assert thousands_marks({"n": cells, "beside": beside}).get("n") == mark


def test_numbers_are_read_as_their_table_writes_them() -> None:
    raw = RawTable(pa.table({"people": ["23,288  ", "-456", "n/a"], "rate": ["9.7", "+9.1", "13"]}), 1)
    types = guess_types(raw)
    assert types == {"people": "integer", "rate": "number"}
    columns = typed_columns(raw, types)
    assert columns["people"].to_pylist() == [23288, -456, None]
    assert columns["rate"].to_pylist() == [9.7, 9.1, 13.0]
    german = RawTable(pa.table({"a": ["1.234,5", "1.000"], "b": ["12,25", ",5"]}), 1)
    assert typed_columns(german, {}).to_pydict() == {"a": [1234.5, 1000.0], "b": [12.25, 0.5]}
    assert typed_columns(raw, {"people": "text"})["people"].to_pylist() == ["23,288", "-456", None]


def test_a_later_cell_tells_what_its_column_means() -> None:
    raw = RawTable(pa.table({"n": ["2,263"] * 2_000 + ["1,081,234"]}), 2)
    assert typed_columns(raw, {})["n"].to_pylist()[-2:] == [2263, 1081234]
    with pytest.raises(BadInput, match="Field 'n', line 2002: '1,081,234' is not a number"):
        typed_columns(raw, {"n": "number"})


def test_what_commas_were_taken_for_is_said(tmp_path: Path) -> None:
    path = tmp_path / "counties.csv"
    path.write_text('county,labour,unemployed,rate\nOne,"23,288  ","2,263  ",9.7\nTwo,"81,706  ","456  ",9.1\n')
    said = "Commas part thousands in 'labour', 'unemployed'."
    result = read_file(path)
    assert result.dataset.columns["unemployed"].to_pylist() == [2263, 456]
    assert result.notes == [said]
    seen = preview(path, path.name, Corrections())
    assert said in seen.notes
    assert [field.type for field in seen.fields] == ["text", "integer", "integer", "number"]
