"""Marks: what is drawn for a feature, as plain values that painters read."""

from base64 import b64encode
from collections.abc import Sequence
from dataclasses import dataclass, replace

from greylatch.sheet.parts import Pattern, Stroke, Symbol
from greylatch.symbols.icons import icon_png
from greylatch.symbols.shapes import shape_path
from greylatch.tables.dataset import Kind

LONGEST = 1.5
"""No shape of ours reaches further than so many times its radius."""
__all__ = ["Line", "Mark", "Texture", "mark_of"]


@dataclass(frozen=True)
class Line:
    """A stroke: colour, width and dashes in CSS pixels, opacity, and how it ends."""

    colour: str
    width: float
    opacity: float = 1.0
    dash: tuple[float, ...] = ()
    cap: str = "round"


@dataclass(frozen=True)
class Texture:
    """A pattern of lines, crosses or dots over a fill; spacing and width in CSS pixels, turn in degrees clockwise."""

    kind: str
    colour: str
    opacity: float
    spacing: float
    width: float
    turn: float


@dataclass(frozen=True)
class Mark:
    """What is drawn for a feature: a fill with a texture, an inner line, strokes from the lowest to the top one, and for points
    the outline of a shape, as SVG path data around (0, 0) at a radius of 1 ('' is a circle), its radius (CSS pixels) and turn. Closer than
    the scale of which `closest` is the denominator, and farther away than `farthest`, it is not drawn."""

    fill: str
    fill_opacity: float
    strokes: tuple[Line, ...] = ()
    radius: float = 4.0
    texture: Texture | None = None
    inner: Line | None = None
    path: str = ""
    turn: float = 0.0
    closest: float | None = None
    farthest: float | None = None
    icon: str = ""
    """A PNG in base64 that is drawn in place of all this, its longer side twice the radius."""
    sign: str = ""
    """What stands over a point's shape, upright whatever its turn: filled outlines as SVG path data at a radius of 1."""
    sign_colour: str = ""

    @property
    def stretch(self) -> float:
        """How far a point's shape reaches, as a multiple of its radius."""
        return LONGEST if self.path or self.icon else 1.0

    def colour_of(self, kind: Kind) -> str:
        """The colour by which it is known: of lines that of their top stroke.

        >>> Mark("#ffffff", 0.0, (Line("#c03020", 2.0),)).colour_of("lines")
        '#c03020'
        """
        return self.strokes[-1].colour if kind == "lines" and self.strokes else self.fill

    @property
    def half(self) -> float:
        """Px by which strokes stand out over the outline."""
        return max((line.width / 2 for line in self.strokes if line.opacity > 0), default=0.0)

    @property
    def width(self) -> float:
        """Px of its top stroke: the width that a line is known by."""
        return self.strokes[-1].width if self.strokes else 0.0

    @property
    def casing(self) -> float:
        """Px by which strokes below stand out over the top one."""
        return self.half - self.width / 2


def mark_of(
    symbol: Symbol, kind: Kind, colour: str | None = None, size: float | None = None, shape: str | None = None
) -> Mark:
    """The mark of a symbol, with what encodings set of it.

    Parameters
    ----------
    symbol : Symbol
        What one mark is.
    kind : Kind
        Areas, lines or points: of lines the colour is that of the top stroke, and the size its width.
    colour : str | None
        #rrggbb; None as the symbol has it.
    size : float | None
        CSS pixels; None as the symbol has it.
    shape : str | None
        The name of a point's shape; None as the symbol has it.

    Returns
    -------
    Mark

    Raises
    ------
    BadInput
        For a shape that is not there.

    Examples
    --------
    >>> mark_of(Symbol(), "lines", colour="#c03020", size=3).strokes[-1].colour
    '#c03020'
    """
    lines = tuple(_line(stroke) for stroke in symbol.strokes if stroke.width > 0)
    path = shape_path(shape or symbol.shape) if kind == "points" else ""
    if kind == "lines":
        lines = _recast(lines, colour, size)
        return Mark(symbol.fill, 0.0, lines)
    if symbol.icon and kind == "points" and not shape:
        picture = b64encode(icon_png(symbol.icon, colour or symbol.fill)).decode()
        radius = symbol.radius if size is None else float(size)
        return Mark(colour or symbol.fill, symbol.fill_opacity, (), radius, turn=symbol.turn, icon=picture)
    return Mark(
        colour or symbol.fill, symbol.fill_opacity, lines, symbol.radius if size is None else float(size), _texture(symbol.pattern),
        _line(symbol.inner) if symbol.inner and kind == "areas" else None, path, symbol.turn if kind == "points" else 0.0,
    )  # fmt: skip


def _recast(lines: Sequence[Line], colour: str | None, width: float | None) -> tuple[Line, ...]:
    """Strokes whose top one has another colour or width; a casing below it stands out as far as before."""
    if not lines:
        return ()
    top = lines[-1]
    wider = 0.0 if width is None else float(width) - top.width
    widened = [replace(line, width=max(0.0, line.width + wider)) for line in lines]
    return (*widened[:-1], replace(widened[-1], colour=colour or top.colour))


def _line(stroke: Stroke) -> Line:
    dash = tuple(stroke.dash) if sum(stroke.dash) > 0 else ()
    # An odd list of dashes is drawn twice over, as SVG and canvases have it.
    return Line(stroke.colour, stroke.width, stroke.opacity, dash * 2 if len(dash) % 2 else dash, stroke.cap)


def _texture(pattern: Pattern | None) -> Texture | None:
    if pattern is None or pattern.opacity == 0:
        return None
    return Texture(pattern.kind, pattern.colour, pattern.opacity, pattern.spacing, pattern.width, pattern.turn)
