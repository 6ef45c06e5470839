"""Labels that follow lines. Referees: GEOS for distances and turned boxes; geometry by hand. That heights stand upright and on straight runs is
common practice, no source."""

from pathlib import Path
from typing import Any, Literal

import numpy as np
import pyarrow as pa
import pyproj
import pytest
import shapely
from greylatch.cli.draw import beside
from greylatch.formats.files import read_file
from greylatch.lettering.along import APART, spots_along
from greylatch.lettering.asked import ToLetter
from greylatch.lettering.label import Label
from greylatch.lettering.place import place
from greylatch.lettering.spines import spines_of
from greylatch.lettering.type import ASCENT, DESCENT, TextStyle, text_width
from greylatch.paint.lettered import to_letter
from greylatch.paint.passes import compose
from greylatch.paint.sources import VectorSource
from greylatch.places.frame import MERCATOR
from greylatch.sheet.lettering import Frame as Plate
from greylatch.sheet.lettering import LabelLine, Lettering
from greylatch.sheet.reading import read_sheet
from greylatch.sheet.symbology import Symbols
from greylatch.symbols.ink import ink
from greylatch.tables.dataset import Dataset
from shapely import affinity

ROOT = Path(__file__).parents[2]
EXAMPLES = ROOT / "docs" / "examples"
SIZE = 9.0


def asked(lines: list[str], texts: list[str], course: Literal["turned", "curved"] = "turned", **more: Any) -> ToLetter:
    shapes = np.array(shapely.from_wkt(lines))
    return ToLetter("lines", shapes, [texts], [TextStyle(SIZE)], 1.0, True, course=course, **more)


def outline(letter: Label, resolution: float = 1.0) -> shapely.Polygon:
    """What a text covers, in the frame."""
    half, high = text_width(letter.text, SIZE) / 2, (ASCENT + DESCENT) / 2 * SIZE
    level = shapely.box(-half * resolution, -high * resolution, half * resolution, high * resolution)
    # The frame's y goes up, so that a turn clockwise on paper is one against the sense of shapely's.
    return affinity.translate(affinity.rotate(level, -letter.turn, origin=(0, 0)), letter.x, letter.y)


@pytest.mark.parametrize(
    ("line", "turn"),
    [
        ("LINESTRING(0 0, 200 0)", 0),
        ("LINESTRING(200 0, 0 0)", 0),
        ("LINESTRING(0 0, 200 200)", -45),
        ("LINESTRING(200 200, 0 0)", -45),
        ("LINESTRING(0 200, 200 0)", 45),
        ("LINESTRING(0 0, 0 200)", 90),
        ("LINESTRING(0 200, 0 0)", 90),
    ],
)
def test_a_text_is_turned_as_its_line_and_never_stands_on_its_head(line: str, turn: float) -> None:
    (letter,) = place([asked([line], ["250"])], 1.0).labels
    assert letter.turn == pytest.approx(turn)
    assert shapely.distance(shapely.Point(letter.x, letter.y), shapely.from_wkt(line)) < 1e-9


def test_long_lines_are_lettered_again_and_short_or_crooked_ones_not_at_all() -> None:
    zigzag = ", ".join(f"{5 * i} {8 * (i % 2)}" for i in range(60))
    lines = [
        "LINESTRING(0 0, 1600 0)",
        "LINESTRING(0 50, 20 50)",
        f"LINESTRING({zigzag})",
        "LINESTRING(0 -90, 300 -90)",
    ]
    placed = place([asked(lines, ["250"] * 3 + [""])], 1.0)
    assert [letter.feature for letter in placed.labels] == [0] * round(1600 / APART)
    assert sorted(placed.left_out[0]) == [1, 2]
    assert np.diff(sorted(letter.x for letter in placed.labels)).min() > APART / 4


