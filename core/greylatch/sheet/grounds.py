"""What a map may lie on: plain, light, dark, or the relief of a raster of its own."""

from dataclasses import dataclass
from typing import Literal, get_args

from greylatch.errors import BadInput
from greylatch.sheet.document import Graticule, Sheet
from greylatch.sheet.layers import Layer
from greylatch.sheet.symbology import Hillshade

__all__ = ["GroundName", "with_ground"]

GroundName = Literal["plain", "light", "dark", "relief"]
RELIEF = "ground-relief"
"""The id of the layer that is the ground."""


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
}
"""Light and dark are quiet enough for any ramp of ours to stand out on them."""


def with_ground(sheet: Sheet, name: GroundName, raster: str | None = None) -> Sheet:
    """The sheet on another ground. What else is chosen, whether sea and graticule are drawn at all, stays as it is.

    Relief is the shade of the dataset `raster`, below all layers; a shade of it that is there already is taken down
    there and shown, and one that this made goes again with the next ground.

    Parameters
    ----------
    sheet : Sheet
        The sheet.
    name : GroundName
        Which ground.
    raster : str | None
        The raster that relief is made from.

    Returns
    -------
    Sheet

    Raises
    ------
    BadInput
        Where relief has no raster.

    Examples
    --------
    >>> with_ground(Sheet(title="Peat"), "dark").furniture.ground
    '#23282d'
    """
    if name not in get_args(GroundName):
        raise BadInput(f"There is no ground '{name}'.", f"There are: {', '.join(get_args(GroundName))}.")
    if name == "relief" and raster is None:
        raise BadInput("Relief is made from a raster of heights.", "Bring one in, or choose another ground.")
    colours, furniture = GROUNDS[name], sheet.furniture
    lines = furniture.graticule
    chosen = furniture.model_copy(
        update={
            "ground": colours.ground,
            "sea": colours.sea if furniture.sea else None,
            "graticule": Graticule(**{**lines.model_dump(), "colour": colours.graticule}) if lines else None,
        }
    )
    return sheet.model_copy(update={"furniture": chosen, "layers": _on_relief(sheet.layers, name, raster)})


def _on_relief(layers: list[Layer], name: GroundName, raster: str | None) -> list[Layer]:
    others = [layer for layer in layers if layer.id != RELIEF]
    if name != "relief" or raster is None:
        return others
    there = next(
        (layer for layer in others if layer.dataset == raster and isinstance(layer.symbology, Hillshade)), None
    )
    if there is None:
        key = {"shown": False}
        layer = Layer.model_validate(
            {"id": RELIEF, "name": "Relief", "dataset": raster, "symbology": {"kind": "hillshade"}, "key": key}
        )
        return [*others, layer]
    return [*(layer for layer in others if layer is not there), there.model_copy(update={"visible": True})]
