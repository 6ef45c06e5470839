"""Ink as bytes, as browsers read it: a description, then plain arrays that they use without copying."""

import json
import struct
from collections.abc import Mapping
from dataclasses import asdict
from typing import Any

import numpy as np

from greylatch.symbols.ink import SLACK, Ink
from greylatch.tables.dataset import Fids, Kind

__all__ = ["packed_ink"]

ALIGNED = 4
"""Each array begins at a multiple of so many bytes."""


def packed_ink(ink: Ink, kind: Kind, fids: Fids, described: Mapping[str, Any] | None = None) -> bytes:
    """A little-endian uint32 length, that many bytes of JSON, then the arrays.

    The JSON, padded with spaces, says `kind`, `palette`, how many features there are (`n`), and which arrays follow:
    n bytes of palette positions (255: not drawn), then float32 radii where `sized`, then int32 rows in drawing order
    where `ordered`, then int32 fids of the rows where `numbered`; without, row i is feature i. `slack` is px by which
    a pointer may miss a mark.

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
    >>> result = packed_ink(Ink((), np.array([255], dtype=np.uint8)), "areas", np.array([0]))
    >>> json.loads(result[4 : 4 + int.from_bytes(result[:4], "little")])["n"]
    1
    """
    numbered = not np.array_equal(fids, np.arange(len(fids)))
    header = {
        **(described or {}), "kind": kind, "n": len(ink.index), "sized": ink.radius is not None, "ordered": ink.order is not None,
        "numbered": numbered, "slack": SLACK, "palette": [asdict(mark) for mark in ink.palette],
    }  # fmt: skip
    text = json.dumps(header, allow_nan=False).encode()
    text += b" " * (-(len(text) + 4) % ALIGNED)
    arrays: list[np.ndarray[Any, Any]] = [ink.index]
    if ink.radius is not None:
        arrays.append(ink.radius.astype("<f4"))
    if ink.order is not None:
        arrays.append(ink.order.astype("<i4"))
    if numbered:
        arrays.append(fids.astype("<i4"))
    return b"".join([struct.pack("<I", len(text)), text, *(_aligned(array.tobytes()) for array in arrays)])


def _aligned(data: bytes) -> bytes:
    return data + b"\0" * (-len(data) % ALIGNED)
