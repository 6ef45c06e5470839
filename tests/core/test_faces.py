"""Names of the world set in their letters. Referees: FreeType with HarfBuzz through Pillow's Raqm for what shaping takes; python-bidi's
whole algorithm for order; fontTools for what faces hold. The names are common words of geography; that they are written so is from memory."""

import io

import numpy as np
import pytest
from bidi.algorithm import get_display
from fontTools.ttLib import TTFont
from greylatch.edition.faces import letters_by_face, part_of_face
from greylatch.lettering.asked import ToLetter
from greylatch.lettering.faces import FAMILIES, PLAIN, cuts_of, east_of, face_for, face_named, face_of
from greylatch.lettering.shaping import Run, runs_of, shaped
from greylatch.lettering.type import TextStyle, text_blob, text_width, text_widths
from PIL import ImageFont, features

NAMES = {
    "Latin": ("Łódź fjord office", "sans-500"), "Greek": ("Αθήνα", "sans-500"), "Cyrillic": ("Москва", "sans-500"),
    "Arabic": ("القاهرة", "NotoSansArabic-400"), "Hebrew": ("ירושלים", "NotoSansHebrew-400"),
    "Devanagari": ("दिल्ली", "NotoSansDevanagari-400"), "Thai": ("กรุงเทพ", "NotoSansThai-400"), "Chinese": ("北京", "sc-400"),
    "Japanese": ("東京タワー", "jp-400"), "Korean": ("서울", "kr-400"),
}  # fmt: skip


@pytest.mark.parametrize("script", NAMES)
def test_a_name_of_each_script_has_a_face_and_its_forms(script: str) -> None:
    name, face = NAMES[script]
    (run,) = runs_of(name, PLAIN)
    assert (run.text, run.face.name, run.rtl) == (name, face, script in ("Arabic", "Hebrew"))
    made = shaped(run)
    assert 0 not in made.glyphs, "no empty box"
    assert text_blob(run, TextStyle(12)) is not None
    nominal = TTFont(run.face.file, fontNumber=run.face.number).getBestCmap()
    glyph_order = TTFont(run.face.file, fontNumber=run.face.number).getReverseGlyphMap()
    plain = [glyph_order[nominal[ord(letter)]] for letter in name]
    joined = script in ("Arabic", "Devanagari")
    assert (sorted(made.glyphs) != sorted(plain)) == (
        joined or (script in ("Latin", "Thai", "Korean") and sorted(made.glyphs) != sorted(plain))
    )


@pytest.mark.skipif(not features.check("raqm"), reason="Pillow was built without Raqm")
@pytest.mark.parametrize("script", NAMES)
def test_widths_are_those_of_another_shaper(script: str) -> None:
    """To a fiftieth of the size: FreeType rounds advances to 1/64 px at the size asked for."""
    name, _ = NAMES[script]
    (run,) = runs_of(name, PLAIN)
    size = 1000
    face = ImageFont.truetype(str(run.face.file), size, index=run.face.number, layout_engine=ImageFont.Layout.RAQM)
    assert text_width(name, size) == pytest.approx(face.getlength(name, language="en"), abs=0.02 * size)


def test_words_of_two_directions_stand_as_they_are_read() -> None:
    """Against python-bidi's whole algorithm, which gives the order of letters on paper."""
    for text in ("القدس 12 km", "Wadi وادي 7", "חיפה (Haifa)", "a אב 12 ג b"):
        seen = "".join(run.text[::-1] if run.rtl else run.text for run in runs_of(text, PLAIN))
        assert seen.translate(str.maketrans("()", "..")) == get_display(text).translate(str.maketrans("()", ".."))


def test_characters_of_china_have_the_forms_of_their_country() -> None:
    assert [east_of(text) for text in ("東京タワー", "한강 漢江", "漢江", "Ard")] == ["jp", "kr", "sc", "sc"]
    assert [run.face.name for run in runs_of("Tōkyō 東京タワー", PLAIN)] == ["sans-500", "jp-400"]
    assert [run.face.name for run in runs_of("北京", face_of("serif", 600))] == ["sc-700"]


def test_marks_stay_with_their_letters() -> None:
    (run,) = runs_of("e\u0301a", PLAIN)
    assert run.text == "e\u0301a"
    assert text_width("e\u0301", 10) == pytest.approx(text_width("é", 10), abs=0.2)
    assert [run.text for run in runs_of("A\ue123B", PLAIN)] == ["AB"], "what no face has is left out of it"


def test_many_widths_at_once_are_those_one_by_one() -> None:
    """Kerned pairs, ligatures, blanks, several scripts and styles."""
    texts = [
        "AVA",
        "To Yell",
        "fjord office",
        "Ard  Mor",
        "",
        " ",
        "Łódź",
        "दिल्ली",
        "a",
        "12 km القدس",
        "Wa" * 20,
        "AVA",
    ]
    for face in (PLAIN, face_of("serif", 400, True), face_of("narrow", 700)):
        for spacing in (0.0, 0.15):
            style = TextStyle(13.0, face, spacing)
            alone = [text_width(text, 13.0, face, spacing) for text in texts]
            assert np.allclose(text_widths(texts, style), alone, atol=1e-6)


def test_letters_set_apart_take_as_much_more_each_and_joined_ones_none() -> None:
    assert text_width("Ard", 10, PLAIN, 0.2) - text_width("Ard", 10) == pytest.approx(3 * 2.0)
    assert text_width("القاهرة", 10, PLAIN, 0.2) == text_width("القاهرة", 10)


def test_families_have_their_weights_and_the_nearest_is_taken() -> None:
    for family, files in FAMILIES.items():
        for weight, italic in files:
            face = face_of(family, weight, italic)
            assert face.file.exists() and face_named(face.name) == face
    assert len(FAMILIES["sans"]) == 8
    assert face_of("serif", 700).name == "serif-600"
    assert face_of("narrow", 600, True).name == "narrow-700"
    assert face_for("中", PLAIN, "kr") == face_named("kr-400")


def test_of_each_family_the_nearest_weight_stands_for_one_it_lacks() -> None:
    """The editor takes over what letters would be set in anyway."""
    for family in FAMILIES:
        cuts = cuts_of(family)
        assert set(cuts.nearest) == {400, 500, 600, 700} and set(cuts.nearest.values()) <= set(cuts.weights)
        for weight, nearest in cuts.nearest.items():
            assert face_of(family, weight) == face_of(family, nearest)


def test_a_page_carries_no_more_of_a_face_than_it_needs_and_all_forms_of_that() -> None:
    """HarfBuzz comes to as many glyphs with the part as with the whole."""
    import uharfbuzz as hb

    wanted = ToLetter("points", np.empty(0), [[name for name, _ in NAMES.values()]], [TextStyle(12)], 1.0, True)
    for face, letters in letters_by_face([wanted]).items():
        part = part_of_face(face, letters)
        small = TTFont(io.BytesIO(part))
        assert set(map(ord, letters)) - {0x2032, 0x2033} <= set(small.getBestCmap()) | {ord(" ")}
        assert len(small.getGlyphOrder()) < 200 and len(part) < 60_000
        small.flavor = None
        plain = io.BytesIO()
        small.save(plain)
        for name, own in NAMES.values():
            if own != face.name:
                continue
            buffer = hb.Buffer()
            buffer.add_str(name)
            buffer.guess_segment_properties()
            hb.shape(hb.Font(hb.Face(plain.getvalue())), buffer)
            assert len(buffer.glyph_infos) == len(shaped(Run(name, face, buffer.direction == "rtl")).glyphs)
            assert 0 not in [info.codepoint for info in buffer.glyph_infos]
