"""An open style document (style specification version 8) for vector tiles, from the same marks that are painted."""

from dataclasses import dataclass
from typing import Any

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
    def fields(self) -> dict[str, str]:
        """The properties of its tiles, as TileJSON lists them."""
        made = {"ink": "Number", "class": "Number", "class_text": "String", "value": "Number"}
        if self.sized:
            made["radius"] = "Number"
        if self.layer.lettering:
            made["label"] = "String"
        return made


def style_document(title: str, layers: list[VectorLayer], info: ArchiveInfo, ground: str | None) -> dict[str, Any]:
    """A style for `layers` (bottom first) with sources at addresses relative to the style's own.

    Blend modes have no place in the specification; they are noted in each layer's metadata.
    """
    west, south, east, north = info.bounds
    drawn: list[dict[str, Any]] = []
    if ground:
        drawn.append({"id": "ground", "type": "background", "paint": {"background-color": ground}})
    sources = {}
    for one in layers:
        name = f"shapes-{one.layer.id}"
        sources[name] = {
            "type": "vector", "tiles": [f"{name}/{{z}}/{{x}}/{{y}}.pbf"], "minzoom": info.min_zoom,
            "maxzoom": min(info.max_zoom, 14), "bounds": [west, south, east, north],
        }  # fmt: skip
        drawn += _layers(one, name)
    return {
        "version": 8, "name": title, "center": [(west + east) / 2, (south + north) / 2], "zoom": info.min_zoom,
        "sources": sources, "layers": drawn,
    }  # fmt: skip


def _layers(one: VectorLayer, source: str) -> list[dict[str, Any]]:
    common = {"source": source, "source-layer": "shapes", "metadata": {"blend": one.layer.blend}}
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
        return [{"id": f"{source}-circle", "type": "circle", **common, "paint": paint}]
    line = {
        "id": f"{source}-line",
        "type": "line",
        **common,
        "paint": stroke,
        "layout": {"line-join": "round", "line-cap": "round"},
    }
    if one.kind == "lines":
        return [line]
    return [
        {"id": f"{source}-fill", "type": "fill", **common, "paint": {"fill-color": fill, "fill-opacity": fill_opacity}},
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
