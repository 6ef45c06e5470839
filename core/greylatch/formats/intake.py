"""From a stranger's file to data that are kept: the whole file is read as previewed, what was chosen of it goes on."""

from dataclasses import replace
from pathlib import Path

import shapely
from pydantic import BaseModel

from greylatch.errors import BadFile
from greylatch.formats.cells import read_raw, result_of_cells
from greylatch.formats.corrections import Corrections, cell_choice, choice
from greylatch.formats.geoparquet import write_geoparquet
from greylatch.formats.kinds import FileKind, file_kind
from greylatch.formats.result import ReadResult
from greylatch.rasters.keep import keep_as_cog
from greylatch.tables.chosen_fields import with_fields
from greylatch.wording import counted

__all__ = ["Taken", "chosen", "take_in", "title_of"]


class Taken(BaseModel):
    """What was written into the folder: data.parquet for shapes and tables, or raster.tif; and what is said of it."""

    kind: str
    crs_reason: str
    notes: list[str]


def take_in(path: str | Path, corrections: Corrections, into: str | Path) -> Taken:
    """Read the whole file as previewed and write it into the folder `into` in the form in which it is kept.

    Parameters
    ----------
    path : str | Path
        The file.
    corrections : Corrections
        What a person has corrected of the guesses.
    into : str | Path
        The folder to write to.

    Returns
    -------
    Taken

    Raises
    ------
    BadInput
    """
    kind = file_kind(path)
    if kind.holds == "raster":
        info = keep_as_cog(path, Path(into) / "raster.tif", corrections.crs, corrections.nodata)
        return Taken(
            kind="raster", crs_reason="Chosen by hand." if corrections.crs else "Stated in the file.", notes=info.notes
        )
    result = chosen(_read(path, kind, corrections), corrections)
    write_geoparquet(result.dataset, Path(into) / "data.parquet")
    return Taken(kind=result.dataset.kind, crs_reason=result.crs_reason, notes=result.notes)


def chosen(result: ReadResult, corrections: Corrections) -> ReadResult:
    """What a person chose of what was read: rows, fields, and how much detail.

    Parameters
    ----------
    result : ReadResult
        What was read.
    corrections : Corrections
        What was chosen.

    Returns
    -------
    ReadResult

    Raises
    ------
    BadInput
        For a condition with a mistake or that takes no row, and for fields that are not there.
    """
    data, notes = result.dataset, list(result.notes)
    if corrections.where.strip():
        from greylatch.rules.evaluating import taken

        rows = taken(data.described(), corrections.where)
        if not rows.any():
            raise BadFile("The condition takes no row.", "Nothing would be kept.")
        notes.append(f"{counted(int(rows.sum()), 'row')} of {len(data):,} kept by the condition.")
        data = data.taking(rows)
    if corrections.fields is not None:
        data = with_fields(data, [(field.name, field.rename) for field in corrections.fields])
    if corrections.simplify is not None and data.shapes is not None and data.kind != "points":
        from greylatch.places.simplifying import simplified

        before, data = data.shapes, simplified(data, corrections.simplify)
        kept, all_ = (int(shapely.get_num_coordinates(shapes).sum()) for shapes in (data.shapes, before))
        notes.append(f"{kept:,} of {all_:,} vertices kept.")
    return replace(result, dataset=data, notes=notes)


def title_of(file_name: str) -> str:
    """A title for what a file holds.

    >>> title_of("dip_wells.csv")
    'Dip wells'
    """
    stem = Path(file_name).stem.replace("_", " ").replace("-", " ").strip() or "Untitled"
    return stem[0].upper() + stem[1:200]


def _read(path: str | Path, kind: FileKind, corrections: Corrections) -> ReadResult:
    if kind.holds == "shapes":
        result: ReadResult = kind.read(path, choice(corrections))
        return result
    cells = cell_choice(str(path), kind, corrections)
    raw, _ = read_raw(path, kind, choice(corrections), cells)
    return result_of_cells(raw, choice(corrections), cells)
