"""A layer that comes to others: in a look of its own, and where it hides nothing."""

import itertools
from collections.abc import Mapping, Sequence

from greylatch.sheet.layers import Layer
from greylatch.sheet.parts import Stroke, Symbol
from greylatch.sheet.symbology import Rule, Symbols
from greylatch.symbols.starting import HUES
from greylatch.tables.dataset import Kind

__all__ = ["NOTHING_YET", "another_rule", "coloured", "in_a_hue_of_its_own", "place_among"]

DOWNWARDS: tuple[Kind, ...] = ("points", "lines", "areas", "raster")
"""From the top: what lies below would be hidden by what lies above."""
NOTHING_YET = "1 = 0"
"""The condition of a rule of which nobody has said yet what it takes."""


def in_a_hue_of_its_own(layer: Layer, kind: Kind, others: Sequence[Layer]) -> Layer:
    """A layer in the first of the hues of its kind that no other has: two that look alike tell nothing apart.

    Parameters
    ----------
    layer : Layer
        As it begins.
    kind : Kind
        What its data are.
    others : Sequence[Layer]
        The layers of the sheet that it comes to.

    Returns
    -------
    Layer
        As it was, where all hues are taken and where it is not drawn by symbols.

    Examples
    --------
    >>> from greylatch.symbols.starting import first_layer
    >>> one = first_layer("a", "Wells", "points")
    >>> in_a_hue_of_its_own(one, "points", [one]).symbology.symbol.fill
    '#b8583c'
    """
    look = layer.symbology
    if not isinstance(look, Symbols):
        return layer
    drawn = [other.symbology.symbol for other in others if isinstance(other.symbology, Symbols)]
    symbol = _unlike(look.symbol, kind, drawn)
    return layer.model_copy(update={"symbology": look.model_copy(update={"symbol": symbol})})


def another_rule(look: Symbols, kind: Kind, where: str = NOTHING_YET) -> Rule:
    """One more rule for marks that are drawn so, in the first of the hues of their kind that neither they nor another rule has: what it takes
    is told apart at once.

    Parameters
    ----------
    look : Symbols
        How they are drawn.
    kind : Kind
        What the marks are.
    where : str
        Which it takes; without, none, until somebody has said.

    Returns
    -------
    Rule

    Examples
    --------
    >>> from greylatch.symbols.starting import first_layer
    >>> rule = another_rule(first_layer("a", "Wells", "points").symbology, "points")
    >>> rule.id, rule.name, rule.symbol.fill
    ('rule-1', 'Rule 1', '#b8583c')
    """
    taken = {rule.id for rule in look.rules}
    n = next(n for n in itertools.count(len(look.rules) + 1) if f"rule-{n}" not in taken)
    symbol = _unlike(look.symbol, kind, [look.symbol, *(rule.symbol for rule in look.rules)])
    return Rule(id=f"rule-{n}", name=f"Rule {n}", where=where, symbol=symbol)


def _unlike(symbol: Symbol, kind: Kind, others: Sequence[Symbol]) -> Symbol:
    """In a hue that none of the others has; as it is where they have all."""
    taken = {colour for other in others for colour in (other.fill, *(stroke.colour for stroke in other.strokes))}
    hue = next((hue for hue in HUES.get(kind, ()) if hue not in taken), None)
    return symbol if hue is None else coloured(symbol, kind, hue)


def coloured(symbol: Symbol, kind: Kind, colour: str) -> Symbol:
    """A symbol in a colour: of lines that of the stroke on top, which a casing sets off; of all else that of the fill.

    >>> coloured(Symbol(), "points", "#b8583c").fill
    '#b8583c'
    """
    if kind == "lines":
        *below, top = symbol.strokes or [Stroke()]
        return symbol.model_copy(update={"strokes": [*below, top.model_copy(update={"colour": colour})]})
    return symbol.model_copy(update={"fill": colour})


def place_among(kind: Kind, others: Sequence[Layer], kinds: Mapping[str, Kind]) -> int:
    """Where a new layer goes: over all of its own kind, and under the symbols and lines that it would hide; rasters at the bottom.

    Parameters
    ----------
    kind : Kind
        What its data are.
    others : Sequence[Layer]
        The layers that are there, from the top down.
    kinds : Mapping[str, Kind]
        What their data are, by the name of the dataset.

    Returns
    -------
    int
        How many layers lie over it.

    Examples
    --------
    >>> from greylatch.symbols.starting import first_layer
    >>> there = [first_layer("wells", "Wells", "points"), first_layer("peat", "Peat", "areas")]
    >>> [place_among(kind, there, {"wells": "points", "peat": "areas"}) for kind in ("points", "lines", "areas", "raster")]
    [0, 1, 1, 2]
    """
    if kind == "raster":
        return len(others)
    drawn = (other.reading.makes if other.reading else kinds.get(other.dataset, "areas") for other in others)
    # Nothing is drawn of a table: it may lie anywhere.
    levels = [DOWNWARDS.index("areas" if each == "table" else each) for each in drawn]
    return next((at for at, level in enumerate(levels) if level >= DOWNWARDS.index(kind)), len(levels))
