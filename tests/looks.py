"""Looks of layers as tests need them: all alike, a colour or a size per class, a size by value."""

from typing import Any

from greylatch.encodings.by_classes import ColourByClasses, SizeByClasses
from greylatch.encodings.by_value import SizeByValue
from greylatch.encodings.channels import Encodings
from greylatch.sheet.parts import Classing, RampChoice, Stroke, Symbol
from greylatch.sheet.symbology import Symbols

Given = Any


def alike(stroke: Stroke | None = None, **symbol: Given) -> Symbols:
    """Every feature alike."""
    return Symbols(symbol=_symbol(stroke, symbol))


def coloured(
    classing: Classing | dict[str, Given], stroke: Stroke | None = None, ramp: RampChoice | None = None, no_data: str | None = "#d9d6cd", **symbol: Given
) -> Symbols:  # fmt: skip
    """A colour per class."""
    colour = ColourByClasses(classing=Classing.model_validate(classing), ramp=ramp or RampChoice(), no_data=no_data)
    return Symbols(symbol=_symbol(stroke, symbol), encodings=Encodings(colour=colour))


def sized(
    classing: Classing | dict[str, Given], smallest: float = 2.5, largest: float = 12.0, stroke: Stroke | None = None,
    no_data: str | None = "#d9d6cd", ramp: RampChoice | None = None, **symbol: Given,
) -> Symbols:  # fmt: skip
    """A size per class, and where there is a ramp a colour as well."""
    classing = Classing.model_validate(classing)
    size = SizeByClasses(classing=classing, smallest=smallest, largest=largest, no_data=no_data)
    colour = ColourByClasses(classing=classing, ramp=ramp, no_data=no_data) if ramp else None
    return Symbols(symbol=_symbol(stroke, symbol), encodings=Encodings(colour=colour, size=size))


def proportional(
    field: str, stroke: Stroke | None = None, fill: str = "#3f6f8f", fill_opacity: float = 0.7, **size: Given
) -> Symbols:
    """A size that follows a field."""
    symbol = _symbol(stroke or Stroke(colour="#ffffff", width=0.8), {"fill": fill, "fill_opacity": fill_opacity})
    return Symbols(symbol=symbol, encodings=Encodings(size=SizeByValue(field=field, **size)))


def _symbol(stroke: Stroke | None, symbol: dict[str, Given]) -> Symbol:
    return Symbol(**symbol) if stroke is None else Symbol(strokes=[stroke], **symbol)
