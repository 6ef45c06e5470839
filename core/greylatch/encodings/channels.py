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

__all__ = ["KINDS", "Channel", "ColourEncoding", "Encodings", "LetterEncoding", "SizeEncoding"]

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
    "colour": _by(ColourByClasses, ColourByCategory, ColourByValue, ColourByTwo, ColourByLargest),
    "size": _by(SizeByClasses, SizeByValue),
    "angle": _by(AngleByValue),
    "opacity": _by(OpacityByValue),
    "shares": _by(Shares),
}
"""By what each channel can vary."""


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
