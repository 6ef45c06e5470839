"""Two at work on one table: each takes back what they did, and nothing of what the other did."""

from typing import Any

import pytest
import shapely
from django.contrib.auth.models import User
from django.db import connection
from django.db.migrations.executor import MigrationExecutor
from django.test import Client
from library.derived import data_of, forget_derived
from library.models import Dataset, Revision
from people.models import Team

from tests.server.conftest import bring_in, fetch, send, shared

ROWS = b"well,n,depth,lon,lat\n" + b"".join(b"W%d,%d,%d.5,%d.1,52\n" % (i, i, i, -20 - i) for i in range(1, 6))


@pytest.fixture
def wells(owner: Client, team: Team) -> Dataset:
    """Five wells of one person that a team may change."""
    dataset = Dataset.objects.get(pk=bring_in(owner, "wells.csv", ROWS)["result"]["dataset"])
    shared(owner, dataset, team, change=True)
    return dataset


def edit(client: Client, dataset: Dataset, *edits: dict[str, Any]) -> None:
    status, told = send(client, f"/datasets/{dataset.pk}/edits", {"edits": list(edits)})
    assert status == 200, told


def cell(client: Client, dataset: Dataset, fid: int, field: str, value: Any) -> None:
    was = now(dataset)[fid][field]
    edit(client, dataset, {"do": "set-cell", "fid": fid, "field": field, "value": value, "was": was})


def now(dataset: Dataset) -> dict[int, dict[str, Any]]:
    """The rows as they are read anew from the record, by fid, each with where it lies."""
    forget_derived(dataset.pk)
    data = data_of(Dataset.objects.select_related("current").get(pk=dataset.pk).newest)
    assert data.shapes is not None
    places = shapely.to_wkt(data.shapes).tolist()
    return {
        int(fid): {**row, "at": at} for fid, row, at in zip(data.fids, data.columns.to_pylist(), places, strict=True)
    }


def step(client: Client, dataset: Dataset, which: str = "undo") -> tuple[int, Any]:
    return send(client, f"/datasets/{dataset.pk}/{which}")


def missing(dataset: Dataset) -> dict[str, int]:
    """What the fields say of missing values, beside a count of them."""
    said = {one["name"]: one["missing"] for one in Dataset.objects.get(pk=dataset.pk).newest.fields}
    rows = now(dataset).values()
    assert said == {name: sum(row[name] is None for row in rows) for name in said}
    assert Dataset.objects.get(pk=dataset.pk).newest.rows == len(rows)
    return said


def test_each_takes_back_their_own(owner: Client, maker: Client, wells: Dataset) -> None:
    first = now(wells)
    fids = list(first)
    cell(owner, wells, fids[0], "n", 100)
    cell(maker, wells, fids[0], "depth", 9)  # another cell of the same row
    cell(maker, wells, fids[3], "n", None)
    assert fetch(owner, f"/datasets/{wells.pk}")[1]["can_undo"]
    assert step(owner, wells)[0] == 200
    assert [now(wells)[fids[0]][name] for name in ("n", "depth")] == [1, 9]
    missing(wells)
    told = fetch(owner, f"/datasets/{wells.pk}")[1]
    assert (told["can_undo"], told["can_redo"]) == (False, True)
    assert step(owner, wells)[0] == 422
    assert [step(maker, wells)[0], step(maker, wells)[0], step(maker, wells)[0]] == [200, 200, 422]
    assert now(wells) == first
    assert step(owner, wells, "redo")[0] == 200
    assert now(wells)[fids[0]]["n"] == 100
    assert step(maker, wells, "redo")[0] == step(maker, wells, "redo")[0] == 200
    assert missing(wells)["n"] == 1 and now(wells)[fids[0]]["depth"] == 9
    assert now(wells)[fids[0]]["n"] == 100
    words = [one["change"].split(":")[0] for one in fetch(owner, f"/datasets/{wells.pk}/history")[1]]
    assert words.count("Undone") == words.count("Again") == 3


