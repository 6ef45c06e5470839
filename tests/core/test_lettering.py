"""Glyph files and labels as open style documents have them."""

import re
from concurrent.futures import ThreadPoolExecutor

import numpy as np
import pytest
import shapely
from greylatch.errors import BadInput
from greylatch.lettering.anchored import anchored
from greylatch.lettering.glyphs import BORDER, EM, FINER, RANGE, TOP_OF_LINE, _Glyphs, distance_field, glyph_range
from greylatch.lettering.place import ToLetter, place
from greylatch.lettering.type import FONT_FILE, missing_letters, text_width
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
    face = ImageFont.truetype(str(FONT_FILE), EM)
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
    return ToLetter("points", np.repeat(SPOT, taken + 1), ["I"] * (taken + 1), size, 1.5, True, radius)


def test_labels_round_a_point_say_side_and_gap() -> None:
    """The style specification's `text-anchor` and `text-radial-offset`: the part of the text nearest to the point, and ems."""
    layer = round_a_point(taken=7)
    labels = anchored(place([layer], 1.0), [layer])
    assert [one.anchor for one in labels] == ["left", "right", "bottom", "top"]  # no corner is left for a fifth
    assert {one.gap for one in labels} == {(5 + 1.5 + 2) / 12}
    corner = place([layer], 1.0).letters[0]
    diagonal = type(corner)(0, 0, "I", 0, 0, 20.0, -30.0)
    held = anchored(type(place([layer], 1.0))([diagonal]), [layer])[0]
    assert (held.anchor, held.gap) == ("bottom-left", pytest.approx(8.5 / 12 * 2**0.5))


def test_the_gap_leads_to_the_place_that_the_contest_gave() -> None:
    """The text's near edge, from anchor and gap, is the one that `place` gave it."""
    layer = round_a_point()
    line = place([layer], 1.0).letters[0]
    label = anchored(place([layer], 1.0), [layer])[0]
    assert line.dx - text_width(line.text, layer.size) / 2 == pytest.approx(label.gap * layer.size)


def test_lines_of_a_label_stay_together() -> None:
    square = np.array([shapely.box(0, 0, 100, 100)])
    words = ["Great Northern Catchment"]
    layer = ToLetter("areas", square, words, 14, 1.5, True)
    (label,) = anchored(place([layer], 1.0), [layer])
    assert label.text == "Great\nNorthern Catchment" or re.fullmatch(r"Great Northern\nCatchment", label.text)
    assert (label.anchor, label.gap) == ("center", 0.0)


def test_two_threads_letter_the_same_shapes() -> None:
    """Prepared shapes of GEOS must not be shared between threads (its documentation): two requests at once ended the process."""
    shapes = np.array(
        [
            shapely.Point(i * 3.0, 0).buffer(1.4, quad_segs=200).difference(shapely.Point(i * 3.0, 0).buffer(1.0))
            for i in range(40)
        ]
    )
    layer = ToLetter("areas", shapes, ["Nether Skara"] * 40, 9.0, 1.0, True)
    with ThreadPoolExecutor(8) as pool:
        found = list(pool.map(lambda _: len(place([layer], 0.01).letters), range(48)))
    assert len(set(found)) == 1
    assert not any(shapely.is_prepared(shapes))


@pytest.mark.parametrize(
    ("text", "missing"),
    [
        ("Łódź, Ærø, Việt Nam", ""),
        ("Беларусь Ελλάδα", ""),
        ("България 中国", "中国"),
        ("ቤት ab", "ቤት"),
        ("a\u200db \u00a0", ""),
    ],
)
def test_letters_that_the_face_lacks(text: str, missing: str) -> None:
    assert missing_letters(text) == missing


def test_labels_that_cannot_be_set_are_left_out_and_counted() -> None:
    shapes = shapely.box([0, 2], 0, [1, 3], 1)
    found = place([ToLetter("areas", shapes, ["Ard", "中国"], 0.1, 0.0, False)], 0.01)
    assert [letter.text for letter in found.letters] == ["Ard"] and found.left_out[0] == [1]
