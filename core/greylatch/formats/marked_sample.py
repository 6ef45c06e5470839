"""The beginning of a large XML document of features: of each layer the first rows, and how many it has, by the marks of its elements.

Drivers go through all of a document whatever they are asked; this one is short.
"""

import re
from collections.abc import Iterator
from dataclasses import dataclass, replace
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from greylatch.formats.kinds import HEAD, LayerInfo
from greylatch.formats.read_by_gdal import HEAD_ROWS
from greylatch.formats.xml_head import xml_root

__all__ = ["ROWS", "Sample", "sample"]

ROWS = HEAD_ROWS
"""Of each layer: as many as the beginning of any file is read by."""
LARGE = 2 * 1024**2
"""Bytes from which on it is worth while."""


@dataclass(frozen=True)
class Marks:
    """By which elements rows are told: `rows` hold one each, and stand in `folders`, each of which is a layer, or in one for each name; of a row
    that is `wrapped` the layer is named after what stands in it. `points` of rows are rows of layers of their own."""

    rows: tuple[str, ...]
    folders: tuple[str, ...] = ()
    wrapped: bool = False
    named: dict[str, str] | None = None
    points: dict[str, str] | None = None


MARKS = {
    "kml": Marks(("Placemark",), folders=("Folder", "Document")),
    "gpx": Marks(
        ("wpt", "rte", "trk"), named={"wpt": "waypoints", "rte": "routes", "trk": "tracks"},
        points={"rtept": "route_points", "trkpt": "track_points"},
    ),
    "FeatureCollection": Marks(("featureMember", "member"), wrapped=True),
}  # fmt: skip
"""By the root of a document: KML (OGC 12-007r2), GPX 1.1, GML (OGC 07-036, 9.9; WFS 2.0, OGC 09-025r2)."""


@dataclass(frozen=True)
class Sample:
    """A short document, and how many rows the layers of the long one have: (name, rows), in the order in which they begin; '' for folders, which
    have no name of their own."""

    document: bytes
    rows: tuple[tuple[str, int], ...]

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
    if Path(path).stat().st_size < LARGE:
        return None
    data = Path(path).read_bytes()
    marks = MARKS.get(xml_root(data[:HEAD]) or "")
    return _sampled(data, marks) if marks else None


def _sampled(data: bytes, marks: Marks) -> Sample | None:
    # All elements of a document have one prefix, or none.
    first = re.search(rb"<((?:[\w.-]+:)?)(?:%s)[\s>/]" % "|".join(marks.rows).encode(), data)
    tags = _folder_tags(data, first[1], marks) if first else None
    if first is None or tags is None:
        return None
    rows = sorted(row for name in marks.rows for row in _rows(data, first[1] + name.encode(), name, marks))
    starts = np.array([start for start, _ in rows], dtype=np.int64)
    piece = np.searchsorted([at for at, _ in tags], starts)
    if marks.folders:
        # Layers are the folders, of which each piece between two tags belongs to one.
        layers = [""] * (1 + max((folder for _, folder in tags), default=-1))
        layer = np.array([-1, *(folder for _, folder in tags)])[piece]
    else:
        names = [name for _, name in rows]
        layers = list(dict.fromkeys(names))
        layer = np.array([layers.index(name) for name in names])
    if (layer < 0).any():
        return None
    counts = np.bincount(layer, minlength=len(layers))
    dropped = _ranks(layer) >= ROWS
    # Runs of rows that go, each of them within a piece: what stands between them goes with them.
    breaks = np.flatnonzero((dropped[1:] != dropped[:-1]) | (piece[1:] != piece[:-1])) + 1
    kept, done = [], 0
    for run in np.split(np.arange(len(starts)), breaks):
        if not dropped[run[0]]:
            continue
        end = _row_end(data, int(starts[run[-1]]))
        if end is None:
            return None
        kept.append(data[done : starts[run[0]]])
        done = end
    if not kept:
        return None
    many = list(zip(layers, counts.tolist(), strict=True))
    many += [(name, data.count(b"<" + first[1] + mark.encode())) for mark, name in (marks.points or {}).items()]
    return Sample(b"".join([*kept, data[done:]]), tuple(many))


def _ranks(layer: NDArray[np.intp]) -> NDArray[np.intp]:
    """The how manieth of its layer each row is, counted from 0."""
    order = np.argsort(layer, kind="stable")
    sorted_layers = layer[order]
    firsts = np.flatnonzero(np.append(True, sorted_layers[1:] != sorted_layers[:-1]))
    ranks = np.empty(len(layer), dtype=np.intp)
    ranks[order] = np.arange(len(layer)) - np.repeat(firsts, np.diff(np.append(firsts, len(layer))))
    return ranks


def _rows(data: bytes, tag: bytes, name: str, marks: Marks) -> Iterator[tuple[int, str]]:
    """Where rows begin, and what their layer is called."""
    if marks.wrapped:
        for found in re.finditer(rb"<%s(?:\s[^>]*)?>\s*<(?:[\w.-]+:)?([\w.-]+)" % re.escape(tag), data):
            yield found.start(), found[1].decode()
        return
    for at in _places(data, b"<" + tag):
        yield at, (marks.named or {}).get(name, "")


def _places(data: bytes, tag: bytes) -> Iterator[int]:
    """Where the tag of an element begins, and not that of one with a longer name."""
    at = data.find(tag)
    while at >= 0:
        if data[at + len(tag) : at + len(tag) + 1] in _AFTER:
            yield at
        at = data.find(tag, at + len(tag))


_AFTER = (b" ", b">", b"/", b"\n", b"\r", b"\t")


def _folder_tags(data: bytes, prefix: bytes, marks: Marks) -> list[tuple[int, int]] | None:
    """Where folders begin and end, and which of them goes on there, by its number; -1 for none. None where they are not nested in one another."""
    found = []
    for name in marks.folders:
        tag = prefix + name.encode()
        for at in _places(data, b"<" + tag):
            end = data.find(b">", at)
            found.append((at, True))
            if data[end - 1 : end] == b"/":
                found.append((end, False))
        found += [(at, False) for at in _places(data, b"</" + tag)]
    tags, open_, many = [], [-1], 0
    for at, opens in sorted(found):
        if opens:
            open_.append(many)
            many += 1
        elif len(open_) == 1:
            return None
        else:
            open_.pop()
        tags.append((at, open_[-1]))
    return tags if len(open_) == 1 else None


def _row_end(data: bytes, start: int) -> int | None:
    """Where the element ends that begins there; None for one that does not."""
    head = data.find(b">", start)
    if head < 0:
        return None
    if data[head - 1 : head] == b"/":
        return head + 1
    name = re.compile(rb"<([^\s>/]+)").match(data, start)
    closing = data.find(b"</" + name[1], head) if name else -1
    end = data.find(b">", closing)
    return end + 1 if closing >= 0 and end >= 0 else None
