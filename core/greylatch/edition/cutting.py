"""Cutting the pictures of an edition in lots, which any number of workers can do in any order."""

from collections.abc import Iterator
from itertools import chain
from pathlib import Path

from greylatch.edition.plan import WHOLE, Plan
from greylatch.lettering.place import Placement
from greylatch.paint.passes import Composition
from greylatch.places.grid import Tile
from greylatch.progress import Progress, silent
from greylatch.tiles.archive import open_archive
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


def cut_lot(
    plan: Plan, number: int, staged: Path, placements: dict[int, Placement] | None = None, progress: Progress = silent
) -> None:
    """Cut one lot of blocks into its own archives in `staged`: of the whole map, and of what open styles can't say; doing it
    twice gives the same files. A lot without a single tile has no archive: other blocks hold the map."""
    blocks, composition = lots_of(plan)[number], plan.composition
    for name, drawn in ((WHOLE, composition), (BELOW, below_of(composition))):
        out = staged / f"{name}-{number}.zip"
        if out.exists() or drawn is None:
            continue
        known = placements if placements is not None and drawn is composition else {}
        tiles = _each_tile(plan, drawn, blocks, known, progress)
        first = next(tiles, None)
        if first is None:
            continue
        with open_archive(out, plan.info) as sink:
            for tile, data in chain([first], tiles):
                sink.add(tile, data)


def _each_tile(
    plan: Plan, composition: Composition, blocks: list[Block], placements: dict[int, Placement], progress: Progress
) -> Iterator[tuple[Tile, bytes]]:
    for done, block in enumerate(blocks, 1):
        yield from paint_block(composition, block, plan.size, placements, plan.format)
        progress(done, len(blocks), f"{done} of {len(blocks)} blocks cut")
