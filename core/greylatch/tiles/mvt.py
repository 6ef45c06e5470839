"""Writing Mapbox Vector Tiles, version 2.1: shapes on a tile's whole units as bytes, all features of a tile at once.

The commands of all shapes are worked out and written by compiled loops; a protocol-buffers library takes one call for each number,
and a tile of a dense map has a million.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numba
import numpy as np
import shapely
from numpy.typing import NDArray

from greylatch.places.bounds import Bounds
from greylatch.tables.dataset import Kind, Shapes

__all__ = ["EXTENT", "Properties", "Property", "encode_points", "encode_shapes"]

EXTENT = 4096
"""Units along the side of a tile."""
MOVE_TO, LINE_TO, CLOSE_PATH = 1, 2, 7
_TYPES = {"points": 1, "lines": 2, "areas": 3}
Value = str | int | float | bool
Numbers = NDArray[np.int64]


@dataclass(frozen=True)
class Property:
    """A property of many features: for each the position of its value among `values`, -1 for none."""

    codes: NDArray[np.int32]
    values: Sequence[Value] | NDArray[np.float64]
    written: dict[int, bytes] = field(default_factory=dict, repr=False, compare=False)
    """Values as they stand in tiles, by position: most come again in another tile."""

    @classmethod
    def of(cls, of_features: Sequence[Value | None]) -> "Property":
        """From a value per feature; None is left out.

        >>> Property.of(["peat", None, "peat"]).codes.tolist()
        [0, -1, 0]
        """
        # 1, 1.0 and True are the same key of a dictionary, and are not the same value.
        known: dict[tuple[type, Value], int] = {}
        codes = [-1 if value is None else known.setdefault((type(value), value), len(known)) for value in of_features]
        return cls(np.array(codes, dtype=np.int32), [value for _, value in known])

    @classmethod
    def of_numbers(cls, of_features: NDArray[np.float64]) -> "Property":
        """From a number per feature; what is not finite is left out."""
        values, codes = np.unique(of_features, return_inverse=True)
        return cls(np.where(np.isfinite(of_features), codes, -1).astype(np.int32), values)

    def at(self, rows: NDArray[np.intp]) -> "Property":
        """Of some of the features."""
        return Property(self.codes[rows], self.values, self.written)

    def listed(self) -> list[Value | None]:
        """A value per feature."""
        values = self.values.tolist() if isinstance(self.values, np.ndarray) else self.values
        return [None if code < 0 else values[code] for code in self.codes.tolist()]


Properties = Mapping[str, Property]


def encode_shapes(
    name: str, kind: Kind, shapes: Shapes, bounds: Bounds, ids: Sequence[int], properties: Properties | None = None
) -> bytes:  # fmt: skip
    """A tile of `bounds` with one layer `name`: lines or areas with their `ids` and, where given, `properties`, in the
    order given. What has shrunk to nothing on whole units is left out; empty where all has.

    Parameters
    ----------
    name : str
        The name.
    kind : Kind
        Areas, lines or points.
    shapes : Shapes
        The shapes.
    bounds : Bounds
        West, south, east, north, in the frame.
    ids : Sequence[int]
        Feature ids.
    properties : Properties | None
        What each feature says, by name.

    Returns
    -------
    bytes

    Examples
    --------
    >>> len(encode_shapes("peat", "areas", np.array([shapely.box(0, 0, 1, 1)]), (0, 0, 2, 2), [7]))
    37
    """
    lines, of_shape = shapely.get_parts(shapes, return_index=True)
    outer = np.ones(len(lines), dtype=bool)
    if kind == "areas":
        rings, of_part = shapely.get_rings(lines, return_index=True)
        outer = np.append(True, of_part[1:] != of_part[:-1]) if len(rings) else np.zeros(0, dtype=bool)
        lines, of_shape = rings, of_shape[of_part]
    begins = np.append(0, np.cumsum(shapely.get_num_coordinates(lines)))
    xy = _units(shapely.get_coordinates(lines), bounds)
    commands, count = _line_commands(xy, begins, of_shape, outer, len(shapes), kind == "areas")
    return _layer(name, kind, commands, count, ids, properties)


def encode_points(
    name: str, xy: NDArray[np.float64], owner: Numbers, bounds: Bounds, ids: Sequence[int], properties: Properties | None = None
) -> bytes:  # fmt: skip
    """As `encode_shapes`, of points: the place `xy[i]` belongs to feature `owner[i]`; the places of a feature lie side by side.

    Parameters
    ----------
    name : str
        The name.
    xy : NDArray[np.float64]
        (n, 2) places.
    owner : Numbers
        To which feature each place belongs.
    bounds : Bounds
        West, south, east, north, in the frame.
    ids : Sequence[int]
        Feature ids.
    properties : Properties | None
        What each feature says, by name.

    Returns
    -------
    bytes
    """
    commands, count = _point_commands(_units(xy, bounds), owner, len(ids))
    return _layer(name, "points", commands, count, ids, properties)


def _units(xy: NDArray[np.float64], bounds: Bounds) -> Numbers:
    scale = EXTENT / (bounds[2] - bounds[0])
    return np.round((xy - (bounds[0], bounds[3])) * (scale, -scale)).astype(np.int64)


def _layer(
    name: str, kind: Kind, commands: Numbers, count: Numbers, ids: Sequence[int], properties: Properties | None
) -> bytes:  # fmt: skip
    """A tile with one layer; feature i takes the next `count[i]` of `commands`."""
    if not len(commands):
        return b""
    there = np.flatnonzero(count)
    words, tagged, values = _tags(properties or {}, there)
    own = np.asarray(ids, dtype=np.int64)[there]
    features = _features(own, _TYPES[kind], words, tagged, commands, count[there])
    layer = _field(b"\x0a", name.encode()) + features.tobytes()
    layer += b"".join(_field(b"\x1a", key.encode()) for key in properties or {}) + values
    layer += b"\x28" + _varint(EXTENT) + b"\x78\x02"
    return _field(b"\x1a", layer)


@numba.njit(cache=True, nogil=True)
def _features(ids, kind, words, tagged, commands, count):  # type: ignore[no-untyped-def]
    """Features as bytes: each takes the next `tagged` of the `words` of its tags, and the next `count` of `commands`."""
    said, drawn, lengths = np.zeros_like(count), np.zeros_like(count), np.zeros_like(count)
    word = command = total = 0
    for i in range(len(ids)):
        for _ in range(tagged[i]):
            said[i] += _size(words[word])
            word += 1
        for _ in range(count[i]):
            drawn[i] += _size(commands[command])
            command += 1
        lengths[i] = 1 + _size(ids[i]) + 3 + _size(drawn[i]) + drawn[i]
        if tagged[i]:
            lengths[i] += 1 + _size(said[i]) + said[i]
        total += 1 + _size(lengths[i]) + lengths[i]
    out = np.empty(total, dtype=np.uint8)
    word = command = at = 0
    for i in range(len(ids)):
        at = _put(out, _put(out, at, 0x12), lengths[i])
        at = _put(out, _put(out, at, 0x08), ids[i])
        if tagged[i]:
            at = _put(out, _put(out, at, 0x12), said[i])
            for _ in range(tagged[i]):
                at = _put(out, at, words[word])
                word += 1
        at = _put(out, _put(out, at, 0x18), kind)
        at = _put(out, _put(out, at, 0x22), drawn[i])
        for _ in range(count[i]):
            at = _put(out, at, commands[command])
            command += 1
    return out


@numba.njit(cache=True, nogil=True)
def _size(number):  # type: ignore[no-untyped-def]
    """Bytes of a number as a varint."""
    size = 1
    while number > 0x7F:
        number >>= 7
        size += 1
    return size


@numba.njit(cache=True, nogil=True)
def _put(out, at, number):  # type: ignore[no-untyped-def]
    """Write a number as a protocol-buffer varint; gives the place behind it."""
    while number > 0x7F:
        out[at] = number & 0x7F | 0x80
        number >>= 7
        at += 1
    out[at] = number
    return at + 1


def _point_commands(xy: Numbers, owner: Numbers, shapes: int) -> tuple[Numbers, Numbers]:
    count = np.bincount(owner, minlength=shapes)
    first = np.append(True, owner[1:] != owner[:-1]) if len(owner) else np.zeros(0, dtype=bool)
    steps = xy - np.where(first[:, None], 0, np.roll(xy, 1, axis=0))
    head = np.flatnonzero(first)
    numbers = np.where(count > 0, 1 + 2 * count, 0)
    out = np.empty(int(numbers.sum()), dtype=np.int64)
    at = np.arange(len(owner)) * 2 + np.cumsum(first)
    out[at], out[at + 1] = _zigzag(steps[:, 0]), _zigzag(steps[:, 1])
    out[at[head] - 1] = MOVE_TO | count[owner[head]] << 3
    return out, numbers


@numba.njit(cache=True, nogil=True)
def _line_commands(xy, begins, of_shape, outer, shapes, closed):  # type: ignore[no-untyped-def]
    """Of lines or rings: line i has the places `begins[i]` to `begins[i + 1]`; `of_shape` says to which shape it belongs, `outer`
    which rings are outlines and not holes. What has shrunk to nothing is left out, with the holes of an outline that did."""
    # A line of n places is [move, x, y, line × (n − 1), x, y, …] and, closed, one more.
    out = np.empty(2 * len(xy) + 3 * len(of_shape), dtype=np.int64)
    count, path = np.zeros(shapes, dtype=np.int64), np.empty_like(xy)
    at, before, outlined = 0, -1, False
    x = y = 0
    for line in range(len(of_shape)):
        n = _distinct(xy, begins[line], begins[line + 1], path)
        turned = False
        if closed:
            area = _twice_area(path, n)
            good = n >= 4 and area != 0
            if outer[line]:
                outlined = good
            if not (good and outlined):
                continue
            # Outlines run clockwise as they are seen, y down, which is a positive area; holes the other way round.
            turned = (area > 0) != outer[line]
            n -= 1  # the last place is the first again
        elif n < 2:
            continue
        shape, start = of_shape[line], at
        if shape != before:
            x = y = 0
        before = shape
        for k in range(n):
            if k < 2:
                out[at] = MOVE_TO | 1 << 3 if k == 0 else LINE_TO | (n - 1) << 3
                at += 1
            place = n - k if turned and k else k  # from the same place, the other way round
            out[at], out[at + 1] = _zigzag(path[place, 0] - x), _zigzag(path[place, 1] - y)
            x, y = path[place]
            at += 2
        if closed:
            out[at] = CLOSE_PATH | 1 << 3
            at += 1
        count[shape] += at - start
    return out[:at], count


@numba.njit(cache=True, nogil=True)
def _distinct(xy, first, end, path):  # type: ignore[no-untyped-def]
    """Put the places of a line into `path` but those that repeat the one before; gives how many."""
    n = 0
    for k in range(first, end):
        if n == 0 or xy[k, 0] != path[n - 1, 0] or xy[k, 1] != path[n - 1, 1]:
            path[n] = xy[k]
            n += 1
    return n


@numba.njit(cache=True, nogil=True)
def _twice_area(path, n):  # type: ignore[no-untyped-def]
    """Twice the area of a ring of `n` places by the surveyor's formula, positive where it runs clockwise as seen with y down."""
    area = 0
    for k in range(n - 1):
        area += path[k, 0] * path[k + 1, 1] - path[k + 1, 0] * path[k, 1]
    return area


