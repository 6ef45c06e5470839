"""Placed labels in the words of open style documents: a text, its anchor, and the gap between the two in ems."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from greylatch.lettering.asked import ToLetter
from greylatch.lettering.label import Label

__all__ = ["AnchoredLabel", "anchored"]

ACROSS = {-1: "right", 0: "", 1: "left"}
DOWN = {-1: "bottom", 0: "", 1: "top"}


@dataclass(frozen=True)
class AnchoredLabel:
    """A label. `anchor` says which side of the text lies at its place: center, left, bottom-left, …; `gap` is the distance along that
    side's direction, in ems."""

    label: Label
    anchor: str
    gap: float


def anchored(labels: Sequence[Label], layers: Sequence[ToLetter]) -> list[AnchoredLabel]:
    """Labels that were placed for `layers`, as style documents say it.

    Parameters
    ----------
    labels : Sequence[Label]
        As they were placed.
    layers : Sequence[ToLetter]
        The labels that were asked for, layer by layer.

    Returns
    -------
    list[AnchoredLabel]
    """
    out = []
    for label in labels:
        across, down = label.side
        anchor = f"{DOWN[down]}-{ACROSS[across]}".strip("-") or "center"
        # Readers measure a gap along the diagonal, the contest along both axes.
        diagonal = math.sqrt(2) if across and down else 1.0
        out.append(AnchoredLabel(label, anchor, label.gap / layers[label.layer].styles[0].size * diagonal))
    return out
