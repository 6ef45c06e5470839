"""Colours of letters that are read on what lies behind them."""

from functools import lru_cache

from coloraide import Color

from greylatch.colour.difference import contrast
from greylatch.colour.lch import on_screen

__all__ = ["READABLE", "readable_on"]

READABLE = 4.5
"""Contrast of letters with what is behind them (WCAG 2.2, 1.4.3)."""
MIDDLE, STEP = 0.18, 0.02
"""The luminance above which what lies behind wants darker letters, and by how much of lightness these change at a time."""


@lru_cache(maxsize=4096)
def readable_on(colour: str, behind: str) -> str:
    """The nearest shade of a colour that is read on another: darker or lighter in OKLCH by as much as that takes.

    Parameters
    ----------
    colour : str
        #rrggbb of letters.
    behind : str
        #rrggbb of what lies behind them.

    Returns
    -------
    str

    Examples
    --------
    >>> readable_on("#123456", "#ffffff"), contrast(readable_on("#f4e4d8", "#ffffff"), "#ffffff") >= READABLE
    ('#123456', True)
    """
    darker = Color(behind).luminance() > MIDDLE
    shade = Color(colour).convert("oklch")
    while contrast(on_screen(shade), behind) < READABLE and 0 < shade["lightness"] < 1:
        shade["lightness"] = min(1, max(0, shade["lightness"] + (-STEP if darker else STEP)))
    return on_screen(shade)
