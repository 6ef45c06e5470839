"""What varies by what: each kind of encoding against numbers worked out by hand, and what it draws."""

import numpy as np
import pyarrow as pa
import pytest
import shapely
from coloraide import Color
from greylatch.colour.ramps import ramp_colours
from greylatch.encodings.by_category import Category, ColourByCategory, Other, categories_of
from greylatch.encodings.by_classes import ColourByClasses
from greylatch.encodings.by_value import AngleByValue, ColourByValue, OpacityByValue, SizeByValue
from greylatch.encodings.channels import Encodings
from greylatch.encodings.largest import ColourByLargest, Component
from greylatch.encodings.shares import Shares
from greylatch.encodings.two_way import ColourByTwo, Corners, square_colours
from greylatch.errors import BadInput, CannotDraw
from greylatch.places.crs import LONLAT
from greylatch.sheet.layers import KeyText, Layer
from greylatch.sheet.parts import Classing, RampChoice, Symbol
from greylatch.sheet.symbology import Departure, Rule, Symbols
from greylatch.symbols.ink import AS_THE_MARK, UNDRAWN, Ink, ink
from greylatch.symbols.key import key_entries, key_sections, unit_note
from greylatch.symbols.splitting import split_into_rules
from greylatch.tables.dataset import Dataset

NAN = float("nan")
COLUMNS = {
    "v": [0.0, 5, 10, NAN], "cover": ["ling", "sedge", None, "ling"], "a": [1.0, 2, 0, 0], "b": [3.0, 2, 0, 1], "c": [0.0, 1, 0, 0],
    "bearing": [0.0, 450, -90, NAN],
}  # fmt: skip


def data(kind: str = "points") -> Dataset:
    n = len(COLUMNS["v"])
    places = np.arange(n, dtype=float)
    shapes = {
        "points": shapely.points(places, 0),
        "areas": shapely.box(places, 0, places + 1, 1),
        "lines": shapely.linestrings(np.stack([np.c_[places, places], np.c_[places + 1, places]], axis=1)),
    }
    return Dataset(pa.table({k: pa.array(v) for k, v in COLUMNS.items()}), kind, shapes[kind], LONLAT)  # type: ignore[arg-type]


def inked(
    kind: str = "points", rules: list[Rule] | None = None, symbol: Symbol | None = None, **encodings: object
) -> Ink:
    look = Symbols(symbol=symbol or Symbol(), encodings=Encodings(**encodings), rules=rules or [])  # type: ignore[arg-type]
    return ink(data(kind), look, "Wells")


def fills(made: Ink) -> list[str | None]:
    """The colour of each feature as it is drawn."""
    out: list[str | None] = []
    for row, at in enumerate(made.mark.tolist()):
        along = AS_THE_MARK if made.ramp is None else int(made.ramp[row])
        out.append(None if at == UNDRAWN else made.palette[at].fill if along == AS_THE_MARK else made.colours[along])
    return out


def test_a_continuous_colour_runs_between_its_ends_and_is_clamped_beyond() -> None:
    whole = inked("areas", colour=ColourByValue(field="v", ramp=RampChoice(name="slate"), no_data="#123456"))
    colours = fills(whole)
    assert (colours[0], colours[2], colours[3]) == (whole.colours[0], whole.colours[-1], "#123456")
    assert colours[1] == whole.colours[round(255 / 2)]
    clamped = inked("areas", colour=ColourByValue(field="v", low=4, high=6))
    assert [fills(clamped)[i] for i in (0, 2)] == [clamped.colours[0], clamped.colours[-1]]
    ended = inked("areas", colour=ColourByValue(field="v", low=0, middle=2, high=10))
    assert ended.ramp is not None
    # 5 lies three eighths of the way from the middle 2 to the high end 10.
    assert ended.ramp[1] == round(255 * (0.5 + 0.5 * 3 / 8))
    with pytest.raises(BadInput, match="middle 12 does not lie between"):
        inked("areas", colour=ColourByValue(field="v", middle=12))
    with pytest.raises(BadInput, match="low end 6 is not below its high end 4"):
        inked("areas", colour=ColourByValue(field="v", low=6, high=4))


def test_its_key_is_a_ramp_with_its_ends() -> None:
    layer = Layer(
        id="a", name="A", dataset="d",
        symbology=Symbols(encodings=Encodings(colour=ColourByValue(field="v", low=0, middle=4, high=10))),
    )  # fmt: skip
    (section,) = key_sections(layer, ink(data("areas"), layer.symbology).sections)  # type: ignore[arg-type]
    assert section.ends == (0, 4, 10) and 20 < len(section.ramp) < 30
    assert [(entry.id, entry.count) for entry in section.entries] == [("no-data", 1)]


