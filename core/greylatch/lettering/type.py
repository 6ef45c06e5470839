"""The typeface of labels, and how wide a text is in it."""

import os
from collections.abc import Iterator
from contextlib import contextmanager
from functools import lru_cache
from pathlib import Path

import skia

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
    made = skia.Font(typeface(), size)
    made.setSubpixel(True)
    made.setHinting(skia.FontHinting.kNone)
    made.setEdging(skia.Font.Edging.kAntiAlias)
    return made


def text_width(text: str, size: float) -> float:
    """Advance width of `text` in px at `size` px."""
    return float(font(size).measureText(text))
