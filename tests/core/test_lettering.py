"""Glyph files and labels as open style documents have them."""

import re
from concurrent.futures import ThreadPoolExecutor

import numpy as np
import pytest
import shapely
from greylatch.errors import BadInput
from greylatch.lettering.anchored import anchored
from greylatch.lettering.asked import ToLetter
from greylatch.lettering.contest import Taken, room_for
from greylatch.lettering.faces import PLAIN
from greylatch.lettering.glyphs import BORDER, EM, FINER, RANGE, TOP_OF_LINE, _Glyphs, distance_field, glyph_range
from greylatch.lettering.inside import boxes_inside, middles, rings_of
from greylatch.lettering.label import Label
from greylatch.lettering.place import place
from greylatch.lettering.shaping import missing_letters
from greylatch.lettering.type import TextStyle
from greylatch.tables.dataset import Shapes
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image, ImageDraw, ImageFont


def read(first: int) -> dict[int, object]:
    stack = _Glyphs.FromString(glyph_range(first)).stacks[0]
    assert stack.range == f"{first}-{first + RANGE - 1}"
    return {one.id: one for one in stack.glyphs}


@pytest.mark.parametrize("letter", "AgÅq&8ß")
def test_glyphs_agree_with_freetype(letter: str) -> None:
    """FreeType through Pillow, a rasteriser of its own, at the same size: the advance to 1 px, the shape to 6 % of its ink.

    Three quarters of the field (191 of 255) is the outline; the field's slope makes coverage out of it.
    """
    glyph = read(0)[ord(letter)]
    face = ImageFont.truetype(str(PLAIN.file), EM)
    assert abs(glyph.advance - face.getlength(letter)) <= 0.5
    h, w = glyph.height + 2 * BORDER, glyph.width + 2 * BORDER
    field = np.frombuffer(glyph.bitmap, np.uint8).reshape(h, w).astype(float)
    coverage = np.clip((field - 191.25) / 255 * 8 + 0.5, 0, 1)
    picture = Image.new("L", (w, h))
    ImageDraw.Draw(picture).text(
        (BORDER - glyph.left, BORDER + glyph.top + TOP_OF_LINE), letter, fill=255, font=face, anchor="ls"
    )
    drawn = np.asarray(picture) / 255
    assert np.abs(coverage - drawn).sum() < 0.25 * drawn.sum()
    assert coverage.sum() == pytest.approx(drawn.sum(), rel=0.06)


def test_a_range_holds_what_the_face_has() -> None:
    latin = read(0)
    assert {ord(c) for c in "AZaz09 ÅÆØåæø"} <= set(latin)
    assert latin[ord(" ")].bitmap == b""
    assert latin[ord(" ")].advance > 0
    assert set(read(0xE000 + 0x700)) <= set(range(0xE700, 0xE800))
    for first in (-256, 7, 65536):
        with pytest.raises(BadInput, match="No range of glyphs"):
            glyph_range(first)


@given(radius=st.floats(4, 12))
def test_a_field_is_the_distance_to_the_outline(radius: float) -> None:
    """Of a disc the distance is known: radius less the way to its middle. A sample is an eighth of a px, or 4 levels."""
    side, finer = 32, FINER
    middle = (np.arange(side * finer) + 0.5) / finer - side / 2
    disc = np.hypot(middle[:, None], middle[None, :]) <= radius
    at = np.arange(side) + 0.5 - side / 2
    inward = radius - np.hypot(at[:, None], at[None, :])
    expected = np.clip(255 * (0.75 + inward / 8), 0, 255)
    away = np.abs(inward) > 1
    assert np.abs(distance_field(disc, finer) - expected)[away].max() < 4.5


SPOT = np.array([shapely.Point(0, 0)])


def round_a_point(size: float = 12.0, radius: float = 5.0, taken: int = 0) -> ToLetter:
    """A point with so many twins at the same place that the first `taken` sides are gone."""
    return ToLetter("points", np.repeat(SPOT, taken + 1), [["I"] * (taken + 1)], [TextStyle(size)], 1.5, True, radius)


