"""How a layer is drawn: symbol, encodings, rules and exceptions for shapes; relief, ramps and pictures for rasters."""

from collections.abc import Mapping
from typing import Annotated, Literal

from pydantic import Field

from greylatch.encodings.channels import Encodings
from greylatch.sheet.parts import (
    MAX_ENTRIES,
    Colour,
    Condition,
    FieldName,
    Identifier,
    Limits,
    Part,
    Pixels,
    RampChoice,
    Scales,
    Share,
    Stroke,
    Symbol,
)

__all__ = [
    "TOGETHER",
    "Clusters",
    "Departure",
    "Heat",
    "Hillshade",
    "Look",
    "NamedValue",
    "NamedValues",
    "Picture",
    "Pins",
    "RasterClasses",
    "RasterRamp",
    "RasterSymbology",
    "Rule",
    "Slope",
    "Symbology",
    "Symbols",
    "fields_shown",
]


class Look(Part):
    """What marks are, and what of them varies by what."""

    symbol: Symbol = Symbol()
    encodings: Encodings = Encodings()


class Rule(Look):
    """A look for the rows that a condition takes. A row takes the first rule that holds for it."""

    id: Identifier
    name: Annotated[str, Field(min_length=1, max_length=200)]
    where: Condition
    active: bool = True
    scales: Scales | None = Field(None, description="Its rows are drawn at these scales only; null: at all")


class Departure(Part):
    """How one feature departs from the others; null: as them."""

    fill: Colour | None = None
    stroke: Colour | None = None
    radius: Pixels | None = None
    opacity: Share | None = None
    left_out: bool = False
    name: Annotated[str, Field(max_length=200, description="What the key says of it; '' nothing")] = ""


MAX_PINS = 500


class Pins(Part):
    """Points that are numbered or lettered by hand, in an order of one's own. One that is gone keeps its place, so that no other
    takes its number."""

    fids: Annotated[list[int], Field(max_length=MAX_PINS, description="Feature ids, the first is 1 or A")] = []
    signs: Literal["numbers", "letters"] = "numbers"
    field: FieldName | None = Field(None, description="What the key says of each; null: its feature id")
    symbol: Symbol = Symbol(fill="#2f4a57", strokes=[Stroke(colour="#ffffff", width=1.4)], radius=9.0)
    colour: Annotated[Colour, Field(description="Of numbers and letters")] = "#ffffff"


class Heat(Part):
    """How densely points lie, as a surface of colours."""

    kind: Literal["heat"] = "heat"
    radius: Annotated[float, Field(ge=2, le=150, description="Px as far as a point adds to the surface")] = 24.0
    weight: FieldName | None = Field(None, description="How heavy each point is; null: all alike")
    ramp: RampChoice = RampChoice(name="ember")


class Clusters(Part):
    """Points that lie close to one another on the screen as one, with how many they are; nearer they part."""

    kind: Literal["clusters"] = "clusters"
    reach: Annotated[float, Field(ge=8, le=200, description="Px within which points are one")] = 44.0
    symbol: Symbol = Symbol(
        fill="#34687f", fill_opacity=0.92, strokes=[Stroke(colour="#ffffff", width=1.5)], radius=5.0
    )
    smallest: Annotated[Pixels, Field(description="Radius of two points")] = 9.0
    largest: Annotated[Pixels, Field(description="Radius of all of them together")] = 26.0
    colour: Annotated[Colour, Field(description="Of the numbers")] = "#ffffff"
    apart: Annotated[float, Field(gt=0)] | None = Field(
        None, description="Closer than the scale of which this is the denominator every point stands by itself"
    )


TOGETHER: Mapping[str, type[Heat] | type[Clusters]] = {"clusters": Clusters, "heat": Heat}
"""What all points of a layer may be drawn as together."""


class Symbols(Look):
    """Areas, lines and points: one look, or rules of which each has its own, and the rest as `others` says."""

    kind: Literal["symbols"] = "symbols"
    rules: list[Rule] = Field([], max_length=200)
    others: Literal["drawn", "left out"] = Field(
        "drawn", description="Rows that no rule takes: in the layer's own look, or not"
    )
    exceptions: dict[int, Departure] = Field({}, max_length=MAX_ENTRIES, description="By feature id")
    pins: Pins | None = Field(None, description="Of layers of points only")


def fields_shown(look: Look) -> list[str]:
    """The fields and expressions by which a look varies, each once.

    >>> from greylatch.encodings.by_value import SizeByValue
    >>> fields_shown(Look(encodings=Encodings(size=SizeByValue(field="ha"))))
    ['ha']
    """
    return list(dict.fromkeys(use.field for _, encoding in look.encodings.used() for use in encoding.uses()))


class Hillshade(Part):
    """Shaded relief of an elevation raster (Horn 1981), in one light or in four at once (Mark 1992), which have no azimuth."""

    kind: Literal["hillshade"] = "hillshade"
    light: Literal["one", "four"] = "one"
    azimuth: Annotated[float, Field(ge=0, le=360)] = 315.0
    altitude: Annotated[float, Field(ge=0, le=90)] = 45.0
    exaggeration: Annotated[float, Field(gt=0, le=100)] = 1.0


Band = Annotated[int, Field(ge=1, description="Counted from 1")]


class RasterRamp(Part):
    """A continuous ramp between two values of one band; ends that are null are found in the band as `stretch` says."""

    kind: Literal["raster-ramp"] = "raster-ramp"
    band: Band = 1
    stretch: Literal["percentiles", "extremes", "deviations"] = Field(
        "percentiles",
        description="The 2nd and 98th percentile; the least and the greatest; two standard deviations around the mean",
    )
    low: float | None = None
    high: float | None = None
    ramp: RampChoice = RampChoice(name="bathos")


class RasterClasses(Part):
    """A colour for each class of the values of one band."""

    kind: Literal["raster-classes"] = "raster-classes"
    band: Band = 1
    classing: Limits = Limits()
    ramp: RampChoice = RampChoice(name="upland")


class NamedValue(Part):
    """What one value of a raster stands for."""

    value: float
    name: Annotated[str, Field(max_length=200)] = ""
    colour: Colour
    drawn: bool = True


class NamedValues(Part):
    """Values that stand for something: kinds of land, say. Those that are not named are not drawn."""

    kind: Literal["named-values"] = "named-values"
    band: Band = 1
    values: list[NamedValue] = Field([], max_length=256)


class Slope(Part):
    """How steep an elevation raster is, in degrees (gradient by Horn 1981), along a ramp."""

    kind: Literal["slope"] = "slope"
    low: Annotated[float, Field(ge=0, le=90, description="Degrees at the beginning of the ramp")] = 0.0
    high: Annotated[float, Field(ge=0, le=90, description="Degrees at its end")] = 45.0
    ramp: RampChoice = RampChoice(name="ember")


class Picture(Part):
    """The colours that the raster itself carries."""

    kind: Literal["picture"] = "picture"


RasterSymbology = Hillshade | Slope | RasterRamp | RasterClasses | NamedValues | Picture
Symbology = Annotated[Symbols | Heat | Clusters | RasterSymbology, Field(discriminator="kind")]
