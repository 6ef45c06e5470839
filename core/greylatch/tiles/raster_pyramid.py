"""Raster tiles of a GeoTIFF: the deepest level is warped, the ones above are made from it."""

from dataclasses import dataclass
from functools import partial
from pathlib import Path

import numpy as np

from greylatch.errors import BadInput
from greylatch.paint.sources import RasterSource
from greylatch.places.frame import MERCATOR, Frame
from greylatch.places.grid import DEEPEST, Tile
from greylatch.places.view import View
from greylatch.progress import Progress, silent
from greylatch.rasters.colouring import Rgba
from greylatch.rasters.ink import draw_raster
from greylatch.rasters.methods import RESAMPLINGS
from greylatch.sheet.symbology import Picture, RasterSymbology
from greylatch.tiles.archive import ArchiveInfo, RasterFormat, RowOrder, TileSink, open_archive
from greylatch.tiles.blocks import Block, blocks_over
from greylatch.tiles.image import encoded, halved, is_empty, quarters_joined
from greylatch.tiles.processes import in_processes

__all__ = ["Levels", "checked_levels", "cut_raster", "raster_levels"]


@dataclass(frozen=True)
class Levels:
    """First and last level of a pyramid."""

    min_zoom: int
    max_zoom: int


def raster_levels(source: RasterSource, size: int, min_zoom: int | None = None, max_zoom: int | None = None) -> Levels:
    """The levels asked for, or those that the data call for: from the level at which one tile holds the raster to the
    one nearest to its own resolution.

    Parameters
    ----------
    source : RasterSource
        The data in the frame.
    size : int
        Px along the side of a tile.
    min_zoom : int | None
        The first level; None follows from the data.
    max_zoom : int | None
        The last level; None follows from the data.

    Returns
    -------
    Levels

    Raises
    ------
    BadInput
        For levels in the wrong order.
    """
    grid = source.frame.grid
    deepest = grid.level_for(source.resolution, size) if max_zoom is None else max_zoom
    first = min(grid.covering_level(source.bounds), deepest) if min_zoom is None else min_zoom
    return checked_levels(first, deepest)


def checked_levels(min_zoom: int, max_zoom: int) -> Levels:
    """`Levels`, or BadInput where they are out of order or out of range.

    Parameters
    ----------
    min_zoom : int
        The first level.
    max_zoom : int
        The last level.

    Returns
    -------
    Levels
    """
    if not 0 <= min_zoom <= max_zoom <= DEEPEST:
        raise BadInput(
            f"Levels {min_zoom} to {max_zoom} cannot be cut.", f"They must rise and lie between 0 and {DEEPEST}."
        )
    return Levels(min_zoom, max_zoom)


@dataclass(frozen=True)
class Cut:
    """How a raster becomes pictures: its file, frame, symbology, the width of tiles, resampling and the kind of picture file."""

    path: str
    frame: Frame
    symbology: RasterSymbology
    size: int
    resampling: str
    format: RasterFormat

    def picture(self, view: View) -> Rgba | None:
        """The raster's picture of a view."""
        return draw_raster(self.path, self.symbology, view, self.resampling)

    def file(self, picture: Rgba) -> bytes:
        """A picture as the contents of a tile."""
        return encoded(picture, self.format)


