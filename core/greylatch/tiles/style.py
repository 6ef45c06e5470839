"""An open style document (style specification version 8) for vector tiles, from the same marks that are painted."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from greylatch.lettering.glyphs import FONT_STACK
from greylatch.lettering.type import LEADING
from greylatch.sheet.document import Layer
from greylatch.symbols.ink import Mark
from greylatch.tables.dataset import Kind
from greylatch.tiles.archive import ArchiveInfo


@dataclass(frozen=True)
class VectorLayer:
    """A layer whose tiles carry, per feature, its palette position in the property `ink`."""

    layer: Layer
    kind: Kind
    palette: tuple[Mark, ...]
    sized: bool

    @property
    def source(self) -> str:
        """Name of its source of tiles."""
        return f"shapes-{self.layer.id}"

    @property
    def fields(self) -> dict[str, str]:
        """The properties of its tiles, as TileJSON lists them."""
        made = {"ink": "Number", "class": "Number", "class_text": "String", "value": "Number"}
        if self.sized:
            made["radius"] = "Number"
        if self.layer.lettering:
            made["label"] = "String"
        return made


LABELS = "labels"
"""Name of the source of labels and of the one layer in its tiles."""
LABEL_FIELDS = {"layer": "String", "row": "Number", "text": "String", "anchor": "String", "gap": "Number"}
"""The properties of its tiles, as TileJSON lists them."""


def style_document(
    title: str, layers: Sequence[VectorLayer], info: ArchiveInfo, sources: Mapping[str, ArchiveInfo], ground: str | None
) -> dict[str, Any]:
    """A style for `layers` (bottom first), and over them their labels where `sources` has these.

    `info` is that of the whole map, `sources` those of the vector tiles by name.

    Addresses are relative to the style's own; `at_home` makes them absolute, as readers want them. Blend modes have no place
    in the specification; they are noted in each layer's metadata.
    """
    west, south, east, north = info.bounds
    drawn: list[dict[str, Any]] = []
    if ground:
        drawn.append({"id": "ground", "type": "background", "paint": {"background-color": ground}})
    for one in layers:
        drawn += _layers(one)
    # The contest of labels gives the top layer the first choice, and so do readers who decide it anew.
    drawn += [_labels(one) for one in layers if LABELS in sources and one.layer.lettering]
    return {
        "version": 8, "name": title, "center": [(west + east) / 2, (south + north) / 2], "zoom": info.min_zoom,
        "sources": {name: _source(name, one) for name, one in sources.items()}, "layers": drawn,
    }  # fmt: skip


def _source(name: str, info: ArchiveInfo) -> dict[str, Any]:
    made = {
        "type": "vector",
        "tiles": [f"{name}/{{z}}/{{x}}/{{y}}.pbf"],
        "minzoom": info.min_zoom,
        "maxzoom": info.max_zoom,
    }
    return {**made, "bounds": list(info.bounds), "attribution": info.attribution}


def at_home(document: dict[str, Any], home: str, glyphs: str) -> dict[str, Any]:
    """A style or TileJSON whose tiles are at absolute addresses under `home` (ending in /), with text from `glyphs`.

    >>> at_home({"tiles": ["map/{z}/{x}/{y}.png"]}, "https://maps.example/e/1/", "")
    {'tiles': ['https://maps.example/e/1/map/{z}/{x}/{y}.png']}
    """
    made = dict(document)
    if "tiles" in made:
        made["tiles"] = [home + one for one in made["tiles"]]
    if "sources" in made:
        made["sources"] = {name: at_home(one, home, glyphs) for name, one in made["sources"].items()}
        made["glyphs"] = glyphs
    return made


def _labels(one: VectorLayer) -> dict[str, Any]:
    """The labels of a layer, which were placed for the whole map: their reader only sets them."""
    lettering = one.layer.lettering
    assert lettering is not None
    return {
        "id": f"labels-{one.layer.id}", "type": "symbol", "source": LABELS, "source-layer": LABELS,
        "filter": ["==", ["get", "layer"], one.layer.id],
        "layout": {
            "text-field": ["get", "text"], "text-font": [FONT_STACK], "text-size": lettering.size, "text-line-height": LEADING,
            "text-max-width": 1000, "text-anchor": ["get", "anchor"], "text-radial-offset": ["get", "gap"],
            "text-allow-overlap": True, "text-ignore-placement": True, "text-padding": 0,
        },
        "paint": {
            "text-color": lettering.colour, "text-halo-color": lettering.halo_colour, "text-halo-width": lettering.halo,
        },
    }  # fmt: skip


def _layers(one: VectorLayer) -> list[dict[str, Any]]:
    common = {"source": one.source, "source-layer": "shapes", "metadata": {"blend": one.layer.blend}}
    opacity = one.layer.opacity
    stroke = {
        "line-color": _by_ink(one.palette, lambda m: m.stroke), "line-width": _by_ink(one.palette, lambda m: m.stroke_width),
        "line-opacity": _by_ink(one.palette, lambda m: m.stroke_opacity * opacity),
    }  # fmt: skip
    fill = _by_ink(one.palette, lambda m: m.fill)
    fill_opacity = _by_ink(one.palette, lambda m: m.fill_opacity * opacity)
    if one.kind == "points":
        radius = ["get", "radius"] if one.sized else _by_ink(one.palette, lambda m: m.radius)
        paint = {
            "circle-color": fill, "circle-opacity": fill_opacity, "circle-radius": radius,
            "circle-stroke-color": stroke["line-color"], "circle-stroke-width": stroke["line-width"],
            "circle-stroke-opacity": stroke["line-opacity"],
        }  # fmt: skip
        # The largest first, as the painter has them.
        rank = ["-", 0, ["get", "radius"]] if one.sized else _by_ink(one.palette, lambda m: -m.radius)
        layout = {"circle-sort-key": rank}
        return [{"id": f"{one.source}-circle", "type": "circle", **common, "layout": layout, "paint": paint}]
    line = {
        "id": f"{one.source}-line",
        "type": "line",
        **common,
        "paint": stroke,
        "layout": {"line-join": "round", "line-cap": "round"},
    }
    if one.kind == "lines":
        return [line]
    return [
        {
            "id": f"{one.source}-fill",
            "type": "fill",
            **common,
            "paint": {"fill-color": fill, "fill-opacity": fill_opacity},
        },
        line,
    ]


def _by_ink(palette: tuple[Mark, ...], value: Any) -> Any:
    """A 'match' expression over the property `ink`, or the one value that all marks share."""
    values = [value(mark) for mark in palette]
    if len(set(values)) == 1:
        return values[0]
    match: list[Any] = ["match", ["get", "ink"]]
    for position, one in enumerate(values[:-1]):
        match += [position, one]
    return [*match, values[-1]]
