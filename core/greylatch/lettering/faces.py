"""The typefaces of labels: three families that ship, and others of the machine for scripts that these don't have.

The families that ship hold Latin, Greek and Cyrillic letters. Everything else is set in the Noto face of its script, from Debian's
packages fonts-noto-core and fonts-noto-cjk; where these are not installed, such letters are missing, and their labels left out.
"""

import os
import unicodedata
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from functools import cache, lru_cache
from pathlib import Path
from typing import get_args

import skia
import uharfbuzz as hb
from fontTools import unicodedata as scripts

from greylatch.sheet.lettering import Weight
from greylatch.sheet.parts import Part

__all__ = [
    "FAMILIES",
    "PLAIN",
    "CutsOf",
    "Face",
    "cuts_of",
    "east_of",
    "face_for",
    "face_named",
    "face_of",
    "has_letter",
    "shaper",
    "typeface",
]

SHIPPED = Path(__file__).parent / "fonts"
NOTO = Path("/usr/share/fonts/truetype/noto")
NOTO_CJK = Path("/usr/share/fonts/opentype/noto/NotoSansCJK-{weight}.ttc")
FAMILIES: dict[str, dict[tuple[int, bool], str]] = {
    "sans": {
        (400, False): "SourceSans3-Regular", (500, False): "SourceSans3-Medium", (600, False): "SourceSans3-Semibold",
        (700, False): "SourceSans3-Bold", (400, True): "SourceSans3-It", (500, True): "SourceSans3-MediumIt",
        (600, True): "SourceSans3-SemiboldIt", (700, True): "SourceSans3-BoldIt",
    },
    "serif": {
        (400, False): "SourceSerif4-Regular", (600, False): "SourceSerif4-Semibold", (400, True): "SourceSerif4-It",
        (600, True): "SourceSerif4-SemiboldIt",
    },
    "narrow": {(400, False): "PTSansNarrow-Regular", (700, False): "PTSansNarrow-Bold"},
}  # fmt: skip
"""The files of each family by weight and slant."""
CJK = {"jp": 0, "kr": 1, "sc": 2}
"""Which face of the collection has the forms of Japan, Korea and the simplified ones of China."""
KANA, HANGUL = frozenset(("Hira", "Kana")), frozenset(("Hang",))
EAST_ASIAN = KANA | HANGUL | {"Hani", "Bopo"}
BOLD = 600
"""From this weight on, other scripts are set bold: they have two weights."""


@dataclass(frozen=True)
class Face:
    """A typeface: its name here, in pages and in style documents; its file, and which face of a collection it is."""

    name: str
    file: Path = field(compare=False)
    number: int = field(default=0, compare=False)


def face_of(family: str, weight: int = 500, italic: bool = False) -> Face:
    """The face of a family that ships; of a weight or slant that it does not have, the nearest that it has.

    Parameters
    ----------
    family : str
        'sans', 'serif' or 'narrow'.
    weight : int
        400 for regular, 700 for bold.
    italic : bool
        Whether it slants.

    Returns
    -------
    Face

    Examples
    --------
    >>> face_of("sans", 600, True).name, face_of("narrow", 500, True).name
    ('sans-600-italic', 'narrow-400')
    """
    files = FAMILIES[family]
    own, slanted = min(files, key=lambda key: (key[1] != italic, abs(key[0] - weight), key[0]))
    name = f"{family}-{own}-italic" if slanted else f"{family}-{own}"
    return Face(name, SHIPPED / f"{files[own, slanted]}.ttf")


class CutsOf(Part):
    """The weights in which a family is cut, from light to bold, and whether there are slanted ones. `nearest` has for each weight the one that
    stands for it in this family."""

    weights: list[Weight]
    nearest: dict[Weight, Weight]
    slants: bool


def cuts_of(family: str) -> CutsOf:
    """What there is to choose of a family.

    Parameters
    ----------
    family : str
        'sans', 'serif' or 'narrow'.

    Returns
    -------
    CutsOf

    Examples
    --------
    >>> cuts_of("narrow")
    CutsOf(weights=[400, 700], nearest={400: 400, 500: 400, 600: 700, 700: 700}, slants=False)
    """
    cuts = FAMILIES[family]
    weights: list[Weight] = [weight for weight in get_args(Weight) if any(weight == own for own, _ in cuts)]
    nearest = {weight: _nearest(weight, weights) for weight in get_args(Weight)}
    return CutsOf(weights=weights, nearest=nearest, slants=any(slanted for _, slanted in cuts))