def cut_raster(
    path: str | Path, out: str | Path, size: int = 256, min_zoom: int | None = None, max_zoom: int | None = None,
    resampling: str = "bilinear", symbology: RasterSymbology | None = None, processes: int | None = None,
    progress: Progress = silent, frame: Frame = MERCATOR, format: RasterFormat = "png", rows: RowOrder = "xyz",
) -> dict[str, int]:  # fmt: skip
    """Cut the GeoTIFF at `path` into tiles of the frame's tile matrix set at `out`; tiles without any data are not
    written.

    Parameters
    ----------
    path : str | Path
        The file.
    out : str | Path
        Where to write it.
    size : int
        Px along the side of a tile, 256 or 512.
    min_zoom : int | None
        The first level; None follows from the data.
    max_zoom : int | None
        The last level; None follows from the data.
    resampling : str
        'nearest' or 'bilinear'.
    symbology : RasterSymbology | None
        How the raster is drawn; None takes its own colours.
    processes : int | None
        How many processes; None takes one for each core.
    progress : Progress
        Hears how far the work is, and may end it.
    frame : Frame
        Where the map lies.
    format : RasterFormat
        'png' or 'webp'.
    rows : RowOrder
        'xyz' counts rows from the top, 'tms' from the bottom.

    Returns
    -------
    dict[str, int]
        Tiles, min_zoom and max_zoom.

    Raises
    ------
    BadInput
    """
    if size not in (256, 512):
        raise BadInput(f"Tiles are 256 or 512 px wide, not {size}.")
    if resampling not in RESAMPLINGS:
        raise BadInput(f"There is no resampling '{resampling}'.", f"Choose one of {', '.join(RESAMPLINGS)}.")
    source = RasterSource(path, frame)
    box = frame.grid.shared(source.bounds)
    levels = raster_levels(source, size, min_zoom, max_zoom)
    blocks = blocks_over(frame.grid, box, levels.max_zoom, levels.min_zoom)
    cut = Cut(str(path), frame, symbology or Picture(), size, resampling, format)
    info = ArchiveInfo(
        Path(path).stem, format, levels.min_zoom, levels.max_zoom, frame.lonlat_bounds(box), "", size, grid=frame.grid, rows=rows
    )  # fmt: skip
    written = 0
    tops: dict[Tile, Rgba] = {}
    with open_archive(out, info) as sink:
        for done, (tiles, top) in enumerate(in_processes(partial(cut_block, cut), blocks, processes, sendable=True), 1):
            for tile, data in tiles:
                sink.add(tile, data)
            written += len(tiles)
            if top is not None:
                tops[top[0]] = top[1]
            progress(done, len(blocks), f"{written} tiles cut")
        root = blocks[0].root.z if blocks else levels.min_zoom
        written += _levels_above(sink, cut, tops, root, levels.min_zoom)
    return {"tiles": written, "min_zoom": levels.min_zoom, "max_zoom": levels.max_zoom}


BlockTiles = tuple[list[tuple[Tile, bytes]], tuple[Tile, Rgba] | None]


def cut_block(cut: Cut, block: Block) -> BlockTiles:
    """The tiles of one block, from its bottom up to its root, and the root's picture for the levels above."""
    picture, size = cut.picture(block.view(cut.frame, cut.size)), cut.size
    if picture is None or is_empty(picture):
        return [], None
    tiles: list[tuple[Tile, bytes]] = []
    for z in range(block.bottom, block.root.z - 1, -1):
        level = Block(block.root, z)
        for column, row, tile in level.tiles():
            part = picture[row * size : (row + 1) * size, column * size : (column + 1) * size]
            if not is_empty(part):
                tiles.append((tile, cut.file(part)))
        if z > block.root.z:
            picture = _next_up(cut, Block(block.root, z - 1), picture)
    return tiles, (block.root, picture)


def _next_up(cut: Cut, block: Block, below: Rgba) -> Rgba:
    """The picture one level up. Nearest keeps the raster's own colours, so it is warped anew rather than averaged."""
    if cut.resampling != "nearest":
        return halved(below)
    view = block.view(cut.frame, cut.size)
    picture = cut.picture(view)
    return picture if picture is not None else np.zeros((view.height, view.width, 4), dtype=np.uint8)


def _levels_above(sink: TileSink, cut: Cut, below: dict[Tile, Rgba], root: int, min_zoom: int) -> int:
    """The few levels over the blocks' roots; returns how many tiles."""
    written = 0
    picture: Rgba | None
    for z in range(root - 1, min_zoom - 1, -1):
        parents: dict[Tile, dict[tuple[int, int], Rgba]] = {}
        for tile, picture in below.items():
            parents.setdefault(Tile(z, tile.x // 2, tile.y // 2), {})[tile.x % 2, tile.y % 2] = picture
        below = {}
        for tile, quarters in sorted(parents.items()):
            if cut.resampling == "nearest":
                picture = cut.picture(View.of_tile(cut.frame, tile, cut.size))
            else:
                picture = halved(quarters_joined(quarters, cut.size))
            if picture is not None and not is_empty(picture):
                below[tile] = picture
                sink.add(tile, cut.file(picture))
                written += 1
    return written
