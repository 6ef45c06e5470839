"""How the numbers of a key are said: with as many decimals as its maker wants, or its field has, and the same in every key that is made."""

from dataclasses import replace
from typing import Any

import numpy as np
import pyarrow as pa
import pytest
import shapely
from greylatch.edition.description import PublicEntry, PublicKey, PublicSection, PublicSide
from greylatch.edition.key_html import key_html
from greylatch.paint.key import LayerKey, sheet_key
from greylatch.paint.key_picture import key_svg
from greylatch.paint.passes import compose
from greylatch.paint.sources import Source, VectorSource
from greylatch.places.crs import LONLAT
from greylatch.places.frame import Frame
from greylatch.sheet.document import Sheet
from greylatch.sheet.layers import Layer
from greylatch.symbols.ink import ink
from greylatch.symbols.key import key_entries
from greylatch.tables.dataset import Dataset
from greylatch.tables.meaning import Meaning

VALUES = [1204.5, 2315.25, 5230.125, 8112.75, 9990.5, 12345.678]


def key_of(
    colour: dict[str, Any], decimals: int | None = None, of_field: int | None = None, channel: str = "colour",
    words: dict[str, str] | None = None, **more: dict[str, Any],
) -> LayerKey:  # fmt: skip
    points = np.array([shapely.Point(-27 + i / 10, 52) for i in range(len(VALUES))], dtype=object)
    rows = Dataset(pa.table({"carbon": VALUES, "depth": [1.5, 2.5, 3.5, 4.25, 5.25, 6.25]}), "points", points, LONLAT)
    described = replace(rows, meanings={"carbon": Meaning("count", "t", of_field)})
    layer = {
        "id": "l", "name": "Carbon", "dataset": "d", "key": {"decimals": decimals, "entries": words or {}},
        "symbology": {"kind": "symbols", "encodings": {channel: colour, **more}},
    }  # fmt: skip
    sheet = Sheet.model_validate({"version": 4, "title": "A", "layers": [layer]})

    def find(name: str, frame: Frame) -> Source:
        return VectorSource(described, frame)

    return sheet_key(compose(sheet, find))[0]


def texts(key: LayerKey) -> list[str]:
    return [entry.text for entry in key.entries]


CLASSES = {"by": "classes", "classing": {"field": "carbon", "method": "quantile", "classes": 2}}
TWO_WAY = {
    "by": "two-way",
    "first": CLASSES["classing"],
    "second": {"field": "depth", "method": "quantile", "classes": 2},
}
RAMP = {"by": "value", "field": "carbon"}
SIZE = {"by": "value", "field": "carbon"}


@pytest.mark.parametrize(
    ("decimals", "first"), [(0, "6,671 – 12,346"), (1, "6,671.4 – 12,345.7"), (3, "6,671.438 – 12,345.678")]
)
def test_classes_are_said_with_the_decimals_that_their_maker_wants(decimals: int, first: str) -> None:
    assert texts(key_of(CLASSES, decimals))[0] == first


def test_a_field_says_with_how_many_decimals_its_numbers_are_shown() -> None:
    assert texts(key_of(CLASSES, of_field=2))[0] == "6,671.44 – 12,345.68"
    # What the maker of the key wants goes before.
    assert texts(key_of(CLASSES, 0, of_field=2))[0] == "6,671 – 12,346"


def test_limits_that_differ_stay_told_apart() -> None:
    narrow = {**CLASSES, "classing": {"field": "carbon / 1e6", "method": "quantile", "classes": 3}}
    first = texts(key_of(narrow))[0]
    lower, upper = first.split(" – ")
    assert lower != upper
    shallow = {**CLASSES, "classing": {"field": "depth", "method": "manual", "breaks": [1.6, 1.9, 6.25]}}
    assert any("." in text for text in texts(key_of(shallow, of_field=None)))