def test_labels_round_a_point_say_side_and_gap() -> None:
    """The style specification's `text-anchor` and `text-radial-offset`: the part of the text nearest to the point, and ems."""
    layer = round_a_point(taken=7)
    labels = anchored(place([layer], 1.0).labels, [layer])
    assert [one.anchor for one in labels] == ["left", "right", "bottom", "top"]  # no corner is left for a fifth
    assert {one.gap for one in labels} == {(5 + 1.5 + 2) / 12}
    diagonal = Label(0, 0, "I", 0, 0, (), (0, 0, 1, 1), side=(1, -1), gap=8.5)
    held = anchored([diagonal], [layer])[0]
    assert (held.anchor, held.gap) == ("bottom-left", pytest.approx(8.5 / 12 * 2**0.5))


def test_the_gap_leads_to_the_place_that_the_contest_gave() -> None:
    """The text's near edge, from anchor and gap, is the one that `place` gave it."""
    layer = round_a_point()
    label = anchored(place([layer], 1.0).labels, [layer])[0]
    assert label.label.pieces[0].dx == pytest.approx(label.gap * 12)


def test_lines_of_a_label_stay_together() -> None:
    square = np.array([shapely.box(0, 0, 100, 100)])
    words = ["Great Northern Catchment"]
    layer = ToLetter("areas", square, [words], [TextStyle(14)], 1.5, True)
    (label,) = anchored(place([layer], 1.0).labels, [layer])
    assert label.label.text == "Great\nNorthern Catchment" or re.fullmatch(
        r"Great Northern\nCatchment", label.label.text
    )
    assert (label.anchor, label.gap) == ("center", 0.0)


def test_two_threads_letter_the_same_shapes() -> None:
    """Prepared shapes of GEOS must not be shared between threads (its documentation): two requests at once ended the process."""
    shapes = np.array(
        [
            shapely.Point(i * 3.0, 0).buffer(1.4, quad_segs=200).difference(shapely.Point(i * 3.0, 0).buffer(1.0))
            for i in range(40)
        ]
    )
    layer = ToLetter("areas", shapes, [["Nether Skara"] * 40], [TextStyle(9.0)], 1.0, True)
    with ThreadPoolExecutor(8) as pool:
        found = list(pool.map(lambda _: len(place([layer], 0.01).labels), range(48)))
    assert len(set(found)) == 1
    assert not any(shapely.is_prepared(shapes))


@pytest.mark.parametrize(
    ("text", "missing"),
    [
        ("Łódź, Ærø, Việt Nam", ""),
        ("Беларусь Ελλάδα", ""),
        ("България 中国 東京 서울", ""),
        ("ቤት ab القدس חיפה दिल्ली กรุงเทพ", ""),
        ("\U00012000 cuneiform, and \ue123 of nobody", "\ue123"),
        ("a\u200db \u00a0", ""),
    ],
)
def test_letters_that_the_face_lacks(text: str, missing: str) -> None:
    assert missing_letters(text) == missing


def test_labels_that_cannot_be_set_are_left_out_and_counted() -> None:
    shapes = shapely.box([0, 2], 0, [1, 3], 1)
    found = place([ToLetter("areas", shapes, [["Ard", "\ue123"]], [TextStyle(0.1)], 0.0, False)], 0.01)
    assert [label.text for label in found.labels] == ["Ard"] and found.left_out[0] == [1]


def crooked_areas(n: int) -> Shapes:
    """Stars with dents, half of them with a hole."""
    rng = np.random.default_rng(7)
    around = np.linspace(0, 2 * np.pi, 40, endpoint=False)
    radius = rng.uniform(2, 10, (n, 40))
    xy = np.stack([radius * np.cos(around), radius * np.sin(around)], -1)
    shapes = shapely.polygons(shapely.linearrings(np.concatenate([xy, xy[:, :1]], 1)))
    shapes[::2] = shapely.difference(shapes[::2], shapely.box(-1, -1, 0.5, 1.5))
    return np.asarray(shapes)


