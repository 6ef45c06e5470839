"""Reading tiles back out of archives, and putting several together."""

import zipfile
from collections.abc import Iterable
from pathlib import Path

from pmtiles.reader import MmapSource, Reader

from greylatch.places.grid import Tile
from greylatch.tiles.archive import ArchiveInfo, open_archive

__all__ = ["PMTilesFile", "TileFile", "ZippedTiles", "merge_zips", "open_tiles"]


class PMTilesFile:
    """A PMTiles archive open for reading.

    >>> PMTilesFile("map.pmtiles").tile(Tile(0, 0, 0))  # doctest: +SKIP
    """

    def __init__(self, path: str | Path) -> None:
        self._file = open(path, "rb")  # noqa: SIM115 (kept open for its lifetime)
        self._reader = Reader(MmapSource(self._file))

    def tile(self, tile: Tile) -> bytes | None:
        """The contents of a tile; None where there is none."""
        data: bytes | None = self._reader.get(*tile)
        return data

    def close(self) -> None:
        """Give the file back."""
        self._file.close()


class ZippedTiles:
    """A zipped folder of tiles open for reading."""

    def __init__(self, path: str | Path) -> None:
        self._zip = zipfile.ZipFile(path)
        endings = (Path(name).suffix for name in self._zip.namelist())
        self._ending = next((ending for ending in endings if ending != ".json"), "")

    def tile(self, tile: Tile) -> bytes | None:
        """The contents of a tile; None where there is none."""
        try:
            return self._zip.read(f"{tile.z}/{tile.x}/{tile.y}{self._ending}")
        except KeyError:
            return None

    def close(self) -> None:
        """Give the file back."""
        self._zip.close()


TileFile = PMTilesFile | ZippedTiles


def open_tiles(path: str | Path) -> TileFile:
    """The tiles at `path` (.pmtiles, or a zipped folder), to be read one by one."""
    return PMTilesFile(path) if Path(path).suffix == ".pmtiles" else ZippedTiles(path)


def merge_zips(parts: Iterable[Path], out: str | Path, info: ArchiveInfo) -> int:
    """All tiles of several zipped folders in one archive; returns how many.

    Parameters
    ----------
    parts : Iterable[Path]
        The zipped folders.
    out : str | Path
        Where to write it.
    info : ArchiveInfo
        What the archive says of itself.

    Returns
    -------
    int

    Raises
    ------
    BadInput
        Where there is not a single one.
    """
    written = 0
    with open_archive(out, info) as sink:
        for part in parts:
            with zipfile.ZipFile(part) as folder:
                for name in folder.namelist():
                    if not name.endswith(".json"):
                        z, x, y = (int(number) for number in name.split(".")[0].split("/"))
                        sink.add(Tile(z, x, y), folder.read(name))
                        written += 1
    return written
