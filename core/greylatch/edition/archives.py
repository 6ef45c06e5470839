"""Archives of an edition, which any number of workers cut lot by lot, in any order."""

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from itertools import islice
from pathlib import Path
from typing import NamedTuple, TypeVar

from greylatch.places.bounds import Bounds
from greylatch.places.frame import Frame
from greylatch.places.grid import Tile
from greylatch.progress import Progress
from greylatch.tiles.archive import ArchiveInfo

__all__ = ["DEEPEST", "FILES", "Archive", "Lot", "Tiles", "lot_of", "lots_in", "vector_archive", "vector_info"]

DEEPEST = 14
"""Clients draw vector tiles beyond their last level; at 14 a tile unit is 0.6 m on the ground."""

STEP = 50
"""Tiles between two words on how far it is."""

T = TypeVar("T")
Tiles = Iterator[tuple[Tile, bytes]]


class Lot(NamedTuple):
    """One of `of` shares of a map."""

    number: int
    of: int

    def share(self, things: Iterable[T]) -> Iterator[T]:
        """Every so many-th, so that neighbours, which cost alike, come into different lots."""
        return islice(things, self.number, None, self.of)


@dataclass(frozen=True)
class Archive:
    """What an archive says of itself, and how its tiles of one lot are cut."""

    info: ArchiveInfo
    tiles: Callable[[Lot, Progress], Tiles]


def vector_info(
    whole: ArchiveInfo, name: str, layer: str, fields: dict[str, str], frame: Frame, bounds: Bounds | None = None
) -> ArchiveInfo:
    """What an archive of vector tiles with one `layer` says of itself.

    Parameters
    ----------
    whole : ArchiveInfo
        That of the map's own tiles.
    name : str
        The name.
    layer : str
        The name of the one layer in the tiles.
    fields : dict[str, str]
        Type of each property, by name.
    frame : Frame
        Where the map lies.
    bounds : Bounds | None
        West, south, east, north, in the frame.

    Returns
    -------
    ArchiveInfo
    """
    return ArchiveInfo(
        name, "pbf", whole.min_zoom, min(whole.max_zoom, DEEPEST),
        frame.lonlat_bounds(bounds) if bounds else whole.bounds, whole.attribution, 512, ({"id": layer, "fields": fields},), grid=frame.grid,
    )  # fmt: skip


def vector_archive(info: ArchiveInfo, bounds: Bounds, tile: Callable[[Tile], bytes]) -> Archive:
    """An archive of all tiles over `bounds` for which `tile` gives anything.

    Parameters
    ----------
    info : ArchiveInfo
        What the archive says of itself.
    bounds : Bounds
        West, south, east, north, in the frame.
    tile : Callable[[Tile], bytes]
        The contents of a tile; empty for none.

    Returns
    -------
    Archive
    """

    def tiles(lot: Lot, progress: Progress) -> Tiles:
        levels = range(info.min_zoom, info.max_zoom + 1)
        places = lot.share(place for z in levels for place in info.grid.tiles_over(bounds, z))
        for done, place in enumerate(places):
            if done % STEP == 0:
                progress(0, 1, f"{done:,} tiles of {info.name}")
            data = tile(place)
            if data:
                yield place, data

    return Archive(info, tiles)


FILES = "files"
"""Folder of whole files among what is staged."""


def lot_of(staged: Path, name: str, number: int) -> Path:
    """Where the tiles of one lot of an archive are put until all are there.

    Parameters
    ----------
    staged : Path
        The folder of what is cut so far.
    name : str
        The name of the archive.
    number : int
        The number of the lot.

    Returns
    -------
    Path
    """
    return staged / name / f"{number}.zip"


def lots_in(staged: Path, name: str) -> list[Path]:
    """The lots of an archive that have any tile.

    Parameters
    ----------
    staged : Path
        The folder of what is cut so far.
    name : str
        The name of the archive.

    Returns
    -------
    list[Path]
    """
    return sorted((staged / name).glob("*.zip"))
