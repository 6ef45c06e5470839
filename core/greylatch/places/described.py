"""A frame in figures, for painters elsewhere: what they need to lay tiles and shapes without knowing any projection."""

from dataclasses import dataclass

from greylatch.places.frame import Frame
from greylatch.places.suggest import keeps_areas

__all__ = ["FrameFigures", "described"]

ROUND = "WebMercatorQuad"
"""The set whose world goes round: beyond its right edge it begins anew."""


@dataclass(frozen=True)
class FrameFigures:
    """`matrix_set` names its tiles; level 0 has `columns` × `rows` of them with sides of `side` units from the corner (`left`,
    `top`), and each level halves. `metres` is how many a unit has along the projection's true lines; `round` whether the world
    goes on beyond its edges; `degrees` whether units are degrees."""

    name: str
    matrix_set: str
    left: float
    top: float
    side: float
    columns: int
    rows: int
    metres: float
    degrees: bool
    round: bool
    equal_area: bool


def described(frame: Frame) -> FrameFigures:
    """The figures of a frame.

    >>> described(Frame.named("EPSG:8857")).equal_area
    True
    """
    grid = frame.grid
    return FrameFigures(
        frame.name, grid.name, grid.left, grid.top, grid.side, grid.columns, grid.rows, 1 / frame.unit, frame.crs.is_geographic,
        grid.name == ROUND, keeps_areas(frame.crs),
    )  # fmt: skip