def test_what_another_wrote_over_it_stays(owner: Client, maker: Client, wells: Dataset) -> None:
    fid = min(now(wells))
    cell(owner, wells, fid, "n", 100)
    cell(maker, wells, fid, "n", 200)
    status, told = step(owner, wells)
    assert status == 409 and told["detail"].startswith(f"Row {fid + 1}, field 'n': somebody else wrote 200 there")
    assert now(wells)[fid]["n"] == 200
    assert step(maker, wells)[0] == step(owner, wells)[0] == 200
    assert now(wells)[fid]["n"] == 1


def test_rows_points_and_fields_among_others_changes(owner: Client, maker: Client, wells: Dataset) -> None:
    first = now(wells)
    a, b, c, d, e = first
    edit(owner, wells, {"do": "delete-rows", "fids": [a]}, {"do": "move-point", "fid": b, "place": [-25, 51]})
    edit(
        owner,
        wells,
        {"do": "delete-field", "name": "depth"},
        {"do": "add-row", "values": {"well": "New"}, "place": [-24, 52]},
    )
    new = max(now(wells))
    cell(maker, wells, c, "n", 33)
    edit(maker, wells, {"do": "add-field", "name": "seen", "type": "text"})
    assert step(owner, wells)[0] == 200
    rows = now(wells)
    assert new not in rows and rows[c]["depth"] == 3.5 and rows[c]["n"] == 33 and rows[c]["seen"] is None
    assert missing(wells) == {"well": 0, "n": 0, "depth": 0, "lon": 0, "lat": 0, "seen": 4}
    assert step(owner, wells)[0] == 200
    rows = now(wells)
    assert {name: rows[a][name] for name in first[a]} == first[a] and rows[b]["at"] == first[b]["at"]
    missing(wells)
    cell(owner, wells, d, "n", 44)
    assert step(maker, wells)[0] == 200, "the field goes"
    assert "seen" not in now(wells)[d]
    assert step(maker, wells, "redo")[0] == 200
    edit(owner, wells, {"do": "delete-rows", "fids": [c]})
    assert step(maker, wells)[0] == 200
    status, told = step(maker, wells)
    assert status == 409 and f"Row {c + 1}:" in told["detail"]
    edit(owner, wells, {"do": "move-point", "fid": e, "place": [-25, 51]})
    edit(maker, wells, {"do": "move-point", "fid": e, "place": [-25, 50]})
    assert step(owner, wells)[0] == 409


def test_histories_of_before_become_each_persons(owner: Client, isla: User, brann: User, wells: Dataset) -> None:
    """The database before had one history for all: numbers of the state before, and of what could be done again."""
    latest = [("library", "0013_undo_per_person")]
    before = [("library", "0012_attached_pictures")]
    with connection.cursor() as cursor:
        cursor.execute("SET CONSTRAINTS ALL IMMEDIATE")
    MigrationExecutor(connection).migrate(before)
    old = MigrationExecutor(connection).loader.project_state(before).apps.get_model("library", "Revision")
    like = old.objects.get(dataset_id=wells.pk, number=1)
    told = [
        (2, isla, "Row 1", 1, None, []), (3, brann, "Row 2", 2, None, []), (4, isla, "Undone: Row 2", 1, 2, [3]),
        (5, isla, "Undone: Row 1", None, 1, [4, 3]), (6, isla, "Again: Row 1", 5, 2, [3]), (7, isla, "Undone: Row 1", None, 1, [6, 3]),
    ]  # fmt: skip
    for number, author, change, previous, repeats, again in told:
        like.pk, like.number, like.author_id, like.change = None, number, author.pk, change
        like.before, like.repeats, like.again = previous, repeats, again
        like.save(force_insert=True)
    with connection.cursor() as cursor:
        cursor.execute("SET CONSTRAINTS ALL IMMEDIATE")
    MigrationExecutor(connection).migrate(latest)
    steps = Revision.objects.filter(dataset=wells, number__gt=1).order_by("number").values_list("undoes", "redoes")
    assert list(steps) == [(None, None), (None, None), (None, None), (2, None), (None, 2), (2, None)]
    told = fetch(owner, f"/datasets/{wells.pk}")[1]
    assert (told["can_undo"], told["can_redo"]) == (True, True)
