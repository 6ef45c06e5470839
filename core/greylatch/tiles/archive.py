"""Where tiles are written: a PMTiles or MBTiles archive, a folder, a zipped folder. Whole or absent."""

import contextlib
import json
import shutil
import sqlite3
import tempfile
import uuid
import zipfile
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, Literal, Protocol

from pmtiles.tile import Compression, TileType, zxy_to_tileid
from pmtiles.writer import Writer

from greylatch.errors import BadInput
from greylatch.places.bounds import Bounds
from greylatch.places.grid import Grid, Tile

__all__ = [
    "EARLIEST",
    "EVERYWHERE",
    "ArchiveInfo",
    "RasterFormat",
    "RowOrder",
    "TileSink",
    "open_archive",
    "raster_address",
    "tilejson",
    "tileset",
]

RasterFormat = Literal["png", "webp"]
TileFormat = RasterFormat | Literal["pbf"]
RowOrder = Literal["xyz", "tms"]
"""Whether rows of tiles are counted from the top (XYZ) or from the bottom (TMS)."""
EVERYWHERE = "WebMercatorQuad"
"""The set that PMTiles, MBTiles and TileJSON know."""
MBTILES = 0x4D504258
EARLIEST = (1980, 1, 1, 0, 0, 0)
"""The date of all entries in zips, the first that they can have: the same contents make the same file at any time."""


@dataclass(frozen=True)
class ArchiveInfo:
    """What an archive says of itself. `bounds` is west, south, east, north in degrees; `rows` is how folders count theirs."""

    name: str
    format: TileFormat
    min_zoom: int
    max_zoom: int
    bounds: Bounds
    attribution: str = ""
    tile_size: int = 256
    vector_layers: tuple[dict[str, Any], ...] = ()
    view: tuple[float, float, int] | None = None
    grid: Grid = field(default_factory=lambda: Grid.called(EVERYWHERE))
    rows: RowOrder = "xyz"

    @property
    def middle(self) -> tuple[float, float, int]:
        """Where and at which level it opens: as said by `view` (degrees, level), else the middle of the bounds at the first."""
        west, south, east, north = self.bounds
        return self.view or ((west + east) / 2, (south + north) / 2, self.min_zoom)

    @property
    def ending(self) -> str:
        """Of the file of an archive that single tiles are read out of: PMTiles, where that can say how they lie."""
        return ".pmtiles" if self.grid.name == EVERYWHERE else ".zip"

    def file_of(self, tile: Tile) -> str:
        """Where a tile lies in a folder."""
        row = tile.y if self.rows == "xyz" else self.grid.tms_row(tile)
        return f"{tile.z}/{tile.x}/{row}.{self.format}"

    def documents(self) -> dict[str, dict[str, Any]]:
        """What lies beside the tiles of a folder, by file name: a TileJSON where that can say how they lie, and otherwise a tile
        set document with its tile matrix set."""
        address = f"{{z}}/{{x}}/{{y}}.{self.format}"
        if self.grid.name == EVERYWHERE:
            return {"tilejson.json": tilejson(self, address)}
        return {"tileset.json": tileset(self, address), "tilematrixset.json": self.grid.document(self.max_zoom)}


class TileSink(Protocol):
    """Takes tiles, each once and in any order."""

    def add(self, tile: Tile, data: bytes) -> None:
        """Keep `data` as the contents of `tile`."""

    def close(self) -> None:
        """Write what remains.

        Raises
        ------
        BadInput
            Where there is not a single tile.
        """

    def release(self) -> None:
        """Let go of files, however it ended."""


@contextlib.contextmanager
def open_archive(path: str | Path, info: ArchiveInfo) -> Iterator[TileSink]:
    """An archive to add tiles to; the ending of `path` says which kind (.pmtiles, .mbtiles, .zip, none for a folder).

    It appears at `path` when the block ends well; where it ends in an error nothing is left, and what stood there stays.

    Parameters
    ----------
    path : str | Path
        The file.
    info : ArchiveInfo
        What the archive says of itself.

    Returns
    -------
    Iterator[TileSink]
    """
    target = Path(path)
    part = target.with_name(f".{target.name}.{uuid.uuid4().hex[:8]}.part")
    kinds: dict[str, Callable[[Path, ArchiveInfo], TileSink]] = {
        ".pmtiles": _PMTiles,
        ".mbtiles": _MBTiles,
        ".zip": _ZippedFolder,
        "": _Folder,
    }
    folder = target.suffix in ("", ".zip")
    if info.grid.name != EVERYWHERE and not folder:
        raise BadInput(
            f"{target.suffix} holds tiles in {EVERYWHERE} only.", "Others are written to a folder or a .zip."
        )
    if info.rows == "tms" and not folder:
        raise BadInput(f"{target.suffix} counts rows in its own way.", "Leave out --rows, or write a folder or a .zip.")
    if target.suffix not in kinds:
        raise BadInput(f"Tiles are written to .pmtiles, .mbtiles, .zip or a folder, not to '{target.suffix}'.")
    if target.suffix == "" and target.exists() and (not target.is_dir() or any(target.iterdir())):
        raise BadInput(f"The folder {target} is not empty.", "Name another, or empty it first.")
    try:
        target.parent.mkdir(parents=True, exist_ok=True)
        sink = kinds[target.suffix](part, info)
    except OSError as error:
        raise BadInput(f"{target} cannot be written: {error.strerror}.") from error
    try:
        yield sink
        sink.close()
        if target.is_dir():
            target.rmdir()
        part.replace(target)
    finally:
        sink.release()
        if part.is_dir():
            shutil.rmtree(part)
        else:
            part.unlink(missing_ok=True)


