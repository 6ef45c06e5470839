"""Blocks: the pieces into which a pyramid is divided, so that several processes or machines can cut it."""

from collections.abc import Iterator
from typing import NamedTuple

from greylatch.places.bounds import Bounds
from greylatch.places.frame import Frame
from greylatch.places.grid import Grid, Tile
from greylatch.places.view import View

__all__ = ["Block", "blocks_over"]

DEPTH = 3
"""A block spans this many levels below its root: 8 × 8 tiles at the bottom."""


class Block(NamedTuple):
    """All tiles of level `bottom` below the tile `root`."""

    root: Tile
    bottom: int

    @property
    def side(self) -> int:
        """How many tiles of the bottom level lie side by side."""
        return int(2 ** (self.bottom - self.root.z))

    def view(self, frame: Frame, size: int, ratio: float = 1.0) -> View:
        """The whole block as one picture, its bottom tiles `size` px wide."""
        return View(frame, frame.grid.tile_bounds(self.root), self.side * size, self.side * size, ratio)

    def tiles(self) -> Iterator[tuple[int, int, Tile]]:
        """Column and row within the block, and address, of every bottom tile."""
        for row in range(self.side):
            for column in range(self.side):
                yield column, row, Tile(self.bottom, self.root.x * self.side + column, self.root.y * self.side + row)

    def over(self, grid: Grid, bounds: Bounds) -> list[Tile]:
        """Its bottom tiles that share ground with `bounds`, row by row."""
        here = range(self.root.x * self.side, (self.root.x + 1) * self.side)
        there = range(self.root.y * self.side, (self.root.y + 1) * self.side)
        return [tile for tile in grid.tiles_over(bounds, self.bottom) if tile.x in here and tile.y in there]


def blocks_over(grid: Grid, bounds: Bounds, bottom: int, top: int) -> list[Block]:
    """The blocks that cover `bounds` at level `bottom`, their roots no higher than level `top`.

    Parameters
    ----------
    grid : Grid
        The tile matrix set.
    bounds : Bounds
        West, south, east, north, in the frame.
    bottom : int
        The level of the tiles.
    top : int
        The highest level that a root may have.

    Returns
    -------
    list[Block]
    """
    root = max(top, bottom - DEPTH)
    return [Block(tile, bottom) for tile in grid.tiles_over(bounds, root)]
