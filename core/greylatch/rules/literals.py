"""Literals of conditions: dates and timestamps, boxes, shapes."""

from collections.abc import Mapping
from typing import Any

import numpy as np
import pyarrow as pa
import shapely
from numpy.typing import NDArray
from shapely.geometry import shape as shape_from

from greylatch.rules.language import Expression
from greylatch.rules.values import instant

__all__ = ["box_literal", "instant_literal", "shape_literal", "times"]


def instant_literal(expression: Expression, text: str, last: bool = False) -> pa.Scalar:
    """The instant that a text of the expression says.

    Parameters
    ----------
    expression : Expression
        Where the text stands.
    text : str
        A date or a timestamp of RFC 3339.
    last : bool
        Whether of a date its last instant is meant, not its first.

    Returns
    -------
    pa.Scalar

    Raises
    ------
    BadExpression
        For what is no date.
    """
    try:
        return instant(text, last)
    except (ValueError, OverflowError) as error:
        raise expression.mistake(
            f"'{text}' is no date.", f"'{text}'", "'2026-03-31' or '2026-03-31T12:00:00Z'"
        ) from error


def times(data: Any) -> NDArray[np.datetime64]:
    """Instants of Arrow as numpy has them, NaT for a missing one."""
    if isinstance(data, pa.Scalar):
        return np.array(data.value if data.is_valid else None, dtype="datetime64[us]")
    return np.asarray(data.to_numpy(), dtype="datetime64[us]")


def box_literal(expression: Expression, sides: list[float]) -> shapely.Geometry:
    """The box of a literal; of one that is further west than east, both parts beside the 180th meridian.

    Parameters
    ----------
    expression : Expression
        Where the literal stands.
    sides : list[float]
        West, south, east, north in degrees; or six with heights, which are passed over.

    Returns
    -------
    shapely.Geometry

    Raises
    ------
    BadExpression
        For one that is no box.
    """
    if len(sides) not in (4, 6):
        raise expression.mistake(
            f"A box has four sides, and here are {len(sides)} numbers.", "BBOX", "west, south, east, north"
        )
    west, south, east, north = sides if len(sides) == 4 else (sides[0], sides[1], sides[3], sides[4])
    if south > north:
        raise expression.mistake("The south of a box lies above its north.", "BBOX")
    if west <= east:
        return shapely.box(west, south, east, north)
    return shapely.MultiPolygon([shapely.box(west, south, 180, north), shapely.box(-180, south, east, north)])


def shape_literal(expression: Expression, node: Mapping[str, Any]) -> shapely.Geometry:
    """The shape of a literal, without heights.

    Parameters
    ----------
    expression : Expression
        Where the literal stands.
    node : Mapping[str, Any]
        As GeoJSON has it.

    Returns
    -------
    shapely.Geometry

    Raises
    ------
    BadExpression
        For one that is not whole, or crosses itself.
    """
    try:
        literal = shapely.force_2d(shape_from(node))
    except (ValueError, TypeError, IndexError, shapely.errors.GEOSException) as error:
        raise expression.mistake("This is no whole shape.", str(node["type"])) from error
    if not literal.is_valid:
        raise expression.mistake("This shape crosses itself.", str(node["type"]))
    return literal
