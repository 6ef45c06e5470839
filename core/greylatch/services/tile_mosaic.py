"""Pictures of a service's tiles put together as one raster: a layer like any other, that asks nobody when it is drawn."""

import io
import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from pathlib import Path

import numpy as np
import pyproj
import rasterio
from PIL import Image, UnidentifiedImageError
from rasterio.transform import from_origin
from rasterio.windows import Window

from greylatch.errors import BadFile
from greylatch.places.bounds import Bounds
from greylatch.progress import Progress, silent
from greylatch.services.tile_layers import TileLayer, TileLevel
from greylatch.wording import counted

__all__ = ["MOST_TILES", "Excerpt", "excerpt", "levels_for", "proposed_level", "put_together"]

MOST_TILES = 4_096
"""That are asked for at a time: what one map needs, not what a service has."""
SHARP = 1_500
"""Pixels of the longer side from which on a picture of a place is sharp on a screen. Common practice."""


@dataclass(frozen=True)
class Excerpt:
    """The tiles of a level that cover a place: first and last column and row, each included."""

    level: TileLevel
    left: int
    top: int
    right: int
    bottom: int

    @property
    def tiles(self) -> int:
        """How many they are."""
        return (self.right - self.left + 1) * (self.bottom - self.top + 1)

    @property
    def size(self) -> tuple[int, int]:
        """Pixels of them all, across and down."""
        return (self.right - self.left + 1) * self.level.width, (self.bottom - self.top + 1) * self.level.height


def excerpt(layer: TileLayer, level: TileLevel, bounds: Bounds) -> Excerpt:
    """The tiles of a level that cover a place.

    Parameters
    ----------
    layer : TileLayer
        Of which.
    level : TileLevel
        One of its levels.
    bounds : Bounds
        West, south, east, north in degrees.

    Returns
    -------
    Excerpt

    Raises
    ------
    BadFile
        For a place where the layer has no tiles.
    """
    west, south, east, north = _moved(bounds, layer.crs)
    across, down = level.resolution * level.width, level.resolution * level.height
    # An edge that a tile only touches needs no tile.
    tiny = 1e-9
    left, right = math.floor((west - level.left) / across + tiny), math.ceil((east - level.left) / across - tiny) - 1
    top, bottom = math.floor((level.top - north) / down + tiny), math.ceil((level.top - south) / down - tiny) - 1
    cut = Excerpt(
        level,
        max(left, 0),
        max(top, 0),
        min(max(right, left), level.columns - 1),
        min(max(bottom, top), level.rows - 1),
    )
    if cut.right < cut.left or cut.bottom < cut.top:
        raise BadFile("The service has no tiles in this place.")
    return cut


def levels_for(layer: TileLayer, bounds: Bounds) -> list[Excerpt]:
    """The levels in which a place needs no more tiles than are taken, the coarsest first.

    Parameters
    ----------
    layer : TileLayer
        Of which.
    bounds : Bounds
        West, south, east, north in degrees.

    Returns
    -------
    list[Excerpt]
    """
    excerpts = [excerpt(layer, level, bounds) for level in layer.levels]
    return [each for each in excerpts if each.tiles <= MOST_TILES]


def proposed_level(excerpts: Sequence[Excerpt]) -> Excerpt | None:
    """The level to take unless somebody says otherwise: the coarsest that is sharp in a map of the place, for more is a burden to the service
    and shows no more.

    Parameters
    ----------
    excerpts : Sequence[Excerpt]
        The coarsest first, as `levels_for` has them.

    Returns
    -------
    Excerpt | None
        The finest where none is sharp; None of none.
    """
    sharp = (each for each in excerpts if max(each.size) >= SHARP)
    return next(sharp, excerpts[-1] if excerpts else None)


def put_together(
    layer: TileLayer, taken: Excerpt, get: Callable[[str], bytes | None], out: str | Path, progress: Progress = silent
) -> list[str]:
    """Write the tiles of an excerpt as one GeoTIFF of red, green, blue and cover, whole or absent.

    Parameters
    ----------
    layer : TileLayer
        Of which.
    taken : Excerpt
        Which tiles.
    get : Callable[[str], bytes | None]
        Gives the picture at an address; None where there is none.
    out : str | Path
        The GeoTIFF to be written.
    progress : Progress
        Told of every tile.

    Returns
    -------
    list[str]
        What was noticed.

    Raises
    ------
    BadFile
        That names the tile whose picture can't be read or is of another size, and where there is none at all.
    """
    level, target = taken.level, Path(out)
    part = target.with_name(f".{target.name}.part")
    transform = from_origin(
        level.left + taken.left * level.width * level.resolution, level.top - taken.top * level.height * level.resolution,
        level.resolution, level.resolution,
    )  # fmt: skip
    described = {
        "driver": "GTiff", "count": 4, "dtype": "uint8", "crs": layer.crs, "transform": transform, "compress": "deflate", "tiled": True,
        "blockxsize": 256, "blockysize": 256, "bigtiff": "if_safer", "width": (taken.right - taken.left + 1) * level.width,
        "height": (taken.bottom - taken.top + 1) * level.height, "photometric": "RGB", "alpha": "YES",
    }  # fmt: skip
    missing = 0
    try:
        with rasterio.open(part, "w", **described) as target_raster:
            done = 0
            for row in range(taken.top, taken.bottom + 1):
                for column in range(taken.left, taken.right + 1):
                    done += 1
                    progress(done, taken.tiles, f"tile {done:,} of {taken.tiles:,}")
                    data = get(layer.tile(level, column, row))
                    if data is None:
                        missing += 1
                        continue
                    window = Window(
                        (column - taken.left) * level.width, (row - taken.top) * level.height, level.width, level.height
                    )
                    target_raster.write(_pixels(data, level, f"{level.name}/{column}/{row}"), window=window)
        if missing == taken.tiles:
            raise BadFile("The service has no tiles in this place.")
        part.replace(target)
    finally:
        part.unlink(missing_ok=True)
    notes = [f"Put together of {counted(taken.tiles - missing, 'tile')} of level {level.name}."]
    return [*notes, f"Of {counted(missing, 'tile')} the service has no picture."] if missing else notes


def _moved(bounds: Bounds, crs: str) -> Bounds:
    """A box in degrees as one in a system, cut to where that is used: Mercator has no poles."""
    system = pyproj.CRS.from_user_input(crs)
    west, south, east, north = bounds
    if system.area_of_use is not None:
        least, lowest, most, highest = system.area_of_use.bounds
        south, north = max(south, lowest), min(north, highest)
        if least < most:
            west, east = max(west, least), min(east, most)
    if west >= east or south >= north:
        raise BadFile("The service has no tiles in this place.")
    moved = pyproj.Transformer.from_crs("OGC:CRS84", system, always_xy=True).transform_bounds(
        west, south, east, north, 21
    )
    if not all(map(math.isfinite, moved)):
        raise BadFile("The service has no tiles in this place.")
    return moved


def _pixels(data: bytes, level: TileLevel, name: str) -> np.ndarray:
    try:
        with Image.open(io.BytesIO(data), formats=("PNG", "JPEG", "WEBP")) as picture:
            if picture.size != (level.width, level.height):
                raise BadFile(
                    f"Tile {name} has {picture.size[0]} × {picture.size[1]} pixels, not {level.width} × {level.height}."
                )
            return np.moveaxis(np.asarray(picture.convert("RGBA")), 2, 0)
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError) as error:
        raise BadFile(f"Tile {name} is no picture that can be read.") from error
