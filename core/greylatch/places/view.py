"""What a picture shows: so much ground of a frame on so many pixels."""

from dataclasses import dataclass

from greylatch.places.bounds import Bounds
from greylatch.places.frame import Frame
from greylatch.places.grid import DEEPEST, Tile

__all__ = ["View"]

PLACE_LEVEL = 14
"""The level at which a map of a single place is shown."""


@dataclass(frozen=True)
class View:
    """`bounds` of `frame` on `width` × `height` device px, `ratio` of them to a CSS px."""

    frame: Frame
    bounds: Bounds
    width: int
    height: int
    ratio: float = 1.0

    @classmethod
    def around(cls, frame: Frame, x: float, y: float, resolution: float, width: int, height: int) -> "View":
        """The view with (x, y) in its middle, at `resolution` (units of the CRS per px).

        >>> View.around(Frame.named("EPSG:8857"), 0, 0, 10, 4, 2).bounds
        (-20.0, -10.0, 20.0, 10.0)
        """
        across, down = width / 2 * resolution, height / 2 * resolution
        return cls(frame, (x - across, y - down, x + across, y + down), width, height)

    @classmethod
    def fitted(cls, frame: Frame, box: Bounds, width: int, height: int, margin: float = 0.0) -> "View":
        """The least ground around `box` in the proportions of the picture, with so many px left free on each side; around a single place,
        that of `PLACE_LEVEL`."""
        resolution = max((box[2] - box[0]) / (width - 2 * margin), (box[3] - box[1]) / (height - 2 * margin))
        if resolution < frame.grid.resolution(DEEPEST):
            resolution = frame.grid.resolution(PLACE_LEVEL)
        return cls.around(frame, (box[0] + box[2]) / 2, (box[1] + box[3]) / 2, resolution, width, height)

    @classmethod
    def of_tile(cls, frame: Frame, tile: Tile, size: int = 256, ratio: float = 1.0) -> "View":
        """A tile of the frame's own set, `size` px wide."""
        return cls(frame, frame.grid.tile_bounds(tile), size, size, ratio)

    @property
    def resolution(self) -> float:
        """Units of the CRS per CSS px."""
        return (self.bounds[2] - self.bounds[0]) / self.width * self.ratio

    @property
    def scale(self) -> float:
        """The denominator of the scale: 25000 for 1:25,000."""
        return self.frame.scale(self.resolution)

    @property
    def cell(self) -> float:
        """Units of the CRS per device px."""
        return (self.bounds[2] - self.bounds[0]) / self.width
