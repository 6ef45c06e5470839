"""Raster tiles of a whole map: painted block by block, so that a picture is made once and cut into many tiles."""

import math
from collections.abc import Iterator
from functools import partial
from pathlib import Path

from greylatch.errors import OffMap
from greylatch.paint.passes import Composition, RasterPass
from greylatch.paint.picture import paint
from greylatch.places.bounds import Bounds
from greylatch.places.grid import TILE, Tile
from greylatch.places.view import View
from greylatch.progress import Progress, silent
from greylatch.tiles.archive import ArchiveInfo, RasterFormat, open_archive
from greylatch.tiles.blocks import Block, blocks_over
from greylatch.tiles.image import LOSSLESS, encoded, is_empty
from greylatch.tiles.processes import in_processes
from greylatch.tiles.raster_pyramid import Levels, checked_levels

__all__ = ["cut_map", "drawn_bounds", "map_blocks", "map_bounds", "map_levels", "padded_bounds", "paint_block"]

DEEPEST_MADE = 16
VERTEX_SPACING = 6.0
"""Px between neighbouring vertices beyond which a deeper level shows corners rather than detail. Common practice."""


def map_levels(
    composition: Composition, size: int = 256, min_zoom: int | None = None, max_zoom: int | None = None
) -> Levels:
    """The levels asked for, or those that the data call for: from the level at which one tile holds the map to the deepest
    at which a raster still has its own pixels or outlines their detail; maps of points alone end three levels further down.

    Parameters
    ----------
    composition : Composition
        The passes and labels of the map.
    size : int
        Px along the side of a tile.
    min_zoom : int | None
        The first level; None follows from the data.
    max_zoom : int | None
        The last level; None follows from the data.

    Returns
    -------
    Levels
    """
    grid = composition.frame.grid
    first = grid.covering_level(map_bounds(composition))
    wanted = [first + 3]
    for pass_ in composition.passes:
        if isinstance(pass_, RasterPass):
            wanted.append(grid.level_for(pass_.source.resolution, size))
        elif math.isfinite(pass_.source.detail):
            wanted.append(grid.level_for(max(pass_.source.detail, 0.1 * composition.frame.unit) / VERTEX_SPACING))
    deepest = max_zoom if max_zoom is not None else min(DEEPEST_MADE, max(wanted))
    return checked_levels(min(first, deepest) if min_zoom is None else min_zoom, deepest)


def map_bounds(composition: Composition) -> Bounds:
    """The box around what is drawn.

    Raises
    ------
    BadInput
        For an empty map.
    """
    bounds = composition.bounds
    if bounds is None and composition.passes:
        raise OffMap(
            f"Nothing of this map lies within the limits of {composition.frame.name}.", "Choose another projection."
        )
    if bounds is None:
        raise OffMap("There is nothing on this map to draw.", "Add a layer, or make one visible.")
    return bounds


def padded_bounds(composition: Composition, level: int) -> Bounds:
    """`map_bounds` with room for symbols and labels that reach over the edge at `level`.

    Parameters
    ----------
    composition : Composition
        The passes and labels of the map.
    level : int
        The level of the tiles.

    Returns
    -------
    Bounds
    """
    west, south, east, north = map_bounds(composition)
    resolution = composition.frame.grid.resolution(level)
    pad = (composition.reach(resolution) + 1) * resolution  # and a pixel for the softness of edges
    return west - pad, south - pad, east + pad, north + pad


def drawn_bounds(composition: Composition, levels: Levels) -> Bounds:
    """West, south, east, north in degrees of all that is drawn at any of `levels`, as archives announce it.

    Parameters
    ----------
    composition : Composition
        The passes and labels of the map.
    levels : Levels
        First and last level.

    Returns
    -------
    Bounds
    """
    frame = composition.frame
    return frame.lonlat_bounds(frame.grid.shared(padded_bounds(composition, levels.min_zoom)))