class _PMTiles:
    """PMTiles version 3, clustered: tiles lie in the order of their numbers, so that neighbours are read together."""

    def __init__(self, part: Path, info: ArchiveInfo) -> None:
        self._file = part.open("wb")
        self._info = info
        # Tiles come in any order; they wait in a nameless file until all are there.
        self._waiting = tempfile.TemporaryFile(dir=part.parent)  # noqa: SIM115 (closed on release)
        self._places: list[tuple[int, int, int]] = []

    def add(self, tile: Tile, data: bytes) -> None:
        self._places.append((zxy_to_tileid(*tile), self._waiting.tell(), len(data)))
        self._waiting.write(data)

    def close(self) -> None:
        info = self._info
        if not self._places:
            raise BadInput("There is not a single tile to write: the map is empty at these levels.")
        writer = Writer(self._file)
        for number, start, length in sorted(self._places):
            self._waiting.seek(start)
            writer.write_tile(number, self._waiting.read(length))
        west, south, east, north = (round(v * 1e7) for v in info.bounds)
        lon, lat, zoom = info.middle
        header = {
            "tile_type": {"png": TileType.PNG, "webp": TileType.WEBP, "pbf": TileType.MVT}[info.format],
            "tile_compression": Compression.NONE,
            "min_lon_e7": west, "min_lat_e7": south, "max_lon_e7": east, "max_lat_e7": north,
            "center_zoom": zoom, "center_lon_e7": round(lon * 1e7), "center_lat_e7": round(lat * 1e7),
            "min_zoom": info.min_zoom, "max_zoom": info.max_zoom,
        }  # fmt: skip
        metadata: dict[str, Any] = {"name": info.name, "attribution": info.attribution, "format": info.format}
        if info.vector_layers:
            metadata["vector_layers"] = list(info.vector_layers)
        writer.finalize(header, metadata)

    def release(self) -> None:
        self._waiting.close()
        self._file.close()


class _MBTiles:
    """MBTiles 1.3: SQLite with rows counted from the bottom."""

    def __init__(self, part: Path, info: ArchiveInfo) -> None:
        self._grid = info.grid
        self._database = sqlite3.connect(part)
        # The magic number of the MBTiles specification 1.3, by which `file` and others know it.
        self._database.executescript(
            f"PRAGMA application_id = {MBTILES};"
            "CREATE TABLE metadata (name text, value text);"
            "CREATE TABLE tiles (zoom_level integer, tile_column integer, tile_row integer, tile_data blob);"
        )
        rows = {
            "name": info.name, "format": info.format, "attribution": info.attribution, "type": "overlay",
            "minzoom": str(info.min_zoom), "maxzoom": str(info.max_zoom), "bounds": ",".join(f"{v:.6f}" for v in info.bounds),
            "center": "{:.6f},{:.6f},{}".format(*info.middle),
        }  # fmt: skip
        if info.vector_layers:
            rows["json"] = json.dumps({"vector_layers": list(info.vector_layers)})
        self._database.executemany("INSERT INTO metadata VALUES (?, ?)", rows.items())

    def add(self, tile: Tile, data: bytes) -> None:
        self._database.execute(
            "INSERT INTO tiles VALUES (?, ?, ?, ?)", (tile.z, tile.x, self._grid.tms_row(tile), data)
        )

    def close(self) -> None:
        if self._database.execute("SELECT count(*) FROM tiles").fetchone()[0] == 0:
            raise BadInput("There is not a single tile to write: the map is empty at these levels.")
        self._database.execute("CREATE UNIQUE INDEX tile_index ON tiles (zoom_level, tile_column, tile_row)")
        self._database.commit()

    def release(self) -> None:
        self._database.close()


