"""A raster cut into parts, as GeoTIFFs with an index of where each lies."""

import csv
import json
import re
import shutil
import string
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import rasterio
from rasterio.enums import MaskFlags
from rasterio.errors import RasterioError
from rasterio.io import DatasetReader
from rasterio.windows import Window

from greylatch.errors import BadFile, BadInput
from greylatch.places.bounds import Bounds
from greylatch.places.crs import lonlat_box
from greylatch.progress import Progress, silent
from greylatch.rasters.info import open_raster, raster_crs

__all__ = [
    "MOST_PARTS",
    "PATTERN",
    "Part",
    "cut_into",
    "part_names",
    "parts_by_count",
    "parts_by_size",
    "planned_parts",
]

PATTERN = "{name}_r{row}_c{column}"
"""How parts are called where nobody says otherwise."""
MOST_PARTS = 10_000
AT_ONCE = 16_000_000
"""Pixels of all bands that are held at once."""
PLACEHOLDERS = ("name", "row", "column")
DIGITS = re.compile(r"(0?[1-9])?")
SIZE = re.compile(r"\s*([0-9.]+)\s*[x×]\s*([0-9.]+)\s*(px|m|deg)?\s*", re.IGNORECASE)


@dataclass(frozen=True)
class Part:
    """A part of a raster: its row and column among the parts, from 1, its pixels, and its file."""

    row: int
    column: int
    window: Window
    file: str


def parts_by_count(width: int, height: int, columns: int, rows: int) -> list[tuple[int, int, Window]]:
    """Row, column and pixels of so many parts, which differ by no more than a pixel.

    Parameters
    ----------
    width : int
        Pixels of the raster.
    height : int
        Pixels of the raster.
    columns : int
        How many parts lie beside one another.
    rows : int
        How many lie under one another.

    Returns
    -------
    list[tuple[int, int, Window]]

    Raises
    ------
    BadInput
        For less than one, more than there are pixels, and too many.

    Examples
    --------
    >>> [(row, column, window.width) for row, column, window in parts_by_count(10, 4, 3, 1)]
    [(1, 1, 3), (1, 2, 4), (1, 3, 3)]
    """
    if not (1 <= columns <= width and 1 <= rows <= height):
        raise BadInput(f"A raster of {width:,} × {height:,} pixels cannot be cut into {columns:,} × {rows:,} parts.")
    return _grid(
        [round(i * width / columns) for i in range(columns + 1)], [round(i * height / rows) for i in range(rows + 1)]
    )


def parts_by_size(source: DatasetReader, size: str) -> list[tuple[int, int, Window]]:
    """Row, column and pixels of parts of one size, counted from the upper left; the last ones are what is left.

    Parameters
    ----------
    source : DatasetReader
        The open raster.
    size : str
        '512x512' in pixels; '2000x2000m' or '0.5x0.5deg' in the units of its projection.

    Returns
    -------
    list[tuple[int, int, Window]]

    Raises
    ------
    BadInput
        For another text, for units that the raster does not have, and for too many parts.
    """
    match = SIZE.fullmatch(size)
    if match is None:
        raise BadInput(
            f"'{size}' is no size.", "512x512 is one in pixels, 2000x2000m and 0.5x0.5deg are on the ground."
        )
    wide, high, unit = float(match[1]), float(match[2]), (match[3] or "px").lower()
    if unit != "px":
        degrees = raster_crs(source).is_geographic
        if degrees != (unit == "deg"):
            raise BadInput(f"The raster is measured in {'degrees' if degrees else 'metres'}, and '{size}' is not.")
        wide, high = wide / abs(source.res[0]), high / abs(source.res[1])
    across, down = round(wide), round(high)
    if across < 1 or down < 1:
        raise BadInput(f"Parts of {size} would be smaller than a pixel.")
    return _grid([*range(0, source.width, across), source.width], [*range(0, source.height, down), source.height])


def _grid(x: list[int], y: list[int]) -> list[tuple[int, int, Window]]:
    many = (len(x) - 1) * (len(y) - 1)
    if many > MOST_PARTS:
        raise BadInput(f"That would be {many:,} parts; at most {MOST_PARTS:,} are cut.", "Take larger ones.")
    return [
        (j + 1, i + 1, Window(x[i], y[j], x[i + 1] - x[i], y[j + 1] - y[j]))
        for j in range(len(y) - 1)
        for i in range(len(x) - 1)
    ]


