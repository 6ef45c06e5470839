"""The key of a readers' page: HTML that needs no script."""

from collections.abc import Sequence
from html import escape

from greylatch.edition.description import PublicKey, PublicSection, PublicSide
from greylatch.symbols.nested import nested_circles
from greylatch.symbols.square import CELL, square_of
from greylatch.symbols.swatch import swatch_svg
from greylatch.wording import number_text

__all__ = ["KEY", "key_html"]

KEY = "Key"
"""What it is called, unless a page has a word of its own for it."""
NESTED_ROW = 22.0
"""Px of a line of words beside nested circles; the style of the page has it too."""


def key_html(parts: Sequence[PublicKey], word: str = KEY) -> str:
    """The key as HTML; the page's script only folds it where there is no room. Nothing where there is no key.

    Parameters
    ----------
    parts : Sequence[PublicKey]
        Layer by layer, from the top.
    word : str
        What it is called.

    Returns
    -------
    str

    Examples
    --------
    >>> key_html([])
    ''
    """
    if not parts:
        return ""
    sections = "".join(_section(part) for part in parts)
    name = escape(word)
    return f'<aside class="beside" aria-label="{name}"><details class="key" open><summary>{name}</summary>{sections}</details></aside>\n'


def _section(part: PublicKey) -> str:
    unit = f"<p>{escape(part.unit)}</p>" if part.unit else ""
    lines = "".join(_lines(part, section, f"{part.layer}-{i}") for i, section in enumerate(part.sections))
    group = f'<p class="group">{escape(part.group)}</p>' if part.group else ""
    return f'{group}<section data-layer="{escape(part.layer)}"><h2>{escape(part.title)}</h2>{unit}{lines}</section>'


def _lines(part: PublicKey, section: PublicSection, name: str) -> str:
    """A part of a layer's key: its heading, its ramp or square, its entries."""
    several = len(section.entries) > 1 or section.ramp or section.square
    heading = f"<h3>{escape(section.heading)}</h3>" if section.heading and several else ""
    ramp = _ramp(name, section) if section.ramp else ""
    if section.nested:
        return heading + _nested(section)
    squared = section.square[0] * section.square[1] if section.square else 0
    entries = "".join(
        f'<li data-entry="{escape(entry.id)}">'
        f"{swatch_svg(entry.mark, part.kind, f'{name}-{i}')}{escape(entry.text)}</li>"
        for i, entry in enumerate(section.entries[squared:])
    )
    parted = part.columns > 1 and len(section.entries) > squared + 1
    columns = f' class="columns-{part.columns}"' if parted else ""
    return f"{heading}{ramp}{_square(section) if section.square else ''}<ul{columns}>{entries}</ul>"


def _square(section: PublicSection) -> str:
    """The square of a two-way key, each field with its limits for who points at it."""
    assert section.square is not None
    square = square_of(*section.square)
    fields = "".join(
        f'<rect x="{x:g}" y="{y:g}" width="{CELL:g}" height="{CELL:g}" fill="{entry.mark.fill}" '
        f'fill-opacity="{entry.mark.fill_opacity:g}"><title>{escape(entry.text)}</title></rect>'
        for (x, y), entry in zip(square.fields, section.entries, strict=False)
    )
    arrows = "".join("M" + "L".join(f"{x:g} {y:g}" for x, y in line) for line in square.arrows)
    right, up = (_side(side) for side in section.sides) if section.sides else ("", "")
    return (
        f'<div class="square">{up}<svg width="{square.width:g}" height="{square.height:g}">{fields}'
        f'<path d="{arrows}" fill="none" stroke="currentColor"/></svg>{right}</div>'
    )


def _side(side: PublicSide) -> str:
    return f"<p><b>{escape(side.text)}</b> {escape(side.limits)}</p>"


def _nested(section: PublicSection) -> str:
    """Circles in one another, with their words."""
    marks = [entry.mark for entry in section.entries]
    width, height, centres, middles = nested_circles(marks, NESTED_ROW)
    circles = "".join(
        f'<circle cx="{x:g}" cy="{y:g}" r="{mark.radius:g}" fill="{mark.fill}" fill-opacity="{mark.fill_opacity:g}"/>'
        + "".join(
            f'<circle cx="{x:g}" cy="{y:g}" r="{mark.radius:g}" fill="none" stroke="{line.colour}" '
            f'stroke-width="{line.width:g}" stroke-opacity="{line.opacity:g}"/>'
            for line in mark.strokes
        )
        for mark, (x, y) in zip(marks, centres, strict=True)
    )
    leads = "".join(
        f'<path d="M{x:g} {y - mark.radius:g}L{width - 4:g} {middle:g}"/>'
        for mark, (x, y), middle in zip(marks, centres, middles, strict=True)
    )
    words = "".join(f"<li>{escape(entry.text)}</li>" for entry in section.entries)
    return (
        f'<div class="nested"><svg width="{width:g}" height="{height:g}" aria-hidden="true">{circles}'
        f'<g fill="none" stroke="currentColor" stroke-width="0.6">{leads}</g></svg><ul>{words}</ul></div>'
    )


def _ramp(name: str, section: PublicSection) -> str:
    last = max(1, len(section.ramp) - 1)
    stops = "".join(f'<stop offset="{i / last:.4g}" stop-color="{colour}"/>' for i, colour in enumerate(section.ramp))
    # Editions of before said only the numbers.
    said = section.words or [number_text(value) for value in section.ends]
    ends = "".join(f"<span>{escape(words)}</span>" for words in said)
    name = f"ramp-{escape(name)}"
    return (
        f'<div class="ramp"><svg width="100%" height="10" aria-hidden="true"><linearGradient id="{name}">{stops}</linearGradient>'
        f'<rect width="100%" height="10" fill="url(#{name})"/></svg><p>{ends}</p></div>'
    )