def test_each_part_of_a_line_is_lettered_and_further_out_fewer() -> None:
    rings = shapely.MultiLineString([shapely.Point(400 * i, 0).buffer(150).exterior for i in range(3)])
    wanted = asked([rings.wkt], ["250"])
    near, far = place([wanted], 0.25).labels, place([wanted], 8.0).labels
    assert len(near) > 3 * len(far) and {letter.feature for letter in near} == {0}
    for letter in near:
        assert shapely.distance(shapely.Point(letter.x, letter.y), rings) < 0.25 * SIZE * 0.2
    assert not place([wanted], 100.0).labels


def test_no_two_overlap_as_they_stand() -> None:
    """By GEOS, on their true outlines, turned."""
    rng = np.random.default_rng(8)
    lines = [shapely.LineString(rng.uniform(0, 900, (2, 2))).wkt for _ in range(60)]
    letters = place([asked(lines, [str(50 * i) for i in range(60)])], 1.0).labels
    assert len(letters) > 15
    outlines = np.array([outline(letter) for letter in letters])
    first, second = shapely.STRtree(outlines).query(outlines, predicate="overlaps")
    assert not (first < second).any()


def test_boxes_hold_the_turned_text() -> None:
    lines = np.array(shapely.from_wkt(["LINESTRING(0 0, 300 120)"]))
    spots = spots_along(lines, ["1,250"], np.array([text_width("1,250", SIZE)]), np.array([SIZE]), 0.0, 1.0)
    for (x, y), turn, (left, top, right, bottom) in zip(spots.places, spots.turns, spots.boxes, strict=True):
        west, south, east, north = outline(Label(0, 0, "1,250", x, y, (), (0, 0, 0, 0), turn=turn)).bounds
        assert (west - x, y - north, east - x, y - south) == pytest.approx((left, top, right, bottom))


def test_labels_of_contours_follow_them_in_the_edition_too(demo: Path) -> None:
    sheet = read_sheet(EXAMPLES / "contours.sheet.json")
    composition = compose(sheet, beside(demo))
    letters = composition.placement(composition.frame.grid.resolution(11)).labels
    assert len({letter.turn for letter in letters}) > 10
    labels = composition.labels(composition.frame.grid.resolution(11))
    assert [each.label for each in labels] == list(letters)


BEND = (
    "LINESTRING(" + ", ".join(f"{100 * np.cos(t)} {100 * np.sin(t)}" for t in np.linspace(0.2, np.pi - 0.2, 80)) + ")"
)


def test_letters_follow_a_bend_one_by_one() -> None:
    """On a circle of 100 px each letter stands upon the circle and is turned as its tangent, by hand."""
    (label,) = place([asked([BEND], ["Water of Skara"], "curved")], 1.0).labels
    assert [piece.run.text for piece in label.pieces] == list("WaterofSkara")
    assert [piece.dx for piece in label.pieces] == sorted(piece.dx for piece in label.pieces)
    first = (ASCENT - DESCENT) / 2 * SIZE
    for piece in label.pieces:
        half, turn = text_width(piece.run.text, SIZE) / 2, np.radians(piece.turn)
        # From the beginning of its baseline to the middle of the letter, half a line up.
        x = label.x + piece.dx + half * np.cos(turn) + first * np.sin(turn)
        y = label.y - (piece.dy + half * np.sin(turn) - first * np.cos(turn))
        assert np.hypot(x, y) == pytest.approx(100, abs=1.0)
        assert piece.turn == pytest.approx(np.degrees(np.arctan2(x, y)), abs=4)
    left, top, right, bottom = label.box
    assert left < min(piece.dx for piece in label.pieces) and right > max(piece.dx for piece in label.pieces)
    assert bottom - top > 1.25 * (ASCENT + DESCENT) * SIZE, "it bends"


def test_letters_never_go_round_sharp_corners_nor_stand_on_their_heads() -> None:
    corner = "LINESTRING(0 0, 60 0, 60 60, 0 60, 0 0)"
    assert not place([asked([corner], ["Water of Skara"], "curved")], 1.0).labels
    reverse = shapely.reverse(shapely.from_wkt(BEND)).wkt
    for line in (BEND, reverse):
        (label,) = place([asked([line], ["Water of Skara"], "curved")], 1.0).labels
        assert all(-90 < piece.turn < 90 for piece in label.pieces)


