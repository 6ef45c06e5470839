"""The sheet: one map as one document. The server keeps it as JSON, the command line reads it from a file."""

from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, field_validator, model_validator

from greylatch.classes.methods import MAX_CLASSES, Method
from greylatch.errors import BadInput
from greylatch.places.crs import parse_crs
from greylatch.rules.language import LONGEST
from greylatch.sheet.versions import carried_forward

__all__ = [
    "NO_DATA_COLOUR",
    "WIDEST_STROKE",
    "Blend",
    "Classed",
    "Classing",
    "Colour",
    "Condition",
    "CrsText",
    "FieldName",
    "Furniture",
    "Graduated",
    "Graticule",
    "Hillshade",
    "KeyText",
    "Layer",
    "Lettering",
    "Normalise",
    "NormaliseByArea",
    "NormaliseByField",
    "Origin",
    "Picture",
    "Projection",
    "Proportional",
    "RampChoice",
    "RasterRamp",
    "RasterSymbology",
    "Sheet",
    "Single",
    "StartView",
    "Stroke",
    "Symbology",
    "VectorSymbology",
]

Blend = Literal[
    "normal", "multiply", "screen", "overlay", "darken", "lighten", "color-dodge", "color-burn",
    "hard-light", "soft-light", "difference", "exclusion", "hue", "saturation", "color", "luminosity",
]  # fmt: skip
"""The sixteen modes of W3C Compositing and Blending Level 1."""

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
MAX_ENTRIES = 2_000
"""Of a list or a table within a sheet: more than anyone writes, few enough that nobody can make reading slow."""


class Part(BaseModel):
    """Base of all parts of a sheet: unknown entries are refused, so that a misspelt one is not silently lost."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, str_max_length=20_000)


class Stroke(Part):
    """A line: width 0 draws none. One wider than `WIDEST_STROKE` is drawn as wide as that."""

    colour: Colour = "#4a4a46"
    width: StrokeWidth = 0.6
    opacity: Share = 1.0


class NormaliseByField(Part):
    """Divide by another field; a zero or missing denominator gives no data."""

    by: Literal["field"] = "field"
    field: FieldName


class NormaliseByArea(Part):
    """Divide by the shape's geodesic area in square kilometres."""

    by: Literal["area"] = "area"


Normalise = Annotated[NormaliseByField | NormaliseByArea, Field(discriminator="by")]


class Classing(Part):
    """How the numbers of a field, or of an expression, become classes. With `breaks` filled, they stand; otherwise `method` computes them."""

    field: FieldName
    normalise: Normalise | None = None
    weight: FieldName | None = Field(None, description="A field or an expression by which each value counts")
    method: Method = "natural-breaks"
    classes: Annotated[int, Field(ge=1, le=MAX_CLASSES)] = 5
    breaks: list[float] = Field(
        [], max_length=MAX_CLASSES + 1, description="Upper limits, rising; only with method 'manual'"
    )
    nice: bool = Field(False, description="Computed limits are moved to round numbers near them")


class RampChoice(Part):
    """A ramp by name (see `greylatch.colour.ramps`), its direction, and single colours replaced by hand by position."""

    name: Annotated[str, Field(max_length=100)] = "heather"
    reverse: bool = False
    replaced: dict[int, Colour] = Field({}, max_length=MAX_ENTRIES)


class Single(Part):
    """Every feature alike."""

    kind: Literal["single"] = "single"
    fill: Colour = "#b9b29f"
    fill_opacity: Share = 1.0
    stroke: Stroke = Stroke()
    radius: Annotated[Pixels, Field(description="Radius of points")] = 4.0


class Classed(Part):
    """A colour per class."""

    kind: Literal["classed"] = "classed"
    classing: Classing
    ramp: RampChoice = RampChoice()
    fill_opacity: Share = 1.0
    stroke: Stroke = Stroke()
    radius: Pixels = 4.0
    no_data: Colour | None = Field(NO_DATA_COLOUR, description="Colour where there is no number; null draws nothing")


class Graduated(Part):
    """A point symbol size per class, in equal steps of radius."""

    kind: Literal["graduated"] = "graduated"
    classing: Classing
    smallest: Pixels = 2.5
    largest: Pixels = 12.0
    fill: Colour = "#3f6f8f"
    ramp: RampChoice | None = Field(None, description="Colour by class as well as size")
    fill_opacity: Share = 0.85
    stroke: Stroke = Stroke(colour="#ffffff", width=0.8)
    no_data: Colour | None = NO_DATA_COLOUR


class Proportional(Part):
    """A point symbol whose size follows the value: by area, or by Flannery's exponent for the perceived area."""

    kind: Literal["proportional"] = "proportional"
    field: FieldName
    normalise: Normalise | None = None
    scaling: Literal["area", "flannery"] = "area"
    largest: Annotated[Pixels, Field(description="Radius of the largest value")] = 20.0
    fill: Colour = "#3f6f8f"
    fill_opacity: Share = 0.7
    stroke: Stroke = Stroke(colour="#ffffff", width=0.8)
    no_data: Colour | None = None


class Hillshade(Part):
    """Shaded relief of an elevation raster (Horn 1981)."""

    kind: Literal["hillshade"] = "hillshade"
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


