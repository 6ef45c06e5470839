"""The key as a picture by itself: pixels, or SVG whose texts stay texts."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil

import numpy as np
import skia
from numpy.typing import NDArray

from greylatch.lettering.type import font, text_width
from greylatch.paint.key import LayerKey, RampKey
from greylatch.paint.pens import colour, fill, stroke
from greylatch.symbols.ink import Mark
from greylatch.symbols.key import KeyEntry

__all__ = ["key_pixels", "key_svg"]

EDGE, BETWEEN = 14.0, 18.0
"""Px around the key and between two layers."""
HEADING, TEXT, SMALL = 14.0, 13.0, 11.5
"""Sizes of type."""
ROW, SWATCH, GAP = 22.0, 30.0, 10.0
"""Px of a line, of the sample before a text, and between them."""
RAMP = (170.0, 12.0)
INK, QUIET, PAPER = "#2b2b28", "#5f605d", "#ffffff"
MIDDLE = 0.34
"""How far under the middle of a line its baseline lies, as a share of the type."""
ASPECT = 0.6
"""Height of the sample of an area, as a share of a line."""


@dataclass(frozen=True)
class _Line:
    """A line of the key: how high it is, and what stands in it; `right` ends where a ramp does."""

    height: float
    text: str
    size: float
    ink: str
    indent: float = 0.0
    sample: Mark | None = None
    kind: str = ""
    ramp: RampKey | None = None
    right: str = ""

    @property
    def width(self) -> float:
        """Px that it takes."""
        return max(self.indent + text_width(self.text, self.size), RAMP[0] if self.ramp else 0.0)


def key_pixels(keys: Sequence[LayerKey], ratio: float = 2.0) -> NDArray[np.uint8]:
    """The keys of layers, one under the other, on white as (height, width, 4) uint8.

    Parameters
    ----------
    keys : Sequence[LayerKey]
        From the top of the map to its bottom.
    ratio : float
        Px of the picture to one of the key.

    Returns
    -------
    NDArray[np.uint8]
    """
    lines = _lines(keys)
    width, height = _size(lines)
    surface = skia.Surface(ceil(width * ratio), ceil(height * ratio))
    canvas = surface.getCanvas()
    canvas.scale(ratio, ratio)
    _draw(canvas, lines)
    return np.asarray(surface.makeImageSnapshot().toarray(colorType=skia.ColorType.kRGBA_8888_ColorType))


def key_svg(keys: Sequence[LayerKey]) -> bytes:
    """The same as SVG.

    Parameters
    ----------
    keys : Sequence[LayerKey]
        From the top of the map to its bottom.

    Returns
    -------
    bytes
    """
    lines = _lines(keys)
    stream = skia.DynamicMemoryWStream()
    canvas = skia.SVGCanvas.Make(skia.Rect.MakeWH(*_size(lines)), stream, skia.SVGCanvas.kNoPrettyXML_Flag)
    _draw(canvas, lines)
    del canvas  # which writes the end
    return bytes(stream.detachAsData())


def _lines(keys: Sequence[LayerKey]) -> list[_Line]:
    lines: list[_Line] = []
    for key in keys:
        if lines:
            lines.append(_Line(BETWEEN, "", TEXT, INK))
        lines.append(_Line(ROW, key.title, HEADING, INK))
        if key.unit:
            lines.append(_Line(ROW - 4, key.unit, SMALL, QUIET))
        if key.ramp:
            low, high = (f"{value:,.4g}".replace("-", "−") for value in (key.ramp.low, key.ramp.high))
            lines.append(_Line(RAMP[1] + 4, "", TEXT, INK, ramp=key.ramp))
            lines.append(_Line(ROW, low, TEXT, INK, right=high))
        lines += _entries([entry for entry in key.entries if entry.mark and not entry.hidden], key.kind)
    return lines


def _entries(entries: Sequence[KeyEntry], kind: str) -> list[_Line]:
    """The lines of a layer's entries, their texts under one another whatever the size of the samples."""
    points = kind == "points"
    across = [2 * entry.mark.radius + entry.mark.stroke_width if points and entry.mark else 0.0 for entry in entries]
    indent = max([SWATCH, *across]) + GAP
    return [
        _Line(max(ROW, high + 4), entry.text, TEXT, INK, indent, entry.mark, kind)
        for entry, high in zip(entries, across, strict=True)
    ]


def _size(lines: Sequence[_Line]) -> tuple[float, float]:
    width = max((line.width for line in lines), default=0.0)
    return float(ceil(width + 2 * EDGE)), float(ceil(sum(line.height for line in lines) + 2 * EDGE))


def _draw(canvas: skia.Canvas, lines: Sequence[_Line]) -> None:
    canvas.drawRect(skia.Rect.MakeWH(*_size(lines)), fill(PAPER))
    y = EDGE
    for line in lines:
        middle = y + line.height / 2
        if line.ramp:
            _draw_ramp(canvas, line.ramp, y)
        if line.sample:
            _draw_sample(canvas, line.sample, line.kind, EDGE + (line.indent - GAP) / 2, middle)
        if line.text:
            baseline = middle + line.size * MIDDLE
            canvas.drawString(line.text, EDGE + line.indent, baseline, font(line.size), fill(line.ink))
            end = EDGE + RAMP[0] - text_width(line.right, line.size)
            canvas.drawString(line.right, end, baseline, font(line.size), fill(line.ink))
        y += line.height


def _draw_sample(canvas: skia.Canvas, mark: Mark, kind: str, x: float, y: float) -> None:
    pen = stroke(mark.stroke, mark.stroke_width, mark.stroke_opacity) if mark.stroke_width > 0 else None
    if kind == "lines":
        if pen:
            canvas.drawLine(x - SWATCH / 2, y, x + SWATCH / 2, y, pen)
        return
    paints = [fill(mark.fill, mark.fill_opacity), *([pen] if pen else [])]
    for paint in paints:
        if kind == "points":
            canvas.drawCircle(x, y, mark.radius, paint)
        else:
            half = ROW * ASPECT / 2
            canvas.drawRect(skia.Rect.MakeLTRB(x - SWATCH / 2, y - half, x + SWATCH / 2, y + half), paint)


def _draw_ramp(canvas: skia.Canvas, ramp: RampKey, y: float) -> None:
    ends = [skia.Point(EDGE, 0), skia.Point(EDGE + RAMP[0], 0)]
    shader = skia.GradientShader.MakeLinear(ends, [colour(each) for each in ramp.colours])
    canvas.drawRect(skia.Rect.MakeXYWH(EDGE, y, *RAMP), skia.Paint(Shader=shader))
