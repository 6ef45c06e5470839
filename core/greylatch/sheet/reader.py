"""What readers can ask of a published map, and how its page is set out: filters, time, distance, controls, words."""

from typing import Annotated, Literal

from pydantic import Field

from greylatch.sheet.parts import FieldName, Icon, Identifier, Part

__all__ = [
    "CONTROLS",
    "MOST_FILTERS",
    "ChoiceFilter",
    "Controls",
    "Near",
    "RangeFilter",
    "Reader",
    "ReaderFilter",
    "Search",
    "Time",
]

MOST_FILTERS = 12
Title = Annotated[str, Field(max_length=200, description="What readers see; '': the field's name")]


class RangeFilter(Part):
    """Numbers or dates between two ends, both of which are included."""

    kind: Literal["range"] = "range"
    layer: Identifier
    field: FieldName
    title: Title = ""
    step: Annotated[float, Field(gt=0)] | None = Field(None, description="Of the slider; null: by the spread of values")


class ChoiceFilter(Part):
    """Some of the values of a field, each with its count."""

    kind: Literal["choices"] = "choices"
    layer: Identifier
    field: FieldName
    title: Title = ""


ReaderFilter = Annotated[RangeFilter | ChoiceFilter, Field(discriminator="kind")]


class Search(Part):
    """Features are found by what stands in a field."""

    layer: Identifier
    field: FieldName


class Time(Part):
    """Features appear by when they were, or from when until when, step by step."""

    layer: Identifier
    field: FieldName
    until: FieldName | None = Field(
        None, description="A second field of dates: features last from the one to the other"
    )
    by: Literal["hour", "day", "week", "month", "quarter", "year", "steps"] = "month"
    steps: Annotated[int, Field(ge=2, le=2_000, description="How many, where they are counted")] = 60
    year_from: Annotated[int, Field(ge=1, le=12, description="Month with which years and quarters begin")] = 1
    length: Annotated[int, Field(ge=1, le=2_000, description="Steps that are seen at once")] = 1
    cumulative: bool = Field(False, description="What was seen once stays")
    fade: bool = Field(False, description="What was earlier is fainter")
    seconds: Annotated[float, Field(ge=1, le=600, description="Of the whole, played once")] = 20.0
    loop: bool = True


class Near(Part):
    """What lies within a distance of a place that readers press, find or stand at."""

    layers: list[Identifier] = Field(
        [], max_length=100, description="Which are counted and listed; none: all that are drawn live"
    )
    unit: Literal["km", "mi"] = "km"
    distance: Annotated[float, Field(gt=0, le=20_000, description="In that unit, at first")] = 5.0
    largest: Annotated[float, Field(gt=0, le=20_000)] = 50.0


class Controls(Part):
    """Each is there or not."""

    zoom: bool = True
    wheel_zoom: bool = True
    full_screen: bool = False
    locate: bool = False
    measure: bool = False
    layers: bool = False
    ground: bool = False
    download: bool = False
    share: bool = False


CONTROLS = tuple(Controls.model_fields)


class Reader(Part):
    """The page of the map, but for its title, key and credits."""

    controls: Controls = Controls()
    filters: list[ReaderFilter] = Field([], max_length=MOST_FILTERS)
    key_switches: bool = Field(False, description="What the key lists can be switched off and on, and is counted")
    search: list[Search] = Field([], max_length=MOST_FILTERS)
    time: Time | None = None
    near: Near | None = None
    text: Annotated[str, Field(max_length=20_000, description="Markdown beside the map")] = ""
    language: Annotated[str, Field(pattern=r"^[a-zA-Z]{2,3}(-[a-zA-Z0-9]{1,8}){0,3}$", description="BCP 47")] = "en"
    look: Literal["light", "dark", "either"] = Field(
        "light", description="Of the page around the map; either: as the reader's machine is set"
    )
    logo: Icon | None = Field(None, description="Beside the title")
    key_at: Literal["right", "left", "below"] = Field(
        "right", description="Where the key stands beside the map; on narrow screens it is folded below"
    )
    words: dict[Annotated[str, Field(max_length=60)], Annotated[str, Field(max_length=300)]] = Field(
        {}, max_length=200, description="The page's own words in another language, by their English names"
    )

    def fields_of(self, layer: str) -> list[str]:
        """The fields of a layer that its readers ask, each once.

        >>> Reader(search=[Search(layer="a", field="name")], filters=[ChoiceFilter(layer="a", field="kind")]).fields_of("a")
        ['kind', 'name']
        """
        asked = [part.field for part in (*self.filters, *self.search) if part.layer == layer]
        if self.time is not None and self.time.layer == layer:
            asked += [self.time.field, *([self.time.until] if self.time.until else [])]
        return list(dict.fromkeys(asked))

    def asks(self, layer: str) -> bool:
        """Whether readers may choose among the features of a layer."""
        near = self.near is not None and (not self.near.layers or layer in self.near.layers)
        return near or self.key_switches or bool(self.fields_of(layer))
