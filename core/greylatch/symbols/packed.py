"""Ink as bytes, as browsers read it: a description, then plain arrays that they use without copying."""

import json
import struct
from collections.abc import Mapping
from dataclasses import asdict
from typing import Any

import numpy as np
from numpy.typing import NDArray

from greylatch.symbols.ink import MOST, SLACK, Ink
from greylatch.tables.dataset import Fids, Kind

__all__ = ["packed_ink"]

ALIGNED = 4
"""Each array begins at a multiple of so many bytes."""


def packed_ink(ink: Ink, kind: Kind, fids: Fids, described: Mapping[str, Any] | None = None) -> bytes:
    """A little-endian uint32 length, that many bytes of JSON, then the arrays.

    The JSON, padded with spaces, says `kind`, `palette`, how many features there are (`n`), and in `columns` which arrays follow, in
    that order, each of n values and beginning at a multiple of four bytes: `mark` (uint16 palette positions, 65535: not drawn), and
    where they vary `ramp` (uint16 positions in `colours`, 65535: as the mark), `size`, `ground` (units of the map in place of px, NaN:
    px; no mark is drawn larger than `most` px then), `angle`, `opacity` (float32), `shares`
    (float32, as many per feature as there are `wedges`), `order` (int32 rows in drawing order) and `fid` (int32; without, row i
    is feature i). `slack` is px by which a pointer may miss a mark.

    Parameters
    ----------
    ink : Ink
        What each feature looks like.
    kind : Kind
        Areas, lines or points.
    fids : Fids
        Feature ids of the rows.
    described : Mapping[str, Any] | None
        Said as well.

    Returns
    -------
    bytes

    Examples
    --------
    >>> result = packed_ink(Ink((), np.array([65535], dtype=np.uint16)), "areas", np.array([0]))
    >>> json.loads(result[4 : 4 + int.from_bytes(result[:4], "little")])["columns"]
    ['mark']
    """
    columns: dict[str, NDArray[Any] | None] = {
        "mark": ink.mark.astype("<u2"),
        "ramp": None if ink.ramp is None else ink.ramp.astype("<u2"),
        "size": _floats(ink.size),
        "ground": _floats(ink.ground),
        "angle": _floats(ink.angle),
        "opacity": _floats(ink.opacity),
        "shares": _floats(ink.wedges.shares if ink.wedges else None),
        "order": None if ink.order is None else ink.order.astype("<i4"),
        "fid": None if np.array_equal(fids, np.arange(len(fids))) else fids.astype("<i4"),
    }
    there = {name: column for name, column in columns.items() if column is not None}
    header = {
        **(described or {}), "kind": kind, "n": len(ink.mark), "columns": list(there), "slack": SLACK, "most": MOST.get(kind, 0.0),
        "palette": [asdict(mark) for mark in ink.palette], "colours": list(ink.colours),
        "wedges": list(ink.wedges.colours) if ink.wedges else [], "hollow": ink.wedges.hollow if ink.wedges else 0.0,
    }  # fmt: skip
    text = json.dumps(header, allow_nan=False).encode()
    text += b" " * (-(len(text) + 4) % ALIGNED)
    return b"".join([struct.pack("<I", len(text)), text, *(_aligned(column.tobytes()) for column in there.values())])


def _floats(column: NDArray[np.float32] | None) -> NDArray[Any] | None:
    return None if column is None else column.astype("<f4")


def _aligned(data: bytes) -> bytes:
    return data + b"\0" * (-len(data) % ALIGNED)
