"""Colours of the key against those on the map. Referee: the W3C's Compositing and Blending Level 1 (section 9.1.2, multiply: Cs × Cb; 5.1, source over),
worked out by hand."""

import numpy as np
import pyarrow as pa
import pytest
import shapely
from greylatch.paint.key import layer_key
from greylatch.paint.passes import compose
from greylatch.paint.sources import Find, VectorSource
from greylatch.places.crs import LONLAT
from greylatch.proof.findings import findings, mend
from greylatch.proof.seen import colours_on_the_map
from greylatch.sheet.document import Sheet
from greylatch.tables.dataset import Dataset

LAND = "#808080"


def finder() -> Find:
    shapes = np.array([shapely.box(x, 0, x + 1, 1) for x in (0.0, 1.0, 2.0)])
    areas = VectorSource(Dataset(pa.table({"kind": ["ling", "moss", "rock"]}), "areas", shapes, LONLAT))
    points = VectorSource(
        Dataset(pa.table({"n": [1, 2, 3]}), "points", shapely.points([[0.5, 0.5], [1.5, 0.5], [2.5, 0.5]]), LONLAT)
    )
    lines = VectorSource(Dataset(pa.table({"n": [1]}), "lines", np.array([shapely.box(0, 0, 3, 1).exterior]), LONLAT))
    return lambda name, *_: {"areas": areas, "points": points, "lines": lines}[name]


def sheet_with(
    dataset: str = "areas", encodings: dict[str, object] | None = None, land: str = LAND, **layer: object
) -> Sheet:  # fmt: skip
    """A layer over land: blends are with what other layers draw, not with the ground that the map lies on."""
    by = encodings if encodings is not None else {"colour": {"by": "category", "field": "kind"}}
    symbology = {"kind": "symbols", "symbol": {"fill": "#c04040", "radius": 12, "strokes": []}, "encodings": by}
    below = {"kind": "symbols", "symbol": {"fill": land, "strokes": []}}
    return Sheet.model_validate(
        {
            "title": "T",
            "layers": [
                {"id": "a", "name": "Cover", "dataset": dataset, "symbology": symbology, **layer},
                {"id": "land", "name": "Land", "dataset": "areas", "symbology": below, "key": {"shown": False}},
            ],
            "groups": [{"id": "g", "name": "G", "opacity": 0.4}] if "group" in layer else [],
            "furniture": {"credits": "made up"},
        }
    )


def in_key(sheet: Sheet) -> dict[str, str]:
    key = layer_key(compose(sheet, finder()).passes[-1])
    return {entry.id: entry.mark.fill for entry in key.entries if entry.mark}


def differing(sheet: Sheet) -> dict[str, str]:
    seen = colours_on_the_map(sheet, sheet.layers[0], finder())
    return {each.entry.id: each.on_map for each in seen if each.differs}


def channels(colour: str) -> np.ndarray:
    return np.array(list(bytes.fromhex(colour[1:7])), dtype=float)


@pytest.mark.parametrize(
    ("layer", "expected"),
    [
        ({"blend": "multiply"}, lambda own: own * 128 / 255),
        ({"opacity": 0.5}, lambda own: (own + 128) / 2),
        ({"blend": "screen"}, lambda own: own + 128 - own * 128 / 255),
        ({"blend": "multiply", "opacity": 0.5}, lambda own: (own * 128 / 255 + 128) / 2),
    ],
    ids=["multiply", "half", "screen", "half multiplied"],
)
def test_colours_come_out_as_the_standard_says(layer: dict[str, object], expected: object) -> None:
    sheet = sheet_with(**layer)
    own, seen = in_key(sheet), differing(sheet)
    assert len(seen) == 3
    for entry, colour in seen.items():
        assert np.abs(channels(colour) - expected(channels(own[entry]))).max() <= 2  # type: ignore[operator]


@pytest.mark.parametrize("layer", [{}, {"opacity": 0.95}, {"blend": "multiply", "key": {"shown": False}}])
def test_nothing_is_said_where_the_key_is_right_or_is_not_there(layer: dict[str, object]) -> None:
    sheet = sheet_with(**layer)
    assert differing(sheet) == {}
    assert not any(finding.id.startswith("key-as-seen") for finding in findings(sheet, finder()))


def test_a_group_that_is_faded_counts_and_lines_do_not() -> None:
    sheet = sheet_with(group="g")
    faded = Sheet.model_validate(
        {**sheet.model_dump(mode="json"), "groups": [{"id": "g", "name": "G", "opacity": 0.4}]}
    )
    assert len(differing(faded)) == 3
    lines = sheet_with("lines", {}, opacity=0.3)
    assert differing(lines) == {}


def test_points_are_looked_at_too() -> None:
    sheet = sheet_with("points", {}, opacity=0.5)
    (seen,) = differing(sheet).values()
    assert np.abs(channels(seen) - (channels("#c04040") + 128) / 2).max() <= 2


def test_one_press_shows_them_in_the_key_until_something_changes() -> None:
    sheet = sheet_with(blend="multiply")
    seen = differing(sheet)
    (finding,) = [each for each in findings(sheet, finder()) if each.id == "key-as-seen:a"]
    assert "3 entries" in finding.reason and finding.stage == "draw"
    mended = mend(sheet, finding.id, finder())
    assert in_key(mended) == seen
    assert not any(each.id == finding.id for each in findings(mended, finder()))
    # The map itself is as it was; over another land the colours come out differently, which is told again.
    assert compose(mended, finder()).passes[-1].ink.palette == compose(sheet, finder()).passes[-1].ink.palette  # type: ignore[union-attr]
    elsewhere = sheet_with(blend="multiply", land="#ffffff", key=mended.layers[0].key.model_dump(mode="json"))
    assert any(each.id == finding.id for each in findings(elsewhere, finder()))


def test_classes_that_a_blend_makes_alike_are_told() -> None:
    """Over black nothing is left of a multiplied ramp; over white all of it."""
    by = {"colour": {"by": "classes", "classing": {"field": "n", "method": "quantile", "classes": 3}}}
    dark, light = (sheet_with("points", by, blend="multiply", land=land) for land in ("#101010", "#ffffff"))
    told = [each for each in findings(dark, finder()) if each.id.startswith("close-on-map")]
    assert {each.id.split(":")[0].split("-")[-1] for each in told} == {"normal", "deutan", "protan", "tritan"}
    assert all("look alike on the map" in each.text for each in told)
    assert not any(each.id.startswith("close-on-map") for each in findings(light, finder()))
