"""The closed template language of cards: a part of Liquid that sees plain text, numbers and lists and nothing else.

There are no attributes, calls, assignments or partials, and only filters whose result cannot be much longer than what goes in.
Every length and count is limited before work begins, so a template costs what its length says.
"""

import re
from collections.abc import Mapping
from datetime import date, datetime
from functools import lru_cache
from typing import Any, TextIO

from liquid import BoundTemplate, Environment, RenderContext
from liquid.builtin.output import Output, OutputNode
from liquid.exceptions import LiquidError
from liquid.undefined import Undefined

from greylatch.errors import BadTemplate
from greylatch.sheet.versions import field_expression
from greylatch.tables.dataset import text_of

__all__ = ["MAX_TEMPLATE", "filled", "placeholder", "placeholders"]

MAX_TEMPLATE = 20_000
MAX_PLACEHOLDER = 500
"""Characters between the braces of one placeholder: the language's lexer takes quadratic time in them."""
MAX_FILLED = 200_000
MAX_LOOPS = 1_000
TAGS = (
    "if",
    "elsif",
    "else",
    "endif",
    "unless",
    "endunless",
    "case",
    "when",
    "endcase",
    "for",
    "endfor",
    "break",
    "continue",
)
FILTERS = (
    "abs", "append", "at_least", "at_most", "capitalize", "ceil", "default", "divided_by", "downcase", "first", "floor", "last",
    "minus", "modulo", "plus", "prepend", "round", "size", "strip", "times", "truncate", "upcase",
)  # fmt: skip
_OPENING = re.compile(r"\{\{|\{%")
_TAG_NAME = re.compile(r"\{%-?\s{0,100}(\w{0,40})")
_STRFTIME = re.compile(r"(?:%-?[aAbBdeHIjlmMpSuUVwWyY%]|[^%])*")


def filled(template: str, row: Mapping[str, Any]) -> str:
    """`template` with the placeholders replaced by the fields of `row`, written as Markdown that says just their
    text.

    A missing value and an empty text are nothing, so that parts under a condition on them are left out.

    Parameters
    ----------
    template : str
        Markdown with placeholders and conditions of Liquid.
    row : Mapping[str, Any]
        The values of the row by field.

    Returns
    -------
    str

    Raises
    ------
    BadInput
        With line and column of a mistake, and where the text would run past `MAX_FILLED` characters.

    Examples
    --------
    >>> filled("{{ name }}{% if ha > 5 %}, {{ ha | number: 1 }} ha{% endif %}", {"name": "Ard *Mor*", "ha": 1234.56})
    'Ard \\\\*Mor\\\\*, 1,234\\\\.6 ha'
    """
    try:
        return parsed(template).render(closed(row))
    except LiquidError as error:
        raise _mistake(error) from error
    except (ArithmeticError, ValueError, TypeError, RecursionError) as error:
        raise BadTemplate("The card's template has a mistake: a filter was given what it cannot work on.") from error


def placeholders(template: str) -> list[str]:
    """The fields that a template names, each once, in order.

    Raises
    ------
    BadInput
        With the place of a mistake.

    Examples
    --------
    >>> placeholders("{{ name }} {% if ha %}{{ ha | round }}{% endif %} {{ ['name of the isle'] }}")
    ['name', 'ha', 'name of the isle']
    """
    try:
        names = parsed(template).analyze().globals
    except LiquidError as error:
        raise _mistake(error) from error
    places = sorted((span.index, name) for name, uses in names.items() for span in (use.span for use in uses))
    return list(dict.fromkeys(name for _, name in places))


def placeholder(field: str) -> str:
    """The placeholder for a field, whatever its name.

    >>> placeholder("peat_ha"), placeholder("name of the isle")
    ('{{ peat_ha }}', '{{ ["name of the isle"] }}')
    """
    return f"{{{{ {field_expression(field)} }}}}"


def closed(row: Mapping[str, Any]) -> dict[str, Any]:
    """A row as templates see it: text, numbers, yes or no, lists of these; what is missing is not there."""
    plain = ((str(name), _plain(value)) for name, value in row.items())
    return {name: value for name, value in plain if value is not None}


def _plain(value: Any) -> Any:
    if value is None or value == "":
        return None
    if isinstance(value, (bool, int)):
        return value
    if isinstance(value, float):
        return value if value == value and abs(value) != float("inf") else None
    if isinstance(value, (list, tuple)):
        return [_plain(part) for part in value]
    if isinstance(value, (date, datetime)):
        return value.isoformat()
    return text_of(value)


@lru_cache(maxsize=256)
def parsed(template: str) -> BoundTemplate:
    """The template ready to be filled.

    Raises
    ------
    BadInput
        Or LiquidError with the place of a mistake.
    """
    _check(template)
    return _language.from_string(template)


