"""Ink, sizes and the key."""

import numpy as np
import pyarrow as pa
import pytest
import shapely
from greylatch.encodings.by_category import Category, ColourByCategory
from greylatch.encodings.by_value import reference_values
from greylatch.encodings.channels import Encodings
from greylatch.encodings.sizes import FLANNERY, class_radii, proportional_radii
from greylatch.errors import BadInput
from greylatch.places.crs import LONLAT
from greylatch.sheet.layers import KeyText, Layer
from greylatch.sheet.parts import Classing, NormaliseByArea, NormaliseByField
from greylatch.sheet.reading import parse_sheet
from greylatch.sheet.symbology import Symbols
from greylatch.symbols.ink import UNDRAWN, ink
from greylatch.symbols.key import key_entries, numbers_shown, unit_note, unnamed_divisor
from greylatch.tables.dataset import Dataset

from tests.looks import alike, coloured, proportional, sized


def points(values: list[float | None]) -> Dataset:
    return Dataset(
        pa.table({"v": pa.array(values, pa.float64())}), "points", shapely.points(np.arange(len(values)), 0), LONLAT
    )


def test_single_is_one_mark() -> None:
    made = ink(points([1, None]), alike(fill="#112233"))
    assert made.mark.tolist() == [0, 0]
    assert made.palette[0].fill == "#112233"


def test_no_data_has_its_own_mark_or_none() -> None:
    classing = Classing(field="v", method="equal-interval", classes=2)
    drawn = ink(points([1, None, 5]), coloured(classing=classing))
    assert drawn.mark.tolist() == [0, 2, 1]
    left_out = ink(points([1, None, 5]), coloured(classing=classing, no_data=None))
    assert left_out.mark.tolist() == [0, UNDRAWN, 1]
    assert left_out.drawn == 2


def test_largest_symbols_are_drawn_first() -> None:
    made = ink(points([1, 100, 10]), proportional(field="v", largest=20))
    assert made.order is not None
    assert made.order.tolist() == [1, 2, 0]
    assert made.size is not None
    assert made.size.tolist() == pytest.approx([2, 20, 20 / np.sqrt(10)])


def test_all_others_hide_none_that_has_a_name() -> None:
    """As airports of a few cities lay under those of all others. Areas do not lie on one another."""
    town = Dataset(pa.table({"w": ["x", "a", None, "b"]}), "points", shapely.points([0, 0, 0, 0], 0), LONLAT)
    named = Symbols(
        encodings=Encodings(
            colour=ColourByCategory(field="w", categories=[Category(values=["a"]), Category(values=["b"])])
        )
    )
    order = ink(town, named).order
    assert order is not None and order.tolist() == [0, 2, 1, 3]
    areas = Dataset(town.columns, "areas", shapely.buffer(town.shapes, 1), LONLAT)
    assert ink(areas, named).order is None
    assert ink(town, Symbols(encodings=Encodings(colour=ColourByCategory(field="w", no_data=None)))).order is None


def test_flannery() -> None:
    """Flannery (1971): the radius grows with the value to the power 0.5716."""
    radii = proportional_radii(np.array([1.0, 100.0]), 10, "flannery")
    assert radii[1] / radii[0] == pytest.approx(100**0.5716, rel=1e-5)
    assert FLANNERY == 0.5716


def test_area_scaling_keeps_areas_in_proportion() -> None:
    radii = proportional_radii(np.array([2.0, 8.0]), 10, "area")
    assert (radii[1] / radii[0]) ** 2 == pytest.approx(4, rel=1e-5)
    assert proportional_radii(np.array([0.0, -3.0, np.nan]), 10, "area").tolist() == [0, 0, 0]


def test_graduated_needs_points() -> None:
    areas = Dataset(pa.table({"v": [1.0, 2]}), "areas", shapely.box([0, 1], [0, 0], [1, 2], [1, 1]), LONLAT)
    with pytest.raises(BadInput, match="need points"):
        ink(areas, sized(classing=Classing(field="v", classes=2)))
    assert class_radii(1, 2, 9) == [9]


def test_the_key_is_a_ladder_with_counts() -> None:
    layer = Layer(
        id="a",
        name="Wells",
        dataset="d",
        symbology=coloured(classing=Classing(field="v", method="manual", breaks=[10, 20])),
    )
    data = points([1, 10, 11, 20, None])
    entries = key_entries(layer, ink(data, layer.symbology))  # type: ignore[arg-type]
    assert [(e.id, e.text, e.count) for e in entries] == [
        ("v 10–20", "10 – 20", 2),
        ("v 1–10", "1 – 10", 2),
        ("no-data", "no data", 1),
    ]


def test_the_key_is_reworded_and_left_out() -> None:
    layer = Layer(
        id="a", name="Wells", dataset="d", symbology=coloured(classing=Classing(field="v", method="manual", breaks=[10, 20])),
        key=KeyText(entries={"v 10–20": "deep"}, hidden=["v 1–10"], decimals=1),
    )  # fmt: skip
    entries = key_entries(layer, ink(points([1, 20]), layer.symbology))  # type: ignore[arg-type]
    assert [(e.text, e.made_text, e.hidden) for e in entries] == [
        ("deep", "10.0 – 20.0", False),
        ("1.0 – 10.0", "1.0 – 10.0", True),
    ]


