"""The whole key of a layer as readers see it, vectors and rasters alike."""

from dataclasses import dataclass

from greylatch.colour.ramps import ramp_colours
from greylatch.paint.passes import HeatPass, Pass, VectorPass
from greylatch.rasters.key import raster_sections
from greylatch.symbols.key import KeyEntry, KeySection, key_sections, key_title, unit_note, unnamed_divisor

__all__ = ["LayerKey", "layer_key"]

RAMP_STEPS = 24


@dataclass(frozen=True)
class LayerKey:
    """A heading, the unit, the kind of shapes, and sections with entries or a ramp. `divisor` is a field for which no unit is written yet."""

    layer: str
    title: str
    unit: str
    kind: str
    sections: list[KeySection]
    divisor: str = ""

    @property
    def entries(self) -> list[KeyEntry]:
        """The entries of all sections."""
        return [entry for section in self.sections for entry in section.entries]


def layer_key(pass_: Pass) -> LayerKey:
    """The key of a drawing pass."""
    layer = pass_.layer
    if isinstance(pass_, VectorPass):
        data = pass_.source.dataset
        sections = key_sections(layer, pass_.ink.sections)
        return LayerKey(layer.id, key_title(layer), unit_note(layer, data), data.kind, sections, unnamed_divisor(layer))
    sections = []
    if isinstance(pass_, HeatPass):
        colours = tuple(ramp_colours(pass_.heat.ramp, RAMP_STEPS))
        sections.append(KeySection("", "colour", [], colours, (), words=("few", "many")))
    else:
        sections = key_sections(layer, raster_sections(str(pass_.source.path), pass_.ink))
    return LayerKey(layer.id, key_title(layer), "", "raster", sections)
