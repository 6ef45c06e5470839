"""JSON from outside as plain text and finite numbers: nothing that the database or another reader of JSON could not take."""

import json
import math
from typing import Any, cast

from django.http import HttpRequest
from greylatch.errors import BadInput, printable
from ninja.parser import Parser

MAX_DEPTH = 60


class PlainJson(Parser):
    """Reads request bodies; refuses NaN and infinities, NUL characters, lone surrogates and deep nesting in words."""

    def parse_body(self, request: HttpRequest) -> dict[str, Any]:
        return cast(dict[str, Any], plain_json(request.body))


def plain_json(data: bytes) -> Any:
    """The value in a JSON text. Raises BadInput.

    >>> plain_json(b'{"breaks": [1, 2.5]}')
    {'breaks': [1, 2.5]}
    """
    try:
        value = json.loads(data, parse_constant=_refused, parse_float=_finite)
    except RecursionError as error:
        raise BadInput("The request's JSON is nested too deeply.") from error
    except UnicodeDecodeError as error:
        raise BadInput("The request is not UTF-8 text.") from error
    except json.JSONDecodeError as error:
        raise BadInput(f"The request is not JSON: line {error.lineno}, column {error.colno}: {error.msg}.") from error
    except ValueError as error:  # a whole number of thousands of digits
        raise BadInput("The request holds a number that is too large.") from error
    _check(value, 0)
    return value


def _check(value: Any, depth: int) -> None:
    if depth > MAX_DEPTH:
        raise BadInput("The request's JSON is nested too deeply.")
    if isinstance(value, str):
        if printable(value) != value:
            raise BadInput("The request holds characters that are no text (a zero character, or half of a pair).")
    elif isinstance(value, dict):
        for name, item in value.items():
            _check(name, depth)
            _check(item, depth + 1)
    elif isinstance(value, list):
        for item in value:
            _check(item, depth + 1)
    elif isinstance(value, int) and not isinstance(value, bool) and abs(value) >= 2**63:
        raise BadInput("The request holds a number that is too large.")


def _finite(text: str) -> float:
    value = float(text)
    return value if math.isfinite(value) else _refused(text)


def _refused(text: str) -> float:
    raise BadInput(f"'{text[:20]}' is not a number that can be kept.")
