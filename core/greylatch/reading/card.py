"""Cards: what a reader sees on asking a feature. A template of Markdown with Mustache placeholders, made safe."""

import re
from collections.abc import Mapping
from typing import Any

import chevron
import nh3
from chevron import ChevronError
from chevron.tokenizer import tokenize
from markdown_it import MarkdownIt

from greylatch.errors import BadInput
from greylatch.tables.dataset import text_of

TAGS = {
    "p", "br", "hr", "h1", "h2", "h3", "h4", "strong", "em", "s", "code", "pre", "blockquote", "ul", "ol", "li", "a",
    "img", "table", "thead", "tbody", "tr", "th", "td",
}  # fmt: skip
ATTRIBUTES = {"a": {"href", "title"}, "img": {"src", "alt", "title"}, "th": {"align"}, "td": {"align"}}
_MARKUP = re.compile(r"([\\`*_{}\[\]()#+\-.!|<>~])")
_markdown = MarkdownIt("commonmark", {"html": False}).enable("table")


def render_card(template: str, row: Mapping[str, Any]) -> str:
    """Safe HTML of `template` filled with the fields of one row; missing values are empty, and sections on them not shown.

    Values are escaped, so they cannot bring markup of their own; scripts, styles, frames and event handlers never survive.
    Raises BadInput with the place of a mistake in the template.

    >>> render_card("## {{name}}", {"name": "Ard *Mor*"})
    '<h2>Ard *Mor*</h2>\\n'
    """
    filled = {name: _escaped(value) for name, value in row.items()}
    try:
        # Chevron's own escaping is for HTML; here the values go into Markdown, so they are escaped for that instead.
        text = chevron.render(_unescaped(template), filled)
    except (ChevronError, SyntaxError) as error:
        raise _mistake(template, error) from error
    return nh3.clean(
        _markdown.render(text), tags=TAGS, attributes=ATTRIBUTES, url_schemes={"http", "https", "mailto"},
        link_rel="noopener noreferrer",
    )  # fmt: skip


def placeholders(template: str) -> list[str]:
    """The fields that a template names, each once, in order. Raises BadInput with the place of a mistake."""
    try:
        found = [
            key for kind, key in tokenize(template) if kind in ("variable", "no escape", "section", "inverted section")
        ]
    except (ChevronError, SyntaxError) as error:
        raise _mistake(template, error) from error
    return list(dict.fromkeys(key for key in found if key != "."))


def unknown_placeholders(template: str, fields: list[str]) -> list[str]:
    """The placeholders for which there is no field.

    >>> unknown_placeholders("{{name}} {{hight}}", ["name", "height"])
    ['hight']
    """
    known = set(fields)
    return [name for name in placeholders(template) if name not in known]


def starting_card(fields: list[str]) -> str:
    """A card to begin with: the first field as a heading, the next few as a list."""
    if not fields:
        return ""
    return f"### {{{{{fields[0]}}}}}\n\n" + "\n".join(f"- {name}: {{{{{name}}}}}" for name in fields[1:6])


def _escaped(value: Any) -> str:
    return _MARKUP.sub(r"\\\1", text_of(value).replace("\r", " ").replace("\n", " "))


def _unescaped(template: str) -> str:
    """The template with its escaping placeholders made plain, and partials, which would read files, taken out."""
    out = re.sub(r"\{\{\s*>[^}]*\}\}", "", template)
    return re.sub(r"\{\{(?![{&#/^!>=])\s*([^}]+?)\s*\}\}", r"{{{\1}}}", out)


def _mistake(template: str, error: Exception) -> BadInput:
    return BadInput(f"The card's template has a mistake: {' '.join(str(error).split())}.")
