"""Tables that are changed by hand: revisions that hold what they changed, and what is derived of them."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest
import shapely
from django.core.cache import caches
from django.core.files.storage import default_storage
from django.test import Client
from editions.models import Address, Edition
from editions.publish import unlettered
from greylatch.places.frame import MERCATOR, Frame
from greylatch.places.grid import Tile
from library import tiles
from library.derived import data_of, forget_derived, source_of
from library.models import Attributes, Dataset, Revision, Shape
from library.tidying import forsaken_derived
from library.tiles import geometry_tile, tile_state

from tests.open_data import open_data
from tests.server.conftest import bring_in, fetch, send, upload

POINTS = "name,n,share,day,kept\n" + "".join(
    f"Ard {i},{i},{i / 4},2026-05-{i + 1:02},{'yes' if i % 2 else 'no'}\n" for i in range(20)
)


@pytest.fixture
def wells(owner: Client) -> Dataset:
    """Twenty points over two degrees."""
    rows = [f"{line},{-27 + i / 10:.1f},{52 - i / 20:.2f}" for i, line in enumerate(POINTS.splitlines()[1:])]
    body = "\n".join([f"{POINTS.splitlines()[0]},lon,lat", *rows]).encode()
    job = bring_in(owner, "wells.csv", body)
    return Dataset.objects.select_related("current").get(pk=job["result"]["dataset"])


def change(client: Client, dataset: Dataset, *edits: dict[str, Any], status: int = 200) -> Any:
    code, told = send(client, f"/datasets/{dataset.pk}/edits", {"edits": edits})
    assert code == status, told
    dataset.refresh_from_db()
    return told


def cell(fid: int, field: str, value: Any, was: Any) -> dict[str, Any]:
    return {"do": "set-cell", "fid": fid, "field": field, "value": value, "was": was}


def state(revision: Revision) -> Any:
    """All that a revision holds, as plain data."""
    data = data_of(Revision.objects.select_related("dataset").get(pk=revision.pk))
    return (
        data.fids.tolist(),
        data.columns.to_pylist(),
        [] if data.shapes is None else shapely.to_wkt(data.shapes).tolist(),
    )


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
        (cell(3, "day", "31.5.2026", None), "is not a date"),
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


def test_attributes_recut_no_geometry_and_a_moved_point_only_its_tiles(
    owner: Client, wells: Dataset, monkeypatch: pytest.MonkeyPatch
) -> None:
    level = 8
    grid = MERCATOR.grid
    everything = [Tile(level, x, y) for x in range(105, 125) for y in range(80, 95)]
    cut: list[Tile] = []
    real = tiles.shape_tile

    def counting(source: Any, tile: Tile, *rest: Any) -> bytes:
        cut.append(tile)
        return real(source, tile, *rest)

    monkeypatch.setattr(tiles, "shape_tile", counting)

    def cut_all() -> list[Tile]:
        cut.clear()
        revision = Revision.objects.select_related("dataset").get(pk=wells.current_id)
        for tile in everything:
            geometry_tile(revision, MERCATOR, tile)
        return sorted(cut)

    assert len(cut_all()) == len(everything)
    placed = source_of(Revision.objects.select_related("dataset").get(pk=wells.current_id)).shapes
    change(owner, wells, cell(3, "n", 30, 3))
    assert cut_all() == []
    assert source_of(Revision.objects.select_related("dataset").get(pk=wells.current_id)).shapes is placed
    there = Tile(level, *(lambda t: (t.x, t.y))(grid.tile_at(*MERCATOR.place(-26.7, 51.85), level)))
    change(owner, wells, {"do": "move-point", "fid": 3, "place": [-26.05, 51.05]})
    entered = grid.tile_at(*MERCATOR.place(-26.05, 51.05), level)
    assert cut_all() == sorted({there, entered})
    moved = source_of(Revision.objects.select_related("dataset").get(pk=wells.current_id))
    assert np.allclose(shapely.get_coordinates(moved.shapes[3]), [MERCATOR.place(-26.05, 51.05)])
    send(owner, f"/datasets/{wells.pk}/undo", {})
    wells.refresh_from_db()
    assert cut_all() == sorted({there, entered})
    equal = Frame.named("EPSG:8857")
    changed = {
        tile_state(wells.current, equal, tile)
        for tile in equal.grid.tiles_over(equal.grid.tile_bounds(Tile(0, 0, 0)), 3)
    }
    assert changed == {one.pk for one in wells.revisions.filter(number__in=(1, 4))}


def test_what_is_derived_can_be_thrown_away(owner: Client, wells: Dataset, named: dict[str, Dataset]) -> None:
    change(owner, wells, {"do": "delete-rows", "fids": [4]}, cell(6, "share", None, 1.5))
    for dataset in [wells, *named.values()]:
        if dataset.kind == "raster":
            continue
        revision = Revision.objects.select_related("dataset").get(pk=dataset.current_id)
        data = data_of(revision)
        places = (0, 8), (5, 14)
        before = (
            [geometry_tile(revision, MERCATOR, MERCATOR.grid.tile_at(*MERCATOR.place(-27, 52), z)) for z in places[0]]
            if data.shapes is not None
            else []
        )
        forget_derived(dataset.pk)
        caches["tiles"].clear()
        again = data_of(revision)
        assert again is not data
        assert again.columns.equals(data.columns)
        assert again.fids.tolist() == data.fids.tolist()
        assert (again.crs, again.kind) == (data.crs, data.kind)
        if data.shapes is not None:
            assert (shapely.to_wkb(again.shapes) == shapely.to_wkb(data.shapes)).all()
            assert [
                geometry_tile(revision, MERCATOR, MERCATOR.grid.tile_at(*MERCATOR.place(-27, 52), z)) for z in places[0]
            ] == before


def published(owner: Client, sheet: Any) -> dict[str, bytes]:
    """The files of a new edition by name; but for PMTiles, in which the time is written."""
    assert send(owner, f"/sheets/{sheet.pk}/editions", {"max_zoom": 8})[1]["state"] == "done"
    edition = Edition.objects.filter(sheet=sheet).first()
    names = [name for name in edition.described["files"] if not name.endswith(".pmtiles")]
    return {name: default_storage.open(f"{edition.folder}/{name}").read() for name in names}


def test_picture_and_edition_are_the_same_from_the_record_alone(
    owner: Client, sheet: Any, named: dict[str, Dataset]
) -> None:
    change(
        owner,
        named["Dip wells"],
        {"do": "delete-rows", "fids": [4, 5]},
        cell(9, "water_table_cm", 120, shown(owner, named, 9)),
    )
    picture = owner.get(f"/api/draw/sheets/{sheet.pk}/picture").content
    files = published(owner, sheet)
    for dataset in named.values():
        forget_derived(dataset.pk)
    caches["tiles"].clear()
    assert owner.get(f"/api/draw/sheets/{sheet.pk}/picture").content == picture
    unlettered.cache_clear()
    assert published(owner, sheet) == files


def shown(owner: Client, named: dict[str, Dataset], fid: int) -> Any:
    return data_of(named["Dip wells"].current).record(fid)["water_table_cm"]


def test_an_edition_keeps_the_rows_that_it_was_made_of(
    owner: Client, visitor: Client, sheet: Any, named: dict[str, Dataset]
) -> None:
    wells = named["Dip wells"]
    published(owner, sheet)
    home = f"/e/{Address.objects.get(sheet=sheet).slug}/1"
    place = next(one for one in features(visitor, home) if one["layer"] == "wells")
    asked = {"x": place["x"], "y": place["y"], "zoom": 12}
    cards = visitor.get(f"{home}/card", asked).json()
    assert cards["cards"][0]["row"] == place["row"]
    first = state(wells.current)
    change(owner, wells, {"do": "delete-rows", "fids": [*first[0][:5], place["row"]]})
    frozen = Revision.objects.get(editions__sheet=sheet, dataset=wells)
    forget_derived(wells.pk)
    unlettered.cache_clear()
    assert state(frozen) == first
    assert visitor.get(f"{home}/card", asked).json() == cards
    published(owner, sheet)
    later = visitor.get(f"{home[:-1]}2/card", asked).json()["cards"]
    assert place["row"] not in [one["row"] for one in later if one["layer"] == "wells"]


def features(visitor: Client, home: str) -> list[dict[str, Any]]:
    box = {"west": -28, "south": 51, "east": -26, "north": 53}
    return list(visitor.get(f"{home}/features", box).json()["features"])


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


def test_what_was_derived_of_gone_datasets_is_swept_away(wells: Dataset, settings: Any, tmp_path: Path) -> None:
    settings.DERIVED = tmp_path
    forget_derived(wells.pk)
    data_of(wells.current)
    home, gone = settings.DERIVED / str(wells.pk), settings.DERIVED / "00000000-0000-0000-0000-000000000000"
    gone.mkdir(parents=True)
    (gone / "a.columns.arrow").write_bytes(b"x")
    (home / ".a.part").write_bytes(b"x")
    assert forsaken_derived(3600) == 0, "it may be in the making"
    assert forsaken_derived(-1) >= 2
    assert (gone.exists(), (home / ".a.part").exists(), home.exists()) == (False, False, True)


def test_a_row_that_came_and_went_in_one_change_was_never_there(owner: Client, wells: Dataset) -> None:
    new = {"do": "add-row", "values": {}, "place": [0, 0]}
    told = change(owner, wells, new, {"do": "delete-rows", "fids": [20]}, {"do": "delete-rows", "fids": [3]})
    assert (told["rows"], len(data_of(wells.current))) == (19, 19)
