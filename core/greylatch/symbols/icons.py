"""Icons: pictures of strangers made safe, and drawn once as pixels that all painters show."""

import base64
import binascii
import io
import re
import xml.etree.ElementTree as ET
from functools import lru_cache
from typing import Literal

import defusedxml
import defusedxml.ElementTree
import numpy as np
import skia
from PIL import Image

from greylatch.errors import BadFile
from greylatch.sheet.parts import Icon

__all__ = ["LARGEST", "cleaned_svg", "icon_from", "icon_png", "is_plain"]

LARGEST = 200_000
"""Bytes of a file that may become an icon."""
MOST = 20_000
"""Characters that an icon takes in a sheet."""
SIDE = 192
"""Px of the longer side of its pixels: for twice the largest symbol that is usual, on a screen twice as fine."""
SIDES = SIDE, 128, 96, 64, 48
"""Px, the first of which at most `MOST` characters come; of the last they always do."""
MOST_ELEMENTS = 2_000
SVG = "http://www.w3.org/2000/svg"
LINK = "http://www.w3.org/1999/xlink"
ET.register_namespace("xlink", LINK)
ELEMENTS = {
    "svg", "g", "path", "rect", "circle", "ellipse", "line", "polyline", "polygon", "defs", "linearGradient", "radialGradient", "stop",
    "clipPath", "title", "desc", "use", "symbol",
}  # fmt: skip
"""What draws and asks for nothing (SVG 1.1, chapters 5, 7, 9, 13, 14)."""
ATTRIBUTES = {
    "viewBox", "width", "height", "x", "y", "x1", "y1", "x2", "y2", "cx", "cy", "r", "rx", "ry", "fx", "fy", "d", "points", "transform",
    "fill", "fill-opacity", "fill-rule", "stroke", "stroke-width", "stroke-opacity", "stroke-linecap", "stroke-linejoin",
    "stroke-miterlimit", "stroke-dasharray", "stroke-dashoffset", "opacity", "id", "offset", "stop-color", "stop-opacity",
    "gradientUnits", "gradientTransform", "spreadMethod", "clip-path", "clip-rule", "clipPathUnits", "preserveAspectRatio",
}  # fmt: skip
PLAIN = {"", "none", "black", "#000", "#000000", "currentcolor", "inherit", "transparent"}
_PAINT = re.compile(r"url\(\s*['\"]?#[\w.-]+['\"]?\s*\)( none)?|[\w #.,%()+-]*")
_STYLED = ("fill", "stroke", "stop-color", "opacity", "fill-opacity", "stroke-opacity", "stroke-width", "stop-opacity")


def cleaned_svg(data: bytes | str) -> str:
    """An SVG of which only shapes and their paints are left: no script, no style sheet, no text, no reference out of it, no entity.

    Parameters
    ----------
    data : bytes | str
        The file.

    Returns
    -------
    str

    Raises
    ------
    BadFile
        For what is no SVG, declares a document type or entities, has too many elements or nothing that draws.

    Examples
    --------
    >>> cleaned_svg('<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 1 1"><script>x</script><path d="M0 0h1" onclick="x"/></svg>')
    '<svg viewBox="0 0 1 1" xmlns="http://www.w3.org/2000/svg"><path d="M0 0h1" /></svg>'
    """
    text = data.decode("utf-8-sig", "replace") if isinstance(data, bytes) else data
    try:
        root = defusedxml.ElementTree.fromstring(text, forbid_dtd=False, forbid_entities=True, forbid_external=True)
    except defusedxml.DefusedXmlException as error:
        raise BadFile("This SVG declares entities, which icons may not.", "Save it anew as plain SVG.") from error
    except (ET.ParseError, ValueError) as error:
        raise BadFile(f"This is no readable SVG: {error}.") from error
    if root.tag not in (f"{{{SVG}}}svg", "svg"):
        raise BadFile("This is no SVG: its outermost element is another.")
    if sum(1 for _ in root.iter()) > MOST_ELEMENTS:
        raise BadFile(f"This SVG has more than {MOST_ELEMENTS:,} elements.", "An icon wants to be simple.")
    clean = _cleaned(root)
    assert clean is not None
    using = {each.attrib.get("id") for each in clean.iter() if any(_local(within) == "use" for within in each.iter())}
    if any(each.attrib[f"{{{LINK}}}href"][1:] in using for each in clean.iter("use")):
        raise BadFile("This SVG uses parts that use others, which can go on without end.", "Save it anew as plain SVG.")
    if not any(
        _local(each) in ("path", "rect", "circle", "ellipse", "line", "polyline", "polygon") for each in clean.iter()
    ):
        raise BadFile("Nothing in this SVG draws a shape.", "Texts have to be turned into paths first.")
    if "viewBox" not in clean.attrib:
        wide, high = (_number(clean.attrib.get(name, "")) for name in ("width", "height"))
        if wide is None or high is None:
            raise BadFile("This SVG says neither its viewBox nor its width and height.")
        clean.set("viewBox", f"0 0 {wide:g} {high:g}")
    for name in ("width", "height", "x", "y"):
        clean.attrib.pop(name, None)
    clean.set("xmlns", SVG)
    return ET.tostring(clean, "unicode")


