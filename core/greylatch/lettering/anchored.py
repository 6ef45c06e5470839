"""Placed labels in the words of open style documents: a text, its anchor, and the gap between the two in ems."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import groupby
from statistics import fmean

import numpy as np

from greylatch.lettering.place import Letter, Placement, ToLetter
from greylatch.lettering.type import ASCENT

__all__ = ["AnchoredLabel", "anchored"]


@dataclass(frozen=True)
class AnchoredLabel:
    """A whole label of `feature`, a fid. (`x`, `y`) in the map's frame; `anchor` says which side of the text lies there: center, left,
    bottom-left, …; `gap` is the distance along that side's direction, in ems; lines are parted by newlines. The middle of the
    first line's baseline stands (`dx`, `dy`) px to the right of the place and below it, all turned by `turn` degrees clockwise."""

    layer: int
    feature: int
    text: str
    x: float
    y: float
    anchor: str
    gap: float
    dx: float
    dy: float
    turn: float = 0.0


def anchored(placement: Placement, layers: Sequence[ToLetter]) -> list[AnchoredLabel]:
    """The labels of `placement`, which was made from `layers`, line by line put together again.

    Parameters
    ----------
    placement : Placement
        The labels as they were placed.
    layers : Sequence[ToLetter]
        The labels that were asked for, layer by layer.

    Returns
    -------
    list[AnchoredLabel]
    """
    labels = []
    for (number, feature, *_), lines in groupby(placement.letters, key=lambda at: (at.layer, at.feature, at.x, at.y)):
        first, *others = lines
        text = "\n".join(line.text for line in (first, *others))
        anchor, gap = _side(first, fmean(line.dy for line in (first, *others)), layers[number])
        labels.append(
            AnchoredLabel(number, feature, text, first.x, first.y, anchor, gap, first.dx, first.dy, first.turn)
        )
    return labels


def _side(line: Letter, down_by: float, layer: ToLetter) -> tuple[str, float]:
    """Anchor and gap of a label around a point symbol, whose lines stand `down_by` px below it on average; labels of areas and lines stand on
    their anchor."""
    if layer.kind != "points":
        return "center", 0.0
    across = "left" if line.dx > 0 else "right" if line.dx < 0 else ""
    down = "bottom" if down_by < 0 else "top" if down_by > ASCENT * layer.size else ""
    row = line.feature if layer.fids is None else int(np.searchsorted(layer.fids, line.feature))
    px = layer.gap(row)
    gap = px / layer.size
    # Readers measure a gap along the diagonal, the contest along both axes.
    return f"{down}-{across}".strip("-"), gap * math.sqrt(2) if across and down else gap
