"""What readers ask of a map without a server: the columns of live layers that filters, time, search and distance read."""

import base64
import gzip
import json
import struct
from collections.abc import Collection, Mapping, Sequence
from pathlib import Path
from typing import Any

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
import shapely
from numpy.typing import NDArray

from greylatch.edition.description import PageReader
from greylatch.edition.plan import Plan
from greylatch.paint.passes import VectorPass
from greylatch.places.bounds import Bounds
from greylatch.places.crs import LONLAT, transformer_between
from greylatch.places.described import described
from greylatch.places.frame import Frame
from greylatch.reading.askable import dated, has_dates, has_ends
from greylatch.reading.card import render_card
from greylatch.sheet.document import Sheet
from greylatch.sheet.reader import ReaderFilter
from greylatch.symbols.icons import icon_png
from greylatch.symbols.ink import UNDRAWN
from greylatch.symbols.key import class_entries
from greylatch.tables.dataset import Dataset, text_of
from greylatch.tables.meaning import likeliest_name

__all__ = ["MISSING", "NO_ENTRY", "ground_places", "packed_columns", "page_reader", "write_columns"]

NEAR, NEAR_DEGREES = 0.02, 2.0**-24
"""Metres and degrees to which pages know where features lie: less is not seen, and parts by powers of two pack well."""
MISSING, NO_ENTRY = 2**32 - 1, 2**16 - 1
"""Codes of a text that is missing, and of a feature at no entry of the key."""
WINDOW = 2_600
"""Px of a large window, across."""
PLACES = 65
"""Places across the map, and as many down, between which pages of maps in other projections find degrees."""


def write_columns(sheet: Sheet, vector: VectorPass, frame: Frame, path: Path) -> bool:
    """Write what readers ask of a layer, packed by gzip (RFC 1952); False where that is nothing.

    Parameters
    ----------
    sheet : Sheet
        The sheet.
    vector : VectorPass
        The drawing pass of the layer.
    frame : Frame
        Where the map lies.
    path : Path
        The file.

    Returns
    -------
    bool
    """
    if not (sheet.reader.asks(vector.layer.id) or vector.layer.card):
        return False
    drawn = vector.ink.mark != UNDRAWN
    places = vector.source.anchors[drawn]
    lonlat = np.column_stack(
        transformer_between(frame.crs, LONLAT).transform(places[:, 0], places[:, 1], errcheck=False)
    )
    entry = None if vector.ink.entry is None else vector.ink.entry[drawn]
    ids = [entry.id for entry in class_entries(vector.layer, vector.ink)]
    data = vector.source.dataset.taking(drawn)
    named = _naming_field(vector)
    asked = [*([named] if named else []), *sheet.reader.fields_of(vector.layer.id)]
    fields = [name for name in dict.fromkeys(asked) if name in data.columns.column_names]
    time = sheet.reader.time
    dates = {time.field, time.until or ""} if time and time.layer == vector.layer.id else set[str]()
    near = 2.0 ** np.floor(np.log2(NEAR * frame.unit))
    places, lonlat = np.round(places / near) * near, np.round(lonlat / NEAR_DEGREES) * NEAR_DEGREES
    columns = packed_columns(data, fields, places, lonlat, entry, ids, named, dates)
    # Static hosts send what they don't know as it is; pages unpack it.
    path.write_bytes(gzip.compress(columns, mtime=0))
    return True


def packed_columns(
    data: Dataset, fields: Sequence[str], places: NDArray[np.float64], lonlat: NDArray[np.float64], entry: NDArray[np.integer[Any]] | None,
    entries: Sequence[str], named: str = "", dates: Collection[str] = (),
) -> bytes:  # fmt: skip
    """A little-endian uint32 length, that many bytes of JSON, then arrays, each beginning at a multiple of eight bytes.

    The JSON says how many rows there are (`n`), the ids of the key's `entries`, by which field a row is `named`, and for each of `fields` its `name`, `title`, `unit`, `decimals` and `kind`:
    'number' (float64, NaN: missing), 'date' (float64 seconds since 1970, as it is written, in no time zone) or 'words' (uint32 places in its
    `values`, 2³²−1: missing). The arrays are `fid` (uint32), `x`, `y`, `lon`, `lat` (float64), `entry` (uint16, 65535: none), then those of the
    fields.

    Parameters
    ----------
    data : Dataset
        The rows.
    fields : Sequence[str]
        Fields of theirs.
    places, lonlat : NDArray[np.float64]
        (n, 2) where they lie, in the map's frame and in degrees.
    entry : NDArray[np.integer[Any]] | None
        (n,) at which of `entries` each stands.
    entries : Sequence[str]
        Ids of the lines of the key.
    named : str
        The field whose values call a row by its name; '' for none.
    dates : Collection[str]
        Fields that are read as dates where they hold texts, as those of JSON do.

    Returns
    -------
    bytes

    Examples
    --------
    >>> rows = Dataset(pa.table({"kind": ["bog", None]}), "points")
    >>> packed = packed_columns(rows, ["kind"], np.zeros((2, 2)), np.zeros((2, 2)), None, [])
    >>> json.loads(packed[4 : 4 + int.from_bytes(packed[:4], "little")])["fields"][0]["values"]
    ['bog']
    """
    descriptions, arrays = [], []
    for name in fields:
        described, values = _column(data, name, name in dates)
        descriptions.append(described)
        arrays.append(values)
    n = len(data)
    known = np.full(n, NO_ENTRY) if entry is None else np.minimum(entry, NO_ENTRY)
    header = {"n": n, "entries": list(entries), "named": named, "fields": descriptions}
    text = json.dumps(header, allow_nan=False, ensure_ascii=False).encode()
    text += b" " * (-(len(text) + 4) % 8)
    first = [data.fids.astype("<u4"), *places.T.astype("<f8"), *lonlat.T.astype("<f8"), known.astype("<u2")]
    return b"".join([struct.pack("<I", len(text)), text, *(_aligned(column.tobytes()) for column in (*first, *arrays))])


