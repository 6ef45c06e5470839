"""How a layer is drawn: symbol, encodings, rules and exceptions for shapes; relief, ramps and pictures for rasters."""

from typing import Annotated, Literal

from pydantic import Field

from greylatch.encodings.channels import Encodings
from greylatch.sheet.parts import (
    MAX_ENTRIES,
    Colour,
    Condition,
    FieldName,
    Identifier,
    Part,
    Pixels,
    RampChoice,
    Share,
    Symbol,
)

__all__ = [
    "Departure",
    "Heat",
    "Hillshade",
    "Look",
    "Picture",
    "RasterRamp",
    "RasterSymbology",
    "Rule",
    "Symbology",
    "Symbols",
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


class Departure(Part):
    """How one feature departs from the others; null: as them."""

    fill: Colour | None = None
    stroke: Colour | None = None
    radius: Pixels | None = None
    opacity: Share | None = None
    left_out: bool = False
    name: Annotated[str, Field(max_length=200, description="What the key says of it; '' nothing")] = ""


class Heat(Part):
    """How densely points lie, as a surface of colours."""

    kind: Literal["heat"] = "heat"
    radius: Annotated[float, Field(ge=2, le=150, description="Px as far as a point adds to the surface")] = 24.0
    weight: FieldName | None = Field(None, description="How heavy each point is; null: all alike")
    ramp: RampChoice = RampChoice(name="ember")


class Symbols(Look):
    """Areas, lines and points: one look, or rules of which each has its own, and the rest as `others` says."""

    kind: Literal["symbols"] = "symbols"
    rules: list[Rule] = Field([], max_length=200)
    others: Literal["drawn", "left out"] = Field(
        "drawn", description="Rows that no rule takes: in the layer's own look, or not"
    )
    exceptions: dict[int, Departure] = Field({}, max_length=MAX_ENTRIES, description="By feature id")


class Hillshade(Part):
    """Shaded relief of an elevation raster (Horn 1981), in one light or in four at once (Mark 1992), which have no azimuth."""

    kind: Literal["hillshade"] = "hillshade"
    light: Literal["one", "four"] = "one"
    azimuth: Annotated[float, Field(ge=0, le=360)] = 315.0
    altitude: Annotated[float, Field(ge=0, le=90)] = 45.0
    exaggeration: Annotated[float, Field(gt=0, le=100)] = 1.0


class RasterRamp(Part):
    """A continuous ramp between two values of one band; null ends take the band's 2nd and 98th percentile."""

    kind: Literal["raster-ramp"] = "raster-ramp"
    band: Annotated[int, Field(ge=1)] = 1
    low: float | None = None
    high: float | None = None
    ramp: RampChoice = RampChoice(name="bathos")


class Picture(Part):
    """The colours that the raster itself carries."""

    kind: Literal["picture"] = "picture"


RasterSymbology = Hillshade | RasterRamp | Picture
Symbology = Annotated[Symbols | Heat | RasterSymbology, Field(discriminator="kind")]
