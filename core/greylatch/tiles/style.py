"""An open style document (style specification version 8) for vector tiles, from the same marks that are painted."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from greylatch.lettering.glyphs import FONT_STACK
from greylatch.lettering.type import LEADING
from greylatch.paint.passes import Pass, RasterPass
from greylatch.sheet.document import Layer
from greylatch.symbols.ink import Mark
from greylatch.tables.dataset import Kind
from greylatch.tiles.archive import ArchiveInfo, raster_address


@dataclass(frozen=True)
class VectorLayer:
    """A layer whose tiles carry, per feature, its palette position in the property `ink`."""

    layer: Layer
    kind: Kind
    palette: tuple[Mark, ...]
    sized: bool
    first: int = 0
    """The level from which on there are shapes; further away there are pictures."""

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


def pictures_of(layer: Layer) -> str:
    """The name of the raster tiles of a layer alone, where its shapes are none or too many."""
    return f"pictures-{layer.id}"


BELOW = "below"
"""Name of the source of raster tiles with what the specification has no words for, and all that lies under it."""
LABELS = "labels"
"""Name of the source of labels and of the one layer in its tiles."""
LABEL_FIELDS = {
    "layer": "String",
    "row": "Number",
    "text": "String",
    "anchor": "String",
    "gap": "Number",
    "dx": "Number",
    "dy": "Number",
}
"""The properties of its tiles, as TileJSON lists them."""


def passes_below(passes: Sequence[Pass]) -> int:
    """How many of the passes, from the bottom, a style shows as raster tiles: up to the last one that it can't say, a raster
    with an ink of ours or a blend mode."""
    return max(
        (i + 1 for i, one in enumerate(passes) if isinstance(one, RasterPass) or one.layer.blend != "normal"), default=0
    )


def style_document(
    title: str, layers: Sequence[VectorLayer], info: ArchiveInfo, sources: Mapping[str, ArchiveInfo], ground: str | None,
    below: Collection[str] = (),
) -> dict[str, Any]:  # fmt: skip
    """A style for `layers` (bottom first), and over them their labels where `sources` has these.

    `info` is that of the whole map, `sources` those of its tiles by name. Where `BELOW` is among them, the style names these
    raster tiles first; the layers whose ids are in `below` are drawn there, and here only stand ready to be asked.

    Addresses are relative to the style's own; `at_home` makes them absolute, as readers want them.
    """
    lon, lat, level = info.middle
    drawn: list[dict[str, Any]] = []
    if ground:
        drawn.append({"id": "ground", "type": "background", "paint": {"background-color": ground}})
    if BELOW in sources:
        drawn.append({"id": BELOW, "type": "raster", "source": BELOW, "paint": {"raster-fade-duration": 0}})
    for one in layers:
        hidden = one.layer.id in below
        if pictures_of(one.layer) in sources and not hidden:
            drawn.append(_pictures(one, one.source in sources))
        if one.source in sources:
            drawn += _layers(one, 0.0 if hidden else one.layer.opacity)
    # The contest of labels gives the top layer the first choice, and so do readers who decide it anew.
    drawn += [_labels(one) for one in layers if LABELS in sources and one.layer.lettering]
    used = {one.get("source") for one in drawn}
    return {
        # Levels of styles count tiles of 512 px, so the same scale is one less.
        "version": 8, "name": title, "center": [lon, lat], "zoom": max(0.0, level - 1.0),
        "sources": {name: _source(name, one) for name, one in sources.items() if name in used}, "layers": drawn,
    }  # fmt: skip


def _source(name: str, info: ArchiveInfo) -> dict[str, Any]:
    raster = info.format != "pbf"
    made: dict[str, Any] = {
        "type": "raster" if raster else "vector",
        "tiles": [raster_address(name, info) if raster else f"{name}/{{z}}/{{x}}/{{y}}.pbf"],
        "minzoom": info.min_zoom,
        "maxzoom": info.max_zoom,
        **({"tileSize": 256} if raster else {}),
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


def _pictures(one: VectorLayer, then_shapes: bool) -> dict[str, Any]:
    name = pictures_of(one.layer)
    made = {"id": name, "type": "raster", "source": name}
    paint = {"raster-opacity": one.layer.opacity, "raster-fade-duration": 0}
    return {**made, **({"maxzoom": one.first} if then_shapes else {}), "paint": paint}


def _layers(one: VectorLayer, opacity: float) -> list[dict[str, Any]]:
    common: dict[str, Any] = {"source": one.source, "source-layer": "shapes", "metadata": {"blend": one.layer.blend}}
    if one.first:
        common["minzoom"] = one.first
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
