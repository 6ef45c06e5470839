"""The key as a picture by itself: pixels, or SVG whose texts stay texts."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from math import ceil

import numpy as np
import skia
from numpy.typing import NDArray

from greylatch.lettering.type import text_width
from greylatch.paint.brush import draw_area, draw_line, draw_point
from greylatch.paint.key import LayerKey
from greylatch.paint.pens import colour, draw_text, fill
from greylatch.symbols.key import KeyEntry, KeySection
from greylatch.symbols.marks import Mark
from greylatch.symbols.nested import nested_circles
from greylatch.symbols.square import CELL, square_of

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
    ramp: tuple[str, ...] = ()
    right: str = ""
    middle: str = ""
    square: KeySection | None = None
    nested: tuple[KeyEntry, ...] = ()
    beside: "_Line | None" = None
    """What stands in the next column, `step` px to the right."""
    step: float = 0.0

    @property
    def width(self) -> float:
        """Px that it takes."""
        own = max(self.indent + text_width(self.text, self.size), RAMP[0] if self.ramp else 0.0)
        if self.square and self.square.square:
            own = square_of(*self.square.square).width
        return own if self.beside is None else self.step + self.beside.width


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
        if key.group:
            lines.append(_Line(ROW, key.group, HEADING, QUIET))
        lines.append(_Line(ROW, key.title, HEADING, INK))
        if key.unit:
            lines.append(_Line(ROW - 4, key.unit, SMALL, QUIET))
        for section in key.sections:
            lines += _section(section, key.kind, key.columns)
    return lines


def _section(section: KeySection, kind: str, columns: int) -> list[_Line]:
    lines: list[_Line] = []
    if section.heading and (section.ramp or section.square or len(section.entries) > 1):
        lines.append(_Line(ROW, section.heading, TEXT, INK))
    if section.ramp:
        said = section.words
        lines.append(_Line(RAMP[1] + 4, "", TEXT, INK, ramp=section.ramp))
        lines.append(_Line(ROW, said[0], TEXT, INK, right=said[-1], middle=said[1] if len(said) > 2 else ""))
    shown = [entry for entry in section.entries if entry.mark and not entry.hidden]
    if section.square:
        across, up = section.square
        right, upwards = (
            [_Line(ROW - 4, side.text, TEXT, INK), _Line(ROW - 4, side.limits, SMALL, QUIET)] for side in section.sides
        )
        lines += [*upwards, _Line(square_of(across, up).height + 6, "", TEXT, INK, square=section), *right]
        shown = [entry for entry in section.entries[across * up :] if entry.mark and not entry.hidden]
    if section.nested and len(shown) > 1:
        layout = nested_circles([entry.mark for entry in shown if entry.mark], ROW)
        widest = max((entry.text for entry in shown), key=lambda text: text_width(text, TEXT))
        return [*lines, _Line(layout.height + 6, widest, TEXT, INK, layout.width, nested=tuple(shown))]
    return lines + _in_columns(_entries(shown, kind), columns)


def _in_columns(lines: list[_Line], columns: int) -> list[_Line]:
    """Lines beside one another, the first column filled first."""
    high = ceil(len(lines) / columns)
    if columns == 1 or high == 0:
        return lines
    rows = lines[:high]
    step = max(line.width for line in lines) + BETWEEN
    for i in range(high):
        chain: _Line | None = None
        for line in reversed(lines[i::high]):
            chain = replace(line, beside=chain, step=step)
        assert chain is not None
        rows[i] = replace(chain, height=max(line.height for line in lines[i::high]))
    return rows


def _entries(entries: Sequence[KeyEntry], kind: str) -> list[_Line]:
    """The lines of a layer's entries, their texts under one another whatever the size of the samples."""
    points = kind == "points"
    across = [
        2 * entry.mark.radius * entry.mark.stretch + 2 * entry.mark.half if points and entry.mark else 0.0
        for entry in entries
    ]
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
        if line.square:
            _draw_square(canvas, line.square, y)
        if line.nested:
            _draw_nested(canvas, line.nested, y)
            y += line.height
            continue
        _draw_words(canvas, line, EDGE, middle)
        y += line.height


