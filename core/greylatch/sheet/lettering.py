"""How a layer is lettered: what its labels say line by line, where they may stand, who comes first, and what was put by hand."""

from typing import Annotated, Literal, Self, get_args

from pydantic import AfterValidator, Field, model_validator

from greylatch.encodings.channels import LetterEncoding
from greylatch.errors import BadInput
from greylatch.sheet.parts import MAX_ENTRIES, Colour, FieldName, Part, Pixels, Scales, Shadow, Share
from greylatch.sheet.template import FieldIn, parts_of

__all__ = [
    "LABEL_SHADOW",
    "MOST_LINES",
    "SMALLEST_TYPE",
    "Frame",
    "HandLabel",
    "LabelLine",
    "Lettering",
    "Side",
    "Template",
    "Weight",
]

MOST_LINES = 4
SMALLEST_TYPE = 6.0
"""CSS pixels."""
Family = Literal["sans", "serif", "narrow"]
Weight = Literal[400, 500, 600, 700]
Case = Literal["as written", "capitals", "lower case", "title"]
Side = Literal["right", "left", "above", "below", "above-right", "below-right", "above-left", "below-left"]


def _readable(template: str) -> str:
    try:
        parts_of(template)
    except BadInput as error:
        raise ValueError(str(error)) from error
    return template


Template = Annotated[
    str,
    Field(max_length=1_000, description="Words and fields in braces: '{name}, {carbon_t:.1f} t'"),
    AfterValidator(_readable),
]


class LabelLine(Part):
    """A line of every label, and how it is set."""

    text: Template
    size: Annotated[float, Field(ge=SMALLEST_TYPE, le=72, description="CSS pixels")] = 12.0
    colour: Colour = "#2b2b28"
    family: Family = "sans"
    weight: Weight = 500
    italic: bool = False
    case: Case = "as written"
    spacing: Annotated[float, Field(ge=-0.1, le=2, description="Ems between the letters")] = 0.0
    wrap: Annotated[int, Field(ge=4, le=200)] | None = Field(
        None, description="Broken after so many characters; null: never"
    )


class Frame(Part):
    """A plate below each label. Shields are as wide as their number, and never less wide than high."""

    shape: Literal["box", "rounded", "pill", "hexagon", "pennant"] = "box"
    fill: Colour = "#ffffff"
    outline: Colour = "#2b2b28"
    width: Annotated[float, Field(ge=0, le=10, description="Px of the outline")] = 1.0
    room: Annotated[float, Field(ge=0, le=30, description="Px between the text and the outline")] = 3.0


LABEL_SHADOW = Shadow(opacity=0.4, right=1, down=1, blur=1)
"""What the shadow of labels begins as: closer than that of symbols, for letters are thin."""


class HandLabel(Part):
    """What somebody did to the label of one feature."""

    fid: Annotated[int, Field(ge=0)]
    hidden: bool = False
    at: Annotated[list[float], Field(min_length=2, max_length=2)] | None = Field(
        None, description="Longitude and latitude of the label's middle; null: where it finds room"
    )
    turn: Annotated[float, Field(ge=-180, le=180, description="Degrees clockwise")] = 0.0
    size: Annotated[float, Field(ge=SMALLEST_TYPE, le=72)] | None = Field(
        None, description="Px of the first line; null: as all"
    )
    colour: Colour | None = None
    text: Annotated[str, Field(max_length=500)] | None = Field(
        None, description="In place of what all say, broken where it is"
    )
    leader: bool = Field(False, description="A line from the label to what it names")
    scales: Scales | None = Field(None, description="null: at all scales")


class Lettering(Part):
    """The labels of a layer. They never overlap; those of areas stand inside their area."""

    lines: Annotated[list[LabelLine], Field(min_length=1, max_length=MOST_LINES)]
    leading: Annotated[float, Field(ge=0.7, le=3, description="From line to line, in sizes of the type")] = 1.12
    halo: Pixels = 1.5
    halo_colour: Colour = "#ffffff"
    opacity: Share = 1.0
    shadow: Shadow | None = None
    frame: Frame | None = None
    colours: Literal["own", "symbol", "field", "below"] = Field(
        "own",
        description="symbol: a readable shade of the feature's own colour; field: as `colour` has it; below: dark on light and light on dark",
    )
    colour: LetterEncoding | None = Field(
        None, description="By what labels have their colours, whatever their symbols have"
    )
    must_fit: bool = Field(True, description="Leave out the label of an area that it does not fit into")
    outside: bool = Field(
        False, description="Labels of areas that they do not fit into stand beside these, with a leader"
    )
    throughout: bool = Field(
        False, description="Areas larger than what is seen of a map are named again in each region of it"
    )
    course: Literal["level", "turned", "curved"] = Field(
        "level",
        description="turned: labels of lines follow them, again and again where they are long; curved: letter by letter, those of long areas along their spine",
    )
    beside: bool = Field(False, description="Labels that follow lines stand over them rather than upon them")
    sides: Annotated[list[Side], Field(min_length=1, max_length=8)] = Field(
        list(get_args(Side)), description="Where labels of points may stand, the best first"
    )
    smallest: Annotated[float, Field(ge=5, le=72)] | None = Field(
        None, description="Px that the first line may shrink to where the label finds no room; null: it does not"
    )
    shorter: Template | None = Field(None, description="What is said where the first line finds no room")
    priority: Annotated[int, Field(ge=-10, le=10)] = Field(
        0, description="Layers of a higher one are lettered first; of the same, those further up"
    )
    first_by: FieldName | None = Field(
        None,
        description="Features with more of it are lettered first; null: larger areas, longer lines, points in their order",
    )
    once_within: Pixels | None = Field(None, description="The same text stands only once within so many px")
    scales: Scales | None = Field(None, description="null: at all scales at which the layer is drawn")
    by_hand: Annotated[list[HandLabel], Field(max_length=MAX_ENTRIES)] = []

    @model_validator(mode="after")
    def _says_by_what(self) -> Self:
        if self.colours == "field" and self.colour is None:
            raise ValueError("Say by what the labels differ in colour.")
        return self

    @property
    def templates(self) -> list[str]:
        """All that may be said."""
        return [*(line.text for line in self.lines), *([self.shorter] if self.shorter else [])]

    @property
    def naming_field(self) -> str | None:
        """The field that names the features: the first of the first line."""
        return next((part.name for part in parts_of(self.lines[0].text) if isinstance(part, FieldIn)), None)
