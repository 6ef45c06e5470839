"""Reading FlatGeobuf."""

from pathlib import Path

from greylatch.formats.kinds import Choice
from greylatch.formats.read_by_gdal import read_layer
from greylatch.formats.result import ReadResult

__all__ = ["read"]


def read(path: str | Path, choice: Choice) -> ReadResult:
    """The one layer of a FlatGeobuf.

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
    return read_layer(path, choice)