def icon_from(data: bytes, name: str = "", credit: str = "") -> Icon:
    """An icon of an SVG or PNG file. One that has no colours of its own is a stencil.

    Parameters
    ----------
    data : bytes
        The file.
    name : str
        What it is called.
    credit : str
        Whose it is.

    Returns
    -------
    Icon

    Raises
    ------
    BadFile
        For other files, and for what is too large.
    """
    if len(data) > LARGEST:
        raise BadFile(f"An icon is at most {LARGEST // 1000} kB.", "Make it simpler or smaller.")
    kind: Literal["svg", "png"]
    if data.startswith(b"\x89PNG"):
        # A photograph takes more than a drawing of as many pixels: it is kept as small as it has to be.
        sizes = (base64.b64encode(_small_png(data, side)).decode() for side in SIDES)
        content, kind = next(each for each in sizes if len(each) <= MOST), "png"
    else:
        content, kind = cleaned_svg(data), "svg"
    if len(content) > MOST:
        raise BadFile(
            f"Cleaned, this icon takes {len(content):,} characters; at most {MOST:,} are kept.",
            "Make it simpler or smaller.",
        )
    icon = Icon(kind=kind, content=content, name=name[:200], credit=credit[:500], stencil=is_plain(kind, content))
    icon_png(icon)
    return icon


def is_plain(kind: str, content: str) -> bool:
    """Whether an icon has no colours of its own: a cleaned SVG that names none but black, which is what shapes have that say nothing
    (SVG 1.1, 11.3).

    Parameters
    ----------
    kind : str
        'svg' or 'png'.
    content : str
        Its text.

    Returns
    -------
    bool

    Examples
    --------
    >>> is_plain("svg", '<svg viewBox="0 0 1 1"><path d="M0 0h1v1z" fill="#000"/></svg>')
    True
    >>> is_plain("svg", '<svg viewBox="0 0 1 1"><path d="M0 0h1v1z" fill="#a33"/></svg>')
    False
    """
    paints = re.findall(r' (?:fill|stroke|stop-color)="([^"]*)"', content)
    return kind == "svg" and all(paint.strip().lower() in PLAIN for paint in paints)


def icon_png(icon: Icon, colour: str | None = None) -> bytes:
    """An icon's pixels as a PNG, its longer side `SIDE` px.

    Parameters
    ----------
    icon : Icon
        The icon.
    colour : str | None
        What a stencil is filled with; None leaves it as it is.

    Returns
    -------
    bytes

    Raises
    ------
    BadFile
        For an icon that is none.
    """
    return _filled(icon.kind, icon.content, colour) if icon.stencil and colour else _drawn(icon.kind, icon.content)


