"""Reading tiles back out of archives, and putting several together."""

import sqlite3
from collections.abc import Iterable
from pathlib import Path

from pmtiles.reader import MmapSource, Reader

from greylatch.tiles.archive import ArchiveInfo, open_archive
from greylatch.tiles.matrix import Tile, tms_row


class PMTilesFile:
    """A PMTiles archive open for reading.

    >>> PMTilesFile("map.pmtiles").tile(Tile(0, 0, 0))  # doctest: +SKIP
    """

    def __init__(self, path: str | Path) -> None:
        self._file = open(path, "rb")  # noqa: SIM115 (kept open for its lifetime)
        self._reader = Reader(MmapSource(self._file))

    def tile(self, tile: Tile) -> bytes | None:
        """The contents of a tile; None where there is none."""
        found: bytes | None = self._reader.get(*tile)
        return found

    def close(self) -> None:
        """Give the file back."""
        self._file.close()


def merge_mbtiles(parts: Iterable[Path], out: str | Path, info: ArchiveInfo) -> int:
    """All tiles of several MBTiles files in one archive; returns how many. Raises BadInput where there is not a single one."""
    written = 0
    with open_archive(out, info) as sink:
        for part in parts:
            database = sqlite3.connect(f"file:{part}?mode=ro", uri=True)
            try:
                rows = database.execute(
                    "SELECT zoom_level, tile_column, tile_row, tile_data FROM tiles ORDER BY 1, 2, 3"
                )
                for z, x, row, data in rows:
                    # The row counts from the bottom; the same formula turns it back.
                    sink.add(Tile(z, x, tms_row(Tile(z, x, row))), data)
                    written += 1
            finally:
                database.close()
    return written
