"""Drawing passes: a sheet turned into what is drawn, one after the other. Every painter reads these and nothing else."""

import itertools
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import NDArray

from greylatch.errors import BadExpression, BadInput, CannotDraw
from greylatch.lettering.anchored import AnchoredLabel, anchored
from greylatch.lettering.asked import ToLetter
from greylatch.lettering.place import Placement, place
from greylatch.lettering.throughout import placed_throughout
from greylatch.paint.gathered import GATHERINGS
from greylatch.paint.lettered import of_marks, over, radii_of, to_letter
from greylatch.paint.sources import Find, RasterSource, Source, VectorSource
from greylatch.places.bounds import Bounds
from greylatch.places.frame import MERCATOR, Frame
from greylatch.places.grid import TILE
from greylatch.readings.kinds import AnyReading
from greylatch.sheet.document import Furniture, Sheet
from greylatch.sheet.layers import Effects, Group, Layer
from greylatch.sheet.projection import frame_of
from greylatch.sheet.symbology import Clusters, Heat, RasterSymbology, Symbols
from greylatch.symbols.ink import Ink, ink
from greylatch.tables.dataset import Dataset

CLOSEST = 1e-3
"""Metres to a px: nobody looks at a map so closely."""
__all__ = [
    "Composition",
    "GatheredPass",
    "Pass",
    "RasterPass",
    "VectorPass",
    "compose",
    "drawn_reach",
    "effects_reach",
    "pass_of",
    "rows_drawn",
    "symbol_radii",
]


@dataclass(frozen=True)
class VectorPass:
    """A layer of shapes with its ink."""

    layer: Layer
    source: VectorSource
    ink: Ink

    def at(self, resolution: float) -> "VectorPass":
        """As it is seen at `resolution` (units of the frame per px): all sizes are px."""
        return self if self.ink.ground is None else replace(self, ink=self.ink.at(resolution, self.source.dataset.kind))


@dataclass(frozen=True)
class RasterPass:
    """A raster layer."""

    layer: Layer
    source: RasterSource
    ink: RasterSymbology


@dataclass(frozen=True)
class GatheredPass:
    """A layer of points of which all together are drawn: a surface, clusters."""

    layer: Layer
    source: VectorSource
    look: Heat | Clusters


Pass = VectorPass | RasterPass | GatheredPass


