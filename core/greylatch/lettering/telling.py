"""Placed labels as people and programs ask for them: each whole, with its box on the map; and why others were left out."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from greylatch.lettering.asked import ToLetter
from greylatch.lettering.label import Box
from greylatch.lettering.place import Placement

__all__ = ["LeftOut", "PlacedLabel", "left_out", "placed_labels"]


@dataclass(frozen=True)
class PlacedLabel:
    """A whole label of `feature`, a fid, of the layer with that number: its lines, and the level box around them, px from the upper left
    of the map: left, top, right, bottom. `angle` is degrees clockwise by which it is turned about its place."""

    layer: int
    feature: int
    text: str
    box: Box
    angle: float


@dataclass(frozen=True)
class LeftOut:
    """A label that found no room, and why."""

    layer: int
    feature: int
    why: str


def placed_labels(placement: Placement, resolution: float, origin: tuple[float, float]) -> list[PlacedLabel]:
    """The labels of a placement, each whole.

    Parameters
    ----------
    placement : Placement
        The labels as they were placed.
    resolution : float
        Units of the frame to a px.
    origin : tuple[float, float]
        The upper left of the map, in units of the frame.

    Returns
    -------
    list[PlacedLabel]
    """
    out = []
    for label in placement.labels:
        x, y = (label.x - origin[0]) / resolution, (origin[1] - label.y) / resolution
        left, top, right, bottom = label.box
        box = x + left, y + top, x + right, y + bottom
        out.append(PlacedLabel(label.layer, label.feature, label.text, box, label.turn))
    return out


def left_out(placement: Placement, layers: Sequence[ToLetter], resolution: float) -> list[LeftOut]:
    """The labels that found no room, and why: letters that no face has, an area or line that is too small, or others in the way.

    Parameters
    ----------
    placement : Placement
        The labels as they were placed.
    layers : Sequence[ToLetter]
        The labels that were asked for, layer by layer.
    resolution : float
        Units of the frame to a px.

    Returns
    -------
    list[LeftOut]
    """
    out = []
    for number, features in placement.left_out.items():
        layer = layers[number]
        rows = np.searchsorted(layer.numbered, features).tolist()
        fitting = _fitting(layer, resolution)
        for row, feature in zip(rows, features, strict=True):
            if layer.texts[row] in layer.unsettable:
                why = "no typeface has all of its letters"
            elif row not in fitting:
                why = "its line is too short or too bent" if layer.kind == "lines" else "it does not fit inside"
            else:
                why = "others are in the way"
            out.append(LeftOut(number, feature, why))
    return out


def _fitting(layer: ToLetter, resolution: float) -> set[int]:
    """The rows that have a place at all, were there no others."""
    could = layer.candidates(resolution)
    known = np.append(0, np.cumsum(np.isfinite(could.places).all(axis=1)))
    return set(could.rows[np.diff(known[could.start]) > 0].tolist())
