"""Room for a label that found none: smaller, or somewhere near with a leader to what it names."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from greylatch.lettering.asked import ToLetter
from greylatch.lettering.blocks import blocks_of
from greylatch.lettering.byhand import Hand
from greylatch.lettering.contest import Entered, Taken, beside, room_for
from greylatch.lettering.place import Placement

__all__ = ["Fit", "room_found"]

SHARES = (0.9, 0.8, 0.7)
"""Parts of its size that a label is tried in before it is moved away."""
RINGS = (24.0, 40.0, 60.0, 90.0, 130.0, 180.0, 240.0)
"""Px from what a label names to its middle, ring after ring."""
AROUND = 16
"""Places on each ring."""


@dataclass(frozen=True)
class Fit:
    """Room for a label: the part of its size that it is set in, or its middle, in the frame, from where a leader goes to what it names."""

    share: float = 1.0
    place: tuple[float, float] | None = None


def room_found(
    placement: Placement, layers: Sequence[ToLetter], number: int, feature: int, resolution: float
) -> Fit | None:
    """Where a label finds room beside all others as they stand; None where even far away there is none.

    Parameters
    ----------
    placement : Placement
        The labels as they were placed.
    layers : Sequence[ToLetter]
        The labels that were asked for, layer by layer.
    number : int
        The layer of the label.
    feature : int
        What it names, a fid.
    resolution : float
        Units of the frame to a px.

    Returns
    -------
    Fit | None
    """
    layer = layers[number]
    row = int(np.searchsorted(layer.numbered, feature))
    lines = layer.lines(row)
    if not lines or not np.isfinite(layer.anchors[row]).all():
        return None
    taken = placement.boxes + np.tile(placement.places * (1 / resolution, -1 / resolution), 2)
    alone = replace(
        layer,
        shapes=layer.shapes[row : row + 1],
        parts=[own[row : row + 1] for own in layer.parts],
        radius=np.atleast_1d(np.broadcast_to(np.asarray(layer.radius), len(layer.texts)))[row : row + 1],
        known_anchors=lambda: layer.anchors[row : row + 1],
        fids=layer.numbered[row : row + 1],
        ranks=None,
        shorter=None,
        colours=None,
        hands={},
    )
    for share in SHARES:
        if (_entered(placement, replace(alone, hands={0: Hand(share=share)}), resolution).ways >= 0).any():
            return Fit(share)
    block = blocks_of([0], [lines], [1.0], layer.styles, layer.leading)
    half = float(block.width[0]) / 2 + layer.edge, float(block.ascent[0] + block.descent[0]) / 2 + layer.edge
    x, y = layer.anchors[row].tolist()
    turns = [2 * math.pi * i / AROUND for i in range(AROUND)]
    middles = np.array([(r * math.cos(turn), r * math.sin(turn)) for r in RINGS for turn in turns])
    # The label lies wholly beside the ring's middle, not across it.
    middles += np.sign(np.round(middles, 6)) * half
    at = middles + np.array([x / resolution, -y / resolution])
    free = np.flatnonzero(_free(np.column_stack([at - half, at + half]), taken))
    if not len(free):
        return None
    dx, dy = middles[free[0]].tolist()
    return Fit(1.0, (x + dx * resolution, y - dy * resolution))


def _entered(placement: Placement, alone: ToLetter, resolution: float) -> Entered:
    """What a label takes beside all that were placed."""
    could, px = alone.candidates(resolution), np.array((1 / resolution, -1 / resolution))
    lasts = placement.lasting
    boxes = np.concatenate([placement.boxes, could.boxes])
    start = np.append(np.arange(len(placement.boxes)), len(placement.boxes) + could.start)
    taken = Taken(room_for(boxes, start), 2 * beside(boxes))
    for part in (True, False):
        rows = np.flatnonzero(lasts == part)
        taken.enter(rows, np.arange(len(lasts) + 1), placement.boxes, placement.places * px, always=True, lasting=part)
    return taken.enter(could.order, could.start, could.boxes, could.places * px, lasting=could.sides > 0)


def _free(boxes: NDArray[np.float64], taken: NDArray[np.float64]) -> NDArray[np.bool_]:
    """Which of `boxes` overlap none of those that are taken."""
    meets = (
        (boxes[:, None, 0] < taken[None, :, 2]) & (taken[None, :, 0] < boxes[:, None, 2])
        & (boxes[:, None, 1] < taken[None, :, 3]) & (taken[None, :, 1] < boxes[:, None, 3])
    )  # fmt: skip
    return np.asarray(~meets.any(axis=1) & np.isfinite(boxes).all(axis=1))
