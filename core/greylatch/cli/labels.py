"""The command that says where labels go."""

import argparse
import json
from pathlib import Path

import numpy as np

from greylatch.cli.draw import beside, degrees_box
from greylatch.errors import BadInput
from greylatch.lettering.asked import ToLetter
from greylatch.lettering.telling import PlacedLabel, left_out, placed_labels
from greylatch.paint.passes import compose
from greylatch.places.bounds import Bounds
from greylatch.places.grid import DEEPEST
from greylatch.sheet.reading import read_sheet

__all__ = ["labels"]

SHOWN = 20


def labels(arguments: argparse.Namespace) -> None:
    """Print the labels of a sheet at a level: boxes in px at that level, from the upper left of the level's tiles; with a box of degrees
    those that reach into it, and of those left out the features within."""
    zoom = arguments.zoom
    if not 0 <= zoom <= DEEPEST:
        raise BadInput(f"There is no level {zoom:g}.", f"Levels lie between 0 and {DEEPEST}.")
    composition = compose(read_sheet(arguments.sheet), beside(Path(arguments.sheet).parent, arguments.crs))
    grid = composition.frame.grid
    resolution, origin = grid.resolution(zoom), (grid.left, grid.top)
    wanted = [each for _, each in composition.lettered]
    ids = [layer.id for layer, _ in composition.lettered]
    placement = composition.placement(resolution)
    seen = composition.frame.box_of(degrees_box(arguments.bbox)) if arguments.bbox else composition.bounds
    placements = composition.placement_over(resolution, seen) if seen else [placement]
    placed = [label for each in placements for label in placed_labels(each, resolution, origin)]
    missed = left_out(placement, wanted, resolution)
    if arguments.bbox and seen:
        west, south, east, north = seen
        window = (west - origin[0]) / resolution, (origin[1] - north) / resolution, (east - origin[0]) / resolution, (origin[1] - south) / resolution  # fmt: skip
        placed = [label for label in placed if _meets(label, window)]
        missed = [each for each in missed if _lies_in(wanted[each.layer], each.feature, (west, south, east, north))]
    if arguments.json:
        answer = {
            "placed": [
                {
                    "layer": ids[label.layer], "fid": label.feature, "text": label.text,
                    "box": [round(side, 2) for side in label.box], "angle": round(label.angle, 2),
                }
                for label in placed
            ],
            "left_out": [{"layer": ids[each.layer], "fid": each.feature, "why": each.why} for each in missed],
        }  # fmt: skip
        print(json.dumps(answer, ensure_ascii=False))
        return
    print(f"{len(placed):,} labels at level {zoom:g}, {len(missed):,} left out")
    for each in missed[:SHOWN]:
        print(f"  {ids[each.layer]} {each.feature}: {each.why}")


def _lies_in(layer: ToLetter, feature: int, bounds: Bounds) -> bool:
    """Whether a feature would have its label in a box of the frame."""
    row = int(np.searchsorted(layer.numbered, feature))
    x, y = layer.anchors[row]
    return bool(bounds[0] <= x <= bounds[2] and bounds[1] <= y <= bounds[3])


def _meets(label: PlacedLabel, window: Bounds) -> bool:
    left, top, right, bottom = label.box
    return left < window[2] and right > window[0] and top < window[3] and bottom > window[1]
