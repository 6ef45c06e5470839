"""Somewhere else: the data of a file under the systems in which its coordinates are likely to be."""

from pathlib import Path

from pydantic import BaseModel

from greylatch.errors import BadFile
from greylatch.formats.corrections import Corrections
from greylatch.formats.first_rows import first_rows
from greylatch.formats.preview import GlancePreview, glance_preview
from greylatch.places.likely import Known, likely_systems
from greylatch.tables.dataset import Dataset

__all__ = ["LikelyPlace", "elsewhere"]


class LikelyPlace(BaseModel):
    """A system, why it may be the one, whether x and y change places for it, and where the data lie then."""

    crs: str
    name: str
    reason: str
    swapped: bool
    glance: GlancePreview


def elsewhere(path: str | Path, corrections: Corrections, known: list[Known]) -> list[LikelyPlace]:
    """The likeliest systems for what is in a file, the likeliest first.

    Parameters
    ----------
    path : str | Path
        The file.
    corrections : Corrections
        What a person has corrected of the guesses.
    known : list[Known]
        Data whose place is known.

    Returns
    -------
    list[LikelyPlace]

    Raises
    ------
    BadInput
        For a file without shapes.
    """
    data = _as_written(path, corrections.model_copy(update={"crs": None, "swapped": False}))
    if data.shapes is None:
        raise BadFile("There are no coordinates in this file.")
    return [
        LikelyPlace(**{**vars(likely), "glance": glance_preview(likely.glance)})
        for likely in likely_systems(data.shapes, known)
    ]


def _as_written(path: str | Path, corrections: Corrections) -> Dataset:
    """The data with the coordinates that stand in the file, whatever they are. They are read as metres of a plane, on which nothing
    is checked against the globe."""
    return first_rows(path, corrections.model_copy(update={"crs": "EPSG:3857"}))