VectorSymbology = Single | Classed | Graduated | Proportional
RasterSymbology = Hillshade | RasterRamp | Picture
Symbology = Annotated[VectorSymbology | RasterSymbology, Field(discriminator="kind")]


class Lettering(Part):
    """Labels from one field. They never overlap; those of areas stand inside their area."""

    field: FieldName
    size: Annotated[float, Field(ge=6, le=72, description="CSS pixels")] = 12.0
    colour: Colour = "#2b2b28"
    halo: Pixels = 1.5
    halo_colour: Colour = "#ffffff"
    decimals: Annotated[int, Field(ge=0, le=10)] | None = Field(
        None, description="For fields of numbers; null: as they come"
    )
    must_fit: bool = Field(True, description="Leave out the label of an area that it does not fit into")


Condition = Annotated[
    str, Field(max_length=LONGEST, description="OGC CQL2 text: peat_m > 2 AND isle = 'Ard'; '' takes every row")
]


EntryId = Annotated[str, Field(max_length=1_200)]


class KeyText(Part):
    """What the reader's key says, where it was reworded. `entries` and `hidden` go by what an entry stands for: the limits of
    a class ('carbon_t per peat_ha 394.27–601.36'), 'no-data', 'size 800', 'all'. Words for what is not there are kept."""

    title: Annotated[str, Field(max_length=500)] | None = None
    unit: Annotated[str, Field(max_length=200)] | None = Field(
        None, description="Under the heading: 't per ha of peat'; null: 'per km²' where values are divided by areas"
    )
    entries: dict[EntryId, Annotated[str, Field(max_length=500)]] = Field({}, max_length=MAX_ENTRIES)
    hidden: list[EntryId] = Field([], max_length=MAX_ENTRIES)
    decimals: Annotated[int, Field(ge=0, le=10)] | None = None
    shown: bool = True


class Accepted(Part):
    """A finding that was read and accepted, with the reason."""

    finding: Annotated[str, Field(max_length=1_000)]
    reason: Annotated[str, Field(min_length=1, max_length=500)]


class Layer(Part):
    """One dataset drawn one way. Layers are listed from the top of the map to its bottom, as the key shows them."""

    id: Identifier
    name: Annotated[str, Field(min_length=1, max_length=200)]
    dataset: Annotated[
        str, Field(max_length=1_000, description="On the server a dataset's id; in a file a path relative to the sheet")
    ]
    filter: Condition = ""
    symbology: Symbology
    lettering: Lettering | None = None
    card: Annotated[
        str,
        Field(
            max_length=20_000,
            description="Markdown with placeholders and conditions of Liquid: {{ field }}, {% if field %}",
        ),
    ] = ""
    blend: Blend = "normal"
    opacity: Share = 1.0
    visible: bool = True
    key: KeyText = KeyText()


class StartView(Part):
    """Where the map opens."""

    lon: Annotated[float, Field(ge=-180, le=180)] = 0.0
    lat: Annotated[float, Field(ge=-90, le=90)] = 0.0
    zoom: Annotated[float, Field(ge=0, le=24)] = 2.0


CrsText = Annotated[str, Field(min_length=1, max_length=1_000, description="An EPSG code or a PROJ string: EPSG:8857")]


class Projection(Part):
    """In which projection the map lies."""

    crs: CrsText

    @field_validator("crs")
    @classmethod
    def _that_is_one(cls, text: str) -> str:
        try:
            parse_crs(text)
        except BadInput as error:
            raise ValueError(str(error)) from error
        return text


class Graticule(Part):
    """Meridians and parallels, below all layers, with their degrees at the edge."""

    step: Annotated[float, Field(ge=0.01, le=90, description="Degrees between lines")] | None = Field(
        None, description="null: by the scale at which the map is seen"
    )
    colour: Colour = "#9aa8ac"
    width: Pixels = 0.6
    labelled: bool = True


class Furniture(Part):
    """What stands around the map."""

    ground: Colour | None = Field("#dfe6e8", description="Colour below all layers; null leaves it transparent")
    sea: Colour | None = Field(None, description="Colour of all that the projection shows of the globe, on the ground")
    graticule: Graticule | None = None
    scale_bar: bool = True
    credits: Annotated[str, Field(max_length=2_000)] = ""
    source_date: Annotated[str, Field(max_length=100)] = ""


Origin = Annotated[
    str,
    Field(
        pattern=r"^https?://[a-z0-9]([a-z0-9.-]{0,250}[a-z0-9])?(:[0-9]{1,5})?$",
        description="https://pictures.example.org",
    ),
]


class Sheet(Part):
    """A whole map."""

    version: Literal[2] = 2
    title: Annotated[str, Field(min_length=1, max_length=200)]
    layers: list[Layer] = Field([], max_length=100)
    view: StartView = StartView()
    projection: Projection | None = Field(None, description="null: EPSG:3857, the square of web maps")
    furniture: Furniture = Furniture()
    accepted: list[Accepted] = Field([], max_length=MAX_ENTRIES)
    pictures_from: list[Origin] = Field(
        [],
        max_length=20,
        description="Whose pictures cards may show; each of them learns who reads the map",
    )

    @model_validator(mode="before")
    @classmethod
    def _of_any_version(cls, document: Any) -> Any:
        return carried_forward(document)