def map_blocks(composition: Composition, levels: Levels) -> list[Block]:
    """The blocks of all levels: each level is painted on its own, since symbols and labels keep their size in px.

    Parameters
    ----------
    composition : Composition
        The passes and labels of the map.
    levels : Levels
        First and last level.

    Returns
    -------
    list[Block]
    """
    return [
        Block(block.root, z)
        for z in range(levels.min_zoom, levels.max_zoom + 1)
        for block in blocks_over(composition.frame.grid, padded_bounds(composition, z), z, levels.min_zoom)
    ]


def _painted(composition: Composition, size: int, block: Block) -> list[tuple[Tile, bytes]]:
    return list(paint_block(composition, block, size))


def paint_block(
    composition: Composition, block: Block, size: int, format: RasterFormat = "png", quality: int = LOSSLESS
) -> Iterator[tuple[Tile, bytes]]:
    """The tiles of one block that are not empty.

    Tiles carry no ground: they stay transparent where nothing is drawn. 512 px tiles show the same map twice as sharp.

    Parameters
    ----------
    composition : Composition
        The passes and labels of the map.
    block : Block
        The tiles to paint.
    size : int
        Px along the side of a tile.
    format : RasterFormat
        'png' or 'webp'.
    quality : int
        1 to 100, of WebP; 100 is without loss.

    Returns
    -------
    Iterator[tuple[Tile, bytes]]
    """
    grid = composition.frame.grid
    tiles = block.over(grid, padded_bounds(composition, block.bottom))
    if not tiles:
        return
    first, last = tiles[0], tiles[-1]
    west, _, _, north = grid.tile_bounds(first)
    _, south, east, _ = grid.tile_bounds(last)
    width, height = (last.x - first.x + 1) * size, (last.y - first.y + 1) * size
    view = View(composition.frame, (west, south, east, north), width, height, size / TILE)
    picture = paint(composition, view, ground=False, cut=True)
    for tile in tiles:
        row, column = tile.y - first.y, tile.x - first.x
        part = picture[row * size : (row + 1) * size, column * size : (column + 1) * size]
        if not is_empty(part):
            yield tile, encoded(part, format, quality)


def cut_map(
    composition: Composition, out: str | Path, name: str, size: int = 256, min_zoom: int | None = None,
    max_zoom: int | None = None, attribution: str = "", processes: int | None = None, progress: Progress = silent,
) -> dict[str, int]:  # fmt: skip
    """Cut the whole map into XYZ tiles at `out`.

    Parameters
    ----------
    composition : Composition
        The passes and labels of the map.
    out : str | Path
        Where to write it.
    name : str
        The name.
    size : int
        Px along the side of a tile, 256 or 512.
    min_zoom : int | None
        The first level; None follows from the data.
    max_zoom : int | None
        The last level; None follows from the data.
    attribution : str
        Credits, which archives carry.
    processes : int | None
        How many processes; None takes one for each core.
    progress : Progress
        Hears how far the work is, and may end it.

    Returns
    -------
    dict[str, int]
        Tiles, min_zoom and max_zoom.

    Raises
    ------
    BadInput
    """
    levels = map_levels(composition, size, min_zoom, max_zoom)
    blocks = map_blocks(composition, levels)
    info = ArchiveInfo(
        name, "png", levels.min_zoom, levels.max_zoom, drawn_bounds(composition, levels), attribution, size
    )
    for z in {block.bottom for block in blocks}:
        composition.placement(composition.frame.grid.resolution(z))  # once, rather than in each process
    written = 0
    with open_archive(out, info) as sink:
        for done, tiles in enumerate(in_processes(partial(_painted, composition, size), blocks, processes), 1):
            for tile, data in tiles:
                sink.add(tile, data)
            written += len(tiles)
            progress(done, len(blocks), f"{written} tiles cut")
    return {"tiles": written, "min_zoom": levels.min_zoom, "max_zoom": levels.max_zoom}
