"""Placed labels as pages and the editor read them."""

import json
from collections.abc import Sequence
from typing import Any

from greylatch.lettering.label import Label, level_box
from greylatch.lettering.plates import plate_outline
from greylatch.lettering.type import TextStyle
from greylatch.sheet.lettering import Frame

__all__ = ["label_json"]

_JSON = json.JSONEncoder(ensure_ascii=False, separators=(",", ":"))


def label_json(label: Label, frame: Frame | None, styles: Sequence[TextStyle], edge: float) -> str:
    """What is drawn of a label, as JSON: `p` its pieces, each as text, face, line of the lettering, share of that line's size, px right and
    down to where its baseline begins, degrees clockwise, 1 where it runs from right to left, 1 where its letters may be set apart; `a` the outline of its plate as SVG
    path data, and `t` the degrees by which it is turned; `l` the ends of its leader; `b` what it covers: left, top, right, bottom in px; `c` and `h` the colours of letters and halo where these are its own.

    Parameters
    ----------
    label : Label
        The label.
    frame : Frame | None
        The plate below it.
    styles : Sequence[TextStyle]
        How its lines are set.
    edge : float
        Px that are kept free around the text: of its halo, or of the plate.

    Returns
    -------
    str
    """
    written: dict[str, Any] = {
        "p": [
            [
                piece.run.text, piece.run.face.name, piece.line, round(piece.share, 4), round(piece.dx, 2), round(piece.dy, 2),
                round(piece.turn, 2), int(piece.run.rtl), int(piece.run.spaced),
            ]
            for piece in label.pieces
        ]
    }  # fmt: skip
    if frame is not None:
        written["a"] = plate_outline(frame.shape, level_box(label, styles), frame.room)
        if label.turn:
            written["t"] = round(label.turn, 2)
    if label.leader is not None:
        written["l"] = [round(end, 2) for end in label.leader]
    written["b"] = [round(side, 1) for side in label.covered(edge)]
    written |= {key: own for key, own in (("c", label.colour), ("h", label.halo_colour)) if own}
    return _JSON.encode(written)
