"""Cutting an edition in lots, which any number of workers can do in any order: pictures by blocks, shapes and labels by tiles, files one by one."""

from dataclasses import replace
from itertools import chain
from pathlib import Path

from greylatch.edition.archives import FILES, Archive, Lot, Tiles, lot_of
from greylatch.edition.files import files_of
from greylatch.edition.live import live_shapes, tiled_layers
from greylatch.edition.plan import WHOLE, Plan
from greylatch.edition.vector_tiles import label_archives, shape_archives
from greylatch.paint.passes import Composition, RasterPass
from greylatch.progress import Progress, silent
from greylatch.tiles.archive import ArchiveInfo, RasterFormat, open_archive
from greylatch.tiles.image import LOSSLESS
from greylatch.tiles.map_pyramid import map_blocks, paint_block
from greylatch.tiles.style import BELOW, passes_below

__all__ = ["archives_of", "cut_lot", "lots_of"]

LOTS = 16
SHADES = 85
"""The quality of pictures of rasters, of 100."""


def lots_of(plan: Plan) -> list[Lot]:
    """Up to `LOTS` lots, of which every one has some of the map's blocks."""
    lots = min(LOTS, len(map_blocks(plan.composition, plan.levels)))
    return [Lot(number, lots) for number in range(lots)]


def below_of(composition: Composition) -> Composition | None:
    """What open styles show as raster tiles below all else; None where they can say everything."""
    n = passes_below(composition)
    return replace(composition, passes=composition.passes[:n], lettered=[], placed={}) if n else None


def archives_of(plan: Plan) -> dict[str, Archive]:
    """All that is cut into tiles, by the name of its archive: pictures of the whole map, of what open styles can't say and of what
    readers' pages don't draw by themselves; shapes for open styles and for the page; labels."""
    composition, info = plan.composition, plan.info
    archives = {WHOLE: _pictures(plan, composition, info)}
    below = below_of(composition)
    if below:
        archives[BELOW] = _pictures(plan, below, info)
    for name, tiled in tiled_layers(composition, plan.levels).items():
        archives[name] = _pictures(
            plan, tiled.composition, replace(info, format="webp", max_zoom=tiled.last), _quality(tiled.composition)
        )
    return archives | shape_archives(composition, info) | label_archives(composition, info) | live_shapes(plan)


def cut_lot(plan: Plan, lot: Lot, staged: Path, progress: Progress = silent) -> None:
    """Cut one lot of everything into its own archives in `staged`, and write its share of the files; doing it twice gives the same.
    A lot without a single tile has no archive: others hold the map.

    Parameters
    ----------
    plan : Plan
        The sheet to be published, and how.
    lot : Lot
        Which share.
    staged : Path
        The folder of what is cut so far.
    progress : Progress
        Hears how far the work is, and may end it.
    """
    for name, archive in archives_of(plan).items():
        out = lot_of(staged, name, lot.number)
        if out.exists():
            continue
        tiles = archive.tiles(lot, progress)
        first = next(tiles, None)
        if first is None:
            continue
        out.parent.mkdir(parents=True, exist_ok=True)
        with open_archive(out, archive.info) as sink:
            for tile, data in chain([first], tiles):
                sink.add(tile, data)
    home = staged / FILES
    home.mkdir(parents=True, exist_ok=True)
    for name, write in lot.share(files_of(plan).items()):
        if not (home / name).exists():
            progress(0, 1, f"writing {name}")
            part = home / f".{name}.part"
            write(part)
            part.replace(home / name)


def _quality(drawn: Composition) -> int:
    """How closely pictures of a layer keep its colours: shades of a raster take a third of the bytes where they may be off by
    what nobody sees; edges and flat colours are smallest without loss."""
    return SHADES if isinstance(drawn.passes[0], RasterPass) else LOSSLESS


def _pictures(plan: Plan, drawn: Composition, info: ArchiveInfo, quality: int = LOSSLESS) -> Archive:
    """Pictures of what is `drawn`, down to the archive's last level."""
    format: RasterFormat = "webp" if info.format == "webp" else "png"

    def tiles(lot: Lot, progress: Progress) -> Tiles:
        mine = lot.share(map_blocks(plan.composition, plan.levels))
        blocks = [block for block in mine if block.bottom <= info.max_zoom]
        for done, block in enumerate(blocks, 1):
            yield from paint_block(drawn, block, plan.size, format, quality)
            progress(done, len(blocks), f"{done} of {len(blocks)} blocks cut")

    return Archive(info, tiles)
