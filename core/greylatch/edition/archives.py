"""Archives of vector tiles: what they say of themselves, and writing one unless it would be empty."""

from collections.abc import Callable, Iterator
from itertools import chain
from pathlib import Path

from greylatch.places.frame import Frame
from greylatch.places.grid import Bounds, Tile
from greylatch.tiles.archive import ArchiveInfo, open_archive

DEEPEST = 14
"""Clients draw vector tiles beyond their last level; at 14 a tile unit is 0.6 m on the ground."""

STEP = 50
"""Tiles between two words on how far it is."""
Told = Callable[[str], None]


def vector_info(
    whole: ArchiveInfo, name: str, layer: str, fields: dict[str, str], frame: Frame, bounds: Bounds | None = None
) -> ArchiveInfo:
    """What an archive of vector tiles with one `layer` says of itself; `whole` is that of the map's own tiles."""
    return ArchiveInfo(
        name, "pbf", whole.min_zoom, min(whole.max_zoom, DEEPEST),
        frame.lonlat_bounds(bounds) if bounds else whole.bounds, whole.attribution, 512, ({"id": layer, "fields": fields},), grid=frame.grid,
    )  # fmt: skip


def write_tiles(out: Path, name: str, info: ArchiveInfo, tiles: Iterator[tuple[Tile, bytes]], told: Told) -> bool:
    """Write an archive and say so, unless there is nothing to write."""
    first = next(tiles, None)
    if first is None:
        return False
    with open_archive(out / f"{name}{info.ending}", info) as sink:
        for done, (tile, data) in enumerate(chain([first], tiles), 1):
            sink.add(tile, data)
            if done % STEP == 0:
                told(f"{done:,} tiles of {info.name}")
    return True
