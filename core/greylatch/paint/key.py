"""The whole key of a layer as readers see it, vectors and rasters alike."""

from dataclasses import dataclass

from greylatch.colour.ramps import ramp_colours
from greylatch.paint.passes import Pass, VectorPass
from greylatch.rasters.ink import stretch_ends
from greylatch.sheet.document import RasterRamp
from greylatch.symbols.key import KeyEntry, key_entries, key_title, unit_note, unnamed_divisor

__all__ = ["LayerKey", "RampKey", "layer_key"]

RAMP_STEPS = 24


@dataclass(frozen=True)
class RampKey:
    """A continuous ramp with the values at its ends."""

    colours: list[str]
    low: float
    high: float


@dataclass(frozen=True)
class LayerKey:
    """A heading, the unit, the kind of shapes, and entries or a ramp. `divisor` is a field for which no unit is written yet."""

    layer: str
    title: str
    unit: str
    kind: str
    entries: list[KeyEntry]
    ramp: RampKey | None = None
    divisor: str = ""


def layer_key(pass_: Pass) -> LayerKey:
    """The key of a drawing pass."""
    layer = pass_.layer
    if isinstance(pass_, VectorPass):
        return LayerKey(
            layer.id,
            key_title(layer),
            unit_note(layer, pass_.source.dataset),
            pass_.source.dataset.kind,
            key_entries(layer, pass_.ink),
            divisor=unnamed_divisor(layer),
        )
    ramp = None
    if isinstance(layer.symbology, RasterRamp):
        low, high = stretch_ends(str(pass_.source.path), layer.symbology)
        ramp = RampKey(ramp_colours(layer.symbology.ramp, RAMP_STEPS), low, high)
    return LayerKey(layer.id, key_title(layer), "", "raster", [], ramp)
