"""The beginning of a large GeoJSON file: enough to see what is in it, without reading all of it."""

import codecs
import json
import re
from pathlib import Path
from typing import Any

__all__ = ["HEAD_FEATURES", "LARGE", "geojson_head"]

LARGE = 4_000_000
"""Bytes from which on only the beginning is looked at."""
HEAD_BYTES = 2_000_000
HEAD_FEATURES = 1_000
TAIL_BYTES = 4_096
_FEATURES = re.compile(r'"features"\s*:\s*\[')


def geojson_head(path: str | Path, most: int = HEAD_FEATURES) -> dict[str, Any] | None:
    """The document of a large FeatureCollection with no more than its first features; None for a file that is not
    large, or not so plain that its beginning tells what the rest is.

    What is said of the collection beside its features, its reference system above all, counts only where it stands before them.

    Parameters
    ----------
    path : str | Path
        The file.
    most : int
        How many features.

    Returns
    -------
    dict[str, Any] | None
    """
    file = Path(path)
    size = file.stat().st_size
    if size < LARGE:
        return None
    with file.open("rb") as source:
        head = source.read(HEAD_BYTES).removeprefix(codecs.BOM_UTF8).decode("utf-8", "ignore")
        source.seek(size - TAIL_BYTES)
        tail = source.read().decode("utf-8", "ignore")
    begins = _FEATURES.search(head)
    if begins is None or '"crs"' in tail[tail.rfind("]") :]:
        return None
    try:
        document = json.loads(head[: begins.end()] + "]}")
    except ValueError:
        return None
    if not isinstance(document, dict) or document.get("type", "FeatureCollection") != "FeatureCollection":
        return None
    features = _decoded(head, begins.end(), most)
    return {**document, "type": "FeatureCollection", "features": features} if features else None


def _decoded(text: str, at: int, most: int) -> list[Any]:
    """The features from a place of the text on that are there whole; none where anything else stands between them."""
    decoder = json.JSONDecoder()
    features: list[Any] = []
    while len(features) < most:
        while at < len(text) and text[at] in " \t\r\n,":
            at += 1
        try:
            feature, at = decoder.raw_decode(text, at)
        except (ValueError, RecursionError):
            break  # cut off, or the end of the list
        if not isinstance(feature, dict) or feature.get("type") != "Feature":
            return []
        features.append(feature)
    return features
