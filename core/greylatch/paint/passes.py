"""Drawing passes: a sheet turned into what is drawn, one after the other. Every painter reads these and nothing else."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from greylatch.errors import BadExpression, BadInput, CannotDraw
from greylatch.lettering.anchored import AnchoredLabel, anchored
from greylatch.lettering.place import Letter, Placement, ToLetter, place
from greylatch.paint.sources import Find, RasterSource, VectorSource
from greylatch.places.bounds import Bounds
from greylatch.places.frame import MERCATOR, Frame
from greylatch.sheet.document import Furniture, Hillshade, Layer, Lettering, Picture, RasterRamp, Sheet
from greylatch.sheet.projection import frame_of
from greylatch.symbols.ink import UNDRAWN, Ink, ink
from greylatch.tables.dataset import Dataset, texts

__all__ = [
    "Composition",
    "Pass",
    "RasterPass",
    "VectorPass",
    "compose",
    "drawn_reach",
    "label_decimals",
    "letters_in",
    "pass_of",
    "symbol_radii",
    "to_letter",
]


@dataclass(frozen=True)
class VectorPass:
    """A layer of shapes with its ink."""

    layer: Layer
    source: VectorSource
    ink: Ink


@dataclass(frozen=True)
class RasterPass:
    """A raster layer."""

    layer: Layer
    source: RasterSource


Pass = VectorPass | RasterPass


@dataclass(frozen=True)
class Composition:
    """All that a painter needs: passes from the bottom to the top, then the labels over them, and what lies below and around."""

    passes: Sequence[Pass]
    lettered: Sequence[tuple[Layer, ToLetter]]
    furniture: Furniture
    frame: Frame = MERCATOR
    placed: dict[float, Placement] = field(default_factory=dict, repr=False, compare=False)
    """Labels that were placed already, by resolution."""

    @property
    def bounds(self) -> Bounds | None:
        """The box around all passes, in the frame; None for a map on which nothing lies."""
        boxes = [box for box in (pass_.source.bounds for pass_ in self.passes) if all(map(math.isfinite, box))]
        if not boxes:
            return None
        return min(b[0] for b in boxes), min(b[1] for b in boxes), max(b[2] for b in boxes), max(b[3] for b in boxes)

    @cached_property
    def reach(self) -> float:
        """Px by which anything drawn may stand out over the shape that it belongs to: strokes, symbols, labels at their longest."""
        marks = [float(drawn_reach(pass_).max(initial=0.0)) for pass_ in self.passes if isinstance(pass_, VectorPass)]
        return max([*marks, *(wanted.reach for _, wanted in self.lettered)], default=0.0)

    def placement(self, resolution: float) -> Placement:
        """The labels of the whole map at `resolution` (units of the frame per px), placed once."""
        if resolution not in self.placed:
            self.placed[resolution] = place([wanted for _, wanted in self.lettered], resolution)
        return self.placed[resolution]

    def labels(self, resolution: float) -> list[AnchoredLabel]:
        """The same labels, each whole, as open style documents have them."""
        return anchored(self.placement(resolution), [wanted for _, wanted in self.lettered])


def compose(sheet: Sheet, find: Find, frame: Frame | None = None) -> Composition:
    """The passes of `sheet`, in its own frame or another.

    Parameters
    ----------
    sheet : Sheet
        The sheet.
    find : Find
        Gives the source of a dataset's name.
    frame : Frame | None
        Where the map lies.

    Returns
    -------
    Composition

    Raises
    ------
    CannotDraw
        That names the layer.
    """
    frame = frame or frame_of(sheet)
    passes: list[Pass] = []
    lettered: list[tuple[Layer, ToLetter]] = []
    for layer in sheet.layers:
        if not layer.visible:
            continue
        try:
            pass_ = pass_of(layer, find, frame)
            if layer.lettering and isinstance(pass_, VectorPass):
                lettered.append((layer, to_letter(pass_, layer.lettering)))
        except CannotDraw as error:
            raise CannotDraw(f"Layer '{layer.name}':", str(error)) from error
        passes.insert(0, pass_)
    return Composition(passes, lettered, sheet.furniture, frame)


def pass_of(layer: Layer, find: Find, frame: Frame = MERCATOR) -> Pass:
    """The drawing pass of one layer in a frame.

    Parameters
    ----------
    layer : Layer
        The layer of the sheet.
    find : Find
        Gives the source of a dataset's name in a frame.
    frame : Frame
        Where the map lies.

    Returns
    -------
    Pass

    Raises
    ------
    CannotDraw
        Where its symbology does not suit its data, or these are not there.
    """
    source = find(layer.dataset, frame)
    symbology = layer.symbology
    if isinstance(symbology, (Hillshade, RasterRamp, Picture)):
        if not isinstance(source, RasterSource):
            raise CannotDraw(f"'{symbology.kind}' draws rasters, and this dataset holds {source.dataset.kind}.")
        return RasterPass(layer, source)
    if not isinstance(source, VectorSource):
        raise CannotDraw(f"'{symbology.kind}' draws areas, lines and points, and this dataset is a raster.")
    try:
        chosen = source.taking(layer.filter)
        if layer.filter and not len(chosen.dataset):
            raise CannotDraw("Its filter takes no row.")
        return VectorPass(layer, chosen, ink(chosen.dataset, symbology))
    except BadExpression as error:
        raise CannotDraw("Its filter:", str(error)) from error
    except BadInput as error:
        raise CannotDraw(str(error)) from error


def to_letter(vector: VectorPass, lettering: Lettering) -> ToLetter:
    """What the labels of a pass ask for.

    Parameters
    ----------
    vector : VectorPass
        The drawing pass of the layer.
    lettering : Lettering
        Field and look of the labels.

    Returns
    -------
    ToLetter

    Raises
    ------
    CannotDraw
        For a field that is not there.
    """
    try:
        words = texts(vector.source.dataset.columns, lettering.field, label_decimals(vector.source.dataset, lettering))
    except BadInput as error:
        raise CannotDraw(str(error)) from error
    words = [
        "" if position == UNDRAWN else word for word, position in zip(words, vector.ink.index.tolist(), strict=True)
    ]
    return ToLetter(
        vector.source.dataset.kind, vector.source.shapes, words, lettering.size, lettering.halo, lettering.must_fit, symbol_radii(vector),
        lambda: vector.source.anchors, vector.source.dataset.fids,
    )  # fmt: skip


def label_decimals(dataset: Dataset, lettering: Lettering) -> int | None:
    """Decimals of numbers on labels: as chosen for them, or as the field has them.

    Parameters
    ----------
    dataset : Dataset
        The data.
    lettering : Lettering
        Field and look of the labels.

    Returns
    -------
    int | None
    """
    known = dataset.meanings.get(lettering.field)
    return known.decimals if lettering.decimals is None and known else lettering.decimals


def letters_in(placement: Placement, bounds: Bounds, resolution: float, reach: float) -> list[Letter]:
    """The placed lines that may touch `bounds`: none stands out further than `reach` px from its anchor.

    Parameters
    ----------
    placement : Placement
        The labels as they were placed.
    bounds : Bounds
        West, south, east, north, in the frame.
    resolution : float
        Units of the frame to a px.
    reach : float
        Px by which a line may stand out over its anchor.

    Returns
    -------
    list[Letter]
    """
    pad = reach * resolution
    west, south, east, north = bounds[0] - pad, bounds[1] - pad, bounds[2] + pad, bounds[3] + pad
    x, y = placement.places.T
    near = (west <= x) & (x <= east) & (south <= y) & (y <= north)
    return [placement.letters[i] for i in np.flatnonzero(near).tolist()]


def symbol_radii(vector: VectorPass) -> NDArray[np.float32]:
    """Px of the radius of each feature's point symbol; 0 where it is not drawn."""
    return (
        vector.ink.radius
        if vector.ink.radius is not None
        else _lookup([mark.radius for mark in vector.ink.palette])[vector.ink.index]
    )


def drawn_reach(vector: VectorPass) -> NDArray[np.float32]:
    """Px from the place, line or outline of each feature to the edge of what is drawn for it."""
    halves = _lookup([mark.stroke_width / 2 for mark in vector.ink.palette])[vector.ink.index]
    return symbol_radii(vector) + halves if vector.source.dataset.kind == "points" else halves


def _lookup(values: list[float]) -> NDArray[np.float32]:
    """A table of 256 entries to be indexed with palette positions."""
    table = np.zeros(256, dtype=np.float32)
    table[: len(values)] = values
    return table
