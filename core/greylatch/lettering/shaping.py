"""Texts turned into glyphs: which face each part is set in, in what direction, and where its glyphs come to stand.

A text becomes runs of one face and one direction each, from left to right. Painters set run by run, so that all of them shape the same
words in the same face: a browser shapes with HarfBuzz too, and so comes to the same glyphs at the same places.
"""

import unicodedata
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from functools import lru_cache
from itertools import groupby

import uharfbuzz as hb
from bidi import algorithm as bidi
from fontTools import unicodedata as scripts

from greylatch.lettering.faces import PLAIN, Face, east_of, face_for, shaper

__all__ = ["Run", "Shaped", "is_plain", "missing_letters", "runs_of", "shaped"]

PLAIN_SCRIPTS = frozenset(("Latn", "Grek", "Cyrl", "Zyyy"))
"""Letters of these stand one beside the other, as they come."""
SPACED_SCRIPTS = PLAIN_SCRIPTS | {"Hani", "Hira", "Kana", "Hang", "Hebr", "Armn", "Geor"}
"""Letters of others are joined, or stand over and under one another: space between them would tear words apart."""
NO_LIGATURES = {"liga": False, "clig": False}


@dataclass(frozen=True)
class Run:
    """A part of a text in one face and one direction, in the order in which it is read."""

    text: str
    face: Face
    rtl: bool = False
    spaced: bool = True
    """Whether letters may be set apart."""


@dataclass(frozen=True)
class Shaped:
    """Glyphs from left to right: their numbers in the face, where each stands, in ems, y down, and which letter it belongs to, counted
    from the run's first; and how far the run goes."""

    glyphs: tuple[int, ...]
    xs: tuple[float, ...]
    ys: tuple[float, ...]
    letters: tuple[int, ...]
    advance: float


@lru_cache(maxsize=4096)
def is_plain(letter: str) -> bool:
    """Whether a letter stands by itself: no part of a joined script, no mark upon another, not from right to left."""
    return (
        scripts.script(letter) in PLAIN_SCRIPTS
        and unicodedata.category(letter) not in ("Mn", "Me", "Cf")
        and unicodedata.bidirectional(letter) not in ("R", "AL", "AN")
    )


@lru_cache(maxsize=100_000)
def runs_of(text: str, face: Face) -> tuple[Run, ...]:
    """The runs of a line that is to be set in `face`, from left to right. Letters that no face has are left out of it.

    Parameters
    ----------
    text : str
        One line.
    face : Face
        The face that is wanted.

    Returns
    -------
    tuple[Run, ...]

    Examples
    --------
    >>> from greylatch.lettering.faces import PLAIN
    >>> [(run.text, run.rtl) for run in runs_of("Ard Mor", PLAIN)]
    [('Ard Mor', False)]
    """
    if text.isascii():
        return (Run(text, face),) if text else ()
    parts = list(_in_faces(text, face))
    if any(unicodedata.bidirectional(letter) in ("R", "AL", "AN", "RLE", "RLO", "RLI") for letter in text):
        return tuple(_in_directions(text, parts))
    return tuple(
        Run("".join(text[i] for i, _ in same), own, spaced=_spaced(text[i] for i, _ in same))
        for own, group in groupby(parts, key=lambda part: part[1])
        for same in [list(group)]
    )


def _in_faces(text: str, face: Face) -> Iterator[tuple[int, Face]]:
    """For each letter that some face has, its position and that face."""
    east, before = east_of(text), face
    for i, letter in enumerate(text):
        # Marks, joiners and blanks go with the letter that they follow.
        follows = unicodedata.category(letter) in ("Mn", "Mc", "Me", "Cf") or letter.isspace()
        known = shaper(before)
        if follows and (letter.isspace() or (known and known.get_nominal_glyph(ord(letter)) is not None)):
            yield i, before
            continue
        own = face_for(letter, face, east)
        if own is not None:
            before = own
            yield i, own


def _in_directions(text: str, parts: list[tuple[int, Face]]) -> list[Run]:
    """Runs from left to right by the Unicode bidirectional algorithm (UAX #9)."""
    levels = _levels(text)
    runs = [
        (level, Run("".join(text[i] for i in same), face, bool(level % 2), _spaced(text[i] for i in same)))
        for (level, face), group in groupby(parts, key=lambda part: (levels[part[0]], part[1]))
        for same in [[i for i, _ in group]]
    ]
    # Rule L2: from the highest level to the lowest odd one, what stands at it or above is turned around.
    for level in range(max((level for level, _ in runs), default=0), 0, -1):
        turned: list[tuple[int, Run]] = []
        for above, group in groupby(runs, key=lambda run: run[0] >= level):
            own = list(group)
            turned += reversed(own) if above else own
        runs = turned
    return [run for _, run in runs]


def _levels(text: str) -> list[int]:
    """The embedding level of each letter; odd ones run from right to left."""
    storage = bidi.get_empty_storage()
    base = bidi.get_base_level(text)
    storage["base_level"], storage["base_dir"] = base, ("L", "R")[base]
    bidi.get_embedding_levels(text, storage)
    letters = list(storage["chars"])  # some of which are taken out on the way
    bidi.explicit_embed_and_overrides(storage)
    bidi.resolve_weak_types(storage)
    bidi.resolve_neutral_types(storage, False)
    bidi.resolve_implicit_levels(storage, False)
    return [letter["level"] for letter in letters]


def _spaced(letters: Iterable[str]) -> bool:
    return all(scripts.script(letter) in SPACED_SCRIPTS or letter.isspace() for letter in letters)


@lru_cache(maxsize=100_000)
def shaped(run: Run, apart: bool = False) -> Shaped:
    """The glyphs of a run.

    Parameters
    ----------
    run : Run
        A part of a text in one face.
    apart : bool
        Whether its letters are to be set apart: then none are tied to one another.

    Returns
    -------
    Shaped

    Examples
    --------
    >>> from greylatch.lettering.faces import PLAIN
    >>> shaped(Run("AV", PLAIN)).advance < shaped(Run("A", PLAIN)).advance + shaped(Run("V", PLAIN)).advance
    True
    """
    font = shaper(run.face)
    assert font is not None  # a run is made only of faces that have its letters
    buffer = hb.Buffer()
    buffer.add_str(run.text)
    buffer.guess_segment_properties()
    buffer.direction = "rtl" if run.rtl else "ltr"
    buffer.set_language_from_ot_tag("ENG ")
    hb.shape(font, buffer, NO_LIGATURES if apart and run.spaced else {})
    em, pen = font.face.upem, 0
    glyphs, xs, ys, letters = [], [], [], []
    for info, position in zip(buffer.glyph_infos, buffer.glyph_positions, strict=True):
        glyphs.append(info.codepoint)
        xs.append((pen + position.x_offset) / em)
        ys.append(-position.y_offset / em)
        letters.append(info.cluster)
        pen += position.x_advance
    return Shaped(tuple(glyphs), tuple(xs), tuple(ys), tuple(letters), pen / em)


def missing_letters(text: str) -> str:
    """The characters of `text` that no face has a glyph for, each once: they would be drawn as empty boxes.

    >>> missing_letters("Köln Москва 中国") == "", missing_letters("\ue123") == "\ue123"
    (True, True)
    """
    return "".join(letter for letter in dict.fromkeys(text) if not text.isascii() and face_for(letter, PLAIN) is None)
