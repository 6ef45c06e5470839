"""A file of any kind that is read: told by its contents, then handed to its reader."""

from pathlib import Path

from greylatch.errors import BadFile
from greylatch.formats.cells import CellChoice, read_raw, result_of_cells
from greylatch.formats.kinds import Choice, file_kind
from greylatch.formats.result import ReadResult

__all__ = ["read_file"]


def read_file(
    path: str | Path, *, crs: str | None = None, placed: bool = True, layer: str | None = None, cells: CellChoice | None = None,
    mended: bool = True,
) -> ReadResult:  # fmt: skip
    """The dataset in a vector or table file, as guessed or as corrected.

    A table becomes shapes where columns that make some are named, or guessed.

    Parameters
    ----------
    path : str | Path
        The file.
    crs : str | None
        What stands for a file that does not say where it lies; None refuses it.
    placed : bool
        Where it is false, data that do not say where on earth they lie are read without a CRS rather than refused.
    layer : str | None
        The layer, sheet or object; None takes the first in which something stands.
    cells : CellChoice | None
        How a table of cells is read; None guesses.
    mended : bool
        Where it is false, areas whose rings cross themselves are told of and stay as they are: enough to say what a file holds.

    Returns
    -------
    ReadResult

    Raises
    ------
    BadInput
    """
    kind, choice = file_kind(path), Choice(layer, crs, placed, mended=mended)
    if kind.holds == "raster":
        raise BadFile(f"{Path(path).name} is a raster; a table or shapes are needed here.")
    if layer is not None and not kind.layered:
        raise BadFile(f"A file of {kind.title} has no layers, and so none called '{layer}'.")
    if kind.holds == "shapes":
        result: ReadResult = kind.read(path, choice)
        return result
    cells = cells or CellChoice()
    raw, _ = read_raw(path, kind, choice, cells)
    return result_of_cells(raw, choice, cells)
