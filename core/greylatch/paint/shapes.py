"""Painting features as shapes: which of them a view shows, in which order, and each with its look."""

from collections.abc import Iterable
from itertools import repeat

import numpy as np
import skia
from numpy.typing import NDArray

from greylatch.paint.brush import draw_area
from greylatch.paint.passes import VectorPass, drawn_reach
from greylatch.paint.pens import line_pens, plain_pens
from greylatch.places.bounds import Bounds
from greylatch.places.view import View
from greylatch.symbols.ink import AS_THE_MARK, Ink

__all__ = ["columns_of", "drawn_in", "in_order", "paint_shapes"]


def drawn_in(vector: VectorPass, view: View, beyond: float = 0.0) -> NDArray[np.intp]:
    """Rows of which anything may be seen in a view, as they are to be drawn.

    Parameters
    ----------
    vector : VectorPass
        A layer with its ink.
    view : View
        What is shown.
    beyond : float
        Px around the view that count as well.

    Returns
    -------
    NDArray[np.intp]
    """
    reach = beyond + 2 * float(drawn_reach(vector).max(initial=0.0))
    rows = vector.source.within(_padded(view.bounds, reach * view.resolution))
    return in_order(vector, rows[vector.ink.shown(view.scale)[rows]])


def paint_shapes(canvas: skia.Canvas, vector: VectorPass, view: View, rows: NDArray[np.intp]) -> None:
    """Areas, one over the other; lines stroke by stroke, the lowest of all of them first.

    Parameters
    ----------
    canvas : skia.Canvas
        In px of the screen, from the upper left of the view.
    vector : VectorPass
        A layer with its ink.
    view : View
        What is shown.
    rows : NDArray[np.intp]
        Which, as they are to be drawn.
    """
    bounds, resolution, ink = view.bounds, view.resolution, vector.ink
    areas = vector.source.dataset.kind == "areas"
    if not len(rows):
        return
    # The source's outlines count from its upper left corner.
    left, top = vector.source.bounds[0], vector.source.bounds[3]
    canvas.translate((left - bounds[0]) / resolution, (bounds[3] - top) / resolution)
    still = -left / resolution, top / resolution
    columns = columns_of(ink, rows)
    # Of thousands of shapes there are a few looks: what each is drawn with is worked out once.
    mixed: dict[tuple[int, str | None, float | None, float], list[skia.Paint] | None] = {}
    stroked: list[tuple[skia.Path, list[skia.Paint]]] = []
    for outline, at, shade, size, opacity, _ in zip(vector.source.outlines(rows, resolution), *columns, strict=True):
        look = at, shade, size, opacity
        if look not in mixed:
            mark = ink.palette[at]
            plain = None if mark.texture or mark.inner else plain_pens(mark, shade, opacity)
            mixed[look] = plain if areas else line_pens(mark, shade, size, opacity)
        pens = mixed[look]
        if pens is None:
            draw_area(canvas, outline, ink.palette[at], shade, opacity, still)
        elif areas:
            for pen in pens:
                canvas.drawPath(outline, pen)
        else:
            stroked.append((outline, pens))
    # Lines run into one another: no casing lies over another's top stroke.
    for below in range(max((len(pens) for _, pens in stroked), default=0), 0, -1):
        for outline, pens in stroked:
            if len(pens) >= below:
                canvas.drawPath(outline, pens[-below])


def in_order(vector: VectorPass, rows: NDArray[np.intp]) -> NDArray[np.intp]:
    """Rows as they are to be drawn.

    Parameters
    ----------
    vector : VectorPass
        A layer with its ink.
    rows : NDArray[np.intp]
        Some of its rows, in their own order.

    Returns
    -------
    NDArray[np.intp]
    """
    if vector.ink.order is None or not len(rows):
        return rows
    rank = np.empty(len(vector.ink.order), dtype=np.int64)
    rank[vector.ink.order] = np.arange(len(vector.ink.order))
    return rows[np.argsort(rank[rows])]


def columns_of(
    ink: Ink, rows: NDArray[np.intp]
) -> tuple[list[int], Iterable[str | None], Iterable[float | None], Iterable[float], Iterable[float]]:
    """Mark, colour, size, opacity and turn of each row.

    Parameters
    ----------
    ink : Ink
        How all features are drawn.
    rows : NDArray[np.intp]
        Which are asked about.

    Returns
    -------
    tuple[list[int], Iterable[str | None], Iterable[float | None], Iterable[float], Iterable[float]]
    """
    shades = (
        (None if at == AS_THE_MARK else ink.colours[at] for at in ink.ramp[rows].tolist())
        if ink.ramp is not None
        else repeat(None, len(rows))
    )
    sizes = repeat(None, len(rows)) if ink.size is None else ink.size[rows].tolist()
    opacities = repeat(1.0, len(rows)) if ink.opacity is None else ink.opacity[rows].tolist()
    turns = repeat(0.0, len(rows)) if ink.angle is None else ink.angle[rows].tolist()
    return ink.mark[rows].tolist(), shades, sizes, opacities, turns


def _padded(bounds: Bounds, pad: float) -> Bounds:
    return bounds[0] - pad, bounds[1] - pad, bounds[2] + pad, bounds[3] + pad