def test_categories_are_ordered_merged_named_and_left_out() -> None:
    usual = inked(colour=ColourByCategory(field="cover"))
    assert [(one.text, one.count) for one in usual.sections[0].entries] == [("ling", 2), ("sedge", 1), ("no data", 1)]
    assert usual.palette[0].fill != usual.palette[1].fill
    first = Category(values=["sedge"], colour="#aa0000", name="Sedges", shape="star")
    some = inked(
        colour=ColourByCategory(field="cover", categories=[first], other=Other(colour="#00aa00"), no_data=None)
    )
    assert fills(some) == ["#00aa00", "#aa0000", None, "#00aa00"]
    assert [(one.text, one.count) for one in some.sections[0].entries] == [("Sedges", 1), ("other", 2), ("no data", 1)]
    assert some.palette[0].path and not some.palette[1].path, "a category's shape as well as its colour"
    none = inked(colour=ColourByCategory(field="cover", categories=[first], other=None, no_data=None))
    assert none.drawn == 1 and none.sections[0].entries[1].text == "left out"
    merged = Category(values=["ling", "sedge"])
    assert [
        one.count for one in inked(colour=ColourByCategory(field="cover", categories=[merged])).sections[0].entries
    ] == [3, 1]
    hidden = inked(colour=ColourByCategory(field="cover", categories=[first.model_copy(update={"drawn": False})]))
    assert fills(hidden)[1] is None


def test_numbers_and_calculated_values_can_be_categories() -> None:
    by_number = inked(colour=ColourByCategory(field="a"))
    assert [one.text for one in by_number.sections[0].entries] == ["0", "1", "2"]
    calculated = inked(colour=ColourByCategory(field="a > b"))
    assert sum(one.count or 0 for one in calculated.sections[0].entries) == 4


def test_two_ways_make_a_square_whose_sides_rise() -> None:
    sides = [
        Classing(field=name, method="manual", breaks=limits, classes=2)
        for name, limits in (("a", [0.5, 2]), ("b", [1.5, 3]))
    ]
    made = inked("areas", colour=ColourByTwo(first=sides[0], second=sides[1]))
    (section,) = made.sections
    assert section.square == (2, 2)
    # By hand: (1, 3) and (2, 2) are high in both, (0, 0) low in both, (0, 1) as well.
    assert [entry.count for entry in section.entries] == [2, 0, 0, 2]
    layer = Layer(id="a", name="A", dataset="d", symbology=Symbols())
    assert [entry.count for entry in key_sections(layer, made.sections)[0].entries] == [0, 2, 2, 0], "rows from the top"
    with pytest.raises(ValueError, match="at most 4"):
        ColourByTwo(first=Classing(field="a", classes=5), second=sides[1])


def test_the_square_lies_between_its_corners_in_oklab() -> None:
    """Ottosson (2020), as coloraide has it: the middle of a 3 × 3 is as far from one corner as from the one across."""
    corners = Corners(low="#ffffff", first="#ff0000", second="#0000ff", high="#000000")
    square = square_colours(corners, 3, 3)
    assert [square[0][0], square[0][2], square[2][0], square[2][2]] == ["#ffffff", "#ff0000", "#0000ff", "#000000"]
    edge, ends = Color(square[0][1]), (Color("#ffffff"), Color("#ff0000"))
    assert edge.distance(ends[0], space="oklab") == pytest.approx(edge.distance(ends[1], space="oklab"), rel=0.05), (
        "nearly: what no screen shows is taken in"
    )


def test_the_largest_of_several_with_ties_and_lead() -> None:
    parts = [Component(field=name) for name in "abc"]
    made = inked("areas", colour=ColourByLargest(fields=parts, tie="#010203", faintest=0.2, no_data="#999999"))
    colours = [entry.mark.fill for entry in made.sections[0].entries if entry.mark]
    assert fills(made) == [colours[1], "#010203", "#999999", colours[1]]
    assert made.opacity is not None
    # 3 of 4 leads 1 by half of all; 1 of 1 leads by all; a tie is drawn in full.
    assert made.opacity.tolist() == pytest.approx([0.2 + 0.8 * 0.5, 1.0, made.opacity[2], 1.0])
    assert [entry.text for entry in made.sections[0].entries] == ["a", "b", "c", "as much of several", "no data"]
    with pytest.raises(BadInput, match=r"Row 3 has -90 of 'bearing'"):
        inked("areas", colour=ColourByLargest(fields=[Component(field="a"), Component(field="bearing")]))


