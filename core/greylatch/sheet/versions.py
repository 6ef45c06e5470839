"""Older sheet documents, carried forward. A document is read as what it was made as, whatever the newest version says."""

import hashlib
import json
import re
from collections.abc import Mapping
from typing import Any

from greylatch.sheet.template import as_field

__all__ = [
    "card_from_1",
    "carried_forward",
    "field_expression",
    "first_version_id",
    "lettering_from_3",
    "symbology_from_2",
]

NEWEST = 4
_MUSTACHE = re.compile(r"\{\{\{([^{}]{0,400})\}\}\}|\{\{([#^/!>&=]?)([^{}]{0,400})\}\}")
_PLAIN_NAME = re.compile(r"[^\W\d][\w-]*")
_WORDS = {"and", "blank", "contains", "empty", "false", "in", "nil", "not", "null", "or", "true", "with", "for", "as"}


def carried_forward(document: Any) -> Any:
    """The sheet `document` in the newest version; what is no sheet, or newer than this program, is given back as it is.

    A document without a version is of the first: it could be left out then.

    >>> carried_forward({"title": "Peat", "layers": [{"id": "a", "card": "{{#ha}}{{ha}} ha{{/ha}}"}]})["layers"][0]["card"]
    '{% if ha %}{{ ha }} ha{% endif %}'
    """
    if not isinstance(document, Mapping):
        return document
    carried = dict(document)
    for version, change in enumerate((_layer_from_1, _layer_from_2, _layer_from_3), 1):
        if carried.get("version", 1) == version:
            carried["version"] = version + 1
            if isinstance(carried.get("layers"), list):
                layers = carried["layers"]
                carried["layers"] = [change(layer) if isinstance(layer, Mapping) else layer for layer in layers]
    return carried


def _layer_from_2(layer: Mapping[str, Any]) -> dict[str, Any]:
    if not isinstance(layer.get("symbology"), Mapping):
        return dict(layer)
    return {**layer, "symbology": symbology_from_2(layer["symbology"])}


def _layer_from_3(layer: Mapping[str, Any]) -> dict[str, Any]:
    if not isinstance(layer.get("lettering"), Mapping):
        return dict(layer)
    return {**layer, "lettering": lettering_from_3(layer["lettering"])}


def lettering_from_3(lettering: Mapping[str, Any]) -> Mapping[str, Any]:
    """The labels of version 3, which were of one field and perhaps a second below it, in lines of templates.

    Parameters
    ----------
    lettering : Mapping[str, Any]
        The labels.

    Returns
    -------
    Mapping[str, Any]

    Examples
    --------
    >>> lettering_from_3({"field": "ha", "decimals": 1, "along": True})["lines"][0]["text"]
    '{ha:.1f}'
    """
    if "field" not in lettering:
        return lettering
    own = dict(lettering)
    field, below, shorter = own.pop("field"), own.pop("below", None), own.pop("shorter", None)
    decimals, capitals, along = own.pop("decimals", None), own.pop("capitals", False), own.pop("along", False)
    look: dict[str, Any] = {name: own.pop(name) for name in ("size", "colour") if name in own}
    if capitals:
        look["case"] = "capitals"
    written = f".{decimals}f" if isinstance(decimals, int) else ""
    lines = [{"text": as_field(str(field), written), **look}]
    if below:
        lines.append({"text": as_field(str(below)), **look})
    if shorter:
        own["shorter"] = as_field(str(shorter))
    return {**own, "lines": lines, "course": "turned" if along else "level"}


def symbology_from_2(look: Mapping[str, Any]) -> Mapping[str, Any]:
    """A symbology of version 2, which was one of four kinds, as a symbol with encodings. What it left out stood for values of
    that version, which are written down.

    Parameters
    ----------
    look : Mapping[str, Any]
        The symbology; one of a raster stays as it is.

    Returns
    -------
    Mapping[str, Any]

    Examples
    --------
    >>> symbology_from_2({"kind": "single", "fill": "#aabbcc"})["symbol"]["fill"]
    '#aabbcc'
    """
    kind = str(look.get("kind"))
    if kind not in _KINDS_OF_2:
        return look
    known = {**_KINDS_OF_2[kind], **look}
    symbol = {
        "fill": known["fill"], "fill_opacity": known["fill_opacity"], "radius": known["radius"],
        "strokes": [{**_KINDS_OF_2[kind]["stroke"], **known["stroke"]}] if isinstance(known["stroke"], Mapping) else known["stroke"],
    }  # fmt: skip
    own = {"single": set(), "classed": {"ramp"}, "graduated": {"ramp"}, "proportional": set()}[kind]
    strange = {
        name: value for name, value in look.items() if name not in _KINDS_OF_2[kind] and name not in own | {"kind"}
    }
    encodings: dict[str, Any] = {}
    if kind == "classed":
        encodings["colour"] = {"by": "classes", **_some(known, "classing", "ramp", "no_data")}
        strange.pop("classing", None)
    if kind == "graduated":
        encodings["size"] = {"by": "classes", **_some(known, "classing", "smallest", "largest", "no_data")}
        if known.get("ramp"):
            encodings["colour"] = {"by": "classes", **_some(known, "classing", "ramp", "no_data")}
        strange.pop("classing", None)
    if kind == "proportional":
        encodings["size"] = {"by": "value", **_some(known, "field", "normalise", "scaling", "largest", "no_data")}
        strange.pop("field", None)
    # What no version has is handed on, to be refused by its name.
    return {"kind": "symbols", "symbol": symbol, "encodings": encodings, **strange}


_EDGE, _LIGHT_EDGE = {"colour": "#4a4a46", "width": 0.6}, {"colour": "#ffffff", "width": 0.8}
_KINDS_OF_2: Mapping[str, Mapping[str, Any]] = {
    "single": {"fill": "#b9b29f", "fill_opacity": 1.0, "stroke": _EDGE, "radius": 4.0},
    "classed": {"fill": "#b9b29f", "fill_opacity": 1.0, "stroke": _EDGE, "radius": 4.0, "no_data": "#d9d6cd"},
    "graduated": {
        "fill": "#3f6f8f", "fill_opacity": 0.85, "stroke": _LIGHT_EDGE, "radius": 4.0, "smallest": 2.5, "largest": 12.0,
        "no_data": "#d9d6cd",
    },
    "proportional": {
        "fill": "#3f6f8f", "fill_opacity": 0.7, "stroke": _LIGHT_EDGE, "radius": 4.0, "normalise": None, "scaling": "area",
        "largest": 20.0, "no_data": None,
    },
}  # fmt: skip
"""What symbologies of version 2 were where they said nothing."""


def _some(known: Mapping[str, Any], *names: str) -> dict[str, Any]:
    return {name: known[name] for name in names if name in known}


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
