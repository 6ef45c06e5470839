"""The look of features carried over to their centres, and back: what is drawn of the same rows changes, not what the map says."""

from greylatch.encodings.channels import CHANNELS
from greylatch.sheet.parts import Symbol
from greylatch.sheet.symbology import Look, Symbols
from greylatch.symbols.adding import coloured
from greylatch.symbols.starting import first_symbol
from greylatch.tables.dataset import Kind

__all__ = ["carried_over"]


def carried_over(look: Symbols, was: Kind, kind: Kind) -> Symbols:
    """A look for marks of another kind that stand for the same rows: what varies by what, as far as such marks can, the rules with their
    colours, and what is said of single features.

    Parameters
    ----------
    look : Symbols
        As the marks are drawn now.
    was : Kind
        What they are now: areas, lines or points.
    kind : Kind
        What they are to be.

    Returns
    -------
    Symbols

    Examples
    --------
    >>> from greylatch.encodings.by_value import ColourByValue, SizeByValue
    >>> from greylatch.encodings.channels import Encodings
    >>> points = Symbols(encodings=Encodings(colour=ColourByValue(field="ha"), size=SizeByValue(field="t")))
    >>> [name for name, _ in carried_over(points, "points", "areas").encodings.used()]
    ['colour']
    """

    def encodings(part: Look) -> dict[str, object]:
        return {name: None for name, _ in part.encodings.used() if name not in CHANNELS[kind]}

    rules = [
        rule.model_copy(
            update={
                "symbol": _symbol(rule.symbol, was, kind),
                "encodings": rule.encodings.model_copy(update=encodings(rule)),
            }
        )
        for rule in look.rules
    ]
    return look.model_copy(
        update={
            "symbol": _symbol(look.symbol, was, kind),
            "encodings": look.encodings.model_copy(update=encodings(look)),
            "rules": rules,
            "pins": look.pins if kind == "points" else None,
        }
    )


def _symbol(symbol: Symbol, was: Kind, kind: Kind) -> Symbol:
    """The first of its kind; in the colour of the old one where somebody chose that."""
    first, colour = first_symbol(kind), _colour(symbol, was)
    if colour is None or colour == _colour(first_symbol(was), was):
        return first
    return coloured(first, kind, colour)


def _colour(symbol: Symbol, kind: Kind) -> str | None:
    if kind == "lines":
        return symbol.strokes[0].colour if symbol.strokes else None
    return symbol.fill
