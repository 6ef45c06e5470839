"""Cards: what a reader sees on asking a feature. A template of Markdown with placeholders, made safe."""

from collections.abc import Collection, Mapping, Sequence
from html import escape
from typing import Any
from urllib.parse import urlsplit

import nh3
from markdown_it import MarkdownIt
from markdown_it.renderer import RendererHTML
from markdown_it.token import Token
from markdown_it.utils import EnvType, OptionsDict

from greylatch.reading.template import filled, placeholder, placeholders
from greylatch.sheet.versions import field_expression
from greylatch.tables.meaning import MeaningKind, credit_fields, likeliest_name, most_telling

__all__ = ["foreign_pictures", "origin", "render_card", "shows_uncredited", "starting_card", "unknown_placeholders"]

TAGS = {
    "p", "br", "hr", "h1", "h2", "h3", "h4", "strong", "em", "s", "code", "pre", "blockquote", "ul", "ol", "li", "a",
    "img", "small", "table", "thead", "tbody", "tr", "th", "td",
}  # fmt: skip
ATTRIBUTES = {"a": {"href", "title"}, "img": {"src", "alt", "title"}, "th": {"align"}, "td": {"align"}}
MAX_NESTING = 20
_markdown = MarkdownIt("commonmark", {"html": False, "maxNesting": MAX_NESTING}).enable("table")


def _with_credit(renderer: RendererHTML, tokens: Sequence[Token], at: int, options: OptionsDict, env: EnvType) -> str:
    """A picture by its address; what Markdown calls its title says whose it is, and stands below it as for attached ones."""
    credit = str(tokens[at].attrs.pop("title", "")).strip()
    words = f"<small>Picture: {escape(credit)}</small>" if credit else ""
    return renderer.image(tokens, at, options, env) + words


def _aligned(renderer: RendererHTML, tokens: Sequence[Token], at: int, options: OptionsDict, env: EnvType) -> str:
    """A cell of a table, on which side its text stands being said without a style, which cards have none of."""
    side = str(tokens[at].attrs.pop("style", "")).removeprefix("text-align:")
    if side:
        tokens[at].attrs["align"] = side
    return renderer.renderToken(tokens, at, options, env)


_markdown.add_render_rule("image", _with_credit)
for cell in ("th_open", "td_open"):
    _markdown.add_render_rule(cell, _aligned)


def render_card(template: str, row: Mapping[str, Any], pictures_from: Collection[str] = ()) -> str:
    """Safe HTML of `template` filled with the fields of one row; missing values are empty, and sections on them not
    shown.

    Values are escaped, so they cannot bring markup of their own; scripts, styles, frames and event handlers never
    survive. Pictures from elsewhere would tell their host who reads the map: they are shown only from the addresses
    in `pictures_from` ('https://pictures.example.org'), and elsewhere by their words alone.

    Parameters
    ----------
    template : str
        Markdown with placeholders and conditions of Liquid.
    row : Mapping[str, Any]
        The values of the row by field.
    pictures_from : Collection[str]
        Addresses whose pictures cards may show.

    Returns
    -------
    str

    Raises
    ------
    BadInput
        With the place of a mistake in the template.

    Examples
    --------
    >>> render_card("## {{ name }}", {"name": "Ard *Mor*"})
    '<h2>Ard *Mor*</h2>\\n'
    >>> picture, host = '![The weir](https://a.example/{{ photo }} "{{ by }}")', "https://a.example"
    >>> render_card(picture, {"photo": "weir.jpg", "by": "Isla Orr"}, [host])
    '<p><img src="https://a.example/weir.jpg" alt="The weir"><small>Picture: Isla Orr</small></p>\\n'
    """

    def allowed(tag: str, attribute: str, value: str) -> str | None:
        return None if (tag, attribute) == ("img", "src") and origin(value) not in pictures_from else value

    return nh3.clean(
        _markdown.render(filled(template, row)), tags=TAGS, attributes=ATTRIBUTES, url_schemes={"http", "https", "mailto"},
        attribute_filter=allowed, link_rel="noopener noreferrer",
    )  # fmt: skip