class _Folder:
    """z/x/y files."""

    def __init__(self, part: Path, info: ArchiveInfo) -> None:
        self._part, self._info = part, info
        part.mkdir(parents=True)

    def add(self, tile: Tile, data: bytes) -> None:
        file = self._part / self._info.file_of(tile)
        file.parent.mkdir(parents=True, exist_ok=True)
        file.write_bytes(data)

    def close(self) -> None:
        if not any(self._part.iterdir()):
            raise BadInput("There is not a single tile to write: the map is empty at these levels.")
        for name, document in self._info.documents().items():
            (self._part / name).write_text(json.dumps(document, indent=1))

    def release(self) -> None:
        """A folder holds nothing open."""


class _ZippedFolder:
    """The same folder in a zip; PNGs are stored as they are."""

    def __init__(self, part: Path, info: ArchiveInfo) -> None:
        self._zip = zipfile.ZipFile(part, "w", zipfile.ZIP_STORED)
        self._info = info

    def add(self, tile: Tile, data: bytes) -> None:
        self._write(self._info.file_of(tile), data)

    def close(self) -> None:
        if not self._zip.namelist():
            raise BadInput("There is not a single tile to write: the map is empty at these levels.")
        for name, document in self._info.documents().items():
            self._write(name, json.dumps(document, indent=1))
        self._zip.close()

    def _write(self, name: str, data: bytes | str) -> None:
        self._zip.writestr(zipfile.ZipInfo(name, EARLIEST), data)

    def release(self) -> None:
        self._zip.close()


def tilejson(info: ArchiveInfo, address: str) -> dict[str, Any]:
    """A TileJSON 3.0 document for tiles at `address` (with {z}, {x} and {y}).

    Raster tiles are told of as 256 px ones whatever their density: tiles of 512 px cover the same ground twice as sharp, and
    clients that know nothing of densities show them at their size on the ground.

    Parameters
    ----------
    info : ArchiveInfo
        What the archive says of itself.
    address : str
        Where the tiles are, with {z}, {x} and {y}.

    Returns
    -------
    dict[str, Any]
    """
    document: dict[str, Any] = {
        "tilejson": "3.0.0", "name": info.name, "tiles": [address], "scheme": info.rows, "minzoom": info.min_zoom,
        "maxzoom": info.max_zoom, "bounds": list(info.bounds), "attribution": info.attribution, "center": list(info.middle),
    }  # fmt: skip
    if info.format != "pbf":
        document["tileSize"] = 256
    if info.vector_layers:
        document["vector_layers"] = list(info.vector_layers)
    return document


def tileset(info: ArchiveInfo, address: str) -> dict[str, Any]:
    """A tile set document (OGC API – Tiles 1.0, 20-057, requirements class "tileset"; written from memory of its schema) for
    tiles at `address`, whose tile matrix set lies beside it.

    Parameters
    ----------
    info : ArchiveInfo
        What the archive says of itself.
    address : str
        Where the tiles are, with {z}, {x} and {y}.

    Returns
    -------
    dict[str, Any]
    """
    matrix_set = info.grid.document(0)
    west, south, east, north = info.bounds
    kinds = {"png": "image/png", "webp": "image/webp", "pbf": "application/vnd.mapbox-vector-tile"}
    row = "{tileRow}" if info.rows == "xyz" else "{-tileRow}"
    href = address.replace("{z}", "{tileMatrix}").replace("{x}", "{tileCol}").replace("{y}", row)
    return {
        "title": info.name, "dataType": "vector" if info.format == "pbf" else "map", "crs": matrix_set["crs"],
        **({"tileMatrixSetURI": matrix_set["uri"]} if "uri" in matrix_set else {}),
        "tileMatrixSetLimits": [
            {"tileMatrix": str(z), "minTileRow": 0, "maxTileRow": info.grid.rows * 2**z - 1, "minTileCol": 0,
             "maxTileCol": info.grid.columns * 2**z - 1}
            for z in range(info.min_zoom, info.max_zoom + 1)
        ],
        "boundingBox": {"lowerLeft": [west, south], "upperRight": [east, north], "crs": "http://www.opengis.net/def/crs/OGC/1.3/CRS84"},
        "attribution": info.attribution,
        "links": [
            {"rel": "item", "href": href, "type": kinds[info.format], "templated": True},
            {"rel": "http://www.opengis.net/def/rel/ogc/1.0/tiling-scheme", "href": "tilematrixset.json", "type": "application/json"},
        ],
    }  # fmt: skip


def raster_address(name: str, info: ArchiveInfo) -> str:
    """Where the tiles of a raster archive are, relative to its home.

    Parameters
    ----------
    name : str
        The name.
    info : ArchiveInfo
        What the archive says of itself.

    Returns
    -------
    str

    Examples
    --------
    >>> raster_address("map", ArchiveInfo("Peat", "png", 0, 1, (-180, -85, 180, 85), tile_size=512))
    'map/{z}/{x}/{y}@2x.png'
    """
    return f"{name}/{{z}}/{{x}}/{{y}}{'@2x' if info.tile_size == 512 else ''}.{info.format}"