def test_entries_say_which_step_of_their_encoding_they_are_wherever_they_stand() -> None:
    data = Dataset(pa.table({"kind": ["moss", "heath", "heath", None]}), "areas")
    colour = {"by": "category", "field": "kind", "categories": [{"values": ["moss"]}, {"values": ["heath"]}]}
    look = {
        "kind": "symbols",
        "encodings": {"colour": colour},
        "rules": [{"id": "a", "name": "Bare", "where": "kind IS NULL"}],
    }
    layer = Layer.model_validate(
        {"id": "a", "name": "A", "dataset": "a", "symbology": look, "key": {"order": ["others: kind = heath"]}}
    )
    entries = key_entries(layer, ink(data, layer.symbology))
    assert [(entry.text, entry.step) for entry in entries] == [("Bare", None), ("heath", 1), ("moss", 0)]


def test_squares_and_circles_too() -> None:
    assert texts(key_of(TWO_WAY, 1))[-1].count(".") == 4
    assert all(text.endswith(".00") for text in texts(key_of(SIZE, 2, channel="size")))


def test_sides_of_a_square_have_names_and_limits_in_every_key() -> None:
    """Readers saw nine colours and no word of what they stood for, but by pointing at them, which paper and fingers cannot."""
    key = key_of(TWO_WAY, 1)
    right, up = key.sections[0].sides
    assert (right.text, up.text) == ("carbon, t", "depth")
    assert (right.limits, up.limits) == ("1,204.5 – 6,671.4 – 12,345.7", "1.5 – 3.9 – 6.2")
    svg = key_svg([key]).decode()
    sides = [PublicSide(text=side.text, limits=side.limits) for side in (right, up)]
    entries = [PublicEntry(id=each.id, text=each.text, mark=each.mark) for each in key.entries if each.mark]
    section = PublicSection(heading="", entries=entries, ramp=[], ends=[], square=(2, 2), sides=sides)
    page = key_html([PublicKey(layer="l", title="", unit="", kind="points", sections=[section])])
    for side in (right, up):
        assert f">{side.text}<" in svg and f">{side.limits}<" in svg
        assert f"<b>{side.text}</b> {side.limits}" in page
    assert page.index("<b>depth") < page.index("<svg") < page.index("<b>carbon")
    reworded = key_of(TWO_WAY, 1, words={"up": "Depth of peat"})
    assert [side.text for side in reworded.sections[0].sides] == ["carbon, t", "Depth of peat"]
    per_km2 = {**TWO_WAY, "second": {"field": "depth", "normalise": {"by": "field", "field": "carbon"}, "classes": 2}}
    assert key_of(per_km2).sections[0].sides[1].text == "depth per carbon"


def test_ramps_say_the_same_in_every_key() -> None:
    """12,345.678 once stood as 1.235e+04 in pictures of keys, and as 12,350 elsewhere."""
    for decimals, ends in ((None, ("1,204", "12,350")), (1, ("1,204.5", "12,345.7"))):
        key = key_of(RAMP, decimals)
        assert key.sections[0].words == ends
        svg = key_svg([key]).decode()
        assert all(f">{end}<" in svg for end in ends)
    assert key_of(RAMP, of_field=0).sections[0].words == ("1,204", "12,346")
    assert key.sections[0].numeric


def test_faintness_has_a_faint_and_a_full_sample() -> None:
    """A map of slips, the larger the stronger, had a key of one symbol, and no word of what faint ones were."""
    faint = {"by": "value", "field": "carbon", "low": 2000, "faintest": 0.2}
    plain = key_of({"by": "value", "field": "depth"})
    for kind in ("opacity", "both"):
        key = key_of(faint, channel="opacity") if kind == "opacity" else key_of(CLASSES, opacity=faint)
        full, least = key.sections[-1].entries
        assert (full.text, least.text) == ("12,350 t", "2,000 t or less")
        assert full.mark is not None and least.mark is not None
        assert least.mark.fill_opacity == pytest.approx(0.2 * full.mark.fill_opacity)
        # What stands before them is counted as ever.
        assert sum(entry.count or 0 for entry in key.entries) == len(VALUES)
    assert all(entry.id not in ("fullest", "faintest") for entry in plain.entries)
    assert key_of({**faint, "low": 0, "high": 5000}, channel="opacity").entries[1].text == "5,000 t or more"
    # A stranger's table of ages, which have no unit, once told of "60 age or more".
    assert key_of({"by": "value", "field": "depth", "high": 5}, channel="opacity").entries[1].text == "depth 5 or more"
