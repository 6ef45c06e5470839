"""Short documents in the place of a large XML document of features: its beginning, and its halves, of which each is read by a process of its own."""

from dataclasses import dataclass, replace
from pathlib import Path

import numpy as np

from greylatch.formats.kinds import LayerInfo
from greylatch.formats.marks import marked
from greylatch.formats.read_by_gdal import HEAD_ROWS

__all__ = ["ROWS", "Sample", "halves", "sample"]

ROWS = HEAD_ROWS
"""Of each layer: as many as the beginning of any file is read by."""


@dataclass(frozen=True)
class Sample:
    """A short document, and how many rows the layers of the long one have: (name, rows), in the order in which they begin; '' for folders, which
    have no name of their own."""

    document: list[memoryview]
    rows: tuple[tuple[str, int], ...]

    @property
    def empty(self) -> set[str]:
        """Layers of which it is known that there is nothing in them."""
        return {name for name, rows in self.rows if name and not rows}

    def counted(self, layers: list[LayerInfo]) -> list[LayerInfo] | None:
        """The layers of the short document with the rows of the long one; None where that cannot be told."""
        named = dict(self.rows)
        if "" not in named:
            return [replace(layer, rows=max(layer.rows, named.get(layer.name, 0))) for layer in layers]
        cut = [rows for _, rows in self.rows if rows >= ROWS]
        if len(cut) != sum(layer.rows >= ROWS for layer in layers):
            return None
        return [replace(layer, rows=cut.pop(0)) if layer.rows >= ROWS else layer for layer in layers]


def sample(path: str | Path) -> Sample | None:
    """The beginning of a document, and its layers' rows.

    Parameters
    ----------
    path : str | Path
        The file.

    Returns
    -------
    Sample | None
        None for a short document, and for one that is not understood by its marks.
    """
    whole = marked(path)
    if whole is None:
        return None
    dropped = whole.ranks >= ROWS
    document = whole.without(dropped) if dropped.any() else None
    rows = zip(whole.layers, whole.counts.tolist(), strict=True)
    return None if document is None else Sample(document, (*rows, *whole.points))


def halves(path: str | Path, layer: LayerInfo) -> tuple[list[memoryview], list[memoryview]] | None:
    """Two documents with half of a layer's rows each, and one row of every other layer, so that all have the names that they have in the whole.

    Parameters
    ----------
    path : str | Path
        The file.
    layer : LayerInfo
        The layer.

    Returns
    -------
    tuple[list[memoryview], list[memoryview]] | None
        None for a document that is not understood by its marks, or in which they do not tell the layer's rows.
    """
    whole = marked(path)
    if whole is None:
        return None
    counts = whole.counts
    its = counts == layer.rows if "" in whole.layers else np.array([name == layer.name for name in whole.layers])
    if not its.any():
        return None
    # Two folders with as many rows are both cut: one of them is the layer.
    ranks, cut = whole.ranks, its[whole.layer]
    second = ranks >= (counts[whole.layer] + 1) // 2
    one, other = (whole.without(np.where(cut, half, ranks > 0)) for half in (second, ~second))
    return (one, other) if one is not None and other is not None else None