def _draw_words(canvas: skia.Canvas, line: _Line, x: float, middle: float) -> None:
    """The sample and the words of a line from `x` on, and what stands beside it."""
    if line.sample:
        _draw_sample(canvas, line.sample, line.kind, x + (line.indent - GAP) / 2, middle)
    if line.text:
        baseline = middle + line.size * MIDDLE
        draw_text(canvas, line.text, x + line.indent, baseline, line.size, line.ink)
        end = x + RAMP[0] - text_width(line.right, line.size)
        draw_text(canvas, line.right, end, baseline, line.size, line.ink)
        if line.middle:
            centre = x + (RAMP[0] - text_width(line.middle, line.size)) / 2
            draw_text(canvas, line.middle, centre, baseline, line.size, line.ink)
    if line.beside:
        _draw_words(canvas, line.beside, x + line.step, middle)


def _draw_sample(canvas: skia.Canvas, mark: Mark, kind: str, x: float, y: float) -> None:
    if kind == "points" or mark.sign:
        draw_point(canvas, x, y, mark.radius, mark)
        return
    outline = skia.Path()
    if kind == "lines":
        outline.moveTo(x - SWATCH / 2, y)
        outline.lineTo(x + SWATCH / 2, y)
        draw_line(canvas, outline, mark)
        return
    half = ROW * ASPECT / 2
    outline.addRect(skia.Rect.MakeLTRB(x - SWATCH / 2, y - half, x + SWATCH / 2, y + half))
    draw_area(canvas, outline, mark, origin=(x, y))


def _draw_square(canvas: skia.Canvas, section: KeySection, y: float) -> None:
    """The square of a two-way key, the low corner at the lower left."""
    assert section.square is not None
    square = square_of(*section.square)
    for (left, top), entry in zip(square.fields, section.entries, strict=False):
        if entry.mark:
            box = skia.Rect.MakeXYWH(EDGE + left, y + top, CELL, CELL)
            canvas.drawRect(box, fill(entry.mark.fill, entry.mark.fill_opacity))
    thin = skia.Paint(Color=colour(QUIET), StrokeWidth=1, Style=skia.Paint.kStroke_Style, AntiAlias=True)
    for line in square.arrows:
        for (x0, y0), (x1, y1) in pairwise(line):
            canvas.drawLine(EDGE + x0, y + y0, EDGE + x1, y + y1, thin)


def _draw_nested(canvas: skia.Canvas, entries: Sequence[KeyEntry], y: float) -> None:
    marks = [entry.mark for entry in entries if entry.mark]
    layout = nested_circles(marks, ROW)
    thin = skia.Paint(Color=colour(QUIET), StrokeWidth=0.6, Style=skia.Paint.kStroke_Style, AntiAlias=True)
    for mark, (cx, cy) in zip(marks, layout.centres, strict=True):
        draw_point(canvas, EDGE + cx, y + cy, mark.radius, mark)
    for entry, mark, (cx, cy), middle in zip(entries, marks, layout.centres, layout.middles, strict=True):
        canvas.drawLine(EDGE + cx, y + cy - mark.radius, EDGE + layout.width - 4, y + middle, thin)
        draw_text(canvas, entry.text, EDGE + layout.width, y + middle + TEXT * MIDDLE, TEXT, INK)


def _draw_ramp(canvas: skia.Canvas, ramp: tuple[str, ...], y: float) -> None:
    ends = [skia.Point(EDGE, 0), skia.Point(EDGE + RAMP[0], 0)]
    shader = skia.GradientShader.MakeLinear(ends, [colour(each) for each in ramp])
    canvas.drawRect(skia.Rect.MakeXYWH(EDGE, y, *RAMP), skia.Paint(Shader=shader))
