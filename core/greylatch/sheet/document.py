"""The sheet: one map as one document. The server keeps it as JSON, the command line reads it from a file."""

import re
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, Field, WithJsonSchema, field_validator, model_validator

from greylatch.errors import BadInput
from greylatch.places.crs import parse_crs
from greylatch.places.grid import KNOWN_SETS
from greylatch.sheet.layers import Group, Layer
from greylatch.sheet.parts import MAX_ENTRIES, Colour, Part, Pixels
from greylatch.sheet.reader import Reader
from greylatch.sheet.versions import carried_forward

__all__ = [
    "LONGEST_CREDITS",
    "LONGEST_DATE",
    "LONGEST_TERMS",
    "SEA",
    "CrsText",
    "Furniture",
    "Graticule",
    "Origin",
    "Projection",
    "Sheet",
    "StartView",
]


class Accepted(Part):
    """A finding that was read and accepted, with the reason."""

    finding: Annotated[str, Field(max_length=1_000)]
    reason: Annotated[str, Field(min_length=1, max_length=500)]


class StartView(Part):
    """Where the map opens."""

    lon: Annotated[float, Field(ge=-180, le=180)] = 0.0
    lat: Annotated[float, Field(ge=-90, le=90)] = 0.0
    zoom: Annotated[float, Field(ge=0, le=24)] = 2.0


CrsText = Annotated[
    str,
    Field(
        min_length=1,
        max_length=1_000,
        description="An EPSG code or a PROJ string: EPSG:8857; or a tile matrix set: EuropeanETRS89_LAEAQuad",
    ),
]


class Projection(Part):
    """In which projection the map lies."""

    crs: CrsText

    @field_validator("crs")
    @classmethod
    def _that_is_one(cls, text: str) -> str:
        try:
            if text not in KNOWN_SETS:
                parse_crs(text)
        except BadInput as error:
            raise ValueError(str(error)) from error
        return text


SEA = "#d3e0e6"
"""The colour that a sea begins with."""


class Graticule(Part):
    """Meridians and parallels, below all layers, with their degrees at the edge."""

    step: Annotated[float, Field(ge=0.01, le=90, description="Degrees between lines")] | None = Field(
        None, description="null: by the scale at which the map is seen"
    )
    colour: Colour = "#9aa8ac"
    width: Pixels = 0.6
    labelled: bool = True


LONGEST_CREDITS, LONGEST_DATE, LONGEST_TERMS = 2_000, 100, 500
"""Characters."""


class Furniture(Part):
    """What stands around the map."""

    ground: Colour | None = Field("#dfe6e8", description="Colour below all layers; null leaves it transparent")
    sea: Colour | None = Field(None, description="Colour of all that the projection shows of the globe, on the ground")
    graticule: Graticule | None = None
    scale_bar: bool | None = Field(None, description="null: on screens, and not in pictures")
    north_arrow: bool = Field(False, description="True north at the middle of what is seen")
    credits: Annotated[str, Field(max_length=LONGEST_CREDITS)] = ""
    source_date: Annotated[str, Field(max_length=LONGEST_DATE)] = ""
    terms: Annotated[str, Field(max_length=LONGEST_TERMS, description="On which the map and its data may be used")] = ""


SITE = r"^https?://[a-z0-9]([a-z0-9.-]{0,250}[a-z0-9])?(:[0-9]{1,5})?$"


def _site(text: str) -> str:
    if not re.fullmatch(SITE, text):
        raise ValueError(f"'{text[:80]}' is no site: write it as https://pictures.example.org, without what follows")
    return text


Origin = Annotated[
    str,
    AfterValidator(_site),
    WithJsonSchema({"type": "string", "pattern": SITE, "description": "https://pictures.example.org"}),
]


class Sheet(Part):
    """A whole map."""

    version: Literal[4] = 4
    title: Annotated[str, Field(min_length=1, max_length=200)]
    layers: list[Layer] = Field([], max_length=100)
    groups: list[Group] = Field([], max_length=100)
    view: StartView = StartView()
    projection: Projection | None = Field(None, description="null: EPSG:3857, the square of web maps")
    furniture: Furniture = Furniture()
    reader: Reader = Reader()
    accepted: list[Accepted] = Field([], max_length=MAX_ENTRIES)
    pictures_from: list[Origin] = Field(
        [],
        max_length=20,
        description="Whose pictures cards may show; each of them learns who reads the map",
    )

    @model_validator(mode="after")
    def _whole(self) -> "Sheet":
        groups = [group.id for group in self.groups]
        for layer in self.layers:
            if layer.group is not None and layer.group not in groups:
                raise ValueError(f"layer '{layer.id}' is in group '{layer.group}', which is not there")
        self.layers = _beside_their_group(self.layers)
        return self

    def group_of(self, layer: Layer) -> Group | None:
        """The group that a layer is in."""
        return next((group for group in self.groups if group.id == layer.group), None)

    def shown(self, layer: Layer) -> bool:
        """Whether a layer is to be drawn: it may be hidden by itself or with its group."""
        group = self.group_of(layer)
        return layer.visible and (group is None or group.visible)

    @model_validator(mode="before")
    @classmethod
    def _of_any_version(cls, document: Any) -> Any:
        return carried_forward(document)


def _beside_their_group(layers: list[Layer]) -> list[Layer]:
    """Layers of a group stand together, where the uppermost of them stands: what is composed as one has one place."""
    places = {layer.group: position for position, layer in reversed(list(enumerate(layers))) if layer.group}
    return sorted(
        layers, key=lambda layer: places.get(layer.group, layers.index(layer)) if layer.group else layers.index(layer)
    )
