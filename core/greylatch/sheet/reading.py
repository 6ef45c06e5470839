"""Reading a sheet document from a file, with errors that name the entry."""

import json
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from greylatch.errors import BadInput
from greylatch.sheet.document import Sheet

__all__ = ["parse_sheet", "read_sheet", "sheet_schema"]


def read_sheet(path: str | Path) -> Sheet:
    """The sheet in the JSON file at `path`.

    Raises
    ------
    BadInput
        With the place of the first mistake.
    """
    try:
        text = Path(path).read_text("utf-8")
    except OSError as error:
        raise BadInput(f"The sheet {path} cannot be read: {error.strerror}.") from error
    except UnicodeDecodeError as error:
        raise BadInput(f"The sheet {path} is not UTF-8 text.") from error
    try:
        return parse_sheet(json.loads(text))
    except json.JSONDecodeError as error:
        raise BadInput(
            f"The sheet {path} is not JSON: line {error.lineno}, column {error.colno}: {error.msg}."
        ) from error


def parse_sheet(document: Any) -> Sheet:
    """The sheet in `document`, checked: ids of layers and groups are unique.

    >>> parse_sheet({"title": "Peat", "layers": [{"id": "a"}]})
    Traceback (most recent call last):
    ...
    greylatch.errors.BadInput: The sheet's entry layers › 0 › name: Field required.
    """
    try:
        sheet = Sheet.model_validate(document)
    except ValidationError as error:
        first = error.errors()[0]
        place = " › ".join(str(part) for part in first["loc"]) or "(the whole document)"
        raise BadInput(f"The sheet's entry {place}: {first['msg']}.") from error
    ids = [layer.id for layer in sheet.layers]
    ids += [group.id for group in sheet.groups]
    twice = next((id for id in ids if ids.count(id) > 1), None)
    if twice:
        raise BadInput(f"Two layers or groups have the id '{twice}'.", "Give each its own.")
    return sheet


def sheet_schema() -> dict[str, Any]:
    """The JSON Schema (2020-12) of the sheet document."""
    schema = Sheet.model_json_schema()
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **schema}
