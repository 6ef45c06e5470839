"""Shapes of points: outlines around (0, 0) that reach to a radius of about 1, drawn to be told apart at 8 px across.

They stand on whole and half pixels at that size where they can, have no part thinner than a fifth of the radius, and about the same
weight: a square of the radius of a circle looks larger than that, so it is drawn smaller. Common practice, no source.
"""

import math
from collections.abc import Mapping, Sequence

from greylatch.errors import BadInput

__all__ = ["SHAPES", "shape_path"]

Point = tuple[float, float]


def _closed(points: Sequence[Point]) -> str:
    return "M" + "L".join(f"{x:.4g} {y:.4g}" for x, y in points) + "Z"


def _polygon(n: int, turn: float = 0.0, radius: float = 1.0) -> str:
    """A regular polygon with a corner at the top, turned by degrees."""
    angles = [math.radians(turn + 360 * i / n - 90) for i in range(n)]
    return _closed([(radius * math.cos(angle), radius * math.sin(angle)) for angle in angles])


def _star(n: int, inner: float) -> str:
    angles = [math.radians(180 * i / n - 90) for i in range(2 * n)]
    radii = [1.0 if i % 2 == 0 else inner for i in range(2 * n)]
    return _closed([(r * math.cos(a), r * math.sin(a)) for r, a in zip(radii, angles, strict=True)])


def _arms(half: float, reach: float = 1.0) -> list[Point]:
    """A cross of arms `half` as wide either side."""
    h, r = half, reach
    return [(-h, -r), (h, -r), (h, -h), (r, -h), (r, h), (h, h), (h, r), (-h, r), (-h, h), (-r, h), (-r, -h), (-h, -h)]


def _turned(points: Sequence[Point], degrees: float) -> list[Point]:
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    return [(x * c - y * s, x * s + y * c) for x, y in points]


SHAPES: Mapping[str, str] = {
    "circle": "",
    "square": _closed([(-0.88, -0.88), (0.88, -0.88), (0.88, 0.88), (-0.88, 0.88)]),
    "lozenge": _closed([(0, -1.15), (1.15, 0), (0, 1.15), (-1.15, 0)]),
    "triangle": _closed([(0, -1.12), (1.06, 0.82), (-1.06, 0.82)]),
    "triangle down": _closed([(0, 1.12), (-1.06, -0.82), (1.06, -0.82)]),
    "triangle right": _closed([(1.12, 0), (-0.82, 1.06), (-0.82, -1.06)]),
    "triangle left": _closed([(-1.12, 0), (0.82, -1.06), (0.82, 1.06)]),
    "pentagon": _polygon(5, radius=1.08),
    "hexagon": _polygon(6, radius=1.05),
    "octagon": _polygon(8, 22.5, 1.04),
    "star": _star(5, 0.45),
    "star of four": _star(4, 0.4),
    "star of six": _star(6, 0.55),
    "burst": _star(8, 0.62),
    "cross": _closed(_arms(0.34)),
    "saltire": _closed(_turned(_arms(0.32, 1.1), 45)),
    "bar": _closed([(-1.1, -0.36), (1.1, -0.36), (1.1, 0.36), (-1.1, 0.36)]),
    "pillar": _closed([(-0.36, -1.1), (0.36, -1.1), (0.36, 1.1), (-0.36, 1.1)]),
    "arrow": _closed([(0, -1.2), (0.85, -0.1), (0.32, -0.1), (0.32, 1.1), (-0.32, 1.1), (-0.32, -0.1), (-0.85, -0.1)]),
    "chevron": _closed([(0, -0.95), (1.05, 0.2), (1.05, 0.95), (0, -0.15), (-1.05, 0.95), (-1.05, 0.2)]),
    "dart": _closed([(0, -1.2), (0.85, 1.0), (0, 0.45), (-0.85, 1.0)]),
    "half above": "M-1 0A1 1 0 0 1 1 0Z",
    "half below": "M-1 0A1 1 0 0 0 1 0Z",
    "quarter": "M-0.75 0.75L-0.75 -0.9A1.65 1.65 0 0 1 0.9 0.75Z",
    "drop": "M0 -1.3C0.25 -0.75 0.8 -0.3 0.8 0.3A0.8 0.8 0 0 1 -0.8 0.3C-0.8 -0.3 -0.25 -0.75 0 -1.3Z",
    "pin": "M0 1.2C-0.3 0.55 -0.85 0.2 -0.85 -0.4A0.85 0.85 0 0 1 0.85 -0.4C0.85 0.2 0.3 0.55 0 1.2Z",
    "house": _closed([(0, -1.1), (1.0, -0.2), (0.75, -0.2), (0.75, 0.9), (-0.75, 0.9), (-0.75, -0.2), (-1.0, -0.2)]),
    "ring": "M1 0A1 1 0 1 1 -1 0A1 1 0 1 1 1 0ZM0.5 0A0.5 0.5 0 1 0 -0.5 0A0.5 0.5 0 1 0 0.5 0Z",
    "peak": _closed([(-1.15, 0.85), (-0.35, -0.9), (0.1, -0.15), (0.4, -0.55), (1.15, 0.85)]),
    "tuft": _closed([(-1.1, -0.8), (-0.35, 0.05), (0, -1.1), (0.35, 0.05), (1.1, -0.8), (0.55, 0.95), (-0.55, 0.95)]),
}  # fmt: skip


def shape_path(name: str) -> str:
    """The outline of a shape as SVG path data; '' for the circle.

    Parameters
    ----------
    name : str
        The shape.

    Returns
    -------
    str

    Raises
    ------
    BadInput
        For a name that is none.

    Examples
    --------
    >>> shape_path("bar")
    'M-1.1 -0.36L1.1 -0.36L1.1 0.36L-1.1 0.36Z'
    """
    if name not in SHAPES:
        raise BadInput(f"There is no shape '{name}'.", f"The shapes are: {', '.join(SHAPES)}.")
    return SHAPES[name]
