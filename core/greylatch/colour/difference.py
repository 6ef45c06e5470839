"""How far two colours are apart, for readers of normal and of deficient colour vision, and how well one reads on another."""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

from coloraide import Color

__all__ = [
    "CLOSE",
    "READERS",
    "VISIONS",
    "Alike",
    "Vision",
    "alike",
    "contrast",
    "difference",
    "least_apart",
    "seen_as",
]

Vision = Literal["normal", "deutan", "protan", "tritan"]
VISIONS: tuple[Vision, ...] = ("normal", "deutan", "protan", "tritan")
READERS = {
    "normal": "readers of normal vision",
    "deutan": "readers without green cones (deuteranopes)",
    "protan": "readers without red cones (protanopes)",
    "tritan": "readers without blue cones (tritanopes)",
}

CLOSE = 8.0
"""CIEDE2000 below which neighbouring classes are hard to tell apart on a map. Common practice: about 2 can just be seen side
by side; areas apart from each other need several times that."""


@dataclass(frozen=True)
class Alike:
    """Two neighbours of a row of colours, the second after `position`, that some `readers` can hardly tell `apart` (CIEDE2000)."""

    vision: Vision
    readers: str
    position: int
    apart: float


def alike(colours: Sequence[str]) -> list[Alike]:
    """For each kind of reader who takes neighbours of a row of colours for one another, the closest two.

    >>> [pair.position for pair in alike(["#ffffff", "#000000", "#010101"])]
    [1, 1, 1, 1]
    """
    pairs = []
    for vision in VISIONS:
        apart = [difference(a, b, vision) for a, b in itertools.pairwise(colours)]
        if apart and min(apart) < CLOSE:
            at = apart.index(min(apart))
            pairs.append(Alike(vision, READERS[vision], at, apart[at]))
    return pairs


def least_apart(colours: Sequence[str]) -> float:
    """How far the closest neighbours are apart for the reader who sees them worst (CIEDE2000)."""
    return min(difference(a, b, vision) for vision in VISIONS for a, b in itertools.pairwise(colours))


@lru_cache(maxsize=4096)
def seen_as(colour: str, vision: Vision) -> str:
    """`colour` as a reader with that vision sees it, at full severity (Machado, Oliveira and Fernandes 2009).

    Parameters
    ----------
    colour : str
        #rrggbb.
    vision : Vision
        Which kind of reader.

    Returns
    -------
    str
    """
    if vision == "normal":
        return colour
    return str(Color(colour).filter(vision, 1, method="machado").convert("srgb").clip().to_string(hex=True))


@lru_cache(maxsize=4096)
def difference(first: str, second: str, vision: Vision = "normal") -> float:
    """CIEDE2000 difference of two #rrggbb colours (CIE 142-2001; Sharma, Wu and Dalal 2005), as seen with `vision`.

    Parameters
    ----------
    first : str
        One of the two.
    second : str
        The other of the two.
    vision : Vision
        Which kind of reader.

    Returns
    -------
    float

    Examples
    --------
    >>> round(difference("#ffffff", "#ffffff"), 3)
    0.0
    """
    return float(Color(seen_as(first, vision)).delta_e(seen_as(second, vision), method="2000"))


def contrast(first: str, second: str) -> float:
    """WCAG 2.2 contrast ratio, 1..21, in either order.

    Parameters
    ----------
    first : str
        One of the two.
    second : str
        The other of the two.

    Returns
    -------
    float

    Examples
    --------
    >>> contrast("#000000", "#ffffff")
    21.0
    """
    return round(float(Color(first).contrast(second, method="wcag21")), 6)