def _check(template: str) -> None:
    """Refuse, in linear time, what the language's own lexer would take long over or what is not part of ours."""
    if len(template) > MAX_TEMPLATE:
        raise BadTemplate(f"The card's template has {len(template):,} characters; at most {MAX_TEMPLATE:,} are read.")
    at = 0
    while opening := _OPENING.search(template, at):
        start = opening.start()
        output = template.startswith("{{", start)
        end = template.find("}}" if output else "%}", start, start + MAX_PLACEHOLDER + 4)
        if end < 0:
            what = "placeholder" if output else "condition"
            raise BadTemplate(
                f"The card's template has a mistake at {_place(template, start)}: the {what} opened here is not closed"
                f" within {MAX_PLACEHOLDER} characters."
            )
        if not output:
            named = _TAG_NAME.match(template, start)
            name = named.group(1) if named else ""
            if name not in TAGS:
                raise BadTemplate(
                    f"The card's template has a mistake at {_place(template, start)}: there is no '{name}' in templates.",
                    "Conditions are if, unless and case; for goes through a list.",
                )
        at = end + 2


def _place(text: str, index: int) -> str:
    line = text.count("\n", 0, index) + 1
    return f"line {line}, column {index - (text.rfind(chr(10), 0, index) + 1) + 1}"


class _Escaped(OutputNode):
    """A placeholder whose value goes into Markdown: escaped for that, after its filters."""

    def render_to_output(self, context: RenderContext, buffer: TextIO) -> int:
        return buffer.write(escaped(self.expression.evaluate(context)))


class _Output(Output):
    node_class = _Escaped


_MARKUP = re.compile(r'([\\`*_{}\[\]()#+\-.!|<>~&:"])')


def escaped(value: Any) -> str:
    """A value as Markdown that shows just its text."""
    if isinstance(value, Undefined):
        return ""
    if isinstance(value, bool):
        text = "yes" if value else "no"
    elif isinstance(value, (list, tuple)):
        text = ", ".join(text_of(part) for part in value)
    elif isinstance(value, range):
        text = f"{value.start} to {value.stop - 1}"
    else:
        text = text_of(value)
    return _MARKUP.sub(r"\\\1", " ".join(text.split()) if "\n" in text or "\r" in text else text)


def _number(value: object, decimals: object = None) -> object:
    """With thousands parted, and as many decimals as asked for; text stays as it is."""
    if isinstance(value, bool) or not isinstance(value, (int, float)):
        return value
    if decimals is None:
        whole = isinstance(value, int) or value.is_integer()
        return (f"{value:,.0f}" if whole else f"{value:,.10g}").replace("-", "−")
    return f"{value:,.{min(max(int(str(decimals)), 0), 12)}f}".replace("-", "−")


def _bar(value: object, whole: object = 100) -> object:
    """A bar of at most ten blocks, in eighths, whole at `whole`: charts of several fields are bars under one another."""
    if isinstance(value, bool) or isinstance(whole, bool):
        return value
    if not isinstance(value, (int, float)) or not isinstance(whole, (int, float)) or not whole > 0:
        return value
    eighths = round(80 * min(max(value / whole, 0.0), 1.0))
    return "█" * (eighths // 8) + ("", *"▏▎▍▌▋▊▉")[eighths % 8]


def _date(value: object, pattern: object = "%-d %B %Y") -> object:
    """A date like 2026-05-31 by a pattern of %d, %B, %Y and the like; what is no date stays as it is."""
    if not isinstance(value, str) or not isinstance(pattern, str) or len(pattern) > 100:
        return value
    try:
        moment = datetime.fromisoformat(value)
    except ValueError:
        return value
    # Only plain directives: a width (%999999999d) would make text without end.
    return moment.strftime(pattern) if _STRFTIME.fullmatch(pattern) else value


def _join(value: object, between: object = ", ") -> object:
    """The entries of a list in one text; the language's own filter would write out a range of any length."""
    return str(between).join(text_of(part) for part in value) if isinstance(value, list) else value


class _Language(Environment):
    loop_iteration_limit = MAX_LOOPS
    output_stream_limit = MAX_FILLED
    local_namespace_limit = 10_000
    context_depth_limit = 20
    block_nesting_limit = 20


def _made() -> Environment:
    language = _Language()
    kinds = {"content", "output", "illegal"} | set(TAGS)
    language.tags = {name: tag for name, tag in language.tags.items() if name in kinds}
    language.add_tag(_Output)
    language.filters = {name: language.filters[name] for name in FILTERS}
    language.add_filter("number", _number)
    language.add_filter("date", _date)
    language.add_filter("bar", _bar)
    language.add_filter("join", _join)
    return language


_language = _made()


def _mistake(error: LiquidError) -> BadTemplate:
    place = error.context()
    where = f" at line {place[0]}, column {place[1] + 1}" if place else ""
    return BadTemplate(f"The card's template has a mistake{where}: {str(error.message)[:200]}.")
