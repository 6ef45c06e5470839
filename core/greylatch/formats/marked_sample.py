"""The beginning of a large XML document of features: of each layer the first rows, and how many it has, by the marks of its elements.

Drivers go through all of a document whatever they are asked; this one is short.
"""

import re
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

from greylatch.formats.kinds import HEAD, LayerInfo
from greylatch.formats.xml_head import xml_root

__all__ = ["ROWS", "Sample", "sample"]

ROWS = 1_000
"""Of each layer."""
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
            return [_with_rows(layer, max(layer.rows, named.get(layer.name, 0))) for layer in layers]
        cut = [rows for _, rows in self.rows if rows >= ROWS]
        if len(cut) != sum(layer.rows >= ROWS for layer in layers):
            return None
        return [_with_rows(layer, cut.pop(0) if layer.rows >= ROWS else layer.rows) for layer in layers]


def _with_rows(layer: LayerInfo, rows: int) -> LayerInfo:
    return LayerInfo(layer.name, layer.kind, rows, layer.about)


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
    if first is None:
        return None
    prefix = first[1]
    counts: dict[object, int] = {}
    folders: list[int] = []
    kept, done = [], 0
    names = "|".join((*marks.rows, *marks.folders)).encode()
    token = re.compile(rb"<(/?)%s(%s)(?=[\s>/])" % (re.escape(prefix), names))
    for start, end, name, closes in _elements(data, token, prefix, marks):
        if name in marks.folders:
            if not closes:
                counts[len(counts)] = 0
                folders.append(len(counts) - 1)
            elif not folders:
                return None
            else:
                folders.pop()
            continue
        layer = folders[-1] if folders else _name_of(data, start, name, marks)
        counts[layer] = counts.get(layer, 0) + 1
        if counts[layer] > ROWS:
            # Blanks between rows go with them: of a million line ends a driver makes no sense.
            if not kept or not data[done:start].isspace():
                kept.append(data[done:start])
            done = end
    if folders or not kept:
        return None
    rows = [(name if isinstance(name, str) else "", many) for name, many in counts.items()]
    rows += [(layer, data.count(b"<%s%s" % (prefix, mark.encode()))) for mark, layer in (marks.points or {}).items()]
    return Sample(b"".join([*kept, data[done:]]), tuple(rows))


def _elements(
    data: bytes, token: re.Pattern[bytes], prefix: bytes, marks: Marks
) -> Iterator[tuple[int, int, str, bool]]:
    """From where to where, the name, and whether it is an end: of rows as wholes, of folders their tags."""
    at = 0
    while found := token.search(data, at):
        name, start = found[2].decode(), found.start()
        at = data.find(b">", found.end()) + 1
        if not at:
            return
        if name in marks.rows:
            if found[1]:  # the end of none
                continue
            if data[at - 2 : at - 1] != b"/":
                closing = data.find(b"</%s%s" % (prefix, found[2]), at)
                at = data.find(b">", closing) + 1
                if closing < 0 or not at:
                    return
        elif data[at - 2 : at - 1] == b"/":
            yield start, at, name, False
            yield at, at, name, True
            continue
        yield start, at, name, bool(found[1])


_INNER = re.compile(rb">\s*<(?:[\w.-]+:)?([\w.-]+)")


def _name_of(data: bytes, start: int, name: str, marks: Marks) -> object:
    if marks.named:
        return marks.named[name]
    inner = _INNER.search(data, start, start + 2_000) if marks.wrapped else None
    return inner[1].decode() if inner else -1
