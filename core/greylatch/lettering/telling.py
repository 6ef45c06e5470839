"""Placed labels as people and programs ask for them: each whole, with its box on the map; and why others were left out."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import groupby

import numpy as np

from greylatch.lettering.place import Letter, Placement, ToLetter
from greylatch.lettering.type import ASCENT, DESCENT, text_width

__all__ = ["LeftOut", "PlacedLabel", "left_out", "placed_labels"]

Box = tuple[float, float, float, float]


@dataclass(frozen=True)
class PlacedLabel:
    """A whole label of `feature`, a fid, of the layer with that number: its lines, and the level box around them, px from the upper left
    of the map: left, top, right, bottom. `angle` is degrees clockwise by which it is turned about the middle of its first line."""

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


def placed_labels(
    placement: Placement, layers: Sequence[ToLetter], resolution: float, origin: tuple[float, float]
) -> list[PlacedLabel]:
    """The labels of a placement, each whole.

    Parameters
    ----------
    placement : Placement
        The labels as they were placed.
    layers : Sequence[ToLetter]
        The labels that were asked for, layer by layer.
    resolution : float
        Units of the frame to a px.
    origin : tuple[float, float]
        The upper left of the map, in units of the frame.

    Returns
    -------
    list[PlacedLabel]
    """
    labels = []
    for (number, feature, x, y), lines in groupby(placement.letters, key=lambda at: (at.layer, at.feature, at.x, at.y)):
        parts = list(lines)
        place = (x - origin[0]) / resolution, (origin[1] - y) / resolution
        box = _around([_corners(line, layers[number].size, place) for line in parts])
        text = "\n".join(line.text for line in parts)
        labels.append(PlacedLabel(number, feature, text, box, parts[0].turn))
    return labels


def _corners(line: Letter, size: float, place: tuple[float, float]) -> list[tuple[float, float]]:
    """The corners of a line's box where it stands, turned about its place."""
    half = text_width(line.text, size) / 2
    cos, sin = math.cos(math.radians(line.turn)), math.sin(math.radians(line.turn))
    sides = [(line.dx + dx, line.dy + dy) for dx in (-half, half) for dy in (-ASCENT * size, DESCENT * size)]
    return [(place[0] + u * cos - v * sin, place[1] + u * sin + v * cos) for u, v in sides]


def _around(boxes: list[list[tuple[float, float]]]) -> Box:
    across, down = zip(*(corner for box in boxes for corner in box), strict=True)
    return min(across), min(down), max(across), max(down)


def left_out(placement: Placement, layers: Sequence[ToLetter], resolution: float) -> list[LeftOut]:
    """The labels that found no room, and why: letters that the typeface lacks, an area or line that is too small, or others in the way.

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
        fids = np.arange(len(layer.texts)) if layer.fids is None else layer.fids
        rows = np.searchsorted(fids, features).tolist()
        fitting = _fitting(layer, resolution)
        for row, feature in zip(rows, features, strict=True):
            if layer.texts[row] in layer.unsettable:
                why = "the typeface lacks letters of it"
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
