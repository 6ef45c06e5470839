"""Reading GML: each of its kinds of feature is a layer."""

from pathlib import Path

from greylatch.formats.kinds import Choice, LayerInfo
from greylatch.formats.marked_up import layers_marked_up, read_marked_up
from greylatch.formats.result import ReadResult

__all__ = ["layers", "read"]


def layers(path: str | Path) -> list[LayerInfo]:
    """The kinds of feature in a GML document.

    Parameters
    ----------
    path : str | Path
        The file.

    Returns
    -------
    list[LayerInfo]

    Raises
    ------
    BadFile
        For what cannot be read.
    """
    return layers_marked_up(path, ".gml")


def read(path: str | Path, choice: Choice) -> ReadResult:
    """The features of a kind in a GML document.

    Parameters
    ----------
    path : str | Path
        The file.
    choice : Choice
        What a person chose of it.

    Returns
    -------
    ReadResult

    Raises
    ------
    BadFile
        For what cannot be read.
    """
    return read_marked_up(path, ".gml", choice, ("lowerCorner", "upperCorner", "Envelope_srsName"))