def test_the_middle_of_the_largest_circle_is_that_of_geos() -> None:
    """Referee: GEOS's maximum inscribed circle, through shapely."""
    shapes = crooked_areas(200)
    ours = shapely.distance(shapely.points(middles(shapes)), shapely.boundary(shapes))
    referee = shapely.length(shapely.maximum_inscribed_circle(shapes, 1e-3))
    assert (ours >= referee - np.sqrt(shapely.area(shapes)) / 200 - 1e-3).all()
    assert shapely.contains_xy(shapes, *middles(shapes).T).all()


def test_areas_without_extent_have_a_middle_or_none() -> None:
    flat = shapely.Polygon([(0, 0), (4, 0), (0, 0)])
    found = middles(np.array([None, shapely.Polygon(), flat], dtype=object))
    assert np.isnan(found[:2]).all() and found[2].tolist() == [2.0, 0.0]


def test_boxes_lie_inside_as_geos_says() -> None:
    """Referee: GEOS's `contains`, through shapely; and a box that finds no place has none among those tried."""
    shapes = crooked_areas(200)
    start = np.arange(0, 401, 2)
    boxes = np.tile([[-1.5, -0.5, 1.5, 0.5], [-0.4, -0.4, 0.4, 0.4]], (200, 1))
    spots = boxes_inside(rings_of(shapes), shapes, shapely.area(shapes), middles(shapes), boxes, start)
    owners = np.repeat(np.arange(200), 2)
    there = np.isfinite(spots[:, 0])
    left, top, right, bottom = boxes.T
    x, y = spots.T
    placed = shapely.box((x + left)[there], (y - bottom)[there], (x + right)[there], (y - top)[there])
    assert shapely.contains(shapely.buffer(shapes[owners[there]], 1e-9), placed).all()
    assert 50 < there.sum() < 400
    for k in np.flatnonzero(~there)[:40]:
        west, south, east, north = shapes[owners[k]].bounds
        across = np.linspace(west - left[k], east - right[k], 11)
        down = np.linspace(south + bottom[k], north + top[k], 11)
        xs, ys = np.tile(across, 11), np.repeat(down, 11)
        tried = shapely.box(xs + left[k], ys - bottom[k], xs + right[k], ys - top[k])
        assert not shapely.contains(shapes[owners[k]], tried).any()


def test_no_two_taken_boxes_overlap_and_none_is_refused_without_reason() -> None:
    """Against every pair, as nobody would do it on a map."""
    rng = np.random.default_rng(3)
    places, boxes = rng.uniform(-4000, 4000, (1500, 2)), np.tile([-60.0, -9.0, 60.0, 9.0], (1500, 1))
    start = np.arange(1501)
    taken = Taken(room_for(boxes, start)).enter(np.arange(1500), start, boxes, places).ways
    around = boxes + np.tile(places, 2)
    kept: list[int] = []
    for k in range(1500):
        a, others = around[k], around[kept]
        free = not ((a[0] < others[:, 2]) & (others[:, 0] < a[2]) & (a[1] < others[:, 3]) & (others[:, 1] < a[3])).any()
        assert (taken[k] == k) == free
        kept += [k] if free else []


def test_a_sliver_has_a_middle_in_no_time() -> None:
    """What is left of Antarctica above the edge of a square: a thousand kilometres by a thousandth of a metre. Found on world-atlas (npm):
    the search filled all memory."""
    sliver = shapely.Polygon([(0, 0), (1e6, 0), (1e6, 1e-3), (5e5, 2e-3), (0, 1e-3)])
    with_tip = shapely.union_all([sliver, shapely.box(9e5, 0, 9e5 + 10, 10)])
    (flat, tip) = middles(np.array([sliver, with_tip]))
    assert sliver.distance(shapely.Point(flat)) < 1 and with_tip.contains(shapely.Point(tip))
