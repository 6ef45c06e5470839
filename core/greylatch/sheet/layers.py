"""Layers and groups of layers: what of which data is drawn how, and how it lies on what is below."""

from typing import Annotated, Literal

from pydantic import Field

from greylatch.readings.kinds import AnyReading
from greylatch.sheet.parts import MAX_ENTRIES, Colour, Condition, FieldName, Identifier, Part, Pixels, Scales, Share
from greylatch.sheet.symbology import Symbology

__all__ = [
    "MOST_OTHERS",
    "Blend",
    "DatasetName",
    "Effects",
    "Glow",
    "Group",
    "KeyText",
    "Layer",
    "Lettering",
    "OtherName",
    "Shadow",
]

Blend = Literal[
    "normal", "multiply", "screen", "overlay", "darken", "lighten", "color-dodge", "color-burn",
    "hard-light", "soft-light", "difference", "exclusion", "hue", "saturation", "color", "luminosity",
]  # fmt: skip
"""The sixteen modes of W3C Compositing and Blending Level 1."""


class Shadow(Part):
    """A drop shadow of what is drawn."""

    colour: Colour = "#000000"
    opacity: Share = 0.35
    right: Annotated[float, Field(ge=-50, le=50, description="Px")] = 1.5
    down: Annotated[float, Field(ge=-50, le=50, description="Px")] = 2.0
    blur: Annotated[float, Field(ge=0, le=30, description="Px of the standard deviation")] = 2.0


class Glow(Part):
    """A soft light around what is drawn."""

    colour: Colour = "#ffffff"
    opacity: Share = 0.9
    blur: Annotated[float, Field(ge=0, le=30, description="Px of the standard deviation")] = 3.0


class Effects(Part):
    """What is done to the finished picture of a layer or a group before it is blended."""

    shadow: Shadow | None = None
    glow: Glow | None = None
    blur: Annotated[float, Field(ge=0, le=30, description="Px of the standard deviation")] = 0.0


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
    along: bool = Field(False, description="Labels of lines follow them, again and again where they are long")
    below: FieldName | None = Field(None, description="A second field, in a line of its own below the first")
    capitals: bool = Field(False, description="In capital letters throughout")
    priority: Annotated[int, Field(ge=-10, le=10)] = Field(
        0, description="Layers of a higher one are lettered first; of the same, those further up"
    )
    first_by: FieldName | None = Field(
        None,
        description="Features with more of it are lettered first; null: larger areas, longer lines, points in their order",
    )
    shorter: FieldName | None = Field(None, description="A field whose text is set where the other finds no room")
    once_within: Pixels | None = Field(None, description="The same text stands only once within so many px")
    scales: Scales | None = Field(None, description="null: at all scales at which the layer is drawn")


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
    colours: dict[EntryId, Colour] = Field(
        {},
        max_length=MAX_ENTRIES,
        description="Of entries that come out on the map in another colour than their symbol's",
    )
    order: list[EntryId] = Field([], max_length=MAX_ENTRIES, description="These entries come first, in this order")
    low_first: bool = Field(False, description="Classes from the lowest to the highest, rather than as on a ladder")
    columns: Annotated[int, Field(ge=1, le=4)] = 1
    nested: bool = Field(False, description="Circles of several sizes in one another, the largest outside")
    decimals: Annotated[int, Field(ge=0, le=10)] | None = None
    shown: bool = True


DatasetName = Annotated[
    str, Field(max_length=1_000, description="On the server a dataset's id; in a file a path relative to the sheet")
]
MOST_OTHERS = 20
OtherName = Annotated[str, Field(pattern=r"^[A-Za-z_][A-Za-z0-9_]{0,62}$")]


class Layer(Part):
    """One dataset drawn one way. Layers are listed from the top of the map to its bottom, as the key shows them."""

    id: Identifier
    name: Annotated[str, Field(min_length=1, max_length=200)]
    dataset: DatasetName
    group: Identifier | None = Field(None, description="The group that it is composed in")
    filter: Condition = ""
    others: dict[OtherName, DatasetName] = Field(
        {},
        max_length=MOST_OTHERS,
        description="Datasets whose shapes conditions of this layer may name, by these names",
    )
    reading: AnyReading | None = Field(None, description="What of the data is drawn; null: its features")
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
    effects: Effects = Effects()
    visible: bool = True
    scales: Scales | None = Field(None, description="null: at all scales")
    key: KeyText = KeyText()

    @property
    def datasets(self) -> set[str]:
        """All datasets that it names: its own, and those that its conditions may name."""
        return {self.dataset, *self.others.values()}


class Group(Part):
    """Layers that are composed with one another first, and then blended as one. Each names it in `group`."""

    id: Identifier
    name: Annotated[str, Field(min_length=1, max_length=200)]
    blend: Blend = "normal"
    opacity: Share = 1.0
    effects: Effects = Effects()
    visible: bool = True
    scales: Scales | None = Field(None, description="null: at all scales")
    heading: bool = Field(False, description="Whether the readers' key has its name above its layers")
