"""Labels that follow lines. Referees: GEOS for distances and turned boxes; geometry by hand. That heights stand upright and on straight runs is
common practice, no source."""

from pathlib import Path

import numpy as np
import pytest
import shapely
from greylatch.cli.draw import beside
from greylatch.lettering.along import APART, spots_along
from greylatch.lettering.place import Letter, ToLetter, place
from greylatch.lettering.type import ASCENT, DESCENT, text_width
from greylatch.paint.passes import compose
from greylatch.sheet.reading import read_sheet
from shapely import affinity

EXAMPLES = Path(__file__).parents[2] / "docs" / "examples"
SIZE = 9.0


def asked(lines: list[str], texts: list[str]) -> ToLetter:
    return ToLetter("lines", np.array(shapely.from_wkt(lines)), texts, SIZE, 1.0, True, along=True)


def outline(letter: Letter, resolution: float = 1.0) -> shapely.Polygon:
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
    (letter,) = place([asked([line], ["250"])], 1.0).letters
    assert letter.turn == pytest.approx(turn)
    assert shapely.distance(shapely.Point(letter.x, letter.y), shapely.from_wkt(line)) < 1e-9
    assert letter.dx == 0


def test_long_lines_are_lettered_again_and_short_or_crooked_ones_not_at_all() -> None:
    zigzag = ", ".join(f"{5 * i} {8 * (i % 2)}" for i in range(60))
    lines = [
        "LINESTRING(0 0, 1600 0)",
        "LINESTRING(0 50, 20 50)",
        f"LINESTRING({zigzag})",
        "LINESTRING(0 -90, 300 -90)",
    ]
    placed = place([asked(lines, ["250"] * 3 + [""])], 1.0)
    assert [letter.feature for letter in placed.letters] == [0] * round(1600 / APART)
    assert sorted(placed.left_out[0]) == [1, 2]
    assert np.diff(sorted(letter.x for letter in placed.letters)).min() > APART / 4


def test_each_part_of_a_line_is_lettered_and_further_out_fewer() -> None:
    rings = shapely.MultiLineString([shapely.Point(400 * i, 0).buffer(150).exterior for i in range(3)])
    wanted = asked([rings.wkt], ["250"])
    near, far = place([wanted], 0.25).letters, place([wanted], 8.0).letters
    assert len(near) > 3 * len(far) and {letter.feature for letter in near} == {0}
    for letter in near:
        assert shapely.distance(shapely.Point(letter.x, letter.y), rings) < 0.25 * SIZE * 0.2
    assert not place([wanted], 100.0).letters


def test_no_two_overlap_as_they_stand() -> None:
    """By GEOS, on their true outlines, turned."""
    rng = np.random.default_rng(8)
    lines = [shapely.LineString(rng.uniform(0, 900, (2, 2))).wkt for _ in range(60)]
    letters = place([asked(lines, [str(50 * i) for i in range(60)])], 1.0).letters
    assert len(letters) > 15
    outlines = np.array([outline(letter) for letter in letters])
    first, second = shapely.STRtree(outlines).query(outlines, predicate="overlaps")
    assert not (first < second).any()


def test_boxes_hold_the_turned_text() -> None:
    lines = np.array(shapely.from_wkt(["LINESTRING(0 0, 300 120)"]))
    spots = spots_along(lines, ["1,250"], np.array([text_width("1,250", SIZE)]), SIZE, 0.0, 1.0)
    for (x, y), turn, (left, top, right, bottom) in zip(spots.places, spots.turns, spots.boxes, strict=True):
        west, south, east, north = outline(Letter(0, 0, "1,250", x, y, 0, 0, turn)).bounds
        assert (west - x, y - north, east - x, y - south) == pytest.approx((left, top, right, bottom))


def test_labels_of_contours_follow_them_in_the_edition_too(demo: Path) -> None:
    sheet = read_sheet(EXAMPLES / "contours.sheet.json")
    composition = compose(sheet, beside(demo))
    letters = composition.placement(composition.frame.grid.resolution(11)).letters
    assert len({letter.turn for letter in letters}) > 10
    labels = composition.labels(composition.frame.grid.resolution(11))
    assert [(label.text, label.turn) for label in labels] == [(letter.text, letter.turn) for letter in letters]
