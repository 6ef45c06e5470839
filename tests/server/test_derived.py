"""What is derived of the rows on record: it can be thrown away, and is made anew only where something changed."""

from __future__ import annotations

import io
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
from library import derived, tiles
from library.derived import data_of, forget_derived, source_of
from library.models import Dataset, Revision
from library.tidying import forsaken_derived
from library.tiles import geometry_tile, tile_state
from PIL import Image

from tests.server.conftest import send
from tests.server.tables import cell, change, state


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


def forget_memory(monkeypatch: pytest.MonkeyPatch) -> None:
    """As another process, which has only the files."""
    for name in ("_datasets", "_columns", "_shapes", "_sources"):
        monkeypatch.setattr(derived, name, derived.Remembered())


def test_shapes_are_projected_on_arrival_and_once_for_all_processes(
    owner: Client, wells: Dataset, monkeypatch: pytest.MonkeyPatch
) -> None:
    revision = Revision.objects.select_related("dataset").get(pk=wells.current_id)
    assert derived.placed_file(revision.shapes, MERCATOR).exists()
    placed = source_of(revision).shapes
    with monkeypatch.context() as patched:
        forget_memory(patched)
        patched.setattr(Frame, "project", lambda *_: pytest.fail("projected again"))
        assert (shapely.to_wkb(source_of(revision).shapes) == shapely.to_wkb(placed)).all()
    change(owner, wells, {"do": "move-point", "fid": 3, "place": [-26.05, 51.05]})
    later = Revision.objects.select_related("dataset").get(pk=wells.current_id)
    moved = source_of(later).shapes
    forget_memory(monkeypatch)
    # What a process knows of an earlier state is patched; one that knows nothing has only this state's own file.
    assert (shapely.to_wkb(source_of(later).shapes) == shapely.to_wkb(moved)).all()
    assert derived.placed_file(later.shapes, MERCATOR).exists()


def test_of_a_dataset_shapes_are_kept_in_few_frames(wells: Dataset, monkeypatch: pytest.MonkeyPatch) -> None:
    for code in (3857, 8857, 3035, 32626, 3413, 3995, 6933):
        source_of(wells.current, Frame.named(f"EPSG:{code}"))
    home = derived.home_of(wells.pk)
    assert len(list(home.glob("*.placed-*.arrow"))) == derived.FRAMES
    assert derived.placed_file(wells.current.shapes, Frame.named("EPSG:6933")).exists()


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
    assert unlike(owner.get(f"/api/draw/sheets/{sheet.pk}/picture").content, picture) == ""
    unlettered.cache_clear()
    again = published(owner, sheet)
    assert unlike(again.pop("picture.png"), files.pop("picture.png")) == ""
    assert again == files


def test_picture_of_a_sheet_follows_its_data(owner: Client, sheet: Any, named: dict[str, Dataset]) -> None:
    before = owner.get(f"/api/draw/sheets/{sheet.pk}/picture").content
    change(owner, named["Dip wells"], {"do": "delete-rows", "fids": [4, 5]})
    assert unlike(owner.get(f"/api/draw/sheets/{sheet.pk}/picture").content, before) != ""


def unlike(*pictures: bytes) -> str:
    """How many pixels of two pictures differ, within which rows and columns, and by how much at most; '' where none do."""
    first, second = (np.asarray(Image.open(io.BytesIO(each)).convert("RGBA")).astype(int) for each in pictures)
    apart = np.abs(first - second).max(axis=2)
    rows, columns = np.nonzero(apart)
    if not len(rows):
        return "" if pictures[0] == pictures[1] else "only how they are packed"
    return f"{len(rows)} px, rows {rows.min()}–{rows.max()}, columns {columns.min()}–{columns.max()}, by {apart.max()}"


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
