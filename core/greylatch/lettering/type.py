"""How text is set: face, size and spacing; and how wide it comes out."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import skia
from numpy.typing import NDArray

from greylatch.lettering.faces import PLAIN, Face, typeface
from greylatch.lettering.shaping import Run, is_plain, runs_of, shaped

__all__ = ["ASCENT", "DESCENT", "LEADING", "TextStyle", "font", "run_width", "text_blob", "text_width", "text_widths"]

ASCENT = 0.75
"""Height of the tallest letters over the baseline, as a share of the size; with `DESCENT` it makes a line's box."""
DESCENT = 0.22
LEADING = 1.12
"""From one line to the next, in sizes of the type."""


@dataclass(frozen=True)
class TextStyle:
    """How a text is set: its size in px, its face, and the space between its letters in ems."""

    size: float
    face: Face = PLAIN
    spacing: float = 0.0

    def smaller(self, share: float) -> "TextStyle":
        """The same at a share of its size."""
        return self if share == 1 else TextStyle(self.size * share, self.face, self.spacing)


@lru_cache(maxsize=512)
def font(size: float, face: Face = PLAIN) -> skia.Font:
    """The face at `size` px, placed at fractions of a pixel as a browser's canvas does."""
    sized = skia.Font(typeface(face), size)
    sized.setSubpixel(True)
    sized.setHinting(skia.FontHinting.kNone)
    sized.setEdging(skia.Font.Edging.kAntiAlias)
    return sized


def text_width(text: str, size: float, face: Face = PLAIN, spacing: float = 0.0) -> float:
    """How far a line of `text` goes, in px at `size` px.

    Parameters
    ----------
    text : str
        One line.
    size : float
        Px of the type.
    face : Face
        What it is set in, where that has its letters.
    spacing : float
        Ems between the letters.

    Returns
    -------
    float

    Examples
    --------
    >>> 45 < text_width("Ard Mor", 14) < 47, text_width("", 14)
    (True, 0)
    """
    return size * sum(run_width(run, spacing) for run in runs_of(text, face))


def run_width(run: Run, spacing: float) -> float:
    """How far a run goes, in ems.

    Parameters
    ----------
    run : Run
        A part of a text in one face.
    spacing : float
        Ems between the letters.

    Returns
    -------
    float
    """
    glyphs = shaped(run, spacing != 0)
    return glyphs.advance + (spacing * len(set(glyphs.letters)) if run.spaced else 0.0)


def text_widths(texts: Sequence[str], style: TextStyle) -> NDArray[np.float64]:
    """The same of many texts at once, px.

    Letters that stand by themselves are measured by what each takes and what it takes more or less before the next; all others are
    shaped as they are.

    Parameters
    ----------
    texts : Sequence[str]
        One line each.
    style : TextStyle
        How they are set.

    Returns
    -------
    NDArray[np.float64]

    Examples
    --------
    >>> widths = text_widths(["AVA", "", "Mor"], TextStyle(12))
    >>> [bool(abs(w - text_width(t, 12)) < 1e-6) for w, t in zip(widths, ["AVA", "", "Mor"])]
    [True, True, True]
    """
    kept, which = np.unique(np.array([*texts, ""], dtype=object).astype(str), return_inverse=True)
    unique = kept.tolist()
    out = np.empty(len(unique))
    odd = {letter for letter in set().union(*unique) if not is_plain(letter)}
    plain = np.array([not (odd and odd.intersection(text)) and "ff" not in text for text in unique], dtype=bool)
    out[plain] = _plain_widths(
        [text for text, by_letters in zip(unique, plain.tolist(), strict=True) if by_letters], style
    )
    for i in np.flatnonzero(~plain).tolist():
        out[i] = text_width(unique[i], 1.0, style.face, style.spacing)
    return np.asarray(style.size * out[which[:-1]])


def _plain_widths(texts: Sequence[str], style: TextStyle) -> NDArray[np.float64]:
    """Ems of texts whose letters stand by themselves."""
    lengths = np.array([len(text) for text in texts], dtype=np.intp)
    letters, which = np.unique(np.frombuffer("".join(texts).encode("utf-32-le"), dtype="<u4"), return_inverse=True)
    own = {int(code): text_width(chr(code), 1.0, style.face, style.spacing) for code in letters.tolist()}
    takes = np.array([own[code] for code in letters.tolist()])[which] if len(which) else np.empty(0)
    # What a pair takes more or less than its two letters is written with the second, unless a text begins there.
    pairs, of_pair = (
        np.unique(which[:-1] * len(letters) + which[1:], return_inverse=True)
        if len(which)
        else (np.empty(0, int), np.empty(0, int))
    )
    codes = [(int(letters[pair // len(letters)]), int(letters[pair % len(letters)])) for pair in pairs.tolist()]
    closer = np.array([
        text_width(chr(a) + chr(b), 1.0, style.face, style.spacing) - own[a] - own[b] for a, b in codes
    ])  # fmt: skip
    ends = np.cumsum(lengths)
    if len(pairs):
        begins = np.zeros(len(which), dtype=bool)
        begins[(ends - lengths)[lengths > 0]] = True
        takes[1:] += np.where(begins[1:], 0.0, closer[of_pair])
    total = np.concatenate([[0.0], np.cumsum(takes)])
    return np.asarray(total[ends] - total[ends - lengths])


def text_blob(run: Run, style: TextStyle) -> skia.TextBlob | None:
    """A run ready to be painted, its baseline beginning at (0, 0); None where nothing of it is seen.

    Parameters
    ----------
    run : Run
        A part of a text in one face.
    style : TextStyle
        How it is set; the face is the run's.

    Returns
    -------
    skia.TextBlob | None
    """
    glyphs = shaped(run, style.spacing != 0)
    if not glyphs.glyphs:
        return None
    apart = style.spacing if run.spaced else 0.0
    before = _clusters_before(glyphs.letters)
    builder = skia.TextBlobBuilder()
    places = [
        skia.Point(style.size * (x + apart * n), style.size * y)
        for x, y, n in zip(glyphs.xs, glyphs.ys, before, strict=True)
    ]
    builder.allocRunPos(font(style.size, run.face), list(glyphs.glyphs), places)
    return builder.make()


def _clusters_before(letters: Iterable[int]) -> list[int]:
    """For each glyph how many letters stand left of it."""
    out, last, count = [], None, -1
    for letter in letters:
        count += letter != last
        last = letter
        out.append(count)
    return out