def test_joined_scripts_stay_whole_along_a_bend() -> None:
    """Letters of Arabic and Devanagari are joined: apart they would be other shapes."""
    for name in ("وادي الحرير", "नर्मदा"):
        (label,) = place([asked([BEND], [name], "curved")], 1.0).labels
        assert "".join(piece.run.text for piece in label.pieces) == name
        assert {piece.turn for piece in label.pieces} == {label.turn}


@pytest.mark.parametrize("course", ["turned", "curved"])
def test_labels_over_a_line_leave_its_stroke_free(course: Literal["turned", "curved"]) -> None:
    line = "LINESTRING(0 0, 300 60)"
    (label,) = place([asked([line], ["Skara"], course, beside=True, radius=3.0)], 1.0).labels
    stroke = shapely.from_wkt(line).buffer(3.0)
    for piece in label.pieces:
        width, turn = text_width(piece.run.text, SIZE), -piece.turn
        box = affinity.rotate(shapely.box(0, -DESCENT * SIZE, width, ASCENT * SIZE), turn, origin=(0, 0))
        assert not affinity.translate(box, label.x + piece.dx, label.y - piece.dy).intersects(stroke)


def test_names_of_long_areas_run_along_their_spines_and_others_stand_level() -> None:
    """A bow 28 px wide on a circle of 100 px, by hand; by GEOS each letter lies within it."""
    bow = shapely.from_wkt(BEND).buffer(14, cap_style="flat")
    square = shapely.box(300, -40, 400, 60)
    names = ["Skarawater", "Ard"]
    areas = np.array([bow, square], dtype=object)
    layer = ToLetter("areas", areas, [names], [TextStyle(SIZE)], 1.0, True, course="curved")
    one, two = sorted(place([layer], 1.0).labels, key=lambda label: label.x)
    assert len(one.pieces) == len("Skarawater") and len({round(piece.turn) for piece in one.pieces}) > 4
    for piece in one.pieces:
        width = text_width(piece.run.text, SIZE)
        box = affinity.rotate(shapely.box(0, -DESCENT * SIZE, width, ASCENT * SIZE), -piece.turn, origin=(0, 0))
        assert bow.contains(affinity.translate(box, one.x + piece.dx, one.y - piece.dy))
    assert [piece.turn for piece in two.pieces] == [0.0] and two.text == "Ard"
    assert spines_of(np.array([None, shapely.Polygon(), square], dtype=object)).tolist() == [None] * 3


@pytest.mark.parametrize("zoom", [3, 5])
def test_names_of_real_countries_lie_along_them_and_inside(zoom: int) -> None:
    """Natural Earth's countries (world-atlas, npm), in Web Mercator: every letter lies within its country, as GEOS says."""
    countries = read_file(ROOT / "web" / "node_modules" / "world-atlas" / "countries-50m.json").dataset
    source = VectorSource(countries, MERCATOR)
    names = countries.columns["name"].to_pylist()
    resolution = MERCATOR.grid.resolution(zoom)
    wanted = [name or "" for name in names]
    layer = ToLetter("areas", source.shapes, [wanted], [TextStyle(SIZE)], 1.0, True, course="curved")
    placed = place([layer], resolution).labels
    curved = [label for label in placed if len(label.pieces) > 3]
    assert len(curved) > (3 if zoom == 3 else 15)
    for label in curved:
        area = source.shapes[label.feature].buffer(0.3 * resolution)
        spots = [(label.x + piece.dx * resolution, label.y - piece.dy * resolution) for piece in label.pieces]
        assert shapely.contains_xy(area, spots).all(), label.text


