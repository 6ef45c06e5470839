"""The typefaces that a page needs, with no more of them than its labels have letters."""

from collections import defaultdict
from collections.abc import Iterable
from io import BytesIO

from fontTools.subset import Options, Subsetter, load_font, save_font

from greylatch.lettering.asked import ToLetter
from greylatch.lettering.faces import PLAIN, Face
from greylatch.lettering.shaping import runs_of

__all__ = ["ASSETS", "DEGREES", "face_file", "letters_by_face", "part_of_face"]

ASSETS = "page"
"""The folder of script, styles and letters within an edition."""
DEGREES = "0123456789°′″.,−- NSEW"
"""What is written at the edge of a map and in clusters, whatever its labels say."""


def face_file(face: Face) -> str:
    """Where an edition has its part of a face.

    >>> face_file(PLAIN)
    'page/letters.woff'
    """
    return f"{ASSETS}/letters.woff" if face == PLAIN else f"{ASSETS}/letters-{face.name}.woff"


def letters_by_face(wanted: Iterable[ToLetter]) -> dict[Face, set[str]]:
    """The letters of all labels, by the face that each is set in; and those of degrees.

    Parameters
    ----------
    wanted : Iterable[ToLetter]
        The labels that are asked for.

    Returns
    -------
    dict[Face, set[str]]
    """
    out: dict[Face, set[str]] = defaultdict(set)
    out[PLAIN].update(DEGREES)
    for layer in wanted:
        said = [set(own) for own in layer.parts]
        said[0].update(layer.shorter or (), (hand.text or "" for hand in layer.hands.values()))
        for texts, style in zip(said, layer.styles, strict=True):
            plain = {text for text in texts if text.isascii()}
            out[style.face].update(*plain)
            for text in texts - plain:
                for run in (run for line in text.split("\n") for run in runs_of(line, style.face)):
                    out[run.face].update(run.text)
    return dict(out)


def part_of_face(face: Face, letters: Iterable[str]) -> bytes:
    """A face as WOFF with the glyphs of some letters and the forms that these take beside one another, of themselves.

    Parameters
    ----------
    face : Face
        The face.
    letters : Iterable[str]
        What is set in it.

    Returns
    -------
    bytes

    Examples
    --------
    >>> part_of_face(PLAIN, "Ard Mor")[:4]
    b'wOFF'
    """
    # Without hints: a browser that follows them moves stems by half a pixel from where the painter has them.
    options = Options(flavor="woff", notdef_outline=True, font_number=face.number, hinting=False)
    font = load_font(str(face.file), options)
    subsetter = Subsetter(options)
    subsetter.populate(unicodes={ord(letter) for letter in letters})
    subsetter.subset(font)
    out = BytesIO()
    save_font(font, out, options)
    return out.getvalue()
