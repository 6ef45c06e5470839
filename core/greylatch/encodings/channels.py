"""The channels of a mark that may vary, and the kinds of encoding that each can have. A new kind is listed here and nowhere else."""

from collections.abc import Iterator, Mapping
from typing import Annotated, Literal

from pydantic import Field

from greylatch.encodings.by_category import ColourByCategory
from greylatch.encodings.by_classes import ColourByClasses, SizeByClasses
from greylatch.encodings.by_value import AngleByValue, ColourByValue, OpacityByValue, SizeByValue
from greylatch.encodings.encoded import Encoding
from greylatch.encodings.largest import ColourByLargest
from greylatch.encodings.shares import Shares
from greylatch.encodings.two_way import ColourByTwo
from greylatch.sheet.parts import Part
from greylatch.tables.dataset import Kind

__all__ = ["CHANNELS", "KINDS", "Channel", "ColourEncoding", "Encodings", "LetterEncoding", "SizeEncoding", "may_vary"]

ColourEncoding = Annotated[
    ColourByClasses | ColourByCategory | ColourByValue | ColourByTwo | ColourByLargest, Field(discriminator="by")
]
LetterEncoding = Annotated[ColourByClasses | ColourByCategory | ColourByValue, Field(discriminator="by")]
"""Of letters, whose key has no room for squares."""
SizeEncoding = Annotated[SizeByClasses | SizeByValue, Field(discriminator="by")]


Channel = Literal["colour", "size", "angle", "opacity", "shares"]


def _by(*kinds: type[Encoding]) -> dict[str, type[Encoding]]:
    return {str(kind.model_fields["by"].default): kind for kind in kinds}


KINDS: Mapping[Channel, Mapping[str, type[Encoding]]] = {
    "colour": _by(ColourByClasses, ColourByValue, ColourByCategory, ColourByTwo, ColourByLargest),
    "size": _by(SizeByClasses, SizeByValue),
    "angle": _by(AngleByValue),
    "opacity": _by(OpacityByValue),
    "shares": _by(Shares),
}
"""By what each channel can vary."""
CHANNELS: Mapping[Kind, tuple[Channel, ...]] = {
    "areas": ("colour", "opacity"),
    "lines": ("colour", "size", "opacity"),
    "points": ("colour", "size", "shares", "opacity", "angle"),
}
"""What may vary of marks of a kind."""


def may_vary(kind: Kind, fields: int, numbers: int) -> dict[Channel, list[str]]:
    """What may vary of marks, and by what.

    Parameters
    ----------
    kind : Kind
        What they are.
    fields : int
        How many fields there are.
    numbers : int
        How many of them hold numbers.

    Returns
    -------
    dict[Channel, list[str]]
        By channel the kinds of encoding for which there are fields enough; channels without any are left out.

    Examples
    --------
    >>> may_vary("areas", 3, 1)
    {'colour': ['classes', 'value', 'category'], 'opacity': ['value']}
    >>> may_vary("raster", 0, 0)
    {}
    """
    suiting = {
        channel: [by for by, encoding in KINDS[channel].items() if fields and numbers >= encoding.numbers]
        for channel in CHANNELS.get(kind, ())
    }
    return {channel: ways for channel, ways in suiting.items() if ways}


class Encodings(Part):
    """What varies from feature to feature; a channel that is null is as the symbol has it."""

    colour: ColourEncoding | None = Field(None, description="Of the fill of areas and points, of the stroke of lines")
    size: SizeEncoding | None = Field(None, description="Of points the radius, of lines the width")
    angle: AngleByValue | None = None
    opacity: OpacityByValue | None = None
    shares: Shares | None = Field(None, description="Points as pies or rings")

    def used(self) -> Iterator[tuple[str, Encoding]]:
        """The channels that vary, by name.

        >>> [name for name, _ in Encodings(size=SizeByValue(field="ha")).used()]
        ['size']
        """
        for name in type(self).model_fields:
            encoding = getattr(self, name)
            if encoding is not None:
                yield name, encoding
