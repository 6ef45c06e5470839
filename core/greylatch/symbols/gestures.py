"""What a press in an editor gives a symbol or a label first, until somebody says otherwise."""

from pydantic import Field

from greylatch.sheet.parts import Colour, Limits, Part, Pixels

__all__ = ["Gestures"]


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
    unclassed: Limits = Field(Limits(), description="How numbers are classed when limits by hand mean nothing any more")