@lru_cache(maxsize=512)
def _filled(kind: str, content: str, colour: str) -> bytes:
    with Image.open(io.BytesIO(_drawn(kind, content))) as picture:
        alpha = picture.convert("RGBA").getchannel("A")
    filled = Image.new("RGBA", alpha.size, colour)
    filled.putalpha(alpha)
    return _as_png(filled)


@lru_cache(maxsize=256)
def _drawn(kind: str, content: str) -> bytes:
    if kind == "png":
        try:
            return _small_png(base64.b64decode(content, validate=True))
        except binascii.Error as error:
            raise BadFile("This icon is no PNG.") from error
    # Whatever a sheet of somebody else says is cleaned again.
    text = cleaned_svg(content)
    dom = skia.SVGDOM.MakeFromStream(skia.MemoryStream(text.encode(), copyData=True))
    said = re.search(r'viewBox="([^"]*)"', text)
    box = [_number(part) or 0.0 for part in re.split(r"[ ,]+", said.group(1).strip())] if said else []
    if dom is None or len(box) != 4 or not (0 < box[2] < 1e6 and 0 < box[3] < 1e6):
        raise BadFile("This SVG cannot be drawn: its viewBox has no extent.")
    scale = SIDE / max(box[2], box[3])
    wide, high = max(1, round(box[2] * scale)), max(1, round(box[3] * scale))
    dom.setContainerSize(skia.Size(wide, high))
    surface = skia.Surface(wide, high)
    surface.getCanvas().clear(0)
    dom.render(surface.getCanvas())
    pixels = np.asarray(surface.makeImageSnapshot().toarray(colorType=skia.ColorType.kRGBA_8888_ColorType))
    if not pixels[..., 3].any():
        raise BadFile("Nothing of this SVG is seen: its shapes lie outside of its viewBox, or have no paint.")
    return _as_png(Image.fromarray(pixels, "RGBA"))


def _small_png(data: bytes, side: int = SIDE) -> bytes:
    try:
        with Image.open(io.BytesIO(data), formats=["PNG"]) as picture:
            if picture.width * picture.height > 4_000_000:
                raise BadFile("This PNG has more than four million pixels.", "Make it smaller.")
            picture.load()
            small = picture.convert("RGBA")
    except BadFile:
        raise
    except Exception as error:
        raise BadFile("This is no readable PNG.") from error
    if max(small.size) > side:
        small.thumbnail((side, side), Image.Resampling.LANCZOS)
    return _as_png(small)


def _as_png(picture: Image.Image) -> bytes:
    out = io.BytesIO()
    picture.save(out, "PNG", optimize=True)
    return out.getvalue()


def _cleaned(element: ET.Element) -> ET.Element | None:
    name = _local(element)
    if name not in ELEMENTS or (not element.tag.startswith(f"{{{SVG}}}") and "}" in element.tag):
        return None
    kept = ET.Element(name)
    for key, value in [*_styles(element), *element.attrib.items()]:
        if key in ATTRIBUTES and (key == "d" or _PAINT.fullmatch(value)):
            kept.set(key, value)
    target = element.attrib.get("href", element.attrib.get(f"{{{LINK}}}href", ""))
    if name == "use" and not re.fullmatch(r"#[\w.-]+", target):
        return None  # of something that is not in it
    if name == "use":
        kept.set(f"{{{LINK}}}href", target)
    for child in element:
        # Comments and the like have no name.
        clean = _cleaned(child) if isinstance(child.tag, str) else None
        if clean is not None and _local(clean) not in ("title", "desc"):
            kept.append(clean)
    return kept


def _styles(element: ET.Element) -> list[tuple[str, str]]:
    """Paints that are written as a style."""
    parts = (part.split(":", 1) for part in element.attrib.get("style", "").split(";") if ":" in part)
    return [(key.strip(), value.strip()) for key, value in parts if key.strip() in _STYLED]


def _local(element: ET.Element) -> str:
    return str(element.tag).rsplit("}", 1)[-1]


def _number(text: str) -> float | None:
    match = re.match(r"\s*(-?\d*\.?\d+(e-?\d+)?)\s*(px)?\s*$", text)
    return float(match.group(1)) if match else None
