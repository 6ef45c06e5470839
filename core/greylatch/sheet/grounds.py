"""What a map may lie on: plain, light, dark, the relief of a raster of heights, or a raster of colours: a picture from above, or tiles that
were fetched from a service."""

from dataclasses import dataclass
from typing import Literal, get_args

from greylatch.errors import BadInput
from greylatch.sheet.document import Graticule, Sheet
from greylatch.sheet.layers import Layer
from greylatch.sheet.symbology import Hillshade, Picture

__all__ = ["GroundName", "with_ground"]

GroundName = Literal["plain", "light", "dark", "relief", "picture"]


@dataclass(frozen=True)
class GroundColours:
    """Colours of a ground: below all, of the sea where it is drawn, of the graticule where there is one."""

    ground: str | None
    sea: str
    graticule: str


GROUNDS: dict[GroundName, GroundColours] = {
    "plain": GroundColours(None, "#d3e0e6", "#9aa8ac"),
    "light": GroundColours("#eef0ed", "#dde6e9", "#b4bebf"),
    "dark": GroundColours("#23282d", "#1b2127", "#48525a"),
    "relief": GroundColours("#eef0ed", "#dde6e9", "#b4bebf"),
    "picture": GroundColours("#eef0ed", "#dde6e9", "#b4bebf"),
}
"""Light and dark are quiet enough for any ramp of ours to stand out on them."""


@dataclass(frozen=True)
class Laid:
    """A ground that is made from a raster: the layer that it is, and what is missing without one."""

    id: str
    name: str
    symbology: type[Hillshade | Picture]
    wanted: str


LAID: dict[GroundName, Laid] = {
    "relief": Laid("ground-relief", "Relief", Hillshade, "Relief is made from a raster of heights."),
    "picture": Laid("ground-picture", "Picture from above", Picture, "A picture needs a raster of colours."),
}


def with_ground(sheet: Sheet, name: GroundName, raster: str | None = None) -> Sheet:
    """The sheet on another ground. What else is chosen, whether sea and graticule are drawn at all, stays as it is.

    Relief is the shade of the dataset `raster`, a picture its colours, below all layers; a layer of it that is there already is taken
    down there and shown, and one that this made goes again with the next ground.

    Parameters
    ----------
    sheet : Sheet
        The sheet.
    name : GroundName
        Which ground.
    raster : str | None
        The raster that a relief or a picture is made from.

    Returns
    -------
    Sheet

    Raises
    ------
    BadInput
        Where a ground that is made from a raster has none.

    Examples
    --------
    >>> with_ground(Sheet(title="Peat"), "dark").furniture.ground
    '#23282d'
    """
    if name not in get_args(GroundName):
        raise BadInput(f"There is no ground '{name}'.", f"There are: {', '.join(get_args(GroundName))}.")
    if name in LAID and raster is None:
        raise BadInput(LAID[name].wanted, "Bring one in, or choose another ground.")
    colours, furniture = GROUNDS[name], sheet.furniture
    lines = furniture.graticule
    chosen = furniture.model_copy(
        update={
            "ground": colours.ground,
            "sea": colours.sea if furniture.sea else None,
            "graticule": Graticule(**{**lines.model_dump(), "colour": colours.graticule}) if lines else None,
        }
    )
    return sheet.model_copy(update={"furniture": chosen, "layers": _laid_on(sheet.layers, name, raster)})


def _laid_on(layers: list[Layer], name: GroundName, raster: str | None) -> list[Layer]:
    others = [layer for layer in layers if layer.id not in {laid.id for laid in LAID.values()}]
    if name not in LAID or raster is None:
        return others
    laid = LAID[name]
    there = next(
        (layer for layer in others if layer.dataset == raster and isinstance(layer.symbology, laid.symbology)), None
    )
    if there is None:
        symbology, key = laid.symbology().model_dump(mode="json"), {"shown": False}
        layer = Layer.model_validate(
            {"id": laid.id, "name": laid.name, "dataset": raster, "symbology": symbology, "key": key}
        )
        return [*others, layer]
    return [*(layer for layer in others if layer is not there), there.model_copy(update={"visible": True})]