@pytest.mark.parametrize("course", ["turned", "curved"])
def test_lines_of_the_lettering_follow_one_another_each_in_its_style(course: Literal["turned", "curved"]) -> None:
    bend = "LINESTRING(0 0, 100 10, 200 30, 300 60)"
    shapes = np.array(shapely.from_wkt([bend, bend.replace("60", "80")]))
    styles = [TextStyle(10), TextStyle(7)]
    asked = ToLetter("lines", shapes, [["Skara", ""], ["4 m", "12 m"]], styles, 1.0, True, course=course)
    for label in place([asked], 0.5).labels:
        said = {number: "".join(p.run.text for p in label.pieces if p.line == number) for number in (0, 1)}
        wanted = {0: "Skara", 1: "4m"} if label.feature == 0 else {0: "", 1: "12m"}
        assert {number: text.replace(" ", "") for number, text in said.items()} == wanted
        # One after the other, with a blank between what is set in two styles, and all within the box.
        ends = {number: max((p.dx for p in label.pieces if p.line == number), default=-1e9) for number in (0, 1)}
        assert ends[0] < min(p.dx for p in label.pieces if p.line == 1)
        left, top, right, bottom = label.box
        assert all(left <= p.dx <= right and top <= p.dy <= bottom for p in label.pieces)


def test_labels_of_lines_shrink_where_they_find_no_room() -> None:
    text = "Long Water of Skara"
    wide = text_width(text, SIZE)
    # Too short for it at its size, long enough for half of that; and a long one, lettered again and again in full.
    shapes = [f"LINESTRING(0 0, {1.2 * wide} 0)", f"LINESTRING(0 90, {4 * APART} 90)"]
    assert [label.feature for label in place([asked(shapes, [text] * 2)], 1.0).labels] == [1] * 4
    placed = place([asked(shapes, [text] * 2, smallest=0.5)], 1.0).labels
    assert sorted(label.feature for label in placed) == [0, 1, 1, 1, 1]
    shares = {label.feature: label.pieces[0].share for label in placed}
    assert shares[1] == 1 and 0.5 <= shares[0] < 0.8
    label = next(label for label in placed if label.feature == 0)
    assert label.box[2] - label.box[0] == pytest.approx(shares[0] * wide, rel=0.02)


def test_a_name_along_a_spine_shrinks_before_it_is_set_level() -> None:
    text = "Straits of Skara"
    bow = shapely.LineString([(200 * np.cos(t), 200 * np.sin(t)) for t in np.linspace(0.3, 2.8, 40)])
    area = np.array([bow.buffer(12)], dtype=object)
    wide = text_width(text, 30)
    assert bow.length > wide

    def label(**more: Any) -> Label | None:
        wanted = ToLetter("areas", area, [[text]], [TextStyle(30)], 1.0, True, course="curved", **more)
        return next(iter(place([wanted], 1.0).labels), None)

    assert label() is None
    small = label(smallest=0.4)
    assert small is not None and small.pieces[0].share < 0.8 and len({round(p.turn) for p in small.pieces}) > 5


def test_shields_stand_upright_wherever_their_line_runs() -> None:
    """Found on a stranger's streets: the numbers of those that run from south to north lay on their sides. Common practice, no source."""
    shapes = np.array(shapely.from_wkt(["LINESTRING(0 0, 0 20000)", "LINESTRING(9000 0, 29000 20000)"]))
    dataset = Dataset(pa.table({"n": ["7", "12"]}), "lines", shapes, pyproj.CRS(3857))
    roads = VectorSource(dataset, MERCATOR)

    def turns(course: Literal["turned", "curved"], shape: Literal["pennant", "box"]) -> list[float]:
        lettering = Lettering(lines=[LabelLine(text="{n}")], course=course, frame=Plate(shape=shape))
        wanted = to_letter(roads, ink(dataset, Symbols()), lettering)
        return [letter.turn for letter in place([wanted], 100.0).labels]

    for course in ("turned", "curved"):
        assert turns(course, "pennant") == [0, 0]
    assert sorted(turns("turned", "box")) == pytest.approx([-45, 90])
