"""Writing Mapbox Vector Tiles, version 2.1: shapes on a tile's whole units as bytes, all features of a tile at once.

The commands of all shapes are computed and written in a few passes over arrays; a protocol-buffers library takes one call for
each number, and a tile of a dense map has a million.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

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
    parts, of_shape = shapely.get_parts(shapes, return_index=True)
    outer = np.ones(len(parts), dtype=bool)
    if kind == "areas":
        rings, of_part = shapely.get_rings(parts, return_index=True)
        outer = np.append(True, of_part[1:] != of_part[:-1]) if len(rings) else np.zeros(0, dtype=bool)
        parts, of_shape = rings, of_shape[of_part]
    xy, owner = shapely.get_coordinates(parts, return_index=True)
    commands, count = _line_commands(_units(xy, bounds), owner, of_shape, outer, len(shapes), kind == "areas")
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
    features, _ = _varints(
        _features(np.asarray(ids, dtype=np.int64)[there], _TYPES[kind], words, tagged, commands, count[there])
    )
    layer = _field(b"\x0a", name.encode()) + features
    layer += b"".join(_field(b"\x1a", key.encode()) for key in properties or {}) + values
    layer += b"\x28" + _varint(EXTENT) + b"\x78\x02"
    return _field(b"\x1a", layer)


def _features(ids: Numbers, kind: int, words: Numbers, tagged: Numbers, commands: Numbers, count: Numbers) -> Numbers:
    """Features as a row of numbers, each to be written as a varint: marks of fields and lengths are no longer than one either."""
    each = np.arange(len(ids))
    drawn = _bytes_of(commands, np.repeat(each, count), len(ids))
    said = _bytes_of(words, np.repeat(each, tagged), len(ids))
    has = tagged > 0
    length = 1 + _size(ids) + np.where(has, 1 + _size(said) + said, 0) + 3 + _size(drawn) + drawn
    numbers = 8 + np.where(has, 2 + tagged, 0) + count
    start = np.cumsum(numbers) - numbers
    out = np.empty(int(numbers.sum()), dtype=np.int64)
    head: tuple[int | Numbers, ...] = (0x12, length, 0x08, ids)
    for at, number in enumerate(head):
        out[start + at] = number
    out[start[has] + 4], out[start[has] + 5] = 0x12, said[has]
    out[np.repeat(start + 6, tagged) + _along(tagged)] = words
    rest = start + 4 + np.where(has, 2 + tagged, 0)
    tail: tuple[int | Numbers, ...] = (0x18, kind, 0x22, drawn)
    for at, number in enumerate(tail):
        out[rest + at] = number
    out[np.repeat(rest + 4, count) + _along(count)] = commands
    return out


def _along(counts: Numbers) -> Numbers:
    """0, 1, 2, … for each count, one after the other."""
    return np.arange(int(counts.sum())) - np.repeat(np.cumsum(counts) - counts, counts)


def _bytes_of(numbers: Numbers, owner: Numbers, n: int) -> Numbers:
    """How many bytes the numbers of each owner take."""
    return np.bincount(owner, weights=_size(numbers), minlength=n).astype(np.int64)


def _size(numbers: Numbers) -> Numbers:
    """Bytes of each number as a varint."""
    size = np.ones(len(numbers), dtype=np.int64)
    for bits in range(7, 63, 7):
        size += numbers >= 1 << bits
    return size


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


def _line_commands(
    xy: Numbers, owner: Numbers, of_shape: Numbers, outer: NDArray[np.bool_], shapes: int, closed: bool
) -> tuple[Numbers, Numbers]:
    """Of lines or rings; `owner` says to which of them a place belongs, `of_shape` to which shape each belongs, `outer` which
    rings are outlines and not holes. What has shrunk to nothing is left out, with the holes of an outline that did."""
    keep = (
        np.append(True, (owner[1:] != owner[:-1]) | (xy[1:] != xy[:-1]).any(axis=1))
        if len(xy)
        else np.zeros(0, dtype=bool)
    )
    xy, owner = xy[keep], owner[keep]
    lines = len(of_shape)
    length = np.bincount(owner, minlength=lines)
    start = np.concatenate([[0], np.cumsum(length)])[:-1]
    if closed:
        area = _twice_area(xy, owner, lines)
        good = (length >= 4) & (area != 0)
        group = np.cumsum(outer) - 1
        good &= good[np.flatnonzero(outer)][group] if lines else good
        # Outlines run clockwise as they are seen, y down, which is a positive area; holes the other way round.
        turn = good & ((area > 0) != outer)
        length = length - 1  # the last place is the first again
    else:
        good, turn = length >= 2, np.zeros(lines, dtype=bool)
    length, line = np.where(good, length, 0), np.flatnonzero(good)
    total = int(length.sum())
    which = np.repeat(np.arange(lines), length)
    offset = np.arange(total) - np.repeat(np.cumsum(length) - length, length)
    back = turn[which] & (offset > 0)  # from the same place, the other way round
    place = start[which] + np.where(back, length[which] - offset, offset)
    path = xy[place]
    shape = of_shape[which]
    fresh = np.append(True, shape[1:] != shape[:-1]) if total else np.zeros(0, dtype=bool)
    steps = path - np.where(fresh[:, None], 0, np.roll(path, 1, axis=0))
    # A line of n places is [move, x, y, line × (n − 1), x, y, …] and, closed, one more.
    numbers = np.where(good, 2 * length + 2 + closed, 0)
    before = np.cumsum(numbers) - numbers
    out = np.empty(int(numbers.sum()), dtype=np.int64)
    at = before[which] + 1 + 2 * offset + (offset > 0)
    out[at], out[at + 1] = _zigzag(steps[:, 0]), _zigzag(steps[:, 1])
    out[before[line]] = MOVE_TO | 1 << 3
    out[before[line] + 3] = LINE_TO | (length[line] - 1) << 3
    if closed:
        out[before[line] + numbers[line] - 1] = CLOSE_PATH | 1 << 3
    return out, np.bincount(of_shape, weights=numbers, minlength=shapes).astype(np.int64)


def _twice_area(xy: Numbers, owner: Numbers, rings: int) -> Numbers:
    """Twice the area of each ring by the surveyor's formula, positive where it runs clockwise as seen with y down."""
    along = owner[1:] == owner[:-1]
    cross = np.where(along, xy[:-1, 0] * xy[1:, 1] - xy[1:, 0] * xy[:-1, 1], 0)
    return np.bincount(owner[:-1], weights=cross, minlength=rings).astype(np.int64)


def _zigzag(steps: Numbers) -> Numbers:
    return np.asarray(steps << 1 ^ steps >> 63)


def _varints(numbers: Numbers) -> tuple[bytes, Numbers]:
    """All numbers as protocol-buffer varints, and where each ends."""
    size = _size(numbers)
    ends = np.cumsum(size)
    out = np.empty(int(ends[-1]), dtype=np.uint8)
    start = ends - size
    for k in range(int(size.max())):
        has = size > k
        more = np.where(size[has] > k + 1, 0x80, 0)
        out[start[has] + k] = (numbers[has] >> 7 * k & 0x7F) | more
    return out.tobytes(), ends


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
