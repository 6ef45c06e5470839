"""What a press in an editor gives a symbol or a label first, until somebody says otherwise."""

import math

from pydantic import Field

from greylatch.sheet.parts import Colour, Limits, Part, Pixels

__all__ = ["DASHES", "Dash", "Gestures"]


class Dash(Part):
    """A way to break a stroke: what it is called, and what is drawn and left out in turn, in widths of the stroke."""

    name: str
    parts: list[float]


DASHES = (
    Dash(name="solid", parts=[]), Dash(name="dashed", parts=[4, 2.5]), Dash(name="long dashes", parts=[8, 3]), Dash(name="dotted", parts=[0, 2]),
    Dash(name="dash and dot", parts=[6, 2.5, 0, 2.5]),
)  # fmt: skip
"""What is offered: round ends make dots of what is drawn for no length. Ours, with no source."""


class Gestures(Part):
    """Values that a press sets first. All are ours, with no source.

    Examples
    --------
    >>> Gestures().unclassed.method
    'natural-breaks'
    """

    departing: Colour = Field("#b8452c", description="Of a feature that departs from the others")
    stop: Colour = Field("#7c4f74", description="From which a ramp by hand is made where nothing is coloured yet")
    icon: Pixels = Field(9.0, description="Px of the radius from which on an icon tells anything")
    casing: Colour = Field("#ffffff", description="Of a stroke below the others")
    wider: Pixels = Field(2.0, description="Px by which it is wider than what lies on it")
    dashes: list[Dash] = Field(list(DASHES), description="Ways to break a stroke")
    thinnest: Pixels = Field(
        0.5, description="Px of the stroke up to which dashes grow no shorter: thinner ones would not be seen"
    )
    reach_of_hand: float = Field(
        math.sqrt(2),
        description="Times the scale shown up to which a label moved by hand stays there: half a level, so that at the next it finds its own place",
    )
    unclassed: Limits = Field(Limits(), description="How numbers are classed when limits by hand mean nothing any more")
