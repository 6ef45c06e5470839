"""What stands before a line of a key, as SVG: a symbol in its size, a piece of a line or of an area."""

from html import escape

from greylatch.symbols.marks import Line, Mark, Texture

__all__ = ["swatch_svg"]

SIDE, WIDE = 18.0, 24.0


def swatch_svg(mark: Mark, kind: str, name: str) -> str:
    """A sample of a mark.

    Parameters
    ----------
    mark : Mark
        What is drawn.
    kind : str
        Areas, lines or points.
    name : str
        By which the texture of this sample is known in its document, where it has one.

    Returns
    -------
    str

    Examples
    --------
    >>> swatch_svg(Mark("#aabbcc", 1.0), "areas", "a")
    '<svg width="24" height="18" aria-hidden="true"><rect x="1" y="2" width="22" height="14" fill="#aabbcc" fill-opacity="1"/></svg>'
    """
    side = max(SIDE, 2 * (mark.radius * mark.stretch + mark.half) + 2) if kind == "points" else SIDE
    width = max(WIDE, side)
    if mark.icon:
        place = f'x="{width / 2 - mark.radius:g}" y="{side / 2 - mark.radius:g}" width="{2 * mark.radius:g}" height="{2 * mark.radius:g}"'
        turned = f' transform="rotate({mark.turn:g} {width / 2:g} {side / 2:g})"' if mark.turn else ""
        image = (
            f'<image {place} opacity="{mark.fill_opacity:g}"{turned} href="data:image/png;base64,{escape(mark.icon)}"/>'
        )
        return f'<svg width="{width:g}" height="{side:g}" aria-hidden="true">{image}{_sign(mark, width, side)}</svg>'
    outline, moved = _outline(mark, kind, width, side)
    fill = "" if kind == "lines" else f'fill="{mark.fill}" fill-opacity="{mark.fill_opacity:g}"'
    # Strokes keep their width while the shape is made as large as the mark.
    scale = mark.radius if kind == "points" and mark.path else 1.0
    layers = [f"<{outline} {fill}{moved}/>"] if fill else []
    defined = ""
    if mark.texture and kind != "lines":
        defined = _pattern(mark.texture, name, scale)
        layers.append(f'<{outline} fill="url(#{escape(name)})"{moved}/>')
    layers += [f'<{outline} fill="none" {_stroke(line, scale)}{moved}/>' for line in mark.strokes]
    return f'<svg width="{width:g}" height="{side:g}" aria-hidden="true">{defined}{"".join(layers)}{_sign(mark, width, side)}</svg>'


def _sign(mark: Mark, width: float, side: float) -> str:
    if not mark.sign:
        return ""
    place = f"translate({width / 2:g} {side / 2:g}) scale({mark.radius:g})"
    return f'<path d="{mark.sign}" fill="{mark.sign_colour}" transform="{place}"/>'


def _outline(mark: Mark, kind: str, width: float, side: float) -> tuple[str, str]:
    """An element's name with its shape, and how it is moved to where it stands."""
    if kind == "lines":
        return 'path d="M1 13 L10 5 L23 11"', ""
    if kind != "points":
        return 'rect x="1" y="2" width="22" height="14"', ""
    if not mark.path:
        return f'circle cx="{width / 2:g}" cy="{side / 2:g}" r="{mark.radius:g}"', ""
    place = f' transform="translate({width / 2:g} {side / 2:g}) rotate({mark.turn:g}) scale({mark.radius:g})"'
    return f'path d="{mark.path}"', place


def _stroke(line: Line, scale: float) -> str:
    dash = f' stroke-dasharray="{" ".join(f"{part / scale:g}" for part in line.dash)}"' if line.dash else ""
    return (
        f'stroke="{line.colour}" stroke-width="{line.width / (scale or 1):g}" stroke-opacity="{line.opacity:g}" '
        f'stroke-linecap="{line.cap}" stroke-linejoin="round"{dash}'
    )


def _pattern(texture: Texture, name: str, scale: float) -> str:
    step, half = texture.spacing / scale, texture.width / scale / 2
    ink = f'"{texture.colour}" opacity="{texture.opacity:g}"'
    level = f'<rect y="{-half:g}" width="{step:g}" height="{2 * half:g}" fill={ink}/>'
    upright = f'<rect x="{-half:g}" width="{2 * half:g}" height="{step:g}" fill={ink}/>'
    dot = f'<circle cx="{step / 2:g}" cy="{step / 2:g}" r="{half:g}" fill={ink}/>'
    inside = {"hatch": level, "cross": level + upright, "dots": dot}[texture.kind]
    return (
        f'<pattern id="{escape(name)}" width="{step:g}" height="{step:g}" patternUnits="userSpaceOnUse" '
        f'patternTransform="rotate({texture.turn:g})" overflow="visible">{inside}</pattern>'
    )
