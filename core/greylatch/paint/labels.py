"""Labels on a picture: plates and leaders, halos, and letters over them."""

import math
from collections.abc import Sequence
from itertools import compress, groupby

import skia

from greylatch.lettering.label import Box, Label, Piece, level_box
from greylatch.lettering.place import Placement
from greylatch.lettering.plates import plate_outline
from greylatch.lettering.type import TextStyle, text_blob
from greylatch.paint.brush import shape_outline
from greylatch.paint.lettered import labels_in, text_style
from greylatch.paint.passes import Composition
from greylatch.paint.pens import colour, fill, stroke
from greylatch.places.view import View
from greylatch.sheet.lettering import Lettering

__all__ = ["dress_reach", "paint_labels"]

LEADER = 1.0
"""Px of the width of leaders."""


def dress_reach(lettering: Lettering) -> float:
    """Px by which what surrounds labels stands out over their boxes: halo, plate, shadow.

    Parameters
    ----------
    lettering : Lettering
        How they look.

    Returns
    -------
    float
    """
    shadow, plate = lettering.shadow, lettering.frame
    cast = max(abs(shadow.right), abs(shadow.down)) + 3 * shadow.blur if shadow else 0.0
    # Shields are at most as much wider than their text as they are high.
    return lettering.halo + cast + (2 * (plate.room + plate.width) + lettering.lines[0].size if plate else 0.0)


def paint_labels(
    canvas: skia.Canvas, composition: Composition, placements: Sequence[Placement], view: View, cut: bool = False
) -> list[Box]:
    """Paint the labels that are seen in a view, layer by layer; says what they cover.

    Parameters
    ----------
    canvas : skia.Canvas
        What is drawn on, in pixels of the view.
    composition : Composition
        The map.
    placements : Sequence[Placement]
        Its labels.
    view : View
        What is seen of it.
    cut : bool
        Whether labels that reach over its edge are painted as far as they lie within, as in tiles; else they are left out.

    Returns
    -------
    list[Box]
        Left, top, right, bottom of each, in px of the view.
    """
    letterings = [layer.lettering for layer, _ in composition.lettered]
    beyond = max((dress_reach(each) for each in letterings if each), default=0.0)
    seen = [label for each in placements for label in labels_in(each, view.bounds, view.resolution, beyond)]
    boxes = [_covered(label, composition.lettered[label.layer][1].edge, view) for label in seen]
    if not cut:
        width, height = view.width / view.ratio, view.height / view.ratio
        whole = [box[0] >= 0 and box[1] >= 0 and box[2] <= width and box[3] <= height for box in boxes]
        seen, boxes = list(compress(seen, whole)), list(compress(boxes, whole))
    canvas.save()
    canvas.scale(view.ratio, view.ratio)
    for number, labels in groupby(sorted(seen, key=lambda label: -label.layer), key=lambda label: label.layer):
        lettering = letterings[number]
        assert lettering is not None
        apart = _apart(lettering)
        if apart is not None:
            canvas.saveLayer(None, apart)
        for label in labels:
            canvas.save()
            canvas.translate((label.x - view.bounds[0]) / view.resolution, (view.bounds[3] - label.y) / view.resolution)
            _paint_label(canvas, label, lettering)
            canvas.restore()
        if apart is not None:
            canvas.restore()
    canvas.restore()
    return boxes


def _covered(label: Label, edge: float, view: View) -> Box:
    x, y = (label.x - view.bounds[0]) / view.resolution, (view.bounds[3] - label.y) / view.resolution
    left, top, right, bottom = label.covered(edge)
    return x + left, y + top, x + right, y + bottom


def _apart(lettering: Lettering) -> skia.Paint | None:
    """What the finished labels of a layer are laid on the map with; None for simply drawing them there."""
    shadow = lettering.shadow
    if shadow is None and lettering.opacity == 1:
        return None
    paint = skia.Paint(Alphaf=lettering.opacity)
    if shadow is not None:
        ink = colour(shadow.colour, shadow.opacity)
        paint.setImageFilter(skia.ImageFilters.DropShadow(shadow.right, shadow.down, shadow.blur, shadow.blur, ink))
    return paint


def _paint_label(canvas: skia.Canvas, label: Label, lettering: Lettering) -> None:
    styles = [text_style(line) for line in lettering.lines]
    colours = [label.colour or line.colour for line in lettering.lines]
    halo_colour, plate = label.halo_colour or lettering.halo_colour, lettering.frame
    if label.leader:
        _line(canvas, label.leader, stroke(halo_colour, LEADER + 2 * lettering.halo))
        _line(canvas, label.leader, stroke(colours[0], LEADER))
    if plate is not None:
        outline = shape_outline(plate_outline(plate.shape, level_box(label, styles), plate.room), 1.0, label.turn)
        canvas.drawPath(outline, fill(plate.fill))
        if plate.width:
            canvas.drawPath(outline, stroke(plate.outline, plate.width))
    elif lettering.halo:
        # All halos lie below all letters: that of one letter never covers the one before it.
        _pieces(canvas, label.pieces, styles, [stroke(halo_colour, 2 * lettering.halo)] * len(styles))
    _pieces(canvas, label.pieces, styles, [fill(each) for each in colours])


def _pieces(
    canvas: skia.Canvas, pieces: Sequence[Piece], styles: Sequence[TextStyle], pens: Sequence[skia.Paint]
) -> None:
    for piece in pieces:
        blob = text_blob(piece.run, styles[piece.line].smaller(piece.share))
        if blob is None:
            continue
        canvas.save()
        canvas.translate(piece.dx, piece.dy)
        canvas.rotate(piece.turn)
        canvas.drawTextBlob(blob, 0, 0, pens[piece.line])
        canvas.restore()


def _line(canvas: skia.Canvas, ends: tuple[float, float, float, float], pen: skia.Paint) -> None:
    if math.hypot(ends[2] - ends[0], ends[3] - ends[1]) > 0:
        canvas.drawLine(*ends, pen)
