"""Types of fields that are guessed hold every row, also those far down: common practice, no source."""

import pyarrow as pa
import pytest
from greylatch.errors import BadInput
from greylatch.tables.delimited import RawTable
from greylatch.tables.fieldtypes import SAMPLE, FieldType, guess_types, typed_columns
from hypothesis import example, given
from hypothesis import strategies as st

FAR = SAMPLE + 500


def read(cells: list[str], **types: FieldType) -> pa.ChunkedArray:
    return typed_columns(RawTable(pa.table({"field": cells}), 2), types)["field"]


@pytest.mark.parametrize(
    ("begin", "later", "type"),
    [
        ("1", "2.5", pa.float64()), ("1", "many", pa.string()), ("1.5", "many", pa.string()), ("1", "007", pa.string()),
        ("2026-05-31", "soon", pa.string()), ("yes", "perhaps", pa.string()), ("1", "n/a", pa.int64()),
    ],
)  # fmt: skip
def test_what_stands_far_down_counts(begin: str, later: str, type: pa.DataType) -> None:
    column = read([begin] * FAR + [later])
    assert column.type == type and len(column) == FAR + 1
    assert column.null_count == (later == "n/a"), "nothing is lost"


def test_a_field_that_begins_late_is_of_what_it_holds() -> None:
    """Diameters of storms were taken down from a year on that stood behind thousands of rows; they came as texts."""
    column = read([""] * FAR + ["120", "NA", "40"])
    assert column.type == pa.int64() and column.drop_null().to_pylist() == [120, 40]
    assert guess_types(RawTable(pa.table({"field": [""] * FAR}), 2)) == {"field": "text"}


def test_a_type_that_somebody_chose_is_kept_to() -> None:
    with pytest.raises(BadInput, match=rf"line {FAR + 2}: '2.5' is not a whole number"):
        read(["1"] * FAR + ["2.5"], field="integer")


NUMBERS = st.one_of(
    st.integers(-(10**19), 10**19).map(str), st.floats().map(repr), st.decimals(places=3, allow_nan=False, allow_infinity=False).map(str),
    st.sampled_from(["", "-", "n/a", "nan", "inf", "0", "-0", "007", "-007", "+7", "0x1f", "0X1F", "1.", ".5", "1e5", "1e400", "1,5", "1,204", "٣"]),
)  # fmt: skip


@given(st.lists(NUMBERS, min_size=1, max_size=4))
@example(["0x1f"])
@example(["9" * 19])
@example(["-9223372036854775808"])  # which has no absolute value in 64 bits
@example(["1", "1e400"])
@example(
    ["1.370"]
)  # thousands are parted, or it has decimals: what stands beside it tells, and so nothing may be put beside it
def test_numbers_that_are_read_at_a_stroke_are_those_that_are_looked_at(cells: list[str]) -> None:
    """Blanks round a number are not read at a stroke, and so the same column with blanks shows what the other way gives."""
    quick, thorough = read(cells), read([f" {cell} " for cell in cells])
    if pa.types.is_string(quick.type) or not set(cells) - {"", "-", "n/a", "nan"}:
        return
    assert quick.type == thorough.type and quick.cast(pa.string()).equals(thorough.cast(pa.string()))