@dataclass(frozen=True)
class Composition:
    """All that a painter needs: passes from the bottom to the top, then the labels over them, and what lies below and around."""

    passes: Sequence[Pass]
    lettered: Sequence[tuple[Layer, ToLetter]]
    furniture: Furniture
    frame: Frame = MERCATOR
    groups: Sequence[Group] = ()
    placed: dict[float, Placement] = field(default_factory=dict, repr=False, compare=False)
    """Labels that were placed already, by resolution."""

    @property
    def bounds(self) -> Bounds | None:
        """The box around all passes, in the frame; None for a map on which nothing lies."""
        boxes = [box for box in (pass_.source.bounds for pass_ in self.passes) if all(map(math.isfinite, box))]
        if not boxes:
            return None
        return min(b[0] for b in boxes), min(b[1] for b in boxes), max(b[2] for b in boxes), max(b[3] for b in boxes)

    def reach(self, resolution: float) -> float:
        """Px by which anything drawn may stand out over the shape that it belongs to at `resolution` (units of the frame per px): strokes, symbols,
        labels at their longest."""
        marks = [
            float(drawn_reach(pass_.at(resolution)).max(initial=0.0))
            if isinstance(pass_, VectorPass)
            else GATHERINGS[type(pass_.look)].reach(pass_.look)
            if isinstance(pass_, GatheredPass)
            else 0.0
            for pass_ in self.passes
        ]
        beyond = max(
            (effects_reach(pass_.layer.effects) + effects_reach(self._group_effects(pass_)) for pass_ in self.passes),
            default=0.0,
        )
        return max([*(mark + beyond for mark in marks), *(wanted.reach for _, wanted in self.lettered)], default=0.0)

    def _group_effects(self, pass_: Pass) -> Effects:
        return next((group.effects for group in self.groups if group.id == pass_.layer.group), Effects())

    def tree_at(self, resolution: float) -> list["Pass | tuple[Group, list[Pass]]"]:
        """The passes that are seen at `resolution` (units of the frame per px), from the bottom to the top, those of a group together
        under it."""
        out: list[Pass | tuple[Group, list[Pass]]] = []
        groups = {group.id: group for group in self.groups}
        seen = (pass_ for pass_ in self.passes if self.shows(pass_.layer, resolution))
        there = (pass_.at(resolution) if isinstance(pass_, VectorPass) else pass_ for pass_ in seen)
        for name, members in itertools.groupby(there, lambda pass_: pass_.layer.group):
            group, within = groups.get(name or ""), list(members)
            out += [(group, within)] if group else within
        return out

    def shows(self, layer: Layer, resolution: float) -> bool:
        """Whether a layer is drawn at `resolution` (units of the frame per px), as far as its scales and those of its group go."""
        scale = self.frame.scale(resolution)
        group = next((group for group in self.groups if group.id == layer.group), None)
        return all(part.show(scale) for part in (layer.scales, group and group.scales) if part)

    def range_of(self, layer: Layer) -> tuple[float | None, float | None]:
        """Between how many units of the frame to a px a layer is drawn; None: however close, however far."""
        group = next((group for group in self.groups if group.id == layer.group), None)
        ranges = [part for part in (layer.scales, group and group.scales) if part]
        closest = max((each.closest for each in ranges if each.closest is not None), default=None)
        farthest = min((each.farthest for each in ranges if each.farthest is not None), default=None)
        return (
            None if closest is None else self.frame.resolution_at(closest),
            None if farthest is None else self.frame.resolution_at(farthest),
        )

    def _lettered_at(self, resolution: float) -> list[ToLetter]:
        """What labels are asked for at `resolution`: none of what is not drawn there."""
        drawn = {pass_.layer.id: pass_ for pass_ in self.passes}
        out = []
        for layer, wanted in self.lettered:
            pass_ = drawn.get(layer.id)
            own = layer.lettering.scales if layer.lettering else None
            if not self.shows(layer, resolution) or not (own is None or own.show(self.frame.scale(resolution))):
                out.append(wanted.showing(np.zeros(len(wanted.texts), dtype=bool)))
                continue
            if isinstance(pass_, VectorPass) and pass_.ink.ground is not None and wanted.kind == "points":
                wanted = wanted.around(symbol_radii(pass_.at(resolution)))
            if isinstance(pass_, VectorPass) and any(mark.closest or mark.farthest for mark in pass_.ink.palette):
                wanted = wanted.showing(pass_.ink.shown(self.frame.scale(resolution)))
            out.append(wanted)
        return out

    def placement(self, resolution: float) -> Placement:
        """The labels of the whole map at `resolution` (units of the frame per px), placed once. What is placed at twice that is kept, from
        where the whole map is no larger than a tile."""
        resolution = float(f"{resolution:.12g}")  # a view's is that of its level but for the last digits
        if resolution not in self.placed:
            further_out = self.placement(2 * resolution) if self._extent > TILE * resolution else None
            clear = self._kept_clear(resolution)
            self.placed[resolution] = place(self._lettered_at(resolution), resolution, clear, further_out)
        return self.placed[resolution]

    def placement_over(self, resolution: float, bounds: Bounds) -> list[Placement]:
        """The same, and the further labels of what is named throughout that touch `bounds`."""
        whole, asked = self.placement(resolution), self._lettered_at(resolution)
        if not any(layer.throughout for layer in asked):
            return [whole]
        return [whole, placed_throughout(asked, whole, resolution, bounds, self._kept_clear(resolution))]

    @property
    def _extent(self) -> float:
        """The longer side of the box around all of it."""
        west, south, east, north = self.bounds or (0.0, 0.0, 0.0, 0.0)
        return max(east - west, north - south)

    def _kept_clear(self, resolution: float) -> tuple[NDArray[np.float64], NDArray[np.float64]] | None:
        """Places and radii of the symbols that labels keep off at `resolution`: those of layers that are to be kept clear, and pins, whose numbers
        and letters are read as labels are."""
        places, radii = [], []
        for pass_ in self.passes:
            if not isinstance(pass_, VectorPass) or pass_.source.dataset.kind != "points":
                continue
            pins = [i for i, mark in enumerate(pass_.ink.palette) if mark.sign]
            if not (pass_.layer.kept_clear or pins) or not self.shows(pass_.layer, resolution):
                continue
            kept = slice(None) if pass_.layer.kept_clear else np.isin(pass_.ink.mark, pins)
            places.append(pass_.source.anchors[kept])
            radii.append(symbol_radii(pass_.at(resolution))[kept].astype(np.float64))
        return (np.concatenate(places), np.concatenate(radii)) if places else None

    def labels(self, resolution: float) -> list[AnchoredLabel]:
        """All labels of the map, each whole, as open style documents have them."""
        bounds = self.bounds or (0.0, 0.0, 0.0, 0.0)
        labels = [label for placement in self.placement_over(resolution, bounds) for label in placement.labels]
        return anchored(labels, [wanted for _, wanted in self.lettered])


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
        if not sheet.shown(layer):
            continue
        try:
            pass_ = pass_of(layer, find, frame)
            if layer.lettering and isinstance(pass_, VectorPass):
                # With the largest symbols that there may be: no label reaches further.
                largest = pass_.at(CLOSEST * frame.unit).ink
                lettered.append((layer, to_letter(pass_.source, largest, layer.lettering, frame)))
        except CannotDraw as error:
            raise CannotDraw(f"Layer '{layer.name}':", str(error)) from error
        passes.insert(0, pass_)
    below = [(pass_.source, pass_.ink) for pass_ in reversed(passes) if isinstance(pass_, VectorPass)]
    lettered = [(layer, over(wanted, layer.lettering, below, sheet.furniture.ground)) for layer, wanted in lettered]
    return Composition(passes, lettered, sheet.furniture, frame, sheet.groups)


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
    if not isinstance(symbology, (Symbols, Heat, Clusters)):
        if not isinstance(source, RasterSource):
            raise CannotDraw(f"'{symbology.kind}' draws rasters, and this dataset holds {source.dataset.kind}.")
        return RasterPass(layer, source, symbology)
    try:
        others = {name: _shapes_named(find(other, frame), name) for name, other in layer.others.items()}
        try:
            chosen = rows_drawn(source, layer.filter, layer.reading, others)
        except BadExpression as error:
            raise CannotDraw("Its filter:", str(error)) from error
        if layer.filter and not len(chosen.dataset):
            raise CannotDraw("Its filter takes no row.")
        if not isinstance(symbology, Symbols):
            if chosen.dataset.kind != "points":
                needs = GATHERINGS[type(symbology)].needs
                raise CannotDraw(f"{needs} points, and this layer holds {chosen.dataset.kind}.")
            return GatheredPass(layer, chosen, symbology)
        return VectorPass(layer, chosen, ink(chosen.dataset, symbology, layer.name, lambda: chosen.per_metre))
    except CannotDraw:
        raise
    except BadExpression as error:
        raise CannotDraw("An expression of its symbology:", str(error)) from error
    except BadInput as error:
        raise CannotDraw(str(error)) from error


