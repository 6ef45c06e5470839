"""The small parts that sheets are made of: colours, strokes, patterns, symbols, classings, ramps."""

from typing import Annotated, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field

from greylatch.classes.methods import MAX_CLASSES, Method
from greylatch.rules.language import LONGEST

__all__ = [
    "FARTHEST_ON_THE_GROUND",
    "INNER_LINE",
    "MAX_ENTRIES",
    "MOST_STOPS",
    "MOST_STROKES",
    "NO_DATA_COLOUR",
    "WIDEST_STROKE",
    "Classing",
    "Colour",
    "Condition",
    "FieldName",
    "Icon",
    "Identifier",
    "Limits",
    "Normalise",
    "NormaliseByArea",
    "NormaliseByField",
    "NormaliseByTotal",
    "Part",
    "Pattern",
    "Pixels",
    "RampChoice",
    "Scales",
    "Shadow",
    "Share",
    "Stroke",
    "Symbol",
]

Colour = Annotated[str, Field(pattern=r"^#[0-9a-fA-F]{6}$", description="sRGB as #rrggbb")]
NO_DATA_COLOUR = "#d9d6cd"
Share = Annotated[float, Field(ge=0, le=1)]
Pixels = Annotated[float, Field(ge=0, le=200, description="CSS pixels")]
WIDEST_STROKE = 60.0
"""Px. Tiles of shapes reach as far over their edges as half of it: the shapes in them are cut once, for any look."""
StrokeWidth = Annotated[
    float, Field(ge=0, le=200, description="CSS pixels"), AfterValidator(lambda width: min(width, WIDEST_STROKE))
]
Identifier = Annotated[str, Field(pattern=r"^[A-Za-z0-9_-]{1,64}$")]
FieldName = Annotated[str, Field(max_length=500, description="A field or, where numbers are wanted, a CQL2 expression")]
MOST_STROKES, MOST_STOPS = 6, 24
"""Of a symbol, and of a ramp by hand."""
FARTHEST_ON_THE_GROUND = 1_000_000.0
"""Metres."""
MAX_ENTRIES = 2_000
"""Of a list or a table within a sheet: more than anyone writes, few enough that nobody can make reading slow."""


class Part(BaseModel):
    """Base of all parts of a sheet: unknown entries are refused, so that a misspelt one is not silently lost."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, str_max_length=20_000)


class Scales(Part):
    """At which scales something is drawn, by their denominators: 25000 for 1:25,000. Those of the projection, true along its true
    lines, at 0.28 mm to a px (OGC 17-083r4, 6.2)."""

    closest: Annotated[float, Field(gt=0)] | None = Field(None, description="Closer it is not drawn")
    farthest: Annotated[float, Field(gt=0)] | None = Field(None, description="Farther away it is not drawn")

    def show(self, scale: float) -> bool:
        """Whether it is drawn at a scale.

        >>> Scales(farthest=50_000).show(100_000)
        False
        """
        near = self.closest is None or scale >= self.closest * (1 - 1e-9)
        return near and (self.farthest is None or scale <= self.farthest * (1 + 1e-9))


class Stroke(Part):
    """A line: width 0 draws none. One wider than `WIDEST_STROKE` is drawn as wide as that."""

    colour: Colour = "#4a4a46"
    width: StrokeWidth = 0.6
    opacity: Share = 1.0
    dash: list[Annotated[float, Field(ge=0, le=200)]] = Field(
        [], max_length=8, description="Px drawn and left out in turn; none: drawn throughout"
    )
    cap: Literal["round", "butt", "square"] = "round"


INNER_LINE = Stroke(width=2.5, opacity=0.4)
"""What a line along the inside of an area's edge begins as."""


class Pattern(Part):
    """Lines, crosses or dots over a fill, by their spacing in px, standing still on the ground."""

    kind: Literal["hatch", "cross", "dots"] = "hatch"
    colour: Colour = "#4a4a46"
    opacity: Share = 1.0
    spacing: Annotated[float, Field(ge=2, le=100, description="Px from one to the next")] = 7.0
    width: Annotated[float, Field(ge=0.2, le=50, description="Px of lines, or across dots")] = 1.0
    turn: Annotated[float, Field(ge=0, le=180, description="Degrees, clockwise")] = 45.0


