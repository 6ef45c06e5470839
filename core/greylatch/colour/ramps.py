"""Colour ramps made in OKLCh (Ottosson 2020), so that equal steps look equally far apart."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise
from typing import Literal

from coloraide import Color

from greylatch.colour.lch import on_screen
from greylatch.errors import BadInput
from greylatch.sheet.parts import RampChoice

__all__ = ["RAMPS", "ramp_colours", "ramp_matched", "ramp_of", "ramp_refined"]

Family = Literal["sequential", "diverging", "qualitative"]


@dataclass(frozen=True)
class Ramp:
    """A named ramp. `stops` are OKLCh colours (lightness 0..1, chroma, hue in degrees).

    Between the stops of sequential and diverging ramps colours run straight in OKLab; qualitative ones are taken as they are.
    """

    name: str
    family: Family
    stops: tuple[tuple[float, float, float], ...]


RAMPS: Mapping[str, Ramp] = {
    ramp.name: ramp
    for ramp in (
        Ramp("heather", "sequential", ((0.955, 0.018, 90), (0.80, 0.075, 20), (0.60, 0.115, 350), (0.43, 0.110, 325), (0.27, 0.075, 300))),
        Ramp("peat", "sequential", ((0.965, 0.025, 95), (0.82, 0.080, 80), (0.64, 0.095, 62), (0.45, 0.075, 50), (0.26, 0.035, 40))),
        Ramp("lichen", "sequential", ((0.965, 0.040, 110), (0.83, 0.095, 125), (0.66, 0.105, 150), (0.48, 0.085, 175), (0.30, 0.055, 200))),
        Ramp("bathos", "sequential", ((0.965, 0.015, 200), (0.83, 0.055, 210), (0.65, 0.090, 230), (0.46, 0.100, 255), (0.28, 0.080, 270))),
        Ramp("ember", "sequential", ((0.970, 0.050, 100), (0.86, 0.120, 85), (0.70, 0.160, 55), (0.54, 0.165, 32), (0.34, 0.105, 20))),
        Ramp("slate", "sequential", ((0.960, 0.005, 90), (0.80, 0.010, 230), (0.62, 0.018, 240), (0.44, 0.024, 250), (0.26, 0.022, 260))),
        Ramp("bracken", "sequential", ((0.950, 0.045, 105), (0.78, 0.110, 100), (0.62, 0.105, 118), (0.46, 0.080, 140), (0.29, 0.050, 155))),
        Ramp("upland", "sequential", ((0.62, 0.060, 150), (0.74, 0.070, 115), (0.84, 0.060, 90), (0.76, 0.055, 65), (0.93, 0.012, 60))),
        Ramp("shore", "diverging", ((0.36, 0.085, 55), (0.60, 0.105, 65), (0.80, 0.065, 80), (0.955, 0.008, 100), (0.80, 0.060, 205), (0.60, 0.090, 225), (0.36, 0.080, 250))),
        Ramp("gorse", "diverging", ((0.38, 0.105, 305), (0.60, 0.105, 312), (0.81, 0.055, 318), (0.955, 0.010, 100), (0.83, 0.090, 100), (0.62, 0.095, 95), (0.40, 0.070, 92))),
        Ramp("thaw", "diverging", ((0.40, 0.125, 25), (0.62, 0.125, 35), (0.82, 0.065, 50), (0.955, 0.008, 100), (0.81, 0.055, 250), (0.60, 0.095, 258), (0.38, 0.105, 265))),
        Ramp("moor", "diverging", ((0.36, 0.090, 340), (0.58, 0.115, 345), (0.80, 0.065, 350), (0.955, 0.010, 100), (0.81, 0.065, 165), (0.60, 0.085, 170), (0.38, 0.065, 175))),
        Ramp("pebbles", "qualitative", ((0.62, 0.13, 40), (0.74, 0.08, 220), (0.48, 0.10, 275), (0.82, 0.12, 95), (0.52, 0.09, 160), (0.70, 0.11, 345), (0.38, 0.06, 60), (0.86, 0.05, 150))),
        Ramp("pennants", "qualitative", ((0.55, 0.17, 28), (0.80, 0.14, 90), (0.45, 0.12, 262), (0.68, 0.12, 150), (0.62, 0.15, 320), (0.83, 0.07, 215), (0.36, 0.05, 40), (0.90, 0.03, 100))),
        Ramp("washes", "qualitative", ((0.86, 0.06, 30), (0.90, 0.07, 100), (0.80, 0.07, 155), (0.86, 0.05, 215), (0.76, 0.07, 275), (0.83, 0.07, 335), (0.72, 0.05, 70), (0.93, 0.02, 180))),
    )
}  # fmt: skip


def ramp_colours(choice: RampChoice, n: int) -> list[str]:
    """`n` colours (#rrggbb) along the chosen ramp, from low to high, with those replaced by hand put in.

    Parameters
    ----------
    choice : RampChoice
        The ramp by name, its direction and its replaced colours.
    n : int
        How many colours.

    Returns
    -------
    list[str]

    Examples
    --------
    >>> ramp_colours(RampChoice(name="slate", replaced={1: "#ff0000"}), 3)[1]
    '#ff0000'
    """
    colours = list(_colours(choice.name, choice.reverse, n, tuple(choice.stops)))
    for position, colour in choice.replaced.items():
        if 0 <= position < n:
            colours[position] = colour.lower()
    return colours


def ramp_of(colour: str) -> list[str]:
    """Stops of a ramp from light to dark through one colour, its hue throughout (OKLCh).

    Parameters
    ----------
    colour : str
        #rrggbb.

    Returns
    -------
    list[str]

    Examples
    --------
    >>> ramp_of("#7c4f74")[1]
    '#7c4f74'
    """
    middle = Color(colour).convert("oklch")
    light = middle.clone().set("lightness", max(0.95, middle["lightness"])).set("chroma", lambda chroma: chroma * 0.25)
    dark = middle.clone().set("lightness", min(0.28, middle["lightness"])).set("chroma", lambda chroma: chroma * 0.7)
    return [on_screen(each) for each in (light, Color(colour), dark)]


LIGHTEST, DARKEST = 0.95, 0.25
"""Lightness in OKLCh up to and down to which a ramp is drawn out."""
APART = 0.09
"""How far its low end stays from its ground: as little as can well be told apart from it."""


def ramp_matched(stops: Sequence[str], ground: str) -> list[str]:
    """Stops whose low end is nearly as light as the ground and whose high end stands out from it most: on dark grounds they rise to light. Hues and
    chroma stay; lightness keeps its steps in proportion. Common practice: what is least is to be seen least.

    Parameters
    ----------
    stops : Sequence[str]
        From low to high, #rrggbb, two or more.
    ground : str
        The colour that they lie on.

    Returns
    -------
    list[str]

    Examples
    --------
    >>> ramp_matched(["#f0e8f0", "#7c4f74", "#2a1430"], "#101418")
    ['#2c262c', '#bf8eb6', '#ffe3ff']
    """
    colours = [Color(stop).convert("oklch") for stop in stops]
    below = Color(ground).convert("oklch")["lightness"]
    rising = LIGHTEST - below > below - DARKEST
    near, far = (below + APART, LIGHTEST) if rising else (below - APART, DARKEST)
    first, last = colours[0]["lightness"], colours[-1]["lightness"]
    out = []
    for i, colour in enumerate(colours):
        evenly = i / max(1, len(colours) - 1)
        along = (colour["lightness"] - first) / (last - first) if abs(last - first) > APART else evenly
        # A ramp that turns round, dark in its middle, say, has no one way: it goes evenly.
        along = along if 0 <= along <= 1 else evenly
        moved = colour.clone().set("lightness", near + along * (far - near))
        out.append(on_screen(moved))
    return out


def ramp_refined(stops: Sequence[str]) -> list[str]:
    """The same ramp with a stop more: half-way (OKLab) between the neighbours that are farthest apart, so that it runs as before and no two are alike.

    Parameters
    ----------
    stops : Sequence[str]
        From low to high, #rrggbb, two or more.

    Returns
    -------
    list[str]

    Examples
    --------
    >>> ramp_refined(["#ffffff", "#eeeeee", "#000000"])
    ['#ffffff', '#eeeeee', '#5c5c5c', '#000000']
    """
    colours = [Color(stop) for stop in stops]
    steps = [low.distance(high, space="oklab") for low, high in pairwise(colours)]
    at = steps.index(max(steps)) + 1
    between = colours[at - 1].mix(colours[at], 0.5, space="oklab")
    return [*stops[:at], on_screen(between), *stops[at:]]


def _again(stop: Color, turn: int) -> Color:
    """A hue that was taken already, darker or lighter by turns: nobody is to take two categories for one."""
    if turn == 0:
        return stop
    lightness = stop["lightness"] + (0.16 if stop["lightness"] < 0.62 else -0.16) * (1 if turn % 2 else -1) * (
        (turn + 1) // 2
    )
    return stop.clone().set("lightness", min(0.95, max(0.15, lightness)))


@lru_cache(maxsize=512)
def _colours(name: str, reverse: bool, n: int, own: tuple[str, ...] = ()) -> tuple[str, ...]:
    if len(own) == 1:
        own = tuple(ramp_of(own[0]))
    if name not in RAMPS and not own:
        raise BadInput(f"There is no ramp '{name}'.", f"The ramps are: {', '.join(RAMPS)}.")
    stops = [Color(stop) for stop in own] or [Color("oklch", list(stop)) for stop in RAMPS[name].stops]
    if own:
        along = Color.interpolate(stops, space="oklab")
        # Stops set by hand are shown just so, the first and the last as well.
        picked = [along(0.5 if n == 1 else i / (n - 1)) for i in range(n)]
    elif RAMPS[name].family == "qualitative":
        picked = [_again(stops[i % len(stops)], i // len(stops)) for i in range(n)]
    else:
        along = Color.interpolate(stops, space="oklab")
        # A few classes should not be paler and darker than many: short ramps keep a little away from the ends.
        inset = 0.0 if n > 6 else 0.02 * (7 - n)
        ends = (inset, 1 - inset)
        picked = [along(0.55 if n == 1 else ends[0] + (ends[1] - ends[0]) * i / (n - 1)) for i in range(n)]
    hexes = tuple(on_screen(colour) for colour in picked)
    return hexes[::-1] if reverse else hexes
