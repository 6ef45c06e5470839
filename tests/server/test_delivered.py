"""A large delivery is on record as it came, and row by row soon after: nobody can tell the two apart by what they hold."""

from __future__ import annotations

from datetime import timedelta
from pathlib import Path
from typing import Any

import geopandas
import numpy as np
import pytest
import shapely
from django.db import transaction
from django.test import Client
from django.utils import timezone
from library import record, row_by_row, store
from library.derived import fields_of, forget_derived, source_of
from library.models import Attributes, Dataset, Delivered, Shape
from library.store import forget

from tests.server.conftest import POINTS, bring_in, fetch, send
from tests.server.tables import cell, change, state

PLACES = [f"{line},{-27 + i / 10:.1f},{52 - i / 20:.2f}" for i, line in enumerate(POINTS.splitlines()[1:])]
WELLS = "\n".join([f"{POINTS.splitlines()[0]},lon,lat", *PLACES]).encode()


@pytest.fixture(autouse=True)
def few_are_many(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(store, "MANY", 2)
    monkeypatch.setattr("library.delivered.PART", 512)


def brought(owner: Client, name: str, data: bytes) -> Dataset:
    job = bring_in(owner, name, data)
    assert job["state"] == "done", job
    return Dataset.objects.select_related("current__dataset").get(pk=job["result"]["dataset"])


@pytest.fixture
def wells(owner: Client) -> Dataset:
    return brought(owner, "wells.csv", WELLS)


def counts(dataset: Dataset) -> tuple[int, int, bool]:
    kinds = (Attributes, Shape)
    rows, shapes = (kind._default_manager.filter(dataset=dataset).count() for kind in kinds)
    return rows, shapes, Delivered.objects.filter(dataset=dataset).exists()


def written(folder: Path, of: str) -> tuple[str, bytes]:
    """A file of areas, lines in metres, several points to a row, or rows without any shape."""
    squares = [shapely.box(i, 50, i + 0.5, 50.5) for i in range(-27, -20)]
    shapes: dict[str, Any] = {
        "areas": squares, "lines": [shapely.LineString([(1e5 * i, 0), (1e5 * i, 9e4)]) for i in range(7)],
        "points": [shapely.MultiPoint([(i, 51), (i, 52)]) for i in range(7)],
    }  # fmt: skip
    if of == "table":
        return "rows.csv", b"name,n\n" + b"".join(b"Ard %d,%d\n" % (i, i) for i in range(7))
    frame = geopandas.GeoDataFrame(
        {"name": [f"Ard {i}" for i in range(7)]}, geometry=shapes[of], crs=32626 if of == "lines" else 4326
    )
    frame.to_parquet(folder / "rows.parquet")
    return "rows.parquet", (folder / "rows.parquet").read_bytes()


@pytest.mark.parametrize("of", ["areas", "lines", "points", "table"])
def test_what_it_holds_is_the_same_before_and_after(owner: Client, tmp_path: Path, of: str) -> None:
    dataset = brought(owner, *written(tmp_path, of))
    first = state(dataset.current)
    assert counts(dataset) == (0, 0, True)
    forget_derived(dataset.pk)
    assert state(dataset.current) == first, "read from the delivery"
    kept = dataset.newest.bytes
    assert row_by_row.row_by_row(dataset.pk) is True
    assert counts(dataset) == (7, 0 if of == "table" else 7, False)
    forget_derived(dataset.pk)
    assert state(dataset.current) == first, "read row by row"
    dataset.newest.refresh_from_db()
    assert dataset.newest.bytes not in (0, kept)
    assert row_by_row.row_by_row(dataset.pk) is False


def test_some_rows_are_read_of_it(wells: Dataset) -> None:
    some = np.array([3, 17])
    fids, columns = record.read_attributes(wells.newest, fields_of(wells.newest)[:2], some)
    assert (fids.tolist(), columns.to_pylist()) == ([3, 17], [{"name": "Ard 3", "n": 3}, {"name": "Ard 17", "n": 17}])
    assert shapely.get_x(record.read_shapes(wells.newest, some)[1]).tolist() == [-26.7, -25.3]


def test_it_is_drawn_as_it_will_be(wells: Dataset) -> None:
    places = source_of(wells.newest).points
    row_by_row.row_by_row(wells.pk)
    forget_derived(wells.pk)
    assert np.array_equal(source_of(wells.newest).points, places)


def test_who_changes_it_first_has_its_rows_on_record(owner: Client, wells: Dataset) -> None:
    first = state(wells.current)
    change(owner, wells, cell(3, "n", 30, 3))
    assert counts(wells) == (21, 20, False)
    status, _ = send(owner, f"/datasets/{wells.pk}/undo")
    assert status == 200
    wells.refresh_from_db()
    assert state(wells.current) == first
    assert state(wells.revisions.get(number=1)) == first


def test_a_mistake_in_the_first_change_takes_nothing_away(owner: Client, wells: Dataset) -> None:
    change(owner, wells, cell(3, "n", "many", 3), status=422)
    assert counts(wells) in ((0, 0, True), (20, 20, False))
    assert len(state(wells.current)[0]) == 20


def test_what_is_cut_off_halfway_left_it_as_it_was(wells: Dataset, monkeypatch: pytest.MonkeyPatch) -> None:
    first = state(wells.current)

    def cut(*_: Any) -> int:
        raise MemoryError

    monkeypatch.setattr(row_by_row, "write_shapes", cut)
    with pytest.raises(MemoryError), transaction.atomic():
        row_by_row.row_by_row(wells.pk)
    assert counts(wells) == (0, 0, True)
    forget_derived(wells.pk)
    assert state(wells.current) == first


def test_it_is_removed_with_its_dataset(wells: Dataset) -> None:
    pk = wells.pk
    forget(wells)
    assert not Delivered.objects.filter(dataset_id=pk).exists()


def test_one_whose_turn_was_lost_has_it_later(wells: Dataset) -> None:
    assert row_by_row.put_left_behind() == 0, "it may still be drawn for the first time"
    long_ago = timezone.now() - timedelta(seconds=row_by_row.LOST + 1)
    Dataset.objects.filter(pk=wells.pk).update(created=long_ago)
    assert row_by_row.put_left_behind() == 1
    assert counts(wells) == (20, 20, False)


def test_a_worker_is_called_once_it_is_in_the_library(
    owner: Client, monkeypatch: pytest.MonkeyPatch, django_capture_on_commit_callbacks: Any
) -> None:
    called: list[Any] = []
    monkeypatch.setattr(row_by_row.put_row_by_row, "apply_async", lambda *asked, **how: called.append((asked, how)))
    with django_capture_on_commit_callbacks(execute=True):
        wells = brought(owner, "wells.csv", WELLS)
    assert called == [(((str(wells.pk),),), {"countdown": row_by_row.SOON})]
    row_by_row.put_row_by_row(str(wells.pk))
    assert counts(wells) == (20, 20, False)
    assert fetch(owner, f"/datasets/{wells.pk}/rows")[1]["rows"][0][1] == "Ard 0"