def test_proportional_key_shows_round_values_that_fit_the_map() -> None:
    layer = Layer(id="a", name="Wells", dataset="d", symbology=proportional(field="v", largest=20))
    entries = key_entries(layer, ink(points([870, 5]), layer.symbology))  # type: ignore[arg-type]
    assert [e.text for e in entries] == ["800", "200", "50"]
    assert entries[0].mark is not None
    assert entries[0].mark.radius == pytest.approx(20 * np.sqrt(800 / 870), rel=1e-5)
    assert reference_values(0.034) == pytest.approx([0.03, 0.008, 0.002])
    entries = key_entries(layer, ink(points([34_503_097.0, 5]), layer.symbology))  # type: ignore[arg-type]
    assert [e.text for e in entries] == ["30,000,000", "8,000,000", "2,000,000"], "not 3e+07"
    # Nobody counts seven and a half sheep; and words stay with the share that they were written for.
    entries = key_entries(layer, ink(points([30, 5, 1]), layer.symbology))  # type: ignore[arg-type]
    assert [(e.id, e.text) for e in entries] == [("size 30", "30"), ("size 7.5", "8"), ("size 1.875", "2")]
    entries = key_entries(layer, ink(points([3, 1]), layer.symbology))  # type: ignore[arg-type]
    assert [e.text for e in entries] == ["3", "1"]


def test_words_stay_with_the_class_that_they_were_written_for() -> None:
    """Other limits, another field, another divisor: another class, which nobody has named yet. Going back brings the words back."""
    first = Classing(field="v", method="manual", breaks=[10, 20])
    words = KeyText(entries={"v 1–10": "shallow"})
    data = points([1, 8, 20])

    def texts(classing: Classing) -> list[str]:
        layer = Layer(id="a", name="n", dataset="d", symbology=coloured(classing=classing), key=words)
        return [entry.text for entry in key_entries(layer, ink(data, layer.symbology))]  # type: ignore[arg-type]

    assert texts(first) == ["10 – 20", "shallow"]
    assert "shallow" not in texts(first.model_copy(update={"breaks": [9, 20]}))
    assert "shallow" not in texts(first.model_copy(update={"normalise": NormaliseByField(field="v")}))
    assert texts(first) == ["10 – 20", "shallow"]


def test_words_of_the_first_version_stay_with_its_classes() -> None:
    classing = Classing(field="v", method="manual", breaks=[10, 20])
    sheet = parse_sheet(
        {
            "version": 1, "title": "T",
            "layers": [
                {
                    "id": "a", "name": "n", "dataset": "d", "symbology": {"kind": "classed", "classing": classing.model_dump()},
                    "key": {"entries": {"class-0": "shallow"}},
                }
            ],
        }
    )  # fmt: skip
    layer = sheet.layers[0]
    assert [e.text for e in key_entries(layer, ink(points([1, 8, 20]), layer.symbology))] == ["10 – 20", "shallow"]  # type: ignore[arg-type]
    moved = coloured(classing=classing.model_copy(update={"breaks": [9, 20]}))
    other = layer.model_copy(update={"symbology": moved})
    assert [e.text for e in key_entries(other, ink(points([1, 8, 20]), moved))] == ["9 – 20", "1 – 9"]  # type: ignore[arg-type]


def test_a_raw_name_of_a_field_never_stands_in_the_key() -> None:
    symbology = coloured(classing=Classing(field="v", normalise=NormaliseByField(field="ha")))
    layer = Layer(id="a", name="n", dataset="d", symbology=symbology)
    data = points([1, 8, 20])
    assert (unit_note(layer, data), unnamed_divisor(layer, data)) == ("", "ha")
    said = layer.model_copy(update={"key": KeyText(unit="t per ha")})
    assert (unit_note(said, data), unnamed_divisor(said, data)) == ("t per ha", "")
    # Written for these numbers: of others it is not said.
    here = layer.model_copy(update={"key": KeyText(unit="t per ha", unit_of=numbers_shown(layer, data))})
    assert unit_note(here, data) == "t per ha"
    other = here.model_copy(
        update={"symbology": coloured(classing=Classing(field="w", normalise=NormaliseByField(field="ha")))}
    )
    assert (unit_note(other, data), unnamed_divisor(other, data)) == ("", "ha")
    by_area = coloured(classing=Classing(field="v", normalise=NormaliseByArea()))
    assert unit_note(layer.model_copy(update={"symbology": by_area}), data) == "per km²"


def test_dots_are_large_enough_in_the_key_to_show_their_colour() -> None:
    """Common practice: a sample of a pixel or two has no colour that anybody can tell. Samples of sizes are as large as they are."""
    small = Symbols.model_validate({"kind": "symbols", "symbol": {"radius": 1.1}})
    layer = Layer(id="a", name="n", dataset="d", symbology=small)
    drawn = ink(points([1, 8, 20]), small)
    assert drawn.palette[0].radius == 1.1
    assert [entry.mark.radius for entry in key_entries(layer, drawn) if entry.mark] == [3.0]
    sized = Symbols.model_validate(
        {"kind": "symbols", "encodings": {"size": {"by": "value", "field": "v", "largest": 6}}}
    )
    marks = [
        entry.mark
        for entry in key_entries(layer.model_copy(update={"symbology": sized}), ink(points([1, 8, 20]), sized))
    ]
    assert min(mark.radius for mark in marks if mark) < 3
