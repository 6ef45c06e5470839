"""Plates below labels: boxes, and shields for numbers, which are never less wide than high."""

from collections.abc import Callable

from greylatch.lettering.label import Box

__all__ = ["PLATES", "is_shield", "plate_outline", "plate_room"]

CORNER = 3.0
"""Px of the radius of rounded corners."""
POINT = 0.35
"""How far the points of a hexagon and the foot of a pennant stand out, as a share of the plate's height."""

ROUND = 0.2
"""How far the ends of a pill stand out, as a share of its height."""


def _box(left: float, top: float, right: float, bottom: float) -> str:
    return f"M{left:g} {top:g}H{right:g}V{bottom:g}H{left:g}Z"


def _rounded(left: float, top: float, right: float, bottom: float, corner: float = CORNER) -> str:
    r = min(corner, (right - left) / 2, (bottom - top) / 2)
    turn = f"A{r:g} {r:g} 0 0 1 "
    return (
        f"M{left + r:g} {top:g}H{right - r:g}{turn}{right:g} {top + r:g}V{bottom - r:g}{turn}{right - r:g} {bottom:g}"
        f"H{left + r:g}{turn}{left:g} {bottom - r:g}V{top + r:g}{turn}{left + r:g} {top:g}Z"
    )


def _pill(left: float, top: float, right: float, bottom: float) -> str:
    # Its round ends lie beside the text, not on its first and last letters.
    out = ROUND * (bottom - top) if right - left > bottom - top else 0.0
    return _rounded(left - out, top, right + out, bottom, bottom - top)


def _hexagon(left: float, top: float, right: float, bottom: float) -> str:
    out, middle = POINT * (bottom - top), (top + bottom) / 2
    return f"M{left:g} {top:g}H{right:g}L{right + out:g} {middle:g}L{right:g} {bottom:g}H{left:g}L{left - out:g} {middle:g}Z"


def _pennant(left: float, top: float, right: float, bottom: float) -> str:
    return f"M{left:g} {top:g}H{right:g}V{bottom:g}L{(left + right) / 2:g} {bottom + POINT * (bottom - top):g}L{left:g} {bottom:g}Z"


PLATES: dict[str, tuple[Callable[[float, float, float, float], str], bool]] = {
    "box": (_box, False), "rounded": (_rounded, False), "pill": (_pill, True), "hexagon": (_hexagon, True), "pennant": (_pennant, True),
}  # fmt: skip
"""How each is drawn from its left, top, right and bottom; and whether it is a shield."""


def is_shield(shape: str) -> bool:
    """Whether a plate of that shape is a shield, which stands upright wherever its line runs.

    >>> is_shield("pennant"), is_shield("box")
    (True, False)
    """
    return PLATES[shape][1]


def plate_room(shape: str, room: float, size: float) -> float:
    """Px around a text of `size` px that a plate takes at most.

    Parameters
    ----------
    shape : str
        One of `PLATES`.
    room : float
        Px between the text and its outline, with half of the outline.
    size : float
        Px of the type.

    Returns
    -------
    float
    """
    return room + (POINT * (size + 2 * room) if PLATES[shape][1] else 0.0)


def plate_outline(shape: str, box: Box, room: float) -> str:
    """The outline of a plate as SVG path data, px from the label's place.

    Parameters
    ----------
    shape : str
        One of `PLATES`.
    box : Box
        Around the text.
    room : float
        Px between the text and the outline.

    Returns
    -------
    str

    Examples
    --------
    >>> plate_outline("box", (-8, -5, 8, 5), 2)
    'M-10 -7H10V7H-10Z'
    """
    draw, shield = PLATES[shape]
    left, top, right, bottom = box[0] - room, box[1] - room, box[2] + room, box[3] + room
    lacking = max(0.0, (bottom - top) - (right - left)) / 2 if shield else 0.0
    return draw(*(round(side, 2) for side in (left - lacking, top, right + lacking, bottom)))
