"""An open style document (style specification version 8) for vector tiles, from the same marks that are painted."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from greylatch.lettering.glyphs import stack_of
from greylatch.paint.lettered import text_style
from greylatch.paint.passes import Composition, Pass, VectorPass
from greylatch.sheet.layers import Effects, Layer
from greylatch.symbols.marks import Line, Mark
from greylatch.tables.dataset import Kind
from greylatch.tiles.archive import ArchiveInfo, raster_address

__all__ = ["BELOW", "LABELS", "LABEL_FIELDS", "VectorLayer", "at_home", "passes_below", "pictures_of", "style_document"]


@dataclass(frozen=True)
class VectorLayer:
    """A layer whose tiles carry, per feature, its palette position in the property `ink`."""

    layer: Layer
    kind: Kind
    palette: tuple[Mark, ...]
    sized: bool
    ramped: bool = False
    first: int = 0
    """The level from which on there are shapes; further away there are pictures."""

    @property
    def source(self) -> str:
        """Name of its source of tiles."""
        return f"shapes-{self.layer.id}"

    @property
    def fields(self) -> dict[str, str]:
        """The properties of its tiles, as TileJSON lists them."""
        fields = {"ink": "Number", "class": "Number", "class_text": "String", "value": "Number"}
        if self.sized:
            fields["radius"] = "Number"
        if self.ramped:
            fields["colour"] = "String"
        if self.layer.lettering:
            fields["label"] = "String"
        return fields


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
    "set": "String",
    "turn": "Number",
}
"""The properties of its tiles, as TileJSON lists them."""


def passes_below(composition: Composition) -> int:
    """How many of the passes, from the bottom, a style shows as raster tiles: up to the last one that it can't say, a raster
    with an ink of ours, a blend mode, an effect, a symbol of several parts."""
    beyond = {
        group.id
        for group in composition.groups
        if group.blend != "normal" or group.opacity < 1 or group.effects != Effects() or group.scales
    }
    return max(
        (i + 1 for i, pass_ in enumerate(composition.passes) if pass_.layer.group in beyond or not _can_be_said(pass_)),
        default=0,
    )


def _can_be_said(pass_: Pass) -> bool:
    if not isinstance(pass_, VectorPass) or pass_.layer.blend != "normal" or pass_.layer.effects != Effects():
        return False
    if pass_.layer.scales:
        return False
    ink = pass_.ink
    varied = ink.ground is not None or ink.angle is not None or ink.opacity is not None or ink.wedges is not None
    lines = pass_.source.dataset.kind == "lines" and (ink.size is not None or ink.ramp is not None)
    plain = all(
        mark.texture is None and mark.inner is None and not mark.path and not mark.icon and not mark.sign and len(mark.strokes) < 2
        and not any(line.dash or line.cap != "round" for line in mark.strokes) and mark.closest is None and mark.farthest is None
        for mark in ink.palette
    )  # fmt: skip
    return plain and not varied and not lines


def style_document(
    title: str, layers: Sequence[VectorLayer], info: ArchiveInfo, sources: Mapping[str, ArchiveInfo], ground: str | None,
    below: Collection[str] = (),
) -> dict[str, Any]:  # fmt: skip
    """A style for `layers` (bottom first), and over them their labels where `sources` has these.

    Where `BELOW` is among them, the style names these raster tiles first; the layers whose ids are in `below` are
    drawn there, and here only stand ready to be asked.

    Addresses are relative to the style's own; `at_home` makes them absolute, as readers want them.

    Parameters
    ----------
    title : str
        The title.
    layers : Sequence[VectorLayer]
        The layers from the bottom up.
    info : ArchiveInfo
        That of the whole map, `sources` those of its tiles by name.
    sources : Mapping[str, ArchiveInfo]
        What each archive says of itself, by name.
    ground : str | None
        #rrggbb of the ground; None for none.
    below : Collection[str]
        Ids of the layers that come as pictures below.

    Returns
    -------
    dict[str, Any]
    """
    lon, lat, level = info.middle
    drawn: list[dict[str, Any]] = []
    if ground:
        drawn.append({"id": "ground", "type": "background", "paint": {"background-color": ground}})
    if BELOW in sources:
        drawn.append({"id": BELOW, "type": "raster", "source": BELOW, "paint": {"raster-fade-duration": 0}})
    for layer in layers:
        hidden = layer.layer.id in below
        if pictures_of(layer.layer) in sources and not hidden:
            drawn.append(_pictures(layer, layer.source in sources))
        if layer.source in sources:
            drawn += _layers(layer, 0.0 if hidden else layer.layer.opacity)
    # The contest of labels gives the top layer the first choice, and so do readers who decide it anew.
    drawn += [_labels(layer) for layer in layers if LABELS in sources and layer.layer.lettering]
    used = {style.get("source") for style in drawn}
    return {
        # Levels of styles count tiles of 512 px, so the same scale is one less.
        "version": 8, "name": title, "center": [lon, lat], "zoom": max(0.0, level - 1.0),
        "sources": {name: _source(name, archive) for name, archive in sources.items() if name in used}, "layers": drawn,
    }  # fmt: skip


def _source(name: str, info: ArchiveInfo) -> dict[str, Any]:
    raster = info.format != "pbf"
    source: dict[str, Any] = {
        "type": "raster" if raster else "vector",
        "tiles": [raster_address(name, info) if raster else f"{name}/{{z}}/{{x}}/{{y}}.pbf"],
        "minzoom": info.min_zoom,
        "maxzoom": info.max_zoom,
        **({"tileSize": 256} if raster else {}),
    }
    return {**source, "bounds": list(info.bounds), "attribution": info.attribution}


def at_home(document: dict[str, Any], home: str, glyphs: str) -> dict[str, Any]:
    """A style or TileJSON whose tiles are at absolute addresses under `home` (ending in /), with text from `glyphs`.

    Parameters
    ----------
    document : dict[str, Any]
        The style or TileJSON.
    home : str
        The address below which the tiles lie, ending in /.
    glyphs : str
        The address of glyph files.

    Returns
    -------
    dict[str, Any]

    Examples
    --------
    >>> at_home({"tiles": ["map/{z}/{x}/{y}.png"]}, "https://maps.example/e/1/", "")
    {'tiles': ['https://maps.example/e/1/map/{z}/{x}/{y}.png']}
    """
    moved = dict(document)
    if "tiles" in moved:
        moved["tiles"] = [home + address for address in moved["tiles"]]
    if "sources" in moved:
        moved["sources"] = {name: at_home(source, home, glyphs) for name, source in moved["sources"].items()}
        moved["glyphs"] = glyphs
    return moved


def _labels(vector: VectorLayer) -> dict[str, Any]:
    """The labels of a layer, which were placed for the whole map: their reader only sets them."""
    lettering = vector.layer.lettering
    assert lettering is not None
    # Other readers know one look for a whole label: that of its first line.
    first = lettering.lines[0]
    return {
        "id": f"labels-{vector.layer.id}", "type": "symbol", "source": LABELS, "source-layer": LABELS,
        "filter": ["==", ["get", "layer"], vector.layer.id],
        "layout": {
            "text-field": ["get", "text"], "text-font": [stack_of(text_style(first).face)], "text-size": first.size,
            "text-line-height": lettering.leading, "text-letter-spacing": first.spacing,
            "text-max-width": 1000, "text-anchor": ["get", "anchor"], "text-rotate": ["get", "turn"], "text-radial-offset": ["get", "gap"],
            "text-allow-overlap": True, "text-ignore-placement": True, "text-padding": 0,
        },
        "paint": {
            "text-color": first.colour, "text-halo-color": lettering.halo_colour, "text-halo-width": lettering.halo,
            "text-opacity": lettering.opacity,
        },
    }  # fmt: skip


def _pictures(vector: VectorLayer, then_shapes: bool) -> dict[str, Any]:
    name = pictures_of(vector.layer)
    style = {"id": name, "type": "raster", "source": name}
    paint = {"raster-opacity": vector.layer.opacity, "raster-fade-duration": 0}
    return {**style, **({"maxzoom": vector.first} if then_shapes else {}), "paint": paint}


def _layers(vector: VectorLayer, opacity: float) -> list[dict[str, Any]]:
    common: dict[str, Any] = {
        "source": vector.source,
        "source-layer": "shapes",
        "metadata": {"blend": vector.layer.blend},
    }
    if vector.first:
        common["minzoom"] = vector.first
    stroke = {
        "line-color": _by_ink(vector.palette, lambda m: _top(m).colour), "line-width": _by_ink(vector.palette, lambda m: _top(m).width),
        "line-opacity": _by_ink(vector.palette, lambda m: _top(m).opacity * opacity),
    }  # fmt: skip
    fill = _by_ink(vector.palette, lambda m: m.fill)
    if vector.ramped:
        fill = ["case", ["has", "colour"], ["to-color", ["get", "colour"]], fill]
    fill_opacity = _by_ink(vector.palette, lambda m: m.fill_opacity * opacity)
    if vector.kind == "points":
        radius = ["get", "radius"] if vector.sized else _by_ink(vector.palette, lambda m: m.radius)
        paint = {
            "circle-color": fill, "circle-opacity": fill_opacity, "circle-radius": radius,
            "circle-stroke-color": stroke["line-color"], "circle-stroke-width": stroke["line-width"],
            "circle-stroke-opacity": stroke["line-opacity"],
        }  # fmt: skip
        # The largest first, as the painter has them.
        rank = ["-", 0, ["get", "radius"]] if vector.sized else _by_ink(vector.palette, lambda m: -m.radius)
        layout = {"circle-sort-key": rank}
        return [{"id": f"{vector.source}-circle", "type": "circle", **common, "layout": layout, "paint": paint}]
    line = {
        "id": f"{vector.source}-line",
        "type": "line",
        **common,
        "paint": stroke,
        "layout": {"line-join": "round", "line-cap": "round"},
    }
    if vector.kind == "lines":
        return [line]
    return [
        {
            "id": f"{vector.source}-fill",
            "type": "fill",
            **common,
            "paint": {"fill-color": fill, "fill-opacity": fill_opacity},
        },
        line,
    ]


def _top(mark: Mark) -> Line:
    """The stroke that is seen; one of no width where there is none."""
    return mark.strokes[-1] if mark.strokes else Line(mark.fill, 0.0)


def _by_ink(palette: tuple[Mark, ...], value: Any) -> Any:
    """A 'match' expression over the property `ink`, or the one value that all marks share."""
    values = [value(mark) for mark in palette]
    if len(set(values)) == 1:
        return values[0]
    match: list[Any] = ["match", ["get", "ink"]]
    for position, entry in enumerate(values[:-1]):
        match += [position, entry]
    return [*match, values[-1]]
