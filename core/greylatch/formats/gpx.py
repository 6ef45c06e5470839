"""Reading GPX: waypoints, routes, tracks, and the points of both."""

from pathlib import Path

from greylatch.formats.kinds import Choice, LayerInfo
from greylatch.formats.marked_up import layers_marked_up, read_marked_up
from greylatch.formats.result import ReadResult

__all__ = ["layers", "read"]


def layers(path: str | Path) -> list[LayerInfo]:
    """Those of the five layers of GPX in which something stands.

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
    return [layer for layer in layers_marked_up(path, ".gpx") if layer.rows]


def read(path: str | Path, choice: Choice) -> ReadResult:
    """A layer of a GPX file.

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
    return read_marked_up(path, ".gpx", choice)
