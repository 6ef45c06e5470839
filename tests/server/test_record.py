"""Rows on record: what is written in bulk comes back as it was."""

from __future__ import annotations

import numpy as np
import pyarrow as pa
import pytest
import shapely
from greylatch.tables.dataset import Dataset as Data
from greylatch.tables.record import kept_fields
from library import record
from library.models import Dataset, Revision

TEXTS = [
    "plain",
    'with "quotes", commas',
    "two\nlines\tand a tab",
    "back\\slash \\x41",
    "Łódź 東京 \U0001f5fa",
    "",
    None,
]


@pytest.mark.parametrize("lot", [50_000, 3])
def test_odd_texts_and_shapes_come_back_as_they_were(wells: Dataset, monkeypatch: pytest.MonkeyPatch, lot: int) -> None:
    monkeypatch.setattr(record, "LOT", lot)
    columns = pa.table(
        {"text": TEXTS, "n": [1, -(2**62), None, 0, 5, 6, 7], "v": [0.1, -1e300, 1e-300, None, 5.0, 6.0, 7.0]}
    )
    fields = kept_fields(columns)
    fids = np.array([1000, 1003, 1004, 2**40, 2**40 + 1, 2**62, 2**63 - 1])
    shapes = shapely.from_wkt(
        ["POINT (1 2)", "POINT EMPTY", "GEOMETRYCOLLECTION EMPTY", "MULTIPOINT (0 0, 1 1)", "POINT (-0.1 1e-9)", "LINESTRING (0 0, 1 1)",
         "POLYGON ((0 0, 1 0, 1 1, 0 0))"]
    )  # fmt: skip
    told: list[tuple[int, int]] = []
    revision = Revision.objects.create(dataset=wells, number=99, change="made up", rows=len(fids))
    size = record.write_attributes(
        wells.pk, 99, fids, columns, columns.column_names, lambda done, total, _: told.append((done, total))
    )
    record.write_shapes(wells.pk, 99, Data(columns, "points", shapes, fids=fids))
    assert told == [(min(len(fids), start + lot), len(fids)) for start in range(0, len(fids), lot)]
    assert size > sum(len(text.encode()) for text in TEXTS if text)
    there, back = record.read_attributes(revision, fields, fids)
    assert there.tolist() == fids.tolist()
    assert back.to_pylist() == columns.to_pylist()
    there, places = record.read_shapes(revision, fids)
    assert there.tolist() == fids.tolist()
    assert (shapely.to_wkb(places) == shapely.to_wkb(shapes)).all()


def test_no_row_is_no_trouble(wells: Dataset) -> None:
    nothing = np.empty(0, dtype=np.int64)
    rows = Data(pa.table({"a": pa.array([], pa.int64())}), "points", np.empty(0, dtype=object), fids=nothing)
    assert record.write_shapes(wells.pk, 99, rows) == 0
