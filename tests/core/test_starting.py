"""How layers begin, and what a symbology keeps when it becomes one of another kind."""

from typing import Any

import pyarrow as pa
import pytest
import shapely
from greylatch.encodings.by_value import SizeByValue
from greylatch.encodings.channels import KINDS, Channel
from greylatch.errors import BadInput
from greylatch.places.crs import LONLAT
from greylatch.sheet.parts import Classing, NormaliseByField, RampChoice, Stroke
from greylatch.symbols.ink import ink
from greylatch.symbols.starting import another_line, first_layer, first_lettering, showing, varied
from greylatch.tables.dataset import Dataset

from tests.looks import alike, coloured


def test_a_layer_begins_with_a_look_that_suits_its_data() -> None:
    assert first_layer("a", "Heights", "raster", "one band").symbology.kind == "raster-ramp"
    assert first_layer("a", "From the air", "raster", "rgb").symbology.kind == "picture"
    for kind in ("areas", "lines", "points"):
        assert first_layer("a", "Peat", kind).symbology.kind == "symbols"  # type: ignore[arg-type]
    assert len(first_layer("a", "x" * 500, "areas").name) == 200


def test_labels_begin_with_the_field_that_is_likeliest_to_hold_names() -> None:
    fields = [("code", "text", "identifier"), ("isle", "text", "name"), ("ha", "number", "measure")]
    assert [first_lettering(fields[n:]).lines[0].text for n in range(3)] == ["{isle}", "{isle}", "{ha}"]  # type: ignore[arg-type, union-attr]
    assert first_lettering([]) is None


def data(kind: str) -> Dataset:
    columns = pa.table(
        {"t": [1.0, 5, 9], "u": [4, 2, 8], "share_percent": [10.0, 20, 30], "cover": ["ling", "sedge", "ling"]}
    )
    shapes = {
        "points": shapely.points([[0, 0], [1, 1], [2, 2]]),
        "areas": shapely.box([0, 1, 2], [0, 0, 0], [1, 2, 3], [1, 1, 1]),
        "lines": shapely.linestrings([[[0, 0], [1, 1]], [[1, 0], [1, 1]], [[2, 0], [1, 1]]]),
    }
    return Dataset(columns, kind, shapes.get(kind), LONLAT)  # type: ignore[arg-type]


def test_numbers_are_shown_as_a_cartographer_would_begin() -> None:
    """Areas and rates by colour, amounts at points by size, words as hues. Common practice, no source."""
    plain = alike(fill="#102030", stroke=Stroke(width=3))

    def shown(kind: str, field: str) -> list[tuple[str, str]]:
        return [(name, one.by) for name, one in showing(plain, data(kind), field).encodings.used()]  # type: ignore[attr-defined]

    assert shown("points", "t") == [("size", "classes")]
    assert shown("points", "share_percent") == [("colour", "classes")]
    assert shown("areas", "t") == [("colour", "classes")]
    assert shown("lines", "cover") == [("colour", "category")]
    look = showing(plain, data("points"), "t")
    assert look.symbol.fill == "#102030" and look.symbol.strokes[0].width == 3


def test_classes_field_stroke_and_ramp_are_taken_along() -> None:
    classing = Classing(field="t", normalise=NormaliseByField(field="u"), method="quantile", classes=4)
    classed = coloured(classing=classing, ramp=RampChoice(name="upland", reverse=True), stroke=Stroke(width=2))
    both = varied(classed, data("points"), "size", "classes")
    assert both.encodings.size.classing == classing and both.symbol.strokes[0].width == 2  # type: ignore[union-attr]
    by_value = varied(both, data("points"), "size", "value").encodings.size
    assert (by_value.field, by_value.normalise) == ("t", NormaliseByField(field="u"))  # type: ignore[union-attr]
    smooth = varied(classed, data("areas"), "colour", "value").encodings.colour
    assert smooth.ramp.name == "upland"  # type: ignore[union-attr]
    assert varied(classed, data("areas"), "colour", None) == alike(stroke=Stroke(width=2))
    hues = varied(classed, data("areas"), "colour", "category", ["cover"]).encodings.colour
    assert [one.values for one in hues.categories] == [["ling"], ["sedge"]]  # type: ignore[union-attr]
    assert hues.ramp.name == "pebbles", "a ramp from light to dark does not tell categories apart"  # type: ignore[union-attr]


