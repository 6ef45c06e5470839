"""Where the rows of a large XML document of features stand, by the marks of its elements, and shorter documents with some of them left out.

Drivers go through all of a document whatever they are asked, and build all of it in memory; nothing here does.
"""

import mmap
import re
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from greylatch.formats.kinds import HEAD
from greylatch.formats.xml_head import xml_root

__all__ = ["Marked", "marked"]

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
class Marked:
    """A document with the places of its rows.

    Parameters
    ----------
    data : mmap.mmap
        The document.
    layers : tuple[str, ...]
        Their names, in the order in which they begin; '' for folders, whose names marks do not tell.
    starts, layer : NDArray
        Of each row where it begins, and the index of its layer.
    piece : NDArray
        Of each row the number of folders' tags before it: rows of one piece have nothing of others between them.
    points : tuple[tuple[str, int], ...]
        Layers of the points of rows, and how many they have.
    """

    data: mmap.mmap
    layers: tuple[str, ...]
    starts: NDArray[np.int64]
    layer: NDArray[np.intp]
    piece: NDArray[np.intp]
    points: tuple[tuple[str, int], ...]

    @property
    def counts(self) -> NDArray[np.intp]:
        """How many rows each layer has."""
        return np.bincount(self.layer, minlength=len(self.layers))

    @property
    def ranks(self) -> NDArray[np.intp]:
        """The how manieth of its layer each row is, counted from 0."""
        order = np.argsort(self.layer, kind="stable")
        counts = self.counts
        ranks = np.empty(len(self.layer), dtype=np.intp)
        ranks[order] = np.arange(len(order)) - np.repeat(np.cumsum(counts) - counts, counts)
        return ranks

    def without(self, dropped: NDArray[np.bool_]) -> list[memoryview] | None:
        """The document without some of its rows.

        Parameters
        ----------
        dropped : NDArray[np.bool_]
            Of each row whether it is left out.

        Returns
        -------
        list[memoryview] | None
            What stays of it, piece by piece; None where a row's end is not found.
        """
        # Runs of rows that go, each of them within a piece: what stands between them goes with them.
        breaks = np.flatnonzero((dropped[1:] != dropped[:-1]) | (self.piece[1:] != self.piece[:-1])) + 1
        begins, ends = np.append(0, breaks), np.append(breaks, len(dropped))
        whole = memoryview(self.data)
        kept, done = [], 0
        for begin, end in zip(begins[dropped[begins]].tolist(), ends[dropped[begins]].tolist(), strict=True):
            past = _row_end(self.data, int(self.starts[end - 1]))
            if past is None:
                return None
            kept.append(whole[done : self.starts[begin]])
            done = past
        return [*kept, whole[done:]]


def marked(path: str | Path) -> Marked | None:
    """The rows of a document.

    Parameters
    ----------
    path : str | Path
        The file.

    Returns
    -------
    Marked | None
        None for a short document, and for one that is not understood by its marks.
    """
    state = Path(path).stat()
    return _marked(str(path), state.st_mtime_ns, state.st_size) if state.st_size >= LARGE else None


@lru_cache(maxsize=1)
def _marked(path: str, changed: int, size: int) -> Marked | None:
    """Remembered for a state of a file: it is asked for its beginning, and then for its halves."""
    with open(path, "rb") as file:
        data = mmap.mmap(file.fileno(), 0, access=mmap.ACCESS_READ)
    marks = MARKS.get(xml_root(data[:HEAD]) or "")
    # All elements of a document have one prefix, or none.
    first = re.search(rb"<((?:[\w.-]+:)?)(?:%s)[\s>/]" % "|".join(marks.rows).encode(), data) if marks else None
    if marks is None or first is None:
        return None
    prefix = first[1]
    tags = _folder_tags(data, prefix, marks)
    if tags is None:
        return None
    starts, names = _rows(data, prefix, marks)
    piece = np.searchsorted([at for at, _ in tags], starts)
    if marks.folders:
        # Layers are the folders, of which each piece between two tags belongs to one.
        layers = [""] * (1 + max((folder for _, folder in tags), default=-1))
        layer = np.array([-1, *(folder for _, folder in tags)])[piece]
    else:
        layers = list(marks.named.values()) if marks.named else list(dict.fromkeys(names))
        layer = np.array([layers.index(name) for name in names], dtype=np.intp)
    if (layer < 0).any():
        return None
    points = [(name, len(_places(data, b"<" + prefix + mark.encode()))) for mark, name in (marks.points or {}).items()]
    return Marked(data, tuple(layers), starts, layer, piece, tuple(points))


def _rows(data: mmap.mmap, prefix: bytes, marks: Marks) -> tuple[NDArray[np.int64], list[str]]:
    """Where rows begin, and what their layers are called, where these are not folders."""
    if marks.wrapped:
        tags = b"|".join(re.escape(prefix + row.encode()) for row in marks.rows)
        openings = list(re.finditer(rb"<(?:%s)(?:\s[^>]*)?>\s*<(?:[\w.-]+:)?([\w.-]+)" % tags, data))
        return np.array([row.start() for row in openings], dtype=np.int64), [row[1].decode() for row in openings]
    places = [np.array(_places(data, b"<" + prefix + row.encode()), dtype=np.int64) for row in marks.rows]
    starts = np.concatenate(places)
    order = np.argsort(starts)
    called = [(marks.named or {}).get(row, "") for row in marks.rows]
    rows = np.repeat(np.arange(len(places)), [len(its) for its in places])[order]
    return starts[order], [called[row] for row in rows.tolist()]


def _places(data: mmap.mmap, tag: bytes) -> list[int]:
    """Where the tag of an element begins, and not that of one with a longer name."""
    return [match.start() for match in re.finditer(re.escape(tag) + rb"(?=[\s>/])", data)]


def _folder_tags(data: mmap.mmap, prefix: bytes, marks: Marks) -> list[tuple[int, int]] | None:
    """Where folders begin and end, and which of them goes on there, by its number; -1 for none. None where they are not nested in one another."""
    tags_at = []
    for name in marks.folders:
        tag = prefix + name.encode()
        for at in _places(data, b"<" + tag):
            end = data.find(b">", at)
            tags_at.append((at, True))
            if data[end - 1 : end] == b"/":
                tags_at.append((end, False))
        tags_at += [(at, False) for at in _places(data, b"</" + tag)]
    tags, open_, many = [], [-1], 0
    for at, opens in sorted(tags_at):
        if opens:
            open_.append(many)
            many += 1
        elif len(open_) == 1:
            return None
        else:
            open_.pop()
        tags.append((at, open_[-1]))
    return tags if len(open_) == 1 else None


def _row_end(data: mmap.mmap, start: int) -> int | None:
    """Where the element ends that begins there; None for one that does not."""
    head = data.find(b">", start)
    if head < 0:
        return None
    if data[head - 1 : head] == b"/":
        return head + 1
    name = re.compile(rb"<([^\s>/]+)").match(data, start)
    closing = re.compile(rb"</%s\s*>" % re.escape(name[1])).search(data, head) if name else None
    return closing.end() if closing else None
