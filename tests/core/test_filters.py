"""A layer of only some rows is the layer of a file that has no others: the same picture, key, labels and edition."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import shapely
from greylatch.cli.draw import beside
from greylatch.edition.plan import plan_edition
from greylatch.edition.publish import publish
from greylatch.errors import CannotDraw
from greylatch.formats.files import read_file
from greylatch.formats.geoparquet import write_geoparquet
from greylatch.paint.key import layer_key
from greylatch.paint.passes import VectorPass, compose
from greylatch.paint.picture import paint
from greylatch.paint.sources import VectorSource
from greylatch.places.view import View
from greylatch.proof.fitting import unfit
from greylatch.rules.evaluating import taken
from greylatch.sheet.document import Sheet
from greylatch.symbols.held import with_breaks_held
from greylatch.tiles.map_pyramid import map_bounds
from greylatch.tiles.read import open_tiles

FILTER = "water_table_cm > 10 AND condition <> 'modified'"
GRADUATED = {"kind": "graduated", "classing": {"field": "water_table_cm", "method": "quantile", "classes": 4}}


def sheet(dataset: str = "dip_wells.csv", filter: str = "", **more: Any) -> Sheet:
    layer = {"id": "wells", "name": "Wells", "dataset": dataset, "filter": filter, "symbology": GRADUATED, **more}
    return Sheet.model_validate({"title": "Wells", "version": 2, "layers": [layer]})


@pytest.fixture(scope="module")
def folder(demo: Path, tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The wells, and a file of those that the filter takes."""
    home = tmp_path_factory.mktemp("wells")
    wells = read_file(demo / "dip_wells.csv").dataset.described()
    rows = taken(wells, FILTER)
    assert 0 < rows.sum() < len(wells)
    write_geoparquet(wells, home / "all.parquet")
    write_geoparquet(wells.taking(rows), home / "some.parquet")
    return home


LETTERED = {"lettering": {"field": "condition", "size": 10}, "card": "{{ condition }}"}


def test_the_picture_the_key_and_the_labels_are_those_of_the_rows_alone(folder: Path) -> None:
    filtered = compose(sheet("all.parquet", FILTER, **LETTERED), beside(folder))
    alone = compose(sheet("some.parquet", **LETTERED), beside(folder))
    view = View.fitted(alone.frame, map_bounds(alone), 640, 480)
    assert np.array_equal(paint(filtered, view), paint(alone, view))
    assert [layer_key(pass_).entries for pass_ in filtered.passes] == [
        layer_key(pass_).entries for pass_ in alone.passes
    ]
    letters = [composition.placement(view.resolution).labels for composition in (filtered, alone)]
    assert [(a.text, a.x, a.y) for a in letters[0]] == [(b.text, b.x, b.y) for b in letters[1]]
    (wells,) = filtered.passes
    assert isinstance(wells, VectorPass)
    assert set(wells.source.dataset.fids) <= set(range(len(read_file(folder / "all.parquet").dataset)))


def test_an_edition_holds_nothing_of_the_other_rows(folder: Path, tmp_path: Path) -> None:
    out = tmp_path / "edition"
    two = sheet("all.parquet", FILTER, **LETTERED)
    whole = two.layers[0].model_copy(update={"id": "every", "name": "Every well", "filter": "", "card": ""})
    publish(plan_edition(two.model_copy(update={"layers": [*two.layers, whole]}), beside(folder), max_zoom=9), out, 1)
    rows = len(read_file(folder / "some.parquet").dataset)
    features = json.loads((out / "wells.geojson").read_text())["features"]
    assert len(features) == rows
    assert all(feature["properties"]["water_table_cm"] > 10 for feature in features)
    assert len(json.loads((out / "every.geojson").read_text())["features"]) > rows
    layers = {layer["id"]: layer for layer in json.loads((out / "edition.json").read_text())["layers"]}
    assert layers["wells"]["shapes"]["archive"] != layers["every"]["shapes"]["archive"]
    assert open_tiles(out / layers["wells"]["shapes"]["archive"])


def test_layers_of_the_same_rows_share_their_shapes(folder: Path, tmp_path: Path) -> None:
    some = sheet("all.parquet", FILTER)
    twin = some.layers[0].model_copy(update={"id": "twin"})
    out = tmp_path / "edition"
    publish(plan_edition(some.model_copy(update={"layers": [*some.layers, twin]}), beside(folder), max_zoom=8), out, 1)
    layers = json.loads((out / "edition.json").read_text())["layers"]
    assert len({layer["shapes"]["archive"] for layer in layers}) == 1