def test_every_kind_of_encoding_can_be_begun() -> None:
    for kind, channel, by in [
        ("areas", "colour", "two-way"), ("areas", "colour", "largest"), ("points", "shares", "shares"), ("lines", "size", "value"),
        ("points", "angle", "value"), ("areas", "opacity", "value"), ("areas", "colour", "value"),
    ]:  # fmt: skip
        look = varied(alike(), data(kind), channel, by)  # type: ignore[arg-type]
        assert ink(data(kind), look).drawn == 3, (kind, channel, by)


@pytest.mark.parametrize("kind", ["points", "areas", "lines"])
def test_any_kind_of_colour_can_follow_any_other(kind: str) -> None:
    """Words are shown by categories only: what needs numbers after them begins with fields of numbers."""
    dataset = data(kind)
    for before in KINDS["colour"]:
        begun = varied(alike(), dataset, "colour", before)
        for by in KINDS["colour"]:
            assert ink(dataset, varied(begun, dataset, "colour", by)).drawn, (before, by)


def test_pies_begin_large_enough_to_be_read() -> None:
    dataset = data("points")
    assert varied(alike(radius=3.5), dataset, "shares", "shares").symbol.radius == 9
    assert varied(alike(radius=14), dataset, "shares", "shares").symbol.radius == 14
    sized = varied(alike(radius=3.5), dataset, "size", "value")
    assert varied(sized, dataset, "shares", "shares").symbol.radius == 3.5, "their sizes say something already"


@pytest.mark.parametrize(("channel", "by"), [("shares", "shares"), ("colour", "largest")])
def test_the_size_of_what_has_parts_begins_as_their_sum(channel: Channel, by: str) -> None:
    dataset = data("points")
    parted = varied(alike(), dataset, channel, by)
    size = varied(parted, dataset, "size", "value").encodings.size
    assert isinstance(size, SizeByValue) and size.field == "t + u"
    assert ink(dataset, varied(parted, dataset, "size", "classes")).drawn == 3


def test_of_many_fields_those_that_tell_something_come_first() -> None:
    """Found on libpysal's map of Mexico (PyPI): its 31 fields of numbers were all to be compared at once, and its numbers of rows were
    shown first."""
    columns = pa.table({"POLY_ID": [1, 2, 3], "x": [0.5, 1, 2], **{f"GDP{i}": [1.0 + i, 2, 3] for i in range(30)}})
    many = Dataset(columns, "areas", shapely.box([0, 1, 2], [0, 0, 0], [1, 2, 3], [1, 1, 1]), LONLAT)
    largest = varied(alike(), many, "colour", "largest").encodings.colour
    assert [part.field for part in largest.fields] == ["GDP0", "GDP1", "GDP2", "GDP3"]  # type: ignore[union-attr]
    two = varied(alike(), many, "colour", "two-way").encodings.colour
    assert (two.first.field, two.second.field) == ("GDP0", "GDP1")  # type: ignore[union-attr]


def test_what_cannot_be_drawn_so_is_said() -> None:
    words = Dataset(pa.table({"a": ["x", "y"]}), "points", shapely.points([[0, 0], [1, 1]]), LONLAT)
    with pytest.raises(BadInput, match="no field of numbers"):
        varied(alike(), words, "colour", "classes")
    with pytest.raises(BadInput, match="not drawn by symbols"):
        varied(alike(), data("table"), "colour", "classes")
    with pytest.raises(BadInput, match="does not vary by 'category'"):
        varied(alike(), data("points"), "size", "category", ["t"])
    with pytest.raises(BadInput, match="need points"):
        ink(data("lines"), varied(alike(), data("lines"), "shares", "shares"))


def test_another_line_of_labels_says_what_the_map_shows() -> None:
    fields: list[Any] = [
        ("well", "text", "name"),
        ("lon", "number", "measure"),
        ("lat", "number", "measure"),
        ("depth", "number", "measure"),
    ]
    first = first_lettering(fields, "points")
    assert first is not None
    line = another_line(first, fields)
    assert (line.text, line.size) == ("{depth}", 10.0), "no coordinate"
    assert another_line(first, fields, ["lat"]).text == "{lat}"
    both = first.model_copy(
        update={"lines": [*first.lines, line.model_copy(update={"text": "{depth:.1f} cm", "size": 7.0})]}
    )
    third = another_line(both, fields)
    assert (third.text, third.size) == ("{lon}", 6.0), (
        "what is said already is not said again, and nothing is too small to be read"
    )
    full = first.model_copy(update={"lines": [line] * 4})
    with pytest.raises(BadInput, match="4 lines"):
        another_line(full, fields)
