"""The command that draws a sheet."""

import argparse
from functools import cache
from pathlib import Path

from greylatch.cli.tiles import progress_line
from greylatch.errors import BadFile, BadInput
from greylatch.formats.files import read_file
from greylatch.formats.kinds import file_kind
from greylatch.paint.furniture import furnished
from greylatch.paint.passes import Composition, compose
from greylatch.paint.picture import paint
from greylatch.paint.sources import Find, RasterSource, Source, VectorSource
from greylatch.places.bounds import Bounds
from greylatch.places.frame import Frame
from greylatch.places.grid import DEEPEST
from greylatch.places.view import View
from greylatch.sheet.document import Sheet
from greylatch.sheet.reading import read_sheet
from greylatch.symbols.credits import credits_of
from greylatch.tables.dataset import Dataset
from greylatch.tiles.image import png
from greylatch.tiles.map_pyramid import cut_map
from greylatch.tiles.view import view_at_level, whole_view

__all__ = ["beside", "degrees_box"]

MAX_SIDE = 16384
DEFAULT_SIZE = (1280, 800)


def draw_sheet(arguments: argparse.Namespace) -> None:
    """Draw a sheet document with the files that it names."""
    sheet = read_sheet(arguments.sheet)
    zoom = arguments.zoom
    if zoom is not None and not 0 <= zoom <= DEEPEST:
        raise BadInput(f"There is no level {zoom:g}.", f"Levels lie between 0 and {DEEPEST}.")
    composition = compose(sheet, beside(Path(arguments.sheet).parent, arguments.crs))
    if Path(arguments.out).suffix.lower() == ".png":
        width, height = _size(arguments.size)
        view = picture_view(sheet, composition, width, height, arguments.zoom, arguments.bbox)
        Path(arguments.out).write_bytes(png(furnished(paint(composition, view), sheet, view)))
        print(f"{width} × {height} px: {arguments.out}")
        return
    if arguments.size or arguments.bbox:
        raise BadInput("--size and --bbox go with a .png; tiles follow the map.")
    summary = cut_map(
        composition,
        arguments.out,
        sheet.title,
        max_zoom=None if zoom is None else int(zoom),
        attribution=credits_of(sheet),
        progress=progress_line,
    )
    print(f"{summary['tiles']:,} tiles, levels {summary['min_zoom']} to {summary['max_zoom']}: {arguments.out}")


def beside(folder: Path, crs: str | None = None) -> Find:
    """A finder of datasets by their path relative to `folder`.

    Parameters
    ----------
    folder : Path
        The folder that paths are relative to.
    crs : str | None
        That of tables and shapes that do not say theirs.

    Returns
    -------
    Find
    """

    @cache
    def find(name: str, frame: Frame) -> Source:
        path = folder / name
        if not path.is_file():
            raise BadInput(f"The dataset '{name}' is not there.", f"It is looked for at {path}.")
        return RasterSource(path, frame) if file_kind(path).holds == "raster" else VectorSource(_read(path, crs), frame)

    return find


def _read(path: Path, crs: str | None) -> Dataset:
    try:
        return read_file(path).dataset.described()
    except BadFile:
        if crs is None:
            raise
        return read_file(path, crs=crs).dataset.described()


def picture_view(
    sheet: Sheet, composition: Composition, width: int, height: int, zoom: float | None = None, bbox: str | None = None
) -> View:
    """What a picture shows: the bounding box asked for, fitted into the picture or at `zoom`; or what is around the place at which the sheet
    opens at `zoom`; else the whole map."""
    if bbox is None:
        if zoom is None:
            return whole_view(composition, width, height)
        return view_at_level(sheet, composition, width, height, zoom)
    frame = composition.frame
    box = frame.box_of(degrees_box(bbox))
    if zoom is None:
        return View.fitted(frame, box, width, height)
    return View.around(frame, (box[0] + box[2]) / 2, (box[1] + box[3]) / 2, frame.grid.resolution(zoom), width, height)


def degrees_box(text: str) -> Bounds:
    """A box as it is typed: 'west,south,east,north' in degrees. Where west is larger than east it crosses the 180th meridian (RFC 7946, 5.2), and
    its east is counted on.

    Raises
    ------
    BadInput
        For what is none.

    Examples
    --------
    >>> degrees_box("177,-20,-178,-15")
    (177.0, -20.0, 182.0, -15.0)
    """
    try:
        west, south, east, north = (float(part) for part in text.split(","))
    except ValueError as error:
        raise BadInput(f"'{text}' is not a box.", "Write it as west,south,east,north in degrees.") from error
    if not (-180 <= west <= 180 and -180 <= east <= 180 and west != east and -90 <= south < north <= 90):
        raise BadInput(f"'{text}' is not a box: west and south come first, in degrees.")
    return west, south, east if east > west else east + 360, north


def _size(text: str | None) -> tuple[int, int]:
    if text is None:
        return DEFAULT_SIZE
    try:
        width, height = (int(part) for part in text.lower().split("x"))
    except ValueError as error:
        raise BadInput(f"'{text}' is not a size.", "Write it as 1280x800.") from error
    if not (1 <= width <= MAX_SIDE and 1 <= height <= MAX_SIDE):
        raise BadInput(f"A picture has between 1 and {MAX_SIDE} px a side.")
    return width, height