def test_shares_sum_up_and_small_ones_are_other() -> None:
    parts = [Component(field=name, colour=f"#{i}{i}{i}{i}{i}{i}") for i, name in enumerate("abc")]
    made = inked(shares=Shares(fields=parts, hollow=0.4))
    assert made.wedges is not None
    assert made.wedges.shares.tolist() == [
        pytest.approx(row) for row in ([0.25, 0.75, 0], [0.4, 0.4, 0.2], [0, 0, 0], [0, 1, 0])
    ]
    assert (made.wedges.hollow, made.wedges.colours) == (0.4, ("#000000", "#111111", "#222222"))
    assert made.mark[2] == UNDRAWN, "nothing has no shares"
    other = inked(shares=Shares(fields=parts, small=0.3)).wedges
    assert other is not None
    assert other.shares[0].tolist() == pytest.approx([0, 0.75, 0, 0.25])
    assert other.shares[1].tolist() == pytest.approx([0.4, 0.4, 0, 0.2])
    with pytest.raises(CannotDraw, match="need points"):
        inked("areas", shares=Shares(fields=parts))


def test_angle_and_opacity_follow_their_fields() -> None:
    made = inked(angle=AngleByValue(field="bearing"), opacity=OpacityByValue(field="v", faintest=0.5))
    assert made.angle is not None and made.opacity is not None
    assert made.angle.tolist() == [0, 90, 270, 0]
    assert made.opacity.tolist() == pytest.approx([0.5, 0.75, 1, 1])


def test_lines_are_coloured_and_as_wide_as_their_values() -> None:
    made = inked("lines", colour=ColourByClasses(classing=Classing(field="a", method="equal-interval", classes=2)))
    assert len({mark.strokes[-1].colour for mark in made.palette}) == 3
    wide = inked("lines", size=SizeByValue(field="v", largest=6, scaling="straight"))
    assert wide.size is not None
    assert wide.size.tolist() == [0, 3, 6, 0]
    assert wide.mark.tolist() == [UNDRAWN, 0, 0, UNDRAWN], "nothing is no line"


def test_colour_and_size_by_different_fields() -> None:
    made = inked(
        colour=ColourByClasses(classing=Classing(field="a", method="manual", breaks=[0.5, 2])),
        size=SizeByValue(field="b", largest=10),
    )
    assert [section.channel for section in made.sections] == ["colour", "size"]
    assert made.size is not None
    assert made.size.tolist() == pytest.approx([10, 10 * np.sqrt(2 / 3), 0, 10 * np.sqrt(1 / 3)], rel=1e-5)
    assert made.order is not None and made.order[0] == 0
    assert [made.entry[i] for i in (0, 3)] == [1, 0]  # type: ignore[index]


def test_a_row_takes_the_first_rule_that_holds() -> None:
    red, blue = (Symbol(fill=colour) for colour in ("#ff0000", "#0000ff"))
    rules = [
        Rule(id="r", name="Much", where="v > 4", symbol=red), Rule(id="off", name="Off", where="v >= 0", active=False),
        Rule(id="b", name="Ling", where="cover = 'ling'", symbol=blue, encodings=Encodings(size=SizeByValue(field="b", largest=8))),
    ]  # fmt: skip
    made = inked(rules=rules, symbol=Symbol(fill="#00ff00"))
    assert fills(made) == ["#0000ff", "#ff0000", "#ff0000", "#0000ff"]
    assert dict(made.ruled) == {"r": 2, "b": 2, "": 0}
    assert made.size is not None and made.size.tolist() == pytest.approx([8, 4, 4, 8 / np.sqrt(3)], rel=1e-5)
    look = Symbols(rules=rules[:1], others="left out")
    left_out = ink(data(), look)
    assert left_out.mark.tolist() == [UNDRAWN, 0, 0, UNDRAWN] and dict(left_out.ruled)[""] == 2
    layer = Layer(id="a", name="A", dataset="d", symbology=look, key=KeyText(entries={"r: all": "a lot"}))
    assert [(entry.id, entry.text, entry.count) for entry in key_entries(layer, left_out)] == [("r: all", "a lot", 2)]
    with pytest.raises(CannotDraw, match=r"Rule 'Bad': .*Line 1, column 4"):
        inked(rules=[Rule(id="x", name="Bad", where="v >")])


def test_single_features_depart_from_the_others() -> None:
    look = Symbols(
        symbol=Symbol(fill="#00ff00", radius=3),
        exceptions={1: Departure(fill="#ff0000", radius=9), 2: Departure(left_out=True), 99: Departure(fill="#ffffff")},
    )
    made = ink(data(), look)
    assert fills(made) == ["#00ff00", "#ff0000", None, "#00ff00"]
    assert [made.palette[at].radius for at in made.mark[[0, 1]]] == [3, 9]