def _naming_field(vector: VectorPass) -> str:
    """The field that a layer is lettered with, or else the text that most likely names the features."""
    dataset, lettering = vector.source.dataset, vector.layer.lettering
    columns = dataset.columns
    if lettering is not None and lettering.naming_field in columns.column_names:
        return str(lettering.naming_field)
    texts = (
        field.name for field in columns.schema if pa.types.is_string(field.type) or pa.types.is_large_string(field.type)
    )
    return likeliest_name([(name, "text", dataset.meaning(name).kind) for name in texts]) or ""


def _aligned(data: bytes) -> bytes:
    return data + b"\0" * (-len(data) % 8)


def _column(data: Dataset, name: str, as_dates: bool) -> tuple[dict[str, Any], NDArray[Any]]:
    """What is said of a field, and its values."""
    column, meaning = data.columns[name], data.meaning(name)
    if as_dates:
        column = dated(column)
    description: dict[str, Any] = {"name": name, "title": name, "unit": meaning.unit, "decimals": meaning.decimals}
    if pa.types.is_temporal(column.type):
        moments = pc.cast(pc.cast(column, pa.timestamp("ms"), safe=False), pa.int64())
        return description | {"kind": "date"}, _floats(moments) / 1000
    if pa.types.is_integer(column.type) or pa.types.is_floating(column.type):
        return description | {"kind": "number"}, _floats(column)
    words = pa.array([text_of(value) or None for value in column.to_pylist()], pa.string()).dictionary_encode()
    codes = pc.fill_null(words.indices, -1).to_numpy().astype("<u4")
    return description | {"kind": "words", "values": words.dictionary.to_pylist()}, codes


def _floats(column: pa.ChunkedArray) -> NDArray[np.float64]:
    return np.asarray(pc.fill_null(pc.cast(column, pa.float64(), safe=False), np.nan).to_numpy(), dtype="<f8")


def page_reader(plan: Plan, columns: Mapping[str, pa.Table], box: Bounds) -> PageReader:
    """What the page offers to its readers: of what the sheet asks for, what the layers that are drawn live can answer.

    Parameters
    ----------
    plan : Plan
        The sheet to be published, and how.
    columns : Mapping[str, pa.Table]
        What readers can ask, by layer.
    box : Bounds
        The map's box.

    Returns
    -------
    PageReader
    """
    reader = plan.sheet.reader

    def there(layer: str, *fields: str | None) -> bool:
        return layer in columns and all(field is None or field in columns[layer].column_names for field in fields)

    def answers(each: ReaderFilter) -> bool:
        ends = each.kind != "range" or (there(each.layer, each.field) and has_ends(columns[each.layer][each.field]))
        return ends and there(each.layer, each.field)

    near = reader.near
    if near is not None:
        layers = [layer for layer in near.layers or columns if there(layer)]
        near = near.model_copy(update={"layers": layers}) if layers else None
    time = reader.time if reader.time and there(reader.time.layer, reader.time.field, reader.time.until) else None
    if time is not None and not has_dates(columns[time.layer][time.field]):
        time = None
    wanted = near is not None or reader.controls.measure or reader.controls.locate
    ground = _as_far_as_is_seen(plan, box) if wanted and not described(plan.frame).round else None
    return PageReader(
        controls=reader.controls, key_switches=reader.key_switches, near=near, time=time,
        filters=[each for each in reader.filters if answers(each)],
        search=[each for each in reader.search if there(each.layer, each.field)],
        text=render_card(reader.text, {}, plan.sheet.pictures_from) if reader.text else "", language=reader.language, words=reader.words,
        look=reader.look, key_at=reader.key_at, logo=base64.b64encode(icon_png(reader.logo)).decode() if reader.logo else "",
        logo_words=reader.logo.name if reader.logo else "",
        places=ground_places(plan.frame, ground) if ground else None, places_box=list(ground) if ground else None,
    )  # fmt: skip


def _as_far_as_is_seen(plan: Plan, box: Bounds) -> Bounds:
    """A square around the map, twice as wide, or as wide as a large window at its last level: what is seen of the ground besides."""
    west, south, east, north = box
    window = WINDOW / 2 * plan.frame.grid.resolution(plan.levels.max_zoom)
    x, y, half = (west + east) / 2, (south + north) / 2, max(east - west, north - south, window)
    return x - half, y - half, x + half, y + half


def ground_places(frame: Frame, box: Bounds) -> list[list[float | None]]:
    """Longitude and latitude at `PLACES` × `PLACES` places of a box, from its upper left row by row, in pairs; None where there is no ground.

    Parameters
    ----------
    frame : Frame
        Where the map lies.
    box : Bounds
        In units of the frame.

    Returns
    -------
    list[list[float | None]]
    """
    west, south, east, north = box
    x, y = np.meshgrid(np.linspace(west, east, PLACES), np.linspace(north, south, PLACES))
    lon, lat = transformer_between(frame.crs, LONLAT).transform(x.ravel(), y.ravel(), errcheck=False)
    # Beyond the limits of a projection its formulas go on, and mean nothing.
    inside = shapely.contains_xy(frame.outline, x.ravel(), y.ravel())
    there = np.isfinite(lon) & np.isfinite(lat) & inside
    pairs = np.column_stack([lon, lat]).round(7).tolist()
    return [pair if known else [None, None] for pair, known in zip(pairs, there.tolist(), strict=True)]
