"""The arcs of a TopoJSON: most of such a file, and so read as arrays rather than as a list for every place."""

import io
import re
from typing import Any, NamedTuple

import numpy as np
import orjson
import pyarrow as pa
import pyarrow.json
from numpy.typing import NDArray

from greylatch.errors import BadFile

__all__ = ["Arcs", "Grid", "parsed_apart", "read_arcs", "read_grid"]

Arcs = list[NDArray[np.float64]]
"""The places of each, (n, 2)."""
ARC = pa.list_(pa.list_(pa.float64()))
_NUMBERS = re.compile(rb'"arcs"\s*:\s*(\[[\[\]\d,.eE+\-\s]*\])')
"""No text of JSON can hold this: its quotation marks would have a backslash before them."""


def parsed_apart(content: bytes) -> dict[str, Any] | None:
    """A topology whose arcs are an Arrow array, the rest as JSON has it. None for a text that can't be read so.

    Parameters
    ----------
    content : bytes
        The text of the file.

    Returns
    -------
    dict[str, Any] | None

    Examples
    --------
    >>> parsed_apart(b'{"type": "Topology", "arcs": [[[0, 0], [1, 2]]]}')["arcs"].to_pylist()
    [[[0.0, 0.0], [1.0, 2.0]]]
    """
    # Geometries have arcs too, which are far shorter: they only say which.
    longest = max(_NUMBERS.finditer(content), key=lambda arcs: arcs.end() - arcs.start(), default=None)
    if longest is None:
        return None
    start, end = longest.span(1)
    try:
        rest = orjson.loads(content[:start] + b"null" + content[end:])
        if not isinstance(rest, dict) or rest.get("arcs", 0) is not None:
            return None
        line = b'{"arcs":%b}' % content[start:end]
        arcs = pyarrow.json.read_json(
            io.BytesIO(line),
            pyarrow.json.ReadOptions(use_threads=False, block_size=len(line) + 1),
            pyarrow.json.ParseOptions(explicit_schema=pa.schema([("arcs", pa.list_(ARC))]), newlines_in_values=True),
        )
    except (orjson.JSONDecodeError, pa.ArrowException):
        return None
    return rest | {"arcs": arcs["arcs"].combine_chunks().flatten()}


class Grid(NamedTuple):
    """The grid on which the places of a topology lie: the size of a step in x and y, and where it begins, in the units of its
    coordinates."""

    scale: NDArray[np.float64]
    translate: NDArray[np.float64]


def read_grid(transform: Any) -> Grid | None:
    """The grid that a topology's `transform` tells of (section 2.1.2); None where there is none.

    >>> read_grid({"scale": [10, 1], "translate": [5, 0]}).scale.tolist()
    [10.0, 1.0]
    """
    if transform is None:
        return None
    try:
        grid = Grid(np.asarray(transform["scale"], float), np.asarray(transform["translate"], float))
    except (TypeError, ValueError, LookupError, OverflowError) as error:
        raise _unread(error) from error
    if grid.scale.shape != (2,) or grid.translate.shape != (2,):
        raise _unread("its transform has a scale and a translation for x and y")
    return grid


def read_arcs(arcs: Any, grid: Grid | None = None) -> Arcs:
    """The arcs of a topology, in the units of its coordinates.

    Parameters
    ----------
    arcs : Any
        The topology's `arcs`, as JSON has them or as Arrow does.
    grid : Grid | None
        On which each place is told from the one before (section 2.1.3); None where places stand as they are.

    Returns
    -------
    Arcs

    Raises
    ------
    BadFile
        For what are none.

    Examples
    --------
    >>> read_arcs([[[0, 0], [3, 1]]], read_grid({"scale": [10, 1], "translate": [5, 0]}))[0].tolist()
    [[5.0, 0.0], [35.0, 1.0]]
    """
    try:
        lists = arcs if isinstance(arcs, pa.Array) else pa.array(arcs, ARC)
        lengths = _lengths(lists)
        places = _places(lists.flatten())
    except (pa.ArrowException, TypeError, ValueError, OverflowError) as error:
        raise _unread(error) from error
    ends = np.cumsum(lengths)
    if grid is not None:
        sums = np.cumsum(places, axis=0)
        before = np.concatenate([np.zeros((1, 2)), sums])[ends - lengths]
        places = (sums - np.repeat(before, lengths, axis=0)) * grid.scale + grid.translate
    return [places[start:end] for start, end in zip((ends - lengths).tolist(), ends.tolist(), strict=True)]


def _places(pairs: pa.Array) -> NDArray[np.float64]:
    """(n, 2) of lists of two numbers or more."""
    sizes, numbers = _lengths(pairs), pairs.flatten()
    if numbers.null_count or (sizes < 2).any():
        raise ValueError("its arcs are lists of places, and places are two numbers")
    return np.asarray(numbers)[(np.cumsum(sizes) - sizes)[:, None] + [0, 1]]


def _lengths(lists: pa.Array) -> NDArray[np.intp]:
    if lists.null_count:
        raise ValueError("its arcs are lists of places")
    return np.asarray(lists.value_lengths(), dtype=np.intp)


def _unread(why: object) -> BadFile:
    return BadFile(f"The arcs of the topology cannot be read: {str(why)[:120]}.")