def _shapes_named(source: Source, name: str) -> Dataset:
    if not isinstance(source, VectorSource):
        raise BadInput(f"'{name}', which its conditions may name, is a raster.")
    return source.dataset


def rows_drawn(
    source: Source, condition: str, reading: AnyReading | None, others: Mapping[str, Dataset] | None = None
) -> VectorSource:
    """The rows that a layer draws: of shapes those that a condition takes, as a reading makes them; of a raster those that a
    reading makes of it, of which the condition takes some.

    Parameters
    ----------
    source : Source
        The data in a frame.
    condition : str
        The layer's filter; '' takes all.
    reading : AnyReading | None
        What is made of the data.
    others : Mapping[str, Dataset] | None
        Other datasets that conditions may name.

    Returns
    -------
    VectorSource

    Raises
    ------
    CannotDraw
        For a raster of which nothing is made.
    BadInput
        For a condition with a mistake, and as readings do.
    """
    if isinstance(source, VectorSource):
        return source.comparing(others or {}).taking(condition).read(reading).comparing(others or {})
    if reading is None:
        raise CannotDraw("Symbols draw areas, lines and points, and this dataset is a raster.")
    return source.read(reading).comparing(others or {}).taking(condition)


def effects_reach(effects: Effects) -> float:
    """Px by which effects let a picture stand out over what it is a picture of: three standard deviations of what is blurred."""
    shadow, glow = effects.shadow, effects.glow
    cast = max(abs(shadow.right), abs(shadow.down)) + 3 * shadow.blur if shadow else 0.0
    return max(cast, 3 * glow.blur if glow else 0.0) + 3 * effects.blur


def symbol_radii(vector: VectorPass) -> NDArray[np.float32]:
    """Px of the radius of each feature's point symbol; 0 where it is not drawn."""
    return radii_of(vector.ink, vector.source.dataset.kind)


def drawn_reach(vector: VectorPass) -> NDArray[np.float32]:
    """Px from the place, line or outline of each feature to the edge of what is drawn for it."""
    halves = of_marks(vector.ink, "half")
    kind = vector.source.dataset.kind
    if kind == "points":
        return symbol_radii(vector) * of_marks(vector.ink, "stretch") + halves
    if kind == "lines" and vector.ink.size is not None:
        return np.maximum(halves, vector.ink.size / 2 + of_marks(vector.ink, "casing"))
    return halves
