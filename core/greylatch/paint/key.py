"""The whole key of a layer as readers see it, vectors and rasters alike."""

from dataclasses import dataclass, replace

from greylatch.errors import BadInput
from greylatch.paint.gathered import GATHERINGS
from greylatch.paint.passes import Composition, GatheredPass, Pass, VectorPass
from greylatch.rasters.key import raster_sections
from greylatch.sheet.symbology import Slope
from greylatch.symbols.key import (
    KeyEntry,
    KeySection,
    key_sections,
    key_title,
    numbers_shown,
    unit_note,
    unnamed_divisor,
    written_unit,
)
from greylatch.symbols.letter_colours import letter_sections
from greylatch.symbols.look import Section
from greylatch.tables.dataset import Kind

__all__ = ["LayerKey", "layer_key", "sheet_key"]

RAMP_STEPS = 24


@dataclass(frozen=True)
class LayerKey:
    """A heading, the unit, the kind of shapes, and sections with entries or a ramp. `divisor` is a field for which no unit is written yet."""

    layer: str
    title: str
    unit: str
    kind: Kind
    sections: list[KeySection]
    divisor: str = ""
    numbers: str = ""
    """Which numbers it speaks of, as a unit that is written for them remembers: see `numbers_shown`."""
    columns: int = 1
    group: str = ""
    """The heading above the layers of its group, where it is the first of them."""

    @property
    def entries(self) -> list[KeyEntry]:
        """The entries of all sections."""
        return [entry for section in self.sections for entry in section.entries]


def layer_key(pass_: Pass) -> LayerKey:
    """The key of a drawing pass."""
    layer = pass_.layer
    if isinstance(pass_, VectorPass):
        data = pass_.source.dataset
        sections = key_sections(layer, (*pass_.ink.sections, *_of_labels(pass_)))
        return LayerKey(
            layer.id,
            key_title(layer),
            unit_note(layer, data),
            data.kind,
            sections,
            unnamed_divisor(layer, data),
            numbers_shown(layer, data),
            layer.key.columns,
        )
    if isinstance(pass_, GatheredPass):
        sections = key_sections(layer, GATHERINGS[type(pass_.look)].key(pass_.source, pass_.look))
        return LayerKey(
            layer.id, key_title(layer), written_unit(layer, None) or "", "points", sections,
            numbers=numbers_shown(layer, None), columns=layer.key.columns,
        )  # fmt: skip
    sections = key_sections(layer, raster_sections(str(pass_.source.path), pass_.ink))
    unit = written_unit(layer, None)
    if unit is None:
        unit = "degrees" if isinstance(layer.symbology, Slope) else ""
    return LayerKey(
        layer.id,
        key_title(layer),
        unit,
        "raster",
        sections,
        numbers=numbers_shown(layer, None),
        columns=layer.key.columns,
    )


def _of_labels(vector: VectorPass) -> tuple[Section, ...]:
    """Of labels that can't be set nothing is said here: what they lack is told with them."""
    try:
        return letter_sections(vector.source.dataset, vector.layer.lettering)
    except BadInput:
        return ()


def sheet_key(composition: Composition) -> list[LayerKey]:
    """The readers' key of a map from its top to its bottom: the layers that are to stand in it, the first of a group with the group's
    heading where that has one."""
    headed = {group.id: group.name for group in composition.groups if group.heading}
    out = []
    for pass_ in reversed(composition.passes):
        if not pass_.layer.key.shown:
            continue
        # Once: what comes later of the group stands under the same heading.
        out.append(replace(layer_key(pass_), group=headed.pop(pass_.layer.group or "", "")))
    return out