@pytest.mark.parametrize(
    ("filter", "said"),
    [
        ("water_table_cm > 1e9", "Layer 'Wells': Its filter takes no row."),
        ("watr_table_cm > 1", "Layer 'Wells': Its filter: Line 1, column 1: There is no field 'watr_table_cm'."),
        ("water_table_cm >", "Its filter: Line 1, column 17: Something is missing at the end."),
    ],
)
def test_a_filter_that_takes_nothing_or_has_a_mistake_is_told_of_its_layer(
    folder: Path, filter: str, said: str
) -> None:
    with pytest.raises(CannotDraw) as raised:
        compose(sheet("all.parquet", filter), beside(folder))
    assert said in str(raised.value)


def test_classes_are_held_as_the_rows_alone_have_them_and_fields_of_filters_are_missed(folder: Path) -> None:
    layer = sheet("all.parquet", FILTER).layers[0]
    wells = read_file(folder / "all.parquet").dataset
    alone = with_breaks_held(sheet("some.parquet").layers[0], read_file(folder / "some.parquet").dataset)
    assert with_breaks_held(layer, wells).symbology == alone.symbology
    fields = {"water_table_cm": "number", "well": "text"}
    assert unfit(sheet("d", FILTER), "d", fields) == [
        "Layer 'Wells' needs the field 'condition' for its filter, which is gone."
    ]
    expression = {"kind": "classed", "classing": {"field": "water_table_cm / depth", "weight": "people"}}
    assert unfit(_drawn_by(expression), "d", fields) == [
        "Layer 'Wells' needs the field 'depth' for its classes, which is gone.",
        "Layer 'Wells' needs the field 'people' for weighing its classes, which is gone.",
    ]


def _drawn_by(symbology: dict[str, Any]) -> Sheet:
    layer = {"id": "wells", "name": "Wells", "dataset": "d", "symbology": symbology}
    return Sheet.model_validate({"title": "Wells", "version": 2, "layers": [layer]})


def test_a_source_remembers_the_rows_of_a_few_filters(folder: Path) -> None:
    source = VectorSource(read_file(folder / "all.parquet").dataset)
    assert source.taking("  ") is source
    first = source.taking("water_table_cm > 10")
    assert source.taking("water_table_cm > 10") is first
    for limit in range(20, 28):
        source.taking(f"water_table_cm > {limit}")
    assert source.taking("water_table_cm > 10") is not first
    other = source.described_by(source.dataset.with_columns(source.dataset.columns))
    assert other.taking("water_table_cm > 27") is not source.taking("water_table_cm > 27")


def test_a_layer_whose_conditions_name_another_dataset_is_published(demo: Path, tmp_path: Path) -> None:
    """Wells within catchments where a lot was spent, by rule and by filter; the referee is a join of the same shapes by shapely."""
    others = {"areas": "catchments_with_returns.geojson", "isles": "isles.csv"}
    inside = "S_INTERSECTS(geometry, areas)"
    symbols = {
        "kind": "symbols",
        "rules": [{"id": "near", "name": "Near", "where": "S_DWITHIN(geometry, isles, 3000, 'm')"}],
    }
    layer = {
        "id": "wells",
        "name": "Wells",
        "dataset": "dip_wells.csv",
        "others": others,
        "filter": inside,
        "symbology": symbols,
    }
    document = Sheet.model_validate({"title": "Wells", "version": 3, "layers": [layer]})
    composition = compose(document, beside(demo))
    (wells,) = composition.passes
    assert isinstance(wells, VectorPass)
    points = read_file(demo / "dip_wells.csv").dataset.described()
    areas = read_file(demo / "catchments_with_returns.geojson").dataset.described()
    assert points.shapes is not None and areas.shapes is not None
    tree = shapely.STRtree(areas.shapes)
    assert len(wells.source.dataset) == len(set(tree.query(points.shapes, "intersects")[0].tolist())) > 0
    assert 0 < dict(wells.ink.ruled)["near"] < len(wells.source.dataset)
    held = with_breaks_held(document.layers[0], wells.source.dataset)
    assert held.others == others
    publish(plan_edition(document, beside(demo), max_zoom=8), tmp_path / "edition", 1)
    with pytest.raises(CannotDraw, match="There is no field 'areas'"):
        compose(sheet(filter=inside), beside(demo))
    raster = Sheet.model_validate(
        {"title": "W", "version": 3, "layers": [{**layer, "others": {"areas": "relief.tif"}}]}
    )
    with pytest.raises(CannotDraw, match="is a raster"):
        compose(raster, beside(demo))
