"""Reading KML (OGC 12-007), also packed as KMZ: each of its folders is a layer."""

import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import replace
from pathlib import Path

from greylatch.errors import BadFile
from greylatch.formats import marked_up
from greylatch.formats.kinds import Choice, LayerInfo, chosen_layer
from greylatch.formats.result import ReadResult
from greylatch.formats.zipped import unpack

__all__ = ["layers", "read"]


def layers(path: str | Path) -> list[LayerInfo]:
    """The folders in which something stands.

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
    with _unpacked(path) as documents:
        return [layer for document in documents for layer in marked_up.layers(document)]


def read(path: str | Path, choice: Choice) -> ReadResult:
    """The placemarks of a folder.

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
    with _unpacked(path) as documents:
        by_document = [(document, marked_up.layers(document)) for document in documents]
        layer, notes = chosen_layer([layer for _, layers in by_document for layer in layers], choice)
        document = next(document for document, layers in by_document if layer in layers)
        result = marked_up.read(document, replace(choice, layer=layer.name))
        result.notes[:0] = notes
        return result


@contextmanager
def _unpacked(path: str | Path) -> Iterator[list[Path]]:
    """The document itself; of a KMZ all documents in it, since the first may only name the others."""
    with open(path, "rb") as file:
        if file.read(4) != b"PK\x03\x04":
            yield [Path(path)]
            return
    with tempfile.TemporaryDirectory(prefix="greylatch-") as folder:
        documents = unpack(path, folder, {".kml"})
        if not documents:
            raise BadFile("The KMZ holds no KML.")
        yield documents
