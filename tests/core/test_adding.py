"""A layer that comes to others: in a hue of its own, and where it hides nothing. Common practice, no source."""

import pytest
from greylatch.encodings.channels import CHANNELS, KINDS, may_vary
from greylatch.reading.starting_filter import first_asked
from greylatch.readings.centres import Centres
from greylatch.readings.kinds import READINGS
from greylatch.sheet.layers import Layer
from greylatch.sheet.parts import Stroke, Symbol
from greylatch.sheet.symbology import Symbols
from greylatch.symbols.adding import NOTHING_YET, another_rule, coloured, in_a_hue_of_its_own, place_among
from greylatch.symbols.starting import HUES, first_layer, offered
from greylatch.tables.dataset import Kind

KNOWN: dict[str, Kind] = {kind: kind for kind in ("points", "lines", "areas", "raster")}


def layers(*kinds: str) -> list[Layer]:
    return [first_layer(kind, kind, KNOWN.get(kind, "areas")) for kind in kinds]


@pytest.mark.parametrize(
    ("kind", "there", "at"),
    [
        ("areas", [], 0),
        ("areas", ["points", "areas", "raster"], 1),
        ("areas", ["points", "lines"], 2),
        ("points", ["points", "areas"], 0),
        ("lines", ["points", "areas"], 1),
        ("raster", ["points", "raster"], 2),
        # What somebody put over an area on purpose stays there.
        ("lines", ["areas", "points", "raster"], 0),
        ("areas", ["gone", "points"], 0),
    ],
)
def test_it_lies_over_all_of_its_kind_and_under_what_it_would_hide(kind: Kind, there: list[str], at: int) -> None:
    assert place_among(kind, layers(*there), KNOWN) == at


def test_what_a_layer_is_read_as_counts_and_not_what_its_data_are() -> None:
    centres = layers("areas")[0].model_copy(update={"reading": Centres()})
    assert place_among("lines", [centres], KNOWN) == 1


def test_of_lines_the_stroke_on_top_has_the_colour_and_a_casing_keeps_its_own() -> None:
    cased = Symbol(strokes=[Stroke(colour="#ffffff", width=4), Stroke(colour="#4f6f7c", width=2)])
    assert [stroke.colour for stroke in coloured(cased, "lines", "#9a5a40").strokes] == ["#ffffff", "#9a5a40"]
    assert [stroke.colour for stroke in coloured(Symbol(strokes=[]), "lines", "#9a5a40").strokes] == ["#9a5a40"]


def test_a_table_of_which_nothing_is_drawn_may_lie_anywhere() -> None:
    assert place_among("lines", layers("points", "areas"), {"points": "points", "areas": "table"}) == 1


def test_it_has_a_hue_that_no_other_has_and_its_first_where_all_are_taken() -> None:
    for kind in ("points", "lines", "areas"):
        there: list[Layer] = []
        for _ in HUES[kind]:
            there.append(in_a_hue_of_its_own(first_layer(kind, kind, kind), kind, there))
        looks = [other.symbology for other in there]
        of = [look.symbol.strokes[0].colour if kind == "lines" else look.symbol.fill for look in looks]  # type: ignore[union-attr]
        assert tuple(of) == HUES[kind]
        assert in_a_hue_of_its_own(first_layer(kind, kind, kind), kind, there) == first_layer(kind, kind, kind)
    own = Symbols(symbol=Symbol(fill=HUES["points"][0]))
    drawn = layers("points")[0].model_copy(update={"symbology": own})
    assert in_a_hue_of_its_own(layers("points")[0], "points", [drawn]).symbology.symbol.fill == HUES["points"][1]  # type: ignore[union-attr]
    raster = first_layer("r", "Relief", "raster", "one band")
    assert in_a_hue_of_its_own(raster, "raster", []) is raster


def test_a_new_rule_is_told_apart_and_takes_nothing_until_it_is_written() -> None:
    look = first_layer("a", "Wells", "points").symbology
    assert isinstance(look, Symbols)
    hues = []
    for _ in range(3):
        rule = another_rule(look, "points")
        hues.append(rule.symbol.fill)
        look = look.model_copy(update={"rules": [rule, *look.rules]})
    assert hues == list(HUES["points"][1:4]) and [rule.id for rule in look.rules] == ["rule-3", "rule-2", "rule-1"]
    assert {rule.where for rule in look.rules} == {NOTHING_YET}
    last = look.model_copy(update={"rules": look.rules[:1]})
    assert (
        another_rule(last, "points", "t > 2").id == "rule-2" and another_rule(last, "points", "t > 2").where == "t > 2"
    )


def test_what_may_vary_wants_as_many_fields_of_numbers_as_it_compares() -> None:
    assert may_vary("points", 0, 0) == {}
    assert may_vary("points", 1, 0) == {"colour": ["category"]}
    assert may_vary("points", 2, 2) == {channel: list(KINDS[channel]) for channel in CHANNELS["points"]}
    assert may_vary("lines", 1, 1) == {
        "colour": ["classes", "value", "category"], "size": ["classes", "value"], "opacity": ["value"],
    }  # fmt: skip
    assert may_vary("raster", 3, 3) == may_vary("table", 3, 3) == {}


def test_every_reading_is_offered_for_what_it_can_be_made_of() -> None:
    for kind in ("areas", "lines", "points", "raster"):
        ways = {way for reading in READINGS if kind in reading.of for way in reading.ways}
        assert ways == {*offered(kind)} - {"heat", "clusters"}
    assert offered("table") == []


def test_readers_are_asked_about_the_map_first_and_about_codes_last() -> None:
    fields = [
        ("lon", "number", "measure"), ("fips", "text", "identifier"), ("county", "text", "name"), ("t", "number", "count"),
        ("photo", "text", "picture"), ("soil", "text", "category"),
    ]  # fmt: skip
    taken: list[str] = []
    while len(taken) < len(fields):
        taken.append(str(first_asked(fields, "t", taken)))  # type: ignore[arg-type]
    assert taken == ["t", "soil", "county", "lon", "fips", "photo"]
    assert first_asked([]) is None
