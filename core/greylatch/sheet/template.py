"""What a line of a label says: words and fields, '{name}, {carbon_t:.1f} t'.

A field stands in braces, in double quotes where its name has a colon, a quote or braces in it; braces that are meant as such are doubled.
After a colon comes how its value is written: for numbers a format of Python's format specification mini-language ('.1f', ',.0f'), for
dates one of strftime ('%d %B %Y'), and 'unit' for either as its meaning says, with its unit. Without one, values are written as their
field's meaning says.
"""

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from greylatch.errors import BadInput
from greylatch.tables.dataset import Dataset, column_named, text_of

__all__ = ["FieldIn", "as_field", "filled", "parts_of"]

_PART = re.compile(r'(\{\{|\}\})|\{\s*(?:"([^"]*)"|([^{}:"]+?))\s*(?::([^{}]*))?\}|([^{}]+)|([{}])')
_PLAIN = re.compile(r'[^{}:"]+')


@dataclass(frozen=True)
class FieldIn:
    """A field in a template, and how its values are written; '' for as its meaning says."""

    name: str
    written: str = ""


def as_field(name: str, written: str = "") -> str:
    """A field as it stands in a template.

    >>> as_field("peat_ha", ".1f"), as_field("share: peat")
    ('{peat_ha:.1f}', '{"share: peat"}')
    """
    quoted = name if _PLAIN.fullmatch(name) and name == name.strip() else '"' + name.replace('"', "") + '"'
    return f"{{{quoted}:{written}}}" if written else f"{{{quoted}}}"


def parts_of(template: str) -> list[str | FieldIn]:
    """The words and fields of a template.

    Parameters
    ----------
    template : str
        One line of a label.

    Returns
    -------
    list[str | FieldIn]

    Raises
    ------
    BadInput
        For a brace that is not closed or not opened.

    Examples
    --------
    >>> parts_of("{name}: {carbon_t:.1f} t")
    [FieldIn(name='name', written=''), ': ', FieldIn(name='carbon_t', written='.1f'), ' t']
    """
    out: list[str | FieldIn] = []
    for match in _PART.finditer(template):
        doubled, quoted, plain, written, words, brace = match.groups()
        if brace:
            raise BadInput(
                f"The label '{template}' has a '{brace}' at {match.start() + 1} that stands alone.",
                "Write fields as {name}, and braces that are meant as such twice.",
            )
        if doubled:
            out.append(doubled[0])
        elif words is not None:
            out.append(words)
        else:
            out.append(FieldIn(quoted if quoted is not None else plain, written or ""))
    return out


def filled(template: str, dataset: Dataset) -> list[str]:
    """The template by row; '' where all of its fields are blank.

    Parameters
    ----------
    template : str
        One line of a label.
    dataset : Dataset
        The rows.

    Returns
    -------
    list[str]

    Raises
    ------
    BadInput
        For a field that is not there, and a format that does not suit it.
    """
    parts = parts_of(template)
    values = [[part] if isinstance(part, str) else _written(part, dataset) for part in parts]
    fields = [own for part, own in zip(parts, values, strict=True) if isinstance(part, FieldIn)]
    if not fields:
        return [template_words(parts)] * len(dataset)
    if len(parts) == 1:
        return fields[0]
    rows = zip(
        *(
            own * len(dataset) if len(own) == 1 and isinstance(part, str) else own
            for part, own in zip(parts, values, strict=True)
        ),
        strict=True,
    )
    there = [any(own) for own in zip(*fields, strict=True)]
    return ["".join(row) if known else "" for row, known in zip(rows, there, strict=True)]


def template_words(parts: Sequence[str | FieldIn]) -> str:
    """The words of a template."""
    return "".join(part for part in parts if isinstance(part, str))


def _written(part: FieldIn, dataset: Dataset) -> list[str]:
    column = column_named(dataset.columns, part.name)
    meaning = dataset.meanings.get(part.name)
    decimals = meaning.decimals if meaning else None
    if part.written in ("", "unit"):
        unit = f" {meaning.unit}" if part.written and meaning and meaning.unit else ""
        known = [text_of(value, decimals) for value in column.to_pylist()]
        return [text and text + unit for text in known] if unit else known
    write = _writer(part)
    return ["" if value is None or value != value else write(value) for value in column.to_pylist()]


def _writer(part: FieldIn) -> Callable[[Any], str]:
    def write(value: Any) -> str:
        dated = isinstance(value, (date, datetime))
        if dated != ("%" in part.written and not part.written.endswith("%")) or isinstance(value, (str, bool)):
            suits = "dates" if "%" in part.written and not part.written.endswith("%") else "numbers"
            raise BadInput(f"'{part.written}' writes {suits}, and '{part.name}' holds '{text_of(value)}'.")
        try:
            return value.strftime(part.written) if dated else format(value, part.written)
        except (ValueError, TypeError) as error:
            raise BadInput(
                f"'{part.name}' can't be written as '{part.written}'.",
                "Numbers are written as '.1f' or ',.0f', dates as '%d %B %Y'.",
            ) from error

    return write
