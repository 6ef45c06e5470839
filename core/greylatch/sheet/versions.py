"""Older sheet documents, carried forward. A document is read as what it was made as, whatever the newest version says."""

import hashlib
import json
import re
from collections.abc import Mapping
from typing import Any

__all__ = ["card_from_1", "carried_forward", "field_expression", "first_version_id"]

NEWEST = 2
_MUSTACHE = re.compile(r"\{\{\{([^{}]{0,400})\}\}\}|\{\{([#^/!>&=]?)([^{}]{0,400})\}\}")
_PLAIN_NAME = re.compile(r"[^\W\d][\w-]*")
_WORDS = {"and", "blank", "contains", "empty", "false", "in", "nil", "not", "null", "or", "true", "with", "for", "as"}


def carried_forward(document: Any) -> Any:
    """The sheet `document` in the newest version; what is no sheet, or newer than this program, is given back as it is.

    A document without a version is of the first: it could be left out then.

    >>> carried_forward({"title": "Peat", "layers": [{"id": "a", "card": "{{#ha}}{{ha}} ha{{/ha}}"}]})["layers"][0]["card"]
    '{% if ha %}{{ ha }} ha{% endif %}'
    """
    if not isinstance(document, Mapping) or document.get("version", 1) != 1:
        return document
    carried = {**document, "version": NEWEST}
    if isinstance(carried.get("layers"), list):
        carried["layers"] = [
            _layer_from_1(layer) if isinstance(layer, Mapping) else layer for layer in carried["layers"]
        ]
    return carried


def _layer_from_1(layer: Mapping[str, Any]) -> dict[str, Any]:
    carried = dict(layer)
    if isinstance(carried.get("card"), str):
        carried["card"] = card_from_1(carried["card"])
    classing = carried.get("symbology", {}).get("classing") if isinstance(carried.get("symbology"), Mapping) else None
    key = carried.get("key")
    if isinstance(key, Mapping) and isinstance(classing, Mapping):
        words, hidden = key.get("entries"), key.get("hidden")
        carried["key"] = {
            **key,
            **({"entries": {_id_from_1(k, classing): v for k, v in words.items()}} if isinstance(words, Mapping) else {}),
            **({"hidden": [_id_from_1(k, classing) for k in hidden]} if isinstance(hidden, list) else {}),
        }  # fmt: skip
    return carried


def _id_from_1(id: Any, classing: Mapping[str, Any]) -> Any:
    return first_version_id(int(id[6:]), classing) if isinstance(id, str) and re.fullmatch(r"class-\d{1,3}", id) else id


def first_version_id(position: int, classing: Mapping[str, Any]) -> str:
    """The id of a class's key entry in a document of version 1, where words went by the class's position: it stands for that
    position under that classing only, so that they do not move on to classes for which nobody wrote them.

    Parameters
    ----------
    position : int
        The class's position.
    classing : Mapping[str, Any]
        How numbers become classes.

    Returns
    -------
    str
    """
    normalise = classing.get("normalise") or {}
    limits = [
        classing.get("field"), normalise.get("by"), normalise.get("field"), classing.get("method", "natural-breaks"),
        classing.get("classes", 5), [float(limit) for limit in classing.get("breaks", []) if isinstance(limit, (int, float))],
    ]  # fmt: skip
    return f"class-{position} of {hashlib.sha256(json.dumps(limits).encode()).hexdigest()[:12]}"


def card_from_1(template: str) -> str:
    """A card of version 1, whose sections opened with # and ^ and closed with /, in the language of today.

    Sections went by whether a field has a value at all, and so they do now. Partials, which were taken out, are gone.
    """

    def turned(match: re.Match[str]) -> str:
        plain, kind, name = match.groups()
        field = _named((plain if plain is not None else name).strip())
        if kind in ("!", ">", "="):
            return ""
        if kind == "#":
            open_sections.append("if")
            return f"{{% if {field} %}}"
        if kind == "^":
            open_sections.append("unless")
            return f"{{% unless {field} %}}"
        if kind == "/":
            return f"{{% end{open_sections.pop() if open_sections else 'if'} %}}"
        return f"{{{{ {field} }}}}"

    open_sections: list[str] = []
    return _MUSTACHE.sub(turned, template)


def _named(field: str) -> str:
    # With a filter or a quoted name it is of today's language already.
    return field if "|" in field or field.startswith(("[", "'", '"')) else field_expression(field)


def field_expression(field: str) -> str:
    """How a field is named within a placeholder or a condition of a card.

    >>> field_expression("peat_ha"), field_expression("name of the isle")
    ('peat_ha', '["name of the isle"]')
    """
    if _PLAIN_NAME.fullmatch(field) and field not in _WORDS:
        return field
    return f"['{field}']" if '"' in field else f'["{field}"]'
