"""The typeface of labels, and how wide a text is in it."""

import os
import unicodedata
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from functools import lru_cache
from pathlib import Path

import numpy as np
import skia
from numpy.typing import NDArray

__all__ = [
    "ASCENT",
    "DESCENT",
    "FONT_FILE",
    "LEADING",
    "font",
    "missing_letters",
    "text_width",
    "text_widths",
    "typeface",
]

FONT_FILE = Path(__file__).parent / "fonts" / "SourceSans3-Medium.ttf"
ASCENT = 0.75
"""Height of the tallest letters over the baseline, as a share of the size; with `DESCENT` it makes a line's box."""
DESCENT = 0.22
LEADING = 1.12


@lru_cache(maxsize=1)
def typeface() -> skia.Typeface:
    """The shipped humanist sans."""
    with _muted():
        return skia.Typeface.MakeFromFile(str(FONT_FILE))


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


@lru_cache(maxsize=64)
def font(size: float) -> skia.Font:
    """The face at `size` px, placed at fractions of a pixel as a browser's canvas does."""
    face = skia.Font(typeface(), size)
    face.setSubpixel(True)
    face.setHinting(skia.FontHinting.kNone)
    face.setEdging(skia.Font.Edging.kAntiAlias)
    return face


def text_width(text: str, size: float) -> float:
    """Advance width of `text` in px at `size` px.

    Parameters
    ----------
    text : str
        The text.
    size : float
        Px of the type.

    Returns
    -------
    float
    """
    return float(font(size).measureText(text))


def text_widths(texts: Sequence[str], size: float) -> NDArray[np.float64]:
    """The same of many texts at once.

    Parameters
    ----------
    texts : Sequence[str]
        The texts.
    size : float
        Px of the type.

    Returns
    -------
    NDArray[np.float64]

    Examples
    --------
    >>> widths = text_widths(["Ard", "", "Mor"], 12)
    >>> [bool(abs(w - text_width(t, 12)) < 1e-3) for w, t in zip(widths, ["Ard", "", "Mor"])]
    [True, True, True]
    """
    letters, which = np.unique(np.frombuffer("".join(texts).encode("utf-32-le"), dtype="<u4"), return_inverse=True)
    advances = np.array(font(size).getWidths(typeface().unicharsToGlyphs(letters.tolist())), dtype=np.float64)
    ends = np.cumsum([len(text) for text in texts], dtype=np.intp)
    total = np.concatenate([[0.0], np.cumsum(advances[which])])
    return np.asarray(np.diff(total[ends], prepend=0.0))


def missing_letters(text: str) -> str:
    """The characters of `text` that the typeface has no glyph for, each once: they would be drawn as empty boxes.

    >>> missing_letters("Köln Москва"), missing_letters("中国")
    ('', '中国')
    """
    letters = [c for c in dict.fromkeys(text) if not c.isspace() and unicodedata.category(c) != "Cf"]
    glyphs = _glyphs("".join(letters)) if letters else []
    return "".join(c for c, glyph in zip(letters, glyphs, strict=True) if glyph == 0)


@lru_cache(maxsize=100_000)
def _glyphs(letters: str) -> list[int]:
    return [int(glyph) for glyph in typeface().unicharsToGlyphs([ord(c) for c in letters])]
