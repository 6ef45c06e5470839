"""Tables changed by hand, in the core alone."""

from __future__ import annotations

from typing import Any

import numpy as np
import pyarrow as pa
import pyproj
import pytest
import shapely
from greylatch.errors import BadInput, Conflict
from greylatch.places.crs import LONLAT
from greylatch.places.draft import Draft
from greylatch.tables.edit import (
    AddField,
    AddRow,
    DeleteField,
    DeleteRows,
    DescribeField,
    MovePoint,
    SetCell,
    cell_value,
)
from greylatch.tables.record import columns_of_json, free_key, kept_fields, recordable, rows_as_json, same_values

TABLE = pa.table({"name": ["A", "B", "C"], "v": [1.5, None, -9999.0]})


def draft(crs: pyproj.CRS | None = None, kind: Any = "table") -> Draft:
    fields = kept_fields(TABLE)
    rows = dict(enumerate(TABLE.to_pylist()))
    return Draft(kind, crs, fields, 3, 3, None, rows, lambda: {"name", "v", "old"}, lambda: (np.arange(3), TABLE))


def missing(one: Draft) -> dict[str, int]:
    return {field.name: field.missing for field in one.fields}


def test_what_is_missing_is_counted_through_every_change() -> None:
    one = draft()
    assert missing(one) == {"name": 0, "v": 2}, "-9999 stands for nothing"
    assert one.take([SetCell(fid=1, field="v", value="3,5", was=None)])
    assert missing(one)["v"] == 1
    one.take([AddRow(values={"name": "D"}), DeleteRows(fids=[2])])
    assert (missing(one), one.count, one.next_fid) == ({"name": 0, "v": 1}, 3, 4)
    one.take([DescribeField(name="v", kind="rate", missing=[3.5])])
    assert missing(one)["v"] == 2, "the changed cell and the new row; the row with -9999 is gone"
    assert one.changed == {1: {"name": "B", "v": 3.5}, 2: None, 3: {"name": "D", "v": None}}
    assert one.words() == "1 cell changed, 1 row added, 1 row deleted, 1 field described."


def test_later_of_two_is_refused_with_both_values() -> None:
    with pytest.raises(Conflict, match=r"Row 1, field 'v': 1.5 was written there meanwhile; you wrote 2 over 7"):
        draft().take([SetCell(fid=0, field="v", value=2, was=7)])


def test_a_field_that_comes_back_is_another_one() -> None:
    one = draft()
    one.take([DeleteField(name="v"), AddField(name="v", type="text"), AddField(name="old", type="number")])
    assert [field.key for field in one.fields] == ["name", "v (2)", "old (2)"]
    assert missing(one) == {"name": 0, "v": 3, "old": 3}
    with pytest.raises(BadInput, match="only field"):
        one.take([DeleteField(name=name) for name in ("v", "old", "name")])


def test_points_lie_where_they_are_put_in_the_files_own_coordinates() -> None:
    utm = pyproj.CRS("EPSG:32630")
    one = draft(utm, "points")
    one.take([MovePoint(fid=0, place=(-3.0, 56.0)), AddRow(place=(-2.0, 57.0))])
    back = pyproj.Transformer.from_crs(utm, LONLAT, always_xy=True)
    places = [back.transform(*shapely.get_coordinates(one.shapes[fid])[0]) for fid in (0, 3)]
    assert np.allclose(places, [(-3, 56), (-2, 57)])
    assert one.bounds == [-3, 56, -2, 57]
    with pytest.raises(BadInput, match="needs a place"):
        one.take([AddRow()])
    with pytest.raises(BadInput, match="holds areas, not points"):
        draft(utm, "areas").take([MovePoint(fid=0, place=(0, 0))])


@pytest.mark.parametrize(
    ("column", "typed", "kept"),
    [
        (pa.array([1], pa.int8()), "127", 127), (pa.array([1], pa.uint64()), "+5", 5), (pa.array([1.5]), "1,5", 1.5),
        (pa.array(["a"]), "  x ", "x"), (pa.array(["a"]), "none", "none"), (pa.array(["a"]), " ", None), (pa.array([True]), "no", False),
        (pa.array([0], pa.date32()), "2026-05-31", "2026-05-31"), (pa.array([0], pa.timestamp("ms")), "2026-05-31T10:00", "2026-05-31T10:00:00"),
    ],
)  # fmt: skip
def test_cells_keep_what_is_typed_by_their_type(column: pa.Array, typed: str, kept: Any) -> None:
    table = recordable(pa.table({"a": column}))
    field = kept_fields(table)[0]
    assert cell_value(field, typed) == kept
    back = columns_of_json(
        ['{"a": ' + ("null" if kept is None else repr(kept).replace("'", '"').replace("False", "false")) + "}"], [field]
    )
    assert back.schema.field("a").type == table.schema.field("a").type


@pytest.mark.parametrize(
    ("type_", "typed"), [(pa.int8(), "128"), (pa.uint64(), "-1"), (pa.int64(), "1.5"), (pa.int64(), "x")]
)
def test_numbers_that_the_field_has_no_room_for_are_refused(type_: pa.DataType, typed: str) -> None:
    with pytest.raises(BadInput):
        cell_value(kept_fields(pa.table({"a": pa.array([1], type_)}))[0], typed)


def test_any_columns_come_back_from_the_record_as_they_were() -> None:
    """Texts with what JSON writes differently, and the ends of each type's range; made up, the ranges are those of IEEE 754 and of Arrow."""
    table = recordable(
        pa.table(
            {
                "text": ['a"\\\n\t\x01', "", None, "ünï😀"], "number": [5e-324, 1.7976931348623157e308, None, -0.1], "whole": [2**63 - 1, -(2**63), None, 0],
                "large": pa.array([2**64 - 1, 0, None, 1], pa.uint64()), "list": [[1], None, [], [2, 3]], "word": pa.array(["a", "b", "a", None]).dictionary_encode(),
                "day": pa.array([0, -1, None, 20_000], pa.date32()), "moment": pa.array([0, -1, None, 1_790_000_000_123], pa.timestamp("ms")), "yes": [True, False, None, True],
                "nothing": pa.nulls(4),
            }
        )
    )  # fmt: skip
    fields = kept_fields(table)
    back = columns_of_json(rows_as_json(table, table.column_names).to_pylist(), fields)
    assert back.schema == table.schema
    assert all(same_values(table[name], back[name]).all() for name in table.column_names)
    assert free_key("text", table.column_names) == "text (2)"