def part_names(pattern: str, name: str, places: list[tuple[int, int]]) -> list[str]:
    """The names of parts' files.

    Parameters
    ----------
    pattern : str
        Text with {name}, {row} and {column}; {row:03} has three digits.
    name : str
        What stands for {name}.
    places : list[tuple[int, int]]
        Row and column of each part.

    Returns
    -------
    list[str]

    Raises
    ------
    BadInput
        For another placeholder, for names that are no file's, and where two parts would have one.

    Examples
    --------
    >>> part_names("{name}-{row:02}{column:02}", "peat", [(1, 1), (1, 2)])
    ['peat-0101.tif', 'peat-0102.tif']
    """
    try:
        for _, field, digits, conversion in string.Formatter().parse(pattern):
            # Nothing else of what such a text can ask for: no attributes, no conversions, no widths without an end.
            if field is not None and (field not in PLACEHOLDERS or conversion or not DIGITS.fullmatch(digits or "")):
                raise ValueError
        names = [pattern.format(name=name, row=row, column=column) for row, column in places]
    except (ValueError, KeyError, IndexError) as error:
        raise BadInput(f"'{pattern}' is no pattern for names.", "It may hold {name}, {row} and {column}.") from error
    names = [each if each.lower().endswith((".tif", ".tiff")) else f"{each}.tif" for each in names]
    for each in names:
        if not re.fullmatch(r"[^/\\\0:*?\"<>|]{1,200}", each) or each.startswith("."):
            raise BadInput(f"'{each}' is no name for a file.")
    if len(set(map(str.lower, names))) < len(names):
        raise BadInput(f"With '{pattern}' several parts would have one name.", "Name {row} and {column} in it.")
    return names


def cut_into(
    path: str | Path, out: str | Path, columns: int | None = None, rows: int | None = None, size: str | None = None,
    pattern: str = PATTERN, name: str | None = None, progress: Progress = silent,
) -> list[Part]:  # fmt: skip
    """Cut the GeoTIFF at `path` into parts in the folder `out`, whole or absent, with `index.geojson` and `index.csv` of where they lie.

    Each part has the values, bands, colours, nodata and projection of the whole; put side by side they are the whole again.

    Parameters
    ----------
    path : str | Path
        The file.
    out : str | Path
        A folder that is not there, or empty.
    columns : int | None
        How many parts lie beside one another; with `rows`, in place of `size`.
    rows : int | None
        How many lie under one another.
    size : str | None
        As `parts_by_size` has it.
    pattern : str
        As `part_names` has it.
    name : str | None
        What stands for {name}; None takes the file's own.
    progress : Progress
        Told how far it is.

    Returns
    -------
    list[Part]

    Raises
    ------
    BadInput
    """
    target = Path(out)
    if target.exists() and (not target.is_dir() or any(target.iterdir())):
        raise BadInput(f"{target} is there already.", "Name a folder that is new or empty.")
    with open_raster(path) as source:
        parts = _planned(source, columns, rows, size, pattern, name or Path(path).stem)
        unfinished = target.with_name(f".{target.name}.part")
        shutil.rmtree(unfinished, ignore_errors=True)
        unfinished.mkdir(parents=True)
        try:
            for done, part in enumerate(parts):
                progress(done, len(parts), part.file)
                _write(source, part, unfinished / part.file)
            _write_index(source, parts, unfinished)
            if target.exists():
                target.rmdir()
            unfinished.rename(target)
        except RasterioError as error:
            raise BadFile(f"{Path(path).name} cannot be read to its end: {error}.") from error
        finally:
            shutil.rmtree(unfinished, ignore_errors=True)
        progress(len(parts), len(parts), "done")
    return parts


