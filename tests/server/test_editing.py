"""Tables that are changed by hand: revisions that hold what they changed, and what is derived of them."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.test import Client
from library.derived import data_of, forget_derived
from library.models import Attributes, Dataset, Revision, Shape
from library.quota import used_bytes

from tests.open_data import open_data
from tests.server.conftest import bring_in, fetch, send, upload
from tests.server.tables import cell, change, state


def test_a_cell_is_changed_by_what_is_typed(owner: Client, wells: Dataset) -> None:
    told = change(owner, wells, cell(3, "share", "0,8", 0.75), cell(3, "day", "2026-06-01", "2026-05-04T00:00:00"))
    assert (told["rows"], told["can_undo"], wells.current.number) == (20, True, 2)
    record = data_of(wells.current).record(3)
    assert (record["share"], record["day"].isoformat()) == (0.8, "2026-06-01T00:00:00")
    assert Attributes.objects.filter(dataset=wells, since=2).count() == 1
    assert not Shape.objects.filter(dataset=wells, since=2).exists()
    assert change(owner, wells, cell(3, "share", 0.8, 0.8))["revision"] == told["revision"], "nothing changed"
    history = fetch(owner, f"/datasets/{wells.pk}/history")[1]
    assert [(one["number"], one["author"]) for one in history] == [(2, "isla"), (1, "isla")]
    assert (
        history[0]["change"] == "Row 4, share: 0.75 → 0.8; Row 4, day: “2026-05-04T00:00:00” → “2026-06-01T00:00:00”."
    )


@pytest.mark.parametrize(
    ("edit", "words"),
    [
        (cell(3, "n", "four", 3), "Row 4, field 'n': 'four' is not a whole number."),
        (cell(3, "n", 2.5, 3), "Row 4, field 'n': 2.5 does not fit"),
        (cell(3, "kept", "perhaps", True), "is not yes or no"),
        (cell(3, "day", "5/6/2026", "2026-05-04T00:00:00"), "is not a date"),
        (cell(99, "n", 1, 1), "Row 100 is not there any more."),
        (cell(3, "m", 1, 1), "There is no field 'm' any more."),
        ({"do": "add-row", "values": {"n": 1}}, "needs a place"),
        ({"do": "add-row", "values": {"n": "x"}, "place": [0, 0]}, "New row, field 'n'"),
        ({"do": "add-field", "name": "n", "type": "text"}, "There is a field 'n' already."),
        ({"do": "move-point", "fid": 99, "place": [0, 0]}, "Row 100 is not there any more."),
    ],
)  # fmt: skip
def test_what_does_not_fit_changes_nothing(owner: Client, wells: Dataset, edit: dict[str, Any], words: str) -> None:
    told = change(owner, wells, cell(1, "n", 7, 1), edit, status=422)
    assert words in told["detail"]
    assert (wells.current.number, data_of(wells.current).record(1)["n"]) == (1, 1)


def test_two_people_in_one_table(owner: Client, wells: Dataset) -> None:
    change(owner, wells, cell(3, "n", 30, 3))
    told = change(owner, wells, cell(3, "n", 31, 3), status=409)
    assert told["detail"] == "Row 4, field 'n': 30 was written there meanwhile; you wrote 31 over 3."
    change(owner, wells, cell(3, "name", "Ard Mor", "Ard 3"))
    assert {key: data_of(wells.current).record(3)[key] for key in ("n", "name")} == {"n": 30, "name": "Ard Mor"}


def test_rows_and_fields_come_and_go_and_move_nobody_elses_fid(owner: Client, wells: Dataset) -> None:
    before = state(wells.current)
    new = {"do": "add-row", "values": {"name": "Sula", "n": "5"}, "place": [-20, 50]}
    told = change(
        owner, wells, {"do": "delete-rows", "fids": [0, 7]}, new, {"do": "add-field", "name": "seen", "type": "boolean"}
    )
    assert (told["rows"], wells.next_fid) == (19, 21)
    assert [told["bounds"][2], told["bounds"][1]] == [-20, 50]
    missing = {field["name"]: field["missing"] for field in told["fields"]}
    assert (missing["seen"], missing["share"], missing["n"]) == (19, 1, 0)
    data = data_of(wells.current)
    assert data.fids.tolist() == [*range(1, 7), *range(8, 20), 20]
    assert data.record(8)["name"] == "Ard 8"
    assert (data.record(20)["name"], data.record(20)["seen"]) == ("Sula", None)
    rows = fetch(owner, f"/datasets/{wells.pk}/rows?offset=5&limit=2")[1]["rows"]
    assert [row[:2] for row in rows] == [[6, "Ard 6"], [8, "Ard 8"]]
    assert fetch(owner, f"/datasets/{wells.pk}/position?fid=8")[1] == {"position": 6}
    change(owner, wells, {"do": "delete-field", "name": "seen"}, {"do": "add-field", "name": "seen", "type": "text"})
    assert data_of(wells.current).record(8)["seen"] is None
    first = Revision.objects.get(dataset=wells, number=1)
    assert state(first) == before, "an older revision gives exactly what was there"


def test_undo_and_redo_over_sessions(owner: Client, wells: Dataset) -> None:
    states = [state(wells.current)]
    for edit in (
        cell(2, "n", 20, 2),
        {"do": "delete-rows", "fids": [2, 3]},
        {"do": "move-point", "fid": 5, "place": [-25, 51]},
    ):
        change(owner, wells, edit)
        states.append(state(wells.current))

    def go(which: str) -> Any:
        status, told = send(owner, f"/datasets/{wells.pk}/{which}", {})
        assert status == 200, told
        wells.refresh_from_db()
        return state(wells.current)

    assert [go("undo"), go("undo")] == [states[2], states[1]]
    assert go("redo") == states[2]
    assert go("undo") == states[1]
    assert go("undo") == states[0]
    assert send(owner, f"/datasets/{wells.pk}/undo", {})[0] == 422
    assert [go("redo"), go("redo"), go("redo")] == states[1:]
    assert send(owner, f"/datasets/{wells.pk}/redo", {})[0] == 422
    assert go("undo") == states[2]
    change(owner, wells, cell(9, "n", 90, 9))
    assert fetch(owner, f"/datasets/{wells.pk}")[1]["can_redo"] is False
    assert go("restore?number=1") == states[0]
    assert go("undo")[1][7]["n"] == 90
    changes = [one["change"] for one in fetch(owner, f"/datasets/{wells.pk}/history")[1]]
    assert changes[:2] == ["Undone: Back to revision 1.", "Back to revision 1."]
    forget_derived(wells.pk)
    for number in (1, 2, 3, 4):
        assert state(Revision.objects.get(dataset=wells, number=number)) == states[number - 1]


def test_strangers_change_nothing(wells: Dataset, stranger: Client, visitor: Client) -> None:
    for client, status in ((stranger, 404), (visitor, 401)):
        for address in ("edits", "undo", "redo", "restore?number=1"):
            body = {"edits": [cell(1, "n", 7, 1)]} if address == "edits" else {}
            assert send(client, f"/datasets/{wells.pk}/{address}", body)[0] == status
        assert fetch(client, f"/datasets/{wells.pk}/history")[0] == status


def test_what_a_field_means_is_said_and_marks_are_missing_everywhere(owner: Client) -> None:
    job = bring_in(owner, "depths.csv", b"well,depth_cm\nA,12\nB,-9999\nC,30\nD,7\n")
    dataset = Dataset.objects.select_related("current").get(pk=job["result"]["dataset"])
    told = fetch(owner, f"/datasets/{dataset.pk}")[1]
    field = told["fields"][1]
    assert (field["meaning"]["kind"], field["meaning"]["unit"], field["meaning"]["missing"], field["missing"]) == (
        "measure", "cm", [-9999.0], 1,
    )  # fmt: skip
    assert fetch(owner, f"/datasets/{dataset.pk}/rows")[1]["rows"][1] == [1, "B", None]
    change(owner, dataset, cell(1, "depth_cm", 8, None))
    described = {"do": "describe-field", "name": "depth_cm", "kind": "rate", "unit": "‰", "decimals": 1, "missing": [7]}
    told = change(owner, dataset, described)
    field = told["fields"][1]
    assert (field["meaning"]["kind"], field["meaning"]["reason"], field["missing"]) == ("rate", "Said by hand.", 1)
    assert [row[2] for row in fetch(owner, f"/datasets/{dataset.pk}/rows")[1]["rows"]] == [12, 8, 30, None]
    assert send(owner, f"/datasets/{dataset.pk}/undo", {})[0] == 200
    dataset.refresh_from_db()
    assert [row[2] for row in fetch(owner, f"/datasets/{dataset.pk}/rows")[1]["rows"]] == [12, 8, 30, 7]


@pytest.mark.parametrize(
    "name", ["columbus", "georgia", "baltim", "stl", "virginia", "juvenile", "burkitt", "mexico", "countries"]
)
def test_open_data_go_through_every_change_and_back(owner: Client, name: str, tmp_path: Path) -> None:
    """Real tables with real oddities: those that libpysal (PyPI) ships, and Natural Earth's countries as `world-atlas` (npm) has
    them. Every kind of change and a new delivery, then undone: each state is read anew from the record and is what it was."""
    body, file = open_data(name, tmp_path)
    status, sent = upload(owner, file, body)
    assert status == 200, sent
    assert (sent["preview"]["crs"] is None) == ("Choose their projection" in (sent["preview"]["problem"] or ""))
    corrections = {} if sent["preview"]["crs"] else {"crs": "EPSG:26917"}
    _, job = send(owner, f"/uploads/{sent['id']}/import", corrections)
    job = fetch(owner, f"/jobs/{job['id']}")[1]
    assert job["state"] == "done", job
    dataset = Dataset.objects.select_related("current").get(pk=job["result"]["dataset"])
    states = [state(dataset.current)]
    data = data_of(dataset.current)
    fields = fetch(owner, f"/datasets/{dataset.pk}")[1]["fields"]
    last = int(data.fids[-1])
    for field in fields:
        shown = fetch(owner, f"/datasets/{dataset.pk}/rows", offset=0, limit=1)[1]["rows"][0][1 + fields.index(field)]
        for value in (None, shown):
            change(owner, dataset, cell(0, field["name"], value, shown))
            shown = value
    assert state(dataset.current)[1:] == states[0][1:], "every cell can be emptied and filled again with what it showed"
    states.append(state(dataset.current))
    place = {"place": [10.5, 51.25]} if dataset.kind == "points" else {}
    change(
        owner,
        dataset,
        {"do": "add-row", "values": {fields[0]["name"]: None}, **place},
        {"do": "delete-rows", "fids": [last]},
    )
    change(
        owner,
        dataset,
        {"do": "delete-field", "name": fields[0]["name"]},
        {"do": "add-field", "name": "ø 'new\"", "type": "date"},
    )
    states.append(state(dataset.current))
    forget_derived(dataset.pk)
    assert state(dataset.current) == states[-1]
    for _ in range(2):
        assert send(owner, f"/datasets/{dataset.pk}/undo", {})[0] == 200
    dataset.refresh_from_db()
    assert state(dataset.current) == states[1]
    forget_derived(dataset.pk)
    assert state(dataset.current) == states[0]


def test_a_row_that_came_and_went_in_one_change_was_never_there(owner: Client, wells: Dataset) -> None:
    new = {"do": "add-row", "values": {}, "place": [0, 0]}
    told = change(owner, wells, new, {"do": "delete-rows", "fids": [20]}, {"do": "delete-rows", "fids": [3]})
    assert (told["rows"], len(data_of(wells.current))) == (19, 19)


def test_changes_count_against_a_persons_share_of_the_disk(
    owner: Client, isla: User, wells: Dataset, settings: Any
) -> None:
    used = used_bytes(isla)
    change(owner, wells, cell(1, "name", "x" * 50_000, "Ard 1"))
    assert used_bytes(isla) > used + 50_000
    change(owner, wells, {"do": "delete-rows", "fids": [1]})
    settings.QUOTA = used_bytes(isla)
    told = change(owner, wells, cell(2, "name", "y" * 50_000, "Ard 2"), status=422)
    assert "Your share of the disk" in told["detail"]
    assert send(owner, f"/datasets/{wells.pk}/undo", {})[0] == 422, "to bring a row back takes its bytes again"
    wells.refresh_from_db()
    assert (wells.current.number, data_of(wells.current).record(2)["name"]) == (3, "Ard 2")
