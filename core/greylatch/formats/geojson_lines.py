"""Reading GeoJSON of which each line is a feature (RFC 8142, with or without its separators)."""

import json
from pathlib import Path
from typing import Any

import orjson

from greylatch.errors import BadFile
from greylatch.formats.geojson import MAX_GEOJSON, result_of_features, seen_by
from greylatch.formats.geojson_head import HEAD_FEATURES, LARGE
from greylatch.formats.kinds import Choice
from greylatch.formats.result import ReadResult

__all__ = ["read"]

_BETWEEN = b"\x1e \t\r\n"
"""The separator of RFC 8142, and blanks."""


def read(path: str | Path, choice: Choice) -> ReadResult:
    """The features of such a file.

    Parameters
    ----------
    path : str | Path
        The file.
    choice : Choice
        What a person chose of it.

    Returns
    -------
    ReadResult

    Raises
    ------
    BadFile
        That names the line of a mistake.
    """
    size = Path(path).stat().st_size
    if size > MAX_GEOJSON:
        raise BadFile("The GeoJSON is larger than 1 GB.")
    most = HEAD_FEATURES if choice.head and size > LARGE else None
    features: list[Any] = []
    with open(path, "rb") as file:
        for number, line in enumerate(file, 1):
            text = line.removeprefix(b"\xef\xbb\xbf").strip(_BETWEEN)
            if text:
                features.append(_feature(text, number))
            if len(features) == most:
                break
    if not features:
        raise BadFile("The GeoJSON holds no feature.")
    return result_of_features(features, None, choice, [seen_by(len(features))] if most else [])


def _feature(text: bytes, number: int) -> Any:
    try:
        return orjson.loads(text)
    except orjson.JSONDecodeError:
        pass  # NaN, say, which many programs write; or a mistake, which is told below
    try:
        return json.loads(text, parse_constant=lambda _: None)
    except UnicodeDecodeError as error:
        raise BadFile(f"Line {number} of the GeoJSON is not UTF-8 text.") from error
    except json.JSONDecodeError as error:
        raise BadFile(f"Line {number} of the GeoJSON is misspelt at column {error.colno}: {error.msg}.") from error
    except RecursionError as error:
        raise BadFile(f"Line {number} of the GeoJSON is nested too deeply.") from error
    except ValueError as error:
        raise BadFile(f"Line {number} of the GeoJSON holds a number of thousands of digits.") from error