def planned_parts(
    path: str | Path, columns: int | None = None, rows: int | None = None, size: str | None = None,
    pattern: str = PATTERN, name: str | None = None,
) -> list[Part]:  # fmt: skip
    """The parts into which `cut_into` would cut a raster, before anything is written.

    Parameters
    ----------
    path : str | Path
        The file.
    columns : int | None
        How many parts lie beside one another; with `rows`, in place of `size`.
    rows : int | None
        How many lie under one another.
    size : str | None
        As `parts_by_size` has it.
    pattern : str
        As `part_names` has it.
    name : str | None
        What stands for {name}; None takes the file's own.

    Returns
    -------
    list[Part]

    Raises
    ------
    BadInput
    """
    with open_raster(path) as source:
        return _planned(source, columns, rows, size, pattern, name or Path(path).stem)


def _planned(
    source: DatasetReader, columns: int | None, rows: int | None, size: str | None, pattern: str, name: str
) -> list[Part]:
    if (size is None) == (columns is None and rows is None):
        raise BadInput("Say how many columns and rows of parts there are to be, or how large each is.")
    grid = (
        parts_by_size(source, size)
        if size is not None
        else parts_by_count(source.width, source.height, 1 if columns is None else columns, 1 if rows is None else rows)
    )
    names = part_names(pattern, name, [(row, column) for row, column, _ in grid])
    return [Part(row, column, window, file) for (row, column, window), file in zip(grid, names, strict=True)]


def _write(source: DatasetReader, part: Part, path: Path) -> None:
    window = part.window
    profile: dict[str, Any] = {
        "driver": "GTiff", "dtype": source.dtypes[0], "count": source.count, "width": window.width, "height": window.height,
        "crs": source.crs, "transform": source.window_transform(window), "nodata": source.nodata, "tiled": True, "blockxsize": 256,
        "blockysize": 256, "compress": "deflate", "BIGTIFF": "IF_SAFER",
    }  # fmt: skip
    masked = any(MaskFlags.per_dataset in flags and MaskFlags.alpha not in flags for flags in source.mask_flag_enums)
    high = max(1, AT_ONCE // (window.width * source.count))
    with rasterio.Env(GDAL_TIFF_INTERNAL_MASK=True), rasterio.open(path, "w", **profile) as sink:
        sink.colorinterp = source.colorinterp
        for band in range(1, source.count + 1):
            if source.descriptions[band - 1]:
                sink.set_band_description(band, source.descriptions[band - 1])
            sink.update_tags(band, **source.tags(band))
            if source.colorinterp[band - 1].name == "palette":
                sink.write_colormap(band, source.colormap(band))
        sink.scales, sink.offsets, sink.units = source.scales, source.offsets, source.units
        for top in range(0, window.height, high):
            piece = Window(window.col_off, window.row_off + top, window.width, min(high, window.height - top))
            to = Window(0, top, piece.width, piece.height)
            sink.write(source.read(window=piece), window=to)
            if masked:
                sink.write_mask(source.dataset_mask(window=piece), window=to)


def _write_index(source: DatasetReader, parts: list[Part], folder: Path) -> None:
    rows = []
    for part in parts:
        west, south, east, north = _box(source, part)
        rows.append(
            {
                "file": part.file,
                "row": part.row,
                "column": part.column,
                "west": west,
                "south": south,
                "east": east,
                "north": north,
            }
        )
    with open(folder / "index.csv", "w", newline="", encoding="utf-8") as file:
        writer = csv.DictWriter(file, list(rows[0]))
        writer.writeheader()
        writer.writerows(rows)
    features = [
        {
            "type": "Feature", "properties": {key: each[key] for key in ("file", "row", "column")},
            "geometry": {
                "type": "Polygon",
                "coordinates": [[
                    [each["west"], each["south"]], [each["east"], each["south"]], [each["east"], each["north"]], [each["west"], each["north"]],
                    [each["west"], each["south"]],
                ]],
            },
        }
        for each in rows
    ]  # fmt: skip
    (folder / "index.geojson").write_text(json.dumps({"type": "FeatureCollection", "features": features}))


def _box(source: DatasetReader, part: Part) -> Bounds:
    """West, south, east, north of a part in degrees."""
    left, bottom, right, top = source.window_bounds(part.window)
    (west, east), (south, north) = sorted((left, right)), sorted((bottom, top))
    return tuple(round(value, 9) for value in lonlat_box(raster_crs(source), west, south, east, north))  # type: ignore[return-value]