@numba.njit(cache=True, nogil=True)
def _zigzag(steps):  # type: ignore[no-untyped-def]
    return steps << 1 ^ steps >> 63


def _varint(number: int) -> bytes:
    out = bytearray()
    while number > 0x7F:
        out.append(number & 0x7F | 0x80)
        number >>= 7
    out.append(number)
    return bytes(out)


def _field(tag: bytes, contents: bytes) -> bytes:
    return tag + _varint(len(contents)) + contents


def _tags(properties: Properties, rows: NDArray[np.intp]) -> tuple[Numbers, Numbers, bytes]:
    """The tags of some features one after the other, how many each has, and the values that they point at as bytes."""
    pairs = np.full((len(rows), len(properties), 2), -1, dtype=np.int64)
    values, known = [], 0
    for key, property_ in enumerate(properties.values()):
        codes = property_.codes[rows]
        used = np.unique(codes[codes >= 0])
        pairs[:, key, 0] = key
        pairs[:, key, 1] = np.where(codes >= 0, known + np.searchsorted(used, codes), -1)
        values.append(_values(property_, used))
        known += len(used)
    has = pairs[..., 1] >= 0
    return pairs[has].ravel(), 2 * has.sum(axis=1), b"".join(values)


def _values(shared: Property, used: NDArray[np.int32]) -> bytes:
    values, written = shared.values, shared.written
    if not isinstance(values, np.ndarray):
        codes = used.tolist()
        for code in codes:
            if code not in written:
                written[code] = _field(b"\x22", _value(values[code]))
        return b"".join([written[code] for code in codes])
    out = np.empty((len(used), 11), dtype=np.uint8)
    out[:, :3] = 0x22, 9, 0x19
    out[:, 3:] = values[used].astype("<f8").view(np.uint8).reshape(-1, 8)
    return out.tobytes()


def _value(value: Value) -> bytes:
    if isinstance(value, bool):
        return b"\x38" + _varint(value)
    if isinstance(value, int):
        return b"\x28" + _varint(value) if value >= 0 else b"\x30" + _varint(value << 1 ^ value >> 63)
    if isinstance(value, float):
        return b"\x19" + np.float64(value).tobytes()
    return _field(b"\x0a", value.encode())