@pytest.mark.parametrize("kind", ["points", "areas", "lines"])
def test_rules_made_of_classes_or_categories_draw_the_same(kind: str) -> None:
    for colour in (
        ColourByClasses(classing=Classing(field="b", method="manual", breaks=[0, 1, 3])),
        ColourByCategory(field="cover"),
        ColourByCategory(field="a", categories=[Category(values=["0", "2"]), Category(values=["1"])]),
    ):
        look = Symbols(encodings=Encodings(colour=colour))
        split = split_into_rules(look, data(kind))
        seen = fills if kind != "lines" else strokes
        assert seen(ink(data(kind), split)) == seen(ink(data(kind), look))
    with pytest.raises(BadInput, match="neither"):
        split_into_rules(Symbols(), data(kind))


def strokes(made: Ink) -> list[str | None]:
    return [None if at == UNDRAWN else made.palette[at].strokes[-1].colour for at in made.mark.tolist()]


def test_a_ramp_by_hand_runs_through_its_stops_in_oklab() -> None:
    stops = ["#f0f0e0", "#c05030", "#201018"]
    assert ramp_colours(RampChoice(stops=stops), 3) == stops
    assert ramp_colours(RampChoice(stops=stops, reverse=True), 5)[::2] == stops[::-1]
    second = Color(ramp_colours(RampChoice(stops=stops), 5)[1]).convert("oklab").coords()
    ends = [Color(stop).convert("oklab").coords() for stop in stops[:2]]
    assert second == pytest.approx([(a + b) / 2 for a, b in zip(*ends, strict=True)], abs=5e-3)
    of_one = [Color(colour).convert("oklch") for colour in ramp_colours(RampChoice(stops=["#7c4f74"]), 7)]
    lightness = [colour["lightness"] for colour in of_one]
    assert lightness == sorted(lightness, reverse=True) and lightness[0] > 0.9 and lightness[-1] < 0.3
    assert of_one[3].convert("srgb").to_string(hex=True) == "#7c4f74"


def test_no_two_categories_have_one_colour() -> None:
    """Found with airportsdata (PyPI): three countries of twelve were of one orange."""
    for name in ("pebbles", "pennants", "washes"):
        assert len(set(ramp_colours(RampChoice(name=name), 24))) == 24, name


def test_shares_of_the_total_and_numbers_per_thousand() -> None:
    def classed(normalise: object) -> Layer:
        classing = {"field": "b", "normalise": normalise, "method": "manual", "breaks": [20, 60, 400_000]}
        look = {"kind": "symbols", "encodings": {"colour": {"by": "classes", "classing": classing}}}
        return Layer.model_validate({"id": "a", "name": "A", "dataset": "d", "symbology": look})

    share = classed({"by": "total"})
    made = ink(data("areas"), share.symbology)  # type: ignore[arg-type]
    assert made.values is not None and made.values.tolist() == pytest.approx([50, 100 / 3, 0, 100 / 6])
    assert unit_note(share, data("areas")) == "% of the total"
    per_thousand = classed({"by": "field", "field": "a", "per": 1000})
    made = ink(data("areas"), per_thousand.symbology)  # type: ignore[arg-type]
    assert made.values is not None and made.values[:2].tolist() == [3_000, 1_000] and np.isnan(made.values[2:]).all()
    assert key_entries(per_thousand, made)[0].id.startswith("b per 1,000 a ")
    assert unit_note(classed({"by": "field", "field": "a", "per": 100}), data("areas")) == "%"
    with pytest.raises(BadInput, match="share of the total is no condition"):
        split_into_rules(share.symbology, data("areas"))  # type: ignore[arg-type]


def test_days_stand_without_an_hour_that_nobody_wrote() -> None:
    """Found in the demo's pins: '2022-08-28 00:00:00'. Documents that name days in the old way still find them."""
    days = pa.array(["2022-08-28", "2023-01-02", None], pa.string()).cast(pa.timestamp("s"))
    dated = Dataset(pa.table({"day": days}), "points", shapely.points(np.arange(3.0), 0), LONLAT)
    assert [each.values for each in categories_of(dated, "day")] == [["2022-08-28"], ["2023-01-02"]]
    old = ColourByCategory(field="day", categories=[Category(values=["2023-01-02 00:00:00"], colour="#112233")])
    made = ink(dated, Symbols(encodings=Encodings(colour=old)))
    assert fills(made)[1] == "#112233" and fills(made)[0] == "#b4b0a6"
