"""Layers and groups of layers: what of which data is drawn how, and how it lies on what is below."""

from typing import Annotated, Literal

from pydantic import Field

from greylatch.readings.kinds import AnyReading
from greylatch.sheet.lettering import Lettering
from greylatch.sheet.parts import MAX_ENTRIES, Colour, Condition, Identifier, Part, Scales, Shadow, Share
from greylatch.sheet.symbology import Symbology, Symbols

__all__ = [
    "LONGEST_NUMBERS",
    "MOST_OTHERS",
    "Blend",
    "DatasetName",
    "Effects",
    "Glow",
    "Group",
    "KeyText",
    "Layer",
    "OtherName",
]

Blend = Literal[
    "normal", "multiply", "screen", "overlay", "darken", "lighten", "color-dodge", "color-burn",
    "hard-light", "soft-light", "difference", "exclusion", "hue", "saturation", "color", "luminosity",
]  # fmt: skip
"""The sixteen modes of W3C Compositing and Blending Level 1."""


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


EntryId = Annotated[str, Field(max_length=1_200)]


LONGEST_NUMBERS = 2_000
"""Characters of what a unit remembers of the numbers that it was written for: calculated fields may be long."""


class KeyText(Part):
    """What the reader's key says, where it was reworded. `entries` and `hidden` go by what an entry stands for: the limits of
    a class ('carbon_t per peat_ha 394.27–601.36'), 'no-data', 'size 800', 'all'. Words for what is not there are kept."""

    title: Annotated[str, Field(max_length=500)] | None = None
    unit: Annotated[str, Field(max_length=200)] | None = Field(
        None, description="Under the heading: 't per ha of peat'; null: 'per km²' where values are divided by areas"
    )
    unit_of: Annotated[str, Field(max_length=LONGEST_NUMBERS)] | None = Field(
        None,
        description="The numbers that the unit was written for, of which alone it is said; null: whatever is shown",
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
    kept_clear: bool = Field(False, description="Labels of all layers keep off its point symbols")
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

    @property
    def in_the_way(self) -> bool:
        """Whether labels keep off symbols of it: of all where it is to be kept clear, of pins in any case."""
        return self.kept_clear or bool(isinstance(self.symbology, Symbols) and self.symbology.pins)


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
