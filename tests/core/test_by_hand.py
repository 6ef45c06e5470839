"""Single features by hand: pins with numbers and letters, looks that depart, and what the key says of both."""

import csv
from pathlib import Path

import numpy as np
import pyarrow as pa
import pytest
import shapely
from greylatch.encodings.by_category import ColourByCategory
from greylatch.encodings.by_value import SizeByValue
from greylatch.encodings.channels import Encodings
from greylatch.errors import CannotDraw
from greylatch.paint.brush import shape_outline
from greylatch.sheet.layers import KeyText, Layer
from greylatch.sheet.reading import read_sheet
from greylatch.sheet.symbology import Departure, Pins, Rule, Symbols
from greylatch.symbols.ink import UNDRAWN, Ink, ink
from greylatch.symbols.key import key_sections
from greylatch.symbols.pins import pin_sign, sign_path
from greylatch.symbols.swatch import swatch_svg
from greylatch.tables.dataset import Dataset, Kind


def masts(kind: Kind = "points") -> Dataset:
    """Five masts, whose fids have gaps."""
    shapes = [shapely.Point(i, i) for i in range(5)]
    if kind == "areas":
        shapes = [shape.buffer(1) for shape in shapes]
    columns = pa.table({"mast": list("vwxyz"), "depth": [5.0, 1.0, None, 9.0, 2.0], "cover": list("aabbb")})
    return Dataset(columns, kind, np.array(shapes), fids=np.array([0, 2, 4, 6, 8]))


def drawn_as(made: Ink) -> list[str]:
    """The sign of each row, '-' for none, '' for what is not drawn."""
    signs = {sign_path(pin_sign(i, signs)): pin_sign(i, signs) for i in range(30) for signs in ("numbers", "letters")}
    return ["" if at == UNDRAWN else signs.get(made.palette[at].sign, "-") for at in made.mark.tolist()]


def test_pins_are_numbered_in_their_order_and_lie_over_all_others() -> None:
    pins = Pins(fids=[6, 77, 0], field="mast")
    for look in (
        Symbols(pins=pins),
        Symbols(
            pins=pins, encodings=Encodings(size=SizeByValue(field="depth"), colour=ColourByCategory(field="cover"))
        ),
        Symbols(pins=pins, rules=[Rule(id="r", name="R", where="depth > 4")], others="left out"),
    ):
        made = ink(masts(), look)
        assert [sign for sign in drawn_as(made) if sign not in "-"] == ["3", "1"], "77 is gone and keeps its number"
        assert made.order is not None and made.order[-2:].tolist() == [0, 3], "the first over the last"
        assert sorted(made.order.tolist()) == list(range(5))
        if made.size is not None:
            assert made.size[[0, 3]].tolist() == [9, 9]
        (section,) = (
            each
            for each in key_sections(Layer(id="a", name="A", dataset="d", symbology=look), made.sections)
            if each.channel == "pins"
        )
        assert [(entry.id, entry.text) for entry in section.entries] == [("pin 6", "y"), ("pin 0", "v")]
        assert 'fill="#ffffff"' in swatch_svg(section.entries[0].mark, "points", "a")  # type: ignore[arg-type]


def test_pins_need_points_and_a_field_of_names_that_is_there() -> None:
    pins = Pins(fids=[0], field="name")
    assert ink(masts("areas"), Symbols(pins=pins)).palette[0].sign == ""
    with pytest.raises(CannotDraw, match="names of pins: There is no field 'name'"):
        ink(masts(), Symbols(pins=pins))
    nameless = ink(masts(), Symbols(pins=Pins(fids=[2])))
    assert nameless.sections[-1].entries[0].text == "feature 2"


def test_a_pinned_feature_may_depart_and_be_left_out() -> None:
    look = Symbols(
        pins=Pins(fids=[0, 2], signs="letters"), exceptions={0: Departure(fill="#ff0000"), 2: Departure(left_out=True)}
    )
    made = ink(masts(), look)
    assert drawn_as(made) == ["A", "", "-", "-", "-"]
    assert made.palette[made.mark[0]].fill == "#ff0000"
    assert [entry.id for entry in made.sections[-1].entries] == ["pin 0"]


def test_features_that_differ_stand_in_the_key_by_the_words_they_were_given() -> None:
    look = Symbols(
        exceptions={
            4: Departure(fill="#ff0000", name="the pilot area"),
            6: Departure(fill="#00ff00"),
            99: Departure(name="gone"),
        }
    )
    layer = Layer(id="a", name="A", dataset="d", symbology=look, key=KeyText(entries={"feature 4": "Pilot"}))
    made = ink(masts("areas"), look)
    entries = [entry for section in key_sections(layer, made.sections) for entry in section.entries]
    assert [entry.id for entry in entries] == ["all", "feature 4"]
    assert (entries[1].text, entries[1].made_text) == ("Pilot", "the pilot area")
    assert entries[1].mark is not None and entries[1].mark.fill == "#ff0000"


@pytest.mark.parametrize("text", ["1", "7", "10", "88", "100", "A", "W", "WW", "AAA"])
def test_signs_fit_into_a_circle_and_stand_in_its_middle(text: str) -> None:
    """Checked against Skia's own bounds of the outline."""
    box = shape_outline(sign_path(text), 1.0, 0.0).computeTightBounds()
    corners = [np.hypot(x, y) for x in (box.left(), box.right()) for y in (box.top(), box.bottom())]
    assert max(corners) < 0.95
    assert abs(box.top() + box.bottom()) < 0.12 and abs(box.left() + box.right()) < 0.2


def test_the_demo_pins_the_largest_slips_and_fires(demo: Path) -> None:
    with open(demo / "slips.csv") as file:
        volumes = [float(row["volume_m3"] or 0) for row in csv.DictReader(file)]
    look = read_sheet(demo / "slips.sheet.json").layers[0].symbology
    assert isinstance(look, Symbols) and look.pins
    assert look.pins.fids == np.argsort(volumes)[::-1][:5].tolist()
