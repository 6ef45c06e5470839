"""A picture painted once more where features look otherwise than before: of a break that is dragged some are moved into another class."""

from collections.abc import Sequence

import numpy as np
import shapely
import skia
from numpy.typing import NDArray

from greylatch.paint.passes import VectorPass, drawn_reach, effects_reach
from greylatch.paint.shapes import drawn_in, in_order, paint_shapes
from greylatch.places.view import View
from greylatch.symbols.ink import AS_THE_MARK, UNDRAWN, Ink

__all__ = ["looks_differ", "repaint"]

MOST = 0.12
"""The part of the features of a view up to which it is quicker than to paint all of it."""
SOFT = 1
"""Px around what is drawn that the softness of edges may reach."""


def repaint(before: NDArray[np.uint8], was: VectorPass, now: VectorPass, view: View) -> NDArray[np.uint8] | None:
    """The picture of `now`, the same to a pixel as if all of it were painted; None where that is to be done.

    Parameters
    ----------
    before : NDArray[np.uint8]
        (height, width, 4), straight alpha: the picture of `was`, alone and without a ground.
    was : VectorPass
        A layer of lines or areas.
    now : VectorPass
        The same features in other ink.
    view : View
        What both pictures show.

    Returns
    -------
    NDArray[np.uint8] | None
    """
    was, now = was.at(view.resolution), now.at(view.resolution)
    if now.source.points is not None or now.source.shapes is not was.source.shapes:
        return None
    if effects_reach(now.layer.effects) or effects_reach(was.layer.effects):
        return None
    differ = looks_differ(was.ink, now.ink)
    if differ is None:
        return None
    differ |= was.ink.shown(view.scale) != now.ink.shown(view.scale)
    in_view = np.union1d(drawn_in(was, view), drawn_in(now, view))
    rows = in_view[differ[in_view]]
    if len(rows) > MOST * len(in_view):
        return None
    reach = np.maximum(drawn_reach(was), drawn_reach(now))
    dirty = _pixels(now, rows, reach, view)
    dirty = dirty[(dirty[:, 2] > dirty[:, 0]) & (dirty[:, 3] > dirty[:, 1])]
    if not len(dirty):
        return before
    west, north = view.bounds[0], view.bounds[3]
    pad, px = (float(reach.max(initial=0.0)) + SOFT) * view.resolution, view.resolution / view.ratio
    around = shapely.box(
        west + dirty[:, 0] * px - pad, north - dirty[:, 3] * px - pad, west + dirty[:, 2] * px + pad, north - dirty[:, 1] * px + pad
    )  # fmt: skip
    touching = np.unique(now.source.tree.query(around)[1])
    touching = touching[now.ink.shown(view.scale)[touching]]
    # Under no clip: Skia sets the edges of what a clip cuts a little otherwise.
    surface = skia.Surface(view.width, view.height)
    canvas = surface.getCanvas()
    canvas.scale(view.ratio, view.ratio)
    paint_shapes(canvas, now, view, in_order(now, touching))
    snapshot = surface.makeImageSnapshot()
    straight = np.asarray(snapshot.toarray(colorType=skia.ColorType.kRGBA_8888_ColorType))
    picture = before.copy()
    for left, top, right, bottom in dirty.tolist():
        picture[top:bottom, left:right] = straight[top:bottom, left:right]
    return picture


def looks_differ(was: Ink, now: Ink) -> NDArray[np.bool_] | None:
    """Which features are drawn otherwise; None where that can't be said by feature.

    Parameters
    ----------
    was : Ink
        How features were drawn.
    now : Ink
        How the same ones are.

    Returns
    -------
    NDArray[np.bool_] | None
    """
    if was.wedges is not None or now.wedges is not None or len(was.mark) != len(now.mark):
        return None
    columns = [
        (was.order, now.order), (was.size, now.size), (was.opacity, now.opacity), (was.angle, now.angle),
        (was.ramp, now.ramp),
    ]  # fmt: skip
    if any((one is None) != (other is None) for one, other in columns):
        return None
    if was.order is not None and now.order is not None and (was.order != now.order).any():
        return None
    known: dict[object, int] = {}
    marks = [_looks(each.mark, each.palette, UNDRAWN, known) for each in (was, now)]
    differ = marks[0] != marks[1]
    if was.ramp is not None and now.ramp is not None:
        shades = _looks(was.ramp, was.colours, AS_THE_MARK, known), _looks(now.ramp, now.colours, AS_THE_MARK, known)
        differ |= shades[0] != shades[1]
    for one, other in ((was.size, now.size), (was.opacity, now.opacity), (was.angle, now.angle)):
        if one is not None and other is not None:
            differ |= one != other
    return differ


def _looks(at: NDArray[np.uint16], listed: Sequence[object], none: int, known: dict[object, int]) -> NDArray[np.intp]:
    """What features have of what is `listed`, numbered as it is `known` in more than one list; -1 for none of it."""
    numbers = np.array([*(known.setdefault(each, len(known)) for each in listed), -1])
    return numbers[np.where(at == none, len(listed), at)]


def _pixels(vector: VectorPass, rows: NDArray[np.intp], reach: NDArray[np.float32], view: View) -> NDArray[np.int64]:
    """(n, 4) left, top, right, bottom of the pixels that features may cover, within the picture; without any for those beside it."""
    boxes = shapely.bounds(vector.source.shapes[rows])
    west, north = view.bounds[0], view.bounds[3]
    pad = reach[rows].astype(np.float64) + SOFT
    left, right = (boxes[:, 0] - west) / view.resolution - pad, (boxes[:, 2] - west) / view.resolution + pad
    top, bottom = (north - boxes[:, 3]) / view.resolution - pad, (north - boxes[:, 1]) / view.resolution + pad
    corners = np.column_stack(
        [np.floor(left * view.ratio), np.floor(top * view.ratio), np.ceil(right * view.ratio), np.ceil(bottom * view.ratio)]
    )  # fmt: skip
    limits = np.array([view.width, view.height] * 2)
    return np.clip(corners, 0, limits).astype(np.int64)
