"""Cutting the pictures of an edition in lots, which any number of workers can do in any order."""

from collections.abc import Iterator
from dataclasses import replace
from itertools import chain
from pathlib import Path

from greylatch.edition.live import tiled_layers
from greylatch.edition.plan import WHOLE, Plan
from greylatch.paint.passes import Composition
from greylatch.places.grid import Tile
from greylatch.progress import Progress, silent
from greylatch.tiles.archive import ArchiveInfo, RasterFormat, open_archive
from greylatch.tiles.blocks import Block
from greylatch.tiles.map_pyramid import map_blocks, paint_block
from greylatch.tiles.style import BELOW, passes_below

LOTS = 16


def lots_of(plan: Plan) -> list[list[Block]]:
    """The blocks of the pyramid in up to `LOTS` lots of like size."""
    blocks = map_blocks(plan.composition, plan.levels)
    lots = min(LOTS, len(blocks))
    return [blocks[i::lots] for i in range(lots)]


def below_of(composition: Composition) -> Composition | None:
    """What open styles show as raster tiles below all else; None where they can say everything."""
    n = passes_below(composition.passes)
    return Composition(composition.passes[:n], [], composition.furniture, composition.frame) if n else None


def archives_of(plan: Plan) -> dict[str, tuple[Composition, ArchiveInfo]]:
    """What is cut into tiles of pictures, by the name of its archive: the whole map, what open styles can't say, and what readers'
    pages don't draw by themselves; with what each archive says of itself."""
    composition, info = plan.composition, plan.info
    made = {WHOLE: (composition, info)}
    below = below_of(composition)
    if below:
        made[BELOW] = below, info
    for name, tiled in tiled_layers(composition, plan.levels).items():
        made[name] = tiled.composition, replace(info, format="webp", max_zoom=tiled.last)
    return made


def lot_of(staged: Path, name: str, number: int) -> Path:
    """Where the tiles of one lot of an archive are put until all are there."""
    return staged / name / f"{number}.zip"


def lots_in(staged: Path, name: str) -> list[Path]:
    """The lots of an archive that have any tile."""
    return sorted((staged / name).glob("*.zip"))


def cut_lot(plan: Plan, number: int, staged: Path, progress: Progress = silent) -> None:
    """Cut one lot of blocks into its own archives in `staged`; doing it twice gives the same files. A lot without a single tile has no
    archive: other blocks hold the map."""
    lot = lots_of(plan)[number]
    for name, (drawn, info) in archives_of(plan).items():
        out = lot_of(staged, name, number)
        if out.exists():
            continue
        blocks = [block for block in lot if block.bottom <= info.max_zoom]
        tiles = _each_tile(plan, drawn, blocks, info.format, progress)  # type: ignore[arg-type]
        first = next(tiles, None)
        if first is None:
            continue
        out.parent.mkdir(parents=True, exist_ok=True)
        with open_archive(out, info) as sink:
            for tile, data in chain([first], tiles):
                sink.add(tile, data)


def _each_tile(
    plan: Plan, composition: Composition, blocks: list[Block], format: RasterFormat, progress: Progress
) -> Iterator[tuple[Tile, bytes]]:  # fmt: skip
    for done, block in enumerate(blocks, 1):
        yield from paint_block(composition, block, plan.size, format)
        progress(done, len(blocks), f"{done} of {len(blocks)} blocks cut")