def _nearest(weight: int, weights: Iterable[Weight]) -> Weight:
    return min(weights, key=lambda own: (abs(own - weight), own))


PLAIN = face_of("sans", 500)
"""The face of everything that is not said to be in another: keys, degrees, counts."""


@lru_cache(maxsize=20_000)
def face_for(letter: str, face: Face, east: str = "sc") -> Face | None:
    """The face that a letter is set in where a text is to be set in `face`: this one, or that of the letter's script; None where no
    face has it.

    Parameters
    ----------
    letter : str
        One code point.
    face : Face
        The face that is wanted.
    east : str
        Whose forms of Chinese characters are wanted: 'sc', 'jp' or 'kr'.

    Returns
    -------
    Face | None

    Examples
    --------
    >>> face_for("ж", PLAIN).name
    'sans-500'
    """
    bold = int(face.name.split("-")[1]) >= BOLD
    return next((each for each in (face, *_others(letter, bold, east)) if has_letter(each, letter)), None)


def face_named(name: str) -> Face:
    """The face that has a name: pages ask for faces by theirs.

    >>> face_named("serif-400-italic").file.name
    'SourceSerif4-It.ttf'
    """
    family, weight, *more = name.split("-")
    if family in FAMILIES:
        return face_of(family, int(weight), bool(more))
    style = "Bold" if int(weight) >= BOLD else "Regular"
    if family in CJK:
        return Face(name, Path(str(NOTO_CJK).format(weight=style)), CJK[family])
    return Face(name, NOTO / f"{family}-{style}.ttf")


def _others(letter: str, bold: bool, east: str) -> Iterator[Face]:
    weight = 700 if bold else 400
    script = scripts.script(letter)
    if script in EAST_ASIAN:
        yield face_named(f"{east}-{weight}")
    elif script not in ("Zyyy", "Zinh", "Zzzz"):
        name = scripts.script_name(script).replace("_", "")
        yield face_named(f"NotoSans{name}-{weight}")
        yield face_named(f"NotoSerif{name}-{weight}")
    # What belongs to no script, and Latin letters that a face lacks, may be in any of these.
    for family in ("NotoSans", "NotoSansSymbols", "NotoSansSymbols2", "NotoSansMath"):
        yield face_named(f"{family}-{weight}")
    yield face_named(f"{east}-{weight}")


def east_of(text: str) -> str:
    """Whose forms of Chinese characters a text is set with: of Japan where it has kana, of Korea where it has hangul.

    >>> east_of("東京タワー"), east_of("서울"), east_of("北京")
    ('jp', 'kr', 'sc')
    """
    scripts_used = {scripts.script(letter) for letter in text if letter > "\u10ff"}
    return "jp" if scripts_used & KANA else "kr" if scripts_used & HANGUL else "sc"


def has_letter(face: Face, letter: str) -> bool:
    """Whether a face has a glyph for a code point; what is not seen needs none."""
    if letter.isspace() or unicodedata.category(letter) == "Cf":
        return True
    known = shaper(face)
    return known is not None and known.get_nominal_glyph(ord(letter)) is not None


@cache
def shaper(face: Face) -> hb.Font | None:
    """The face for shaping, in units of its em; None where its file is not there."""
    if not face.file.exists():
        return None
    return hb.Font(hb.Face(hb.Blob.from_file_path(str(face.file)), face.number))


@cache
def typeface(face: Face = PLAIN) -> skia.Typeface:
    """The face for painting."""
    with _muted():
        return skia.Typeface.MakeFromFile(str(face.file), face.number)


@contextmanager
def _muted() -> Iterator[None]:
    """Keep standard error quiet at the level of the system.

    Loading the first face makes Skia's copy of fontconfig read the machine's configuration, of which it uses nothing
    here; where that is newer or older than the copy, it complains about every line that it does not know.
    """
    kept, nowhere = os.dup(2), os.open(os.devnull, os.O_WRONLY)
    try:
        os.dup2(nowhere, 2)
        yield
    finally:
        os.dup2(kept, 2)
        os.close(kept)
        os.close(nowhere)