def shows_uncredited(template: str, row: Mapping[str, Any]) -> bool:
    """Whether a card shows a picture and does not say whose it is.

    Parameters
    ----------
    template : str
        Markdown with placeholders and conditions of Liquid.
    row : Mapping[str, Any]
        The values of the row by field.

    Returns
    -------
    bool

    Examples
    --------
    >>> row = {"photo": "https://a.example/weir.jpg", "by": "Isla Orr"}
    >>> shows_uncredited("![]({{ photo }})", row), shows_uncredited('![]({{ photo }} "{{ by }}")', row)
    (True, False)
    """
    pieces = (piece for block in _markdown.parse(filled(template, row)) for piece in block.children or ())
    return any(piece.type == "image" and not str(piece.attrs.get("title", "")).strip() for piece in pieces)


def foreign_pictures(template: str, row: Mapping[str, Any]) -> list[str]:
    """The addresses of those whose pictures a card names, each once: whom a maker would have to allow.

    Parameters
    ----------
    template : str
        Markdown with placeholders and conditions of Liquid.
    row : Mapping[str, Any]
        The values of the row by field.

    Returns
    -------
    list[str]

    Examples
    --------
    >>> foreign_pictures("![The weir]({{ picture }})", {"picture": "https://pictures.example.org/weir.jpg"})
    ['https://pictures.example.org']
    """
    fields: dict[str, None] = {}

    def noticed(tag: str, attribute: str, value: str) -> str:
        if (tag, attribute) == ("img", "src") and origin(value):
            fields[origin(value)] = None
        return value

    nh3.clean(_markdown.render(filled(template, row)), tags=TAGS, attributes=ATTRIBUTES, attribute_filter=noticed)
    return list(fields)


def origin(address: str) -> str:
    """Scheme, host and port of an address, as content security policies name it; '' for what has none.

    >>> origin("https://Pictures.example.org/a/b.jpg")
    'https://pictures.example.org'
    """
    try:
        parts = urlsplit(address)
        port = f":{parts.port}" if parts.port else ""
    except ValueError:
        return ""
    return f"{parts.scheme}://{parts.hostname}{port}" if parts.scheme in ("http", "https") and parts.hostname else ""


def unknown_placeholders(template: str, fields: Sequence[str]) -> list[str]:
    """The placeholders for which there is no field.

    Parameters
    ----------
    template : str
        Markdown with placeholders and conditions of Liquid.
    fields : Sequence[str]
        The fields by name.

    Returns
    -------
    list[str]

    Raises
    ------
    BadInput
        With the place of a mistake.

    Examples
    --------
    >>> unknown_placeholders("{{ name }} {{ hight }}", ["name", "height"])
    ['hight']
    """
    known = set(fields)
    return [name for name in placeholders(template) if name not in known]


def starting_card(fields: Sequence[tuple[str, str, MeaningKind]], shown: Collection[str] = ()) -> str:
    """A card to begin with: what names the feature as a heading, then what the map shows of it and a few more, each only where it has
    a value; pictures with whose they are. Codes and coordinates come last.

    Parameters
    ----------
    fields : Sequence[tuple[str, str, MeaningKind]]
        Names, with their type and what they mean.
    shown : Collection[str]
        Those by which the layer's look varies.

    Returns
    -------
    str

    Examples
    --------
    >>> fields = [("FID_1", "integer", "identifier"), ("isle", "text", "name"), ("ha", "number", "count")]
    >>> starting_card(fields).splitlines()[:3]
    ['### {{ isle }}', '{% if ha %}', '- ha: {{ ha | number }}']
    """
    named = likeliest_name(fields)
    if named is None:
        return ""
    pictures = [name for name, _, means in fields if means == "picture"]
    by = credit_fields([name for name, *_ in fields if name not in pictures])[:1] if pictures else []
    credit = f' "{placeholder(by[0])}"' if by else ""
    rest = most_telling([field for field in fields if field[0] not in (named, *pictures, *by)], shown)
    lines = [(name, f"![{placeholder(named)}]({placeholder(name)}{credit})") for name in pictures[:1]]
    lines += [(name, f"- {name}: {{{{ {_written(name, type, means)} }}}}") for name, type, means in rest[:5]]
    return f"### {placeholder(named)}\n" + "".join(
        f"{{% if {field_expression(name)} %}}\n{line}\n{{% endif %}}" for name, line in lines
    )


def _written(name: str, type: str, means: MeaningKind) -> str:
    """A field as cards show it: of figures the thousands parted, but not those of years and numbers of things."""
    figure = type in ("number", "integer") and means in ("count", "rate", "measure")
    return field_expression(name) + (" | number" if figure else "")
