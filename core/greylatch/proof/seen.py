"""Whether readers find the colours of the key on the map: blended or faded, they come out as others."""

from dataclasses import dataclass, replace

import numpy as np
from coloraide import Color
from numpy.typing import NDArray

from greylatch.colour.difference import CLOSE, difference
from greylatch.errors import CannotDraw
from greylatch.paint.passes import Composition, VectorPass, compose
from greylatch.paint.picture import paint
from greylatch.paint.sources import Find
from greylatch.places.view import View
from greylatch.sheet.document import Furniture, Sheet
from greylatch.sheet.layers import Layer
from greylatch.symbols.ink import UNDRAWN
from greylatch.symbols.key import KeyEntry, class_entries
from greylatch.symbols.marks import Mark

__all__ = ["Seen", "colours_on_the_map", "keyed_as_seen"]

SIZE = 320, 240
"""Px of the picture that is looked at."""
FEWEST = 12
"""Px of an entry that are enough to tell its colour."""
HARDLY_FADED = 0.9
"""Opacity from which on nobody sees that there is one."""
PAPER = "#ffffff"
"""On which a key stands."""


@dataclass(frozen=True)
class Seen:
    """An entry of the key, its colour there, and the one in which its features come out on the map."""

    entry: KeyEntry
    in_key: str
    on_map: str

    @property
    def differs(self) -> bool:
        """Whether the two can be told apart."""
        return difference(self.in_key, self.on_map) >= CLOSE


def colours_on_the_map(sheet: Sheet, layer: Layer, find: Find) -> list[Seen]:
    """In which colours the entries of a layer's key come out: the middle one of all px of their features, over what lies below the layer. Labels and
    layers above are left away.

    Parameters
    ----------
    sheet : Sheet
        The sheet.
    layer : Layer
        One of its layers.
    find : Find
        Gives the source of a dataset's name in a frame.

    Returns
    -------
    list[Seen]
        Empty for layers that are neither blended nor faded, and for lines.
    """
    group = next((each for each in sheet.groups if each.id == layer.group), None)
    plain = all(part.blend == "normal" and part.opacity >= HARDLY_FADED for part in (layer, group) if part)
    if plain or not layer.key.shown:
        return []
    try:
        composition = compose(sheet, find)
    except CannotDraw:
        return []
    at = next((i for i, each in enumerate(composition.passes) if each.layer.id == layer.id), None)
    own = None if at is None else composition.passes[at]
    if not isinstance(own, VectorPass) or own.source.dataset.kind == "lines" or composition.bounds is None:
        return []
    assert at is not None
    view = View.fitted(composition.frame, own.source.bounds, *SIZE)
    below = replace(composition, passes=composition.passes[: at + 1], lettered=[], placed={})
    picture = paint(below, view)[..., :3].astype(np.int16)
    out = []
    drawn = [raw.mark for section in own.ink.sections for raw in section.entries]
    for i, (entry, mark) in enumerate(zip(class_entries(layer, own.ink), drawn, strict=True)):
        if entry.mark is None or mark is None or entry.hidden or own.ink.entry is None:
            continue
        there = _places(own, own.ink.entry == i, mark, composition, view)
        if np.count_nonzero(there) < FEWEST:
            continue
        seen = "#{:02x}{:02x}{:02x}".format(*np.median(picture[there], axis=0).astype(int).tolist())
        out.append(Seen(entry, _on_paper(entry.mark), seen))
    return out


def _places(own: VectorPass, rows: NDArray[np.bool_], mark: Mark, whole: Composition, view: View) -> NDArray[np.bool_]:
    """The px that the insides of some rows' symbols cover, where nothing else lies over or under them."""
    layer = own.layer.model_copy(update={"blend": "normal", "opacity": 1.0, "group": None})
    alone = replace(own, layer=layer, ink=replace(own.ink, mark=np.where(rows, own.ink.mark, np.uint16(UNDRAWN))))
    painted = paint(Composition([alone], [], Furniture(), whole.frame), view, ground=False)
    fill = np.array(list(bytes.fromhex(mark.fill[1:7])), dtype=np.int16)
    inside = painted[..., 3] >= 250 * mark.fill_opacity
    return np.asarray(inside & (np.abs(painted[..., :3].astype(np.int16) - fill).max(axis=-1) <= 3))


def _on_paper(mark: Mark) -> str:
    """The colour of a sample in the key."""
    return str(Color(PAPER).mix(mark.fill, mark.fill_opacity, space="srgb").to_string(hex=True))


def keyed_as_seen(sheet: Sheet, layer_id: str, colours: dict[str, str]) -> Sheet:
    """The sheet with entries of a layer's key in other colours than their symbols have.

    Parameters
    ----------
    sheet : Sheet
        The sheet.
    layer_id : str
        The layer.
    colours : dict[str, str]
        By the id of an entry.

    Returns
    -------
    Sheet
    """
    layers = [
        layer.model_copy(update={"key": layer.key.model_copy(update={"colours": {**layer.key.colours, **colours}})})
        if layer.id == layer_id
        else layer
        for layer in sheet.layers
    ]
    return sheet.model_copy(update={"layers": layers})