class Shadow(Part):
    """A drop shadow of what is drawn."""

    colour: Colour = "#000000"
    opacity: Share = 0.35
    right: Annotated[float, Field(ge=-50, le=50, description="Px")] = 1.5
    down: Annotated[float, Field(ge=-50, le=50, description="Px")] = 2.0
    blur: Annotated[float, Field(ge=0, le=30, description="Px of the standard deviation")] = 2.0


class Icon(Part):
    """A picture of one's own in place of a point's shape: cleaned SVG text, or a PNG in base64. Its colours are its own, unless it is
    a stencil."""

    kind: Literal["svg", "png"] = "svg"
    content: Annotated[str, Field(min_length=1)]
    name: Annotated[str, Field(max_length=200)] = ""
    credit: Annotated[str, Field(max_length=500, description="Whose it is; maps that show it say so")] = ""
    stencil: bool = Field(False, description="Filled with the colour of its feature, whatever its own")


class Symbol(Part):
    """What one mark is. Areas have fill, pattern, inner line and strokes; lines strokes; points a shape with fill and strokes."""

    fill: Colour = "#b9b29f"
    fill_opacity: Share = 1.0
    pattern: Pattern | None = None
    inner: Stroke | None = Field(None, description="A line along the inside of the edge of areas")
    strokes: list[Stroke] = Field([Stroke()], max_length=MOST_STROKES, description="From the lowest to the one on top")
    shape: Annotated[str, Field(max_length=100, description="Of points: see `greylatch symbols`")] = "circle"
    icon: Icon | None = Field(None, description="In place of a point's shape, fill and strokes")
    radius: Annotated[Pixels, Field(description="From the middle of a point's shape to its edge")] = 4.0
    ground: Annotated[float, Field(gt=0, le=FARTHEST_ON_THE_GROUND)] | None = Field(
        None,
        description="Metres on the ground of the radius of points, of the width of lines: where sizes vary those of the largest. The key shows "
        "it as large as it would be in px; null: so large on the map too",
    )
    turn: Annotated[
        float, Field(ge=-360, le=360, description="Degrees by which a point's shape is turned, clockwise")
    ] = 0.0


class NormaliseByField(Part):
    """Divide by another field; a zero or missing denominator gives no data."""

    by: Literal["field"] = "field"
    field: FieldName
    per: Annotated[
        float, Field(gt=0, le=1e9, description="For so many of it: 100 gives percent, 1000 per thousand")
    ] = 1.0
    least: float | None = Field(
        None, description="A rate of fewer than so many says little: such rows are drawn as those without data"
    )


class NormaliseByArea(Part):
    """Divide by the shape's geodesic area in square kilometres."""

    by: Literal["area"] = "area"


class NormaliseByTotal(Part):
    """The share of the sum of all rows, in percent."""

    by: Literal["total"] = "total"


Normalise = Annotated[NormaliseByField | NormaliseByArea | NormaliseByTotal, Field(discriminator="by")]


class Limits(Part):
    """How numbers become classes. With `breaks` filled, they stand; otherwise `method` computes them."""

    method: Method = "natural-breaks"
    classes: Annotated[int, Field(ge=1, le=MAX_CLASSES)] = 5
    breaks: list[float] = Field(
        [], max_length=MAX_CLASSES + 1, description="Upper limits, rising; only with method 'manual'"
    )
    nice: bool = Field(False, description="Computed limits are moved to round numbers near them")


class Classing(Limits):
    """How the numbers of a field, or of an expression, become classes."""

    field: FieldName
    normalise: Normalise | None = None
    weight: FieldName | None = Field(None, description="A field or an expression by which each value counts")


class RampChoice(Part):
    """A ramp by name (see `greylatch.colour.ramps`), or by stops of its own; its direction, and single colours replaced by hand by position."""

    name: Annotated[str, Field(max_length=100)] = "heather"
    reverse: bool = False
    replaced: dict[int, Colour] = Field({}, max_length=MAX_ENTRIES)
    stops: list[Colour] = Field(
        [],
        max_length=MOST_STOPS,
        description="Colours from low to high, in place of the named ramp's; between them it runs straight in OKLab",
    )


Condition = Annotated[
    str, Field(max_length=LONGEST, description="OGC CQL2 text: peat_m > 2 AND isle = 'Ard'; '' takes every row")
]
