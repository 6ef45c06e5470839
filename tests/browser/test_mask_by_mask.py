"""The two painters, held against each other one thing at a time: wherever a stroke, a symbol, a blend, an effect or a label changes the
server's picture, the browser's canvas has to show it."""

import io
from collections.abc import Iterator
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from greylatch.cli.draw import beside
from greylatch.lettering.place import Placement
from greylatch.paint.passes import Composition, compose
from greylatch.paint.picture import paint
from greylatch.places.frame import MERCATOR
from greylatch.places.view import View
from greylatch.sheet.document import Sheet
from greylatch.sheet.layers import Layer
from greylatch.sheet.reading import parse_sheet, read_sheet
from greylatch.sheet.symbology import Symbols
from numpy.typing import NDArray
from PIL import Image
from playwright.sync_api import Page

from tests.browser.conftest import drawn, open_sheet

pytestmark = pytest.mark.browser
ZOOM = 10
STEP, EDGE = MERCATOR.grid.resolution(ZOOM), 20037508.342789244
# At whole pixels from the corner of the world: pictures of layers are tiles, which the browser shows as sharp as they are only there.
X, Y = (round((place + EDGE) / STEP) * STEP - EDGE for place in (-3004700.0, 6801900.0))
CHANGED = 20
"""Levels of 255 by which a pixel has to change to belong to what was taken away."""
FEW = 12
"""Pixels; what changes fewer is not in view."""
NEARER = 0.6
"""How much of the distance to the picture without it may be left to the picture with it."""
LABELS = 12
Pixels = NDArray[np.int64]


@dataclass
class Lacking:
    """The server's picture without one thing of the sheet."""

    what: str
    picture: Pixels


SHEETS = {"carbon": "Carbon in the peat", "plants": "What grows where", "slips": "Seven years of slips"}


@pytest.mark.parametrize("name", SHEETS)
def test_nothing_of_the_sheet_is_missing_on_the_canvas(page: Page, demo: Path, name: str) -> None:
    sheet = read_sheet(demo / f"{name}.sheet.json")
    browser = canvas_of(page, SHEETS[name])
    view = view_of(browser)
    find = beside(demo, "EPSG:32626" if name == "slips" else None)
    whole = compose(sheet, find)
    server = painted(whole, view, whole.placement(view.resolution))
    seen = missing = 0
    for lacking in without_one_thing(sheet, whole, view, find):
        mask = np.abs(lacking.picture - server).max(axis=2) > CHANGED
        if mask.sum() < FEW:
            continue
        seen += 1
        assert is_there(browser, server, lacking.picture, mask), f"{lacking.what} is not on the canvas"
        # The same question asked of a canvas that lacks it is answered with no.
        missing += not is_there(lacking.picture, server, lacking.picture, mask)
    assert seen == missing > 6, "things that were taken away one by one"


def is_there(canvas: Pixels, with_it: Pixels, without: Pixels, mask: NDArray[np.bool_]) -> bool:
    """Whether a canvas is nearer to the picture with a thing than to the one without, where that makes a difference."""
    near, far = (float(np.abs(canvas - picture)[mask].mean()) for picture in (with_it, without))
    return near < NEARER * far


def canvas_of(page: Page, title: str) -> Pixels:
    open_sheet(page, title)
    page.evaluate(
        f"""() => {{
            const view = window.sheetMap.getView();
            view.setCenter([{X}, {Y}]); view.setZoom({ZOOM});
            document.querySelector('.ol-overlaycontainer-stopevent').style.visibility = 'hidden';
        }}"""
    )
    page.wait_for_timeout(500)
    drawn(page)
    page.wait_for_timeout(1_500)
    shot = page.get_by_test_id("map").screenshot()
    return np.asarray(Image.open(io.BytesIO(shot)).convert("RGB")).astype(np.int64)


def view_of(picture: Pixels) -> View:
    height, width, _ = picture.shape
    return View.around(MERCATOR, X, Y, MERCATOR.grid.resolution(ZOOM), width, height)


def painted(composition: Composition, view: View, placement: Placement | None) -> Pixels:
    return paint(composition, view, placement=placement)[..., :3].astype(np.int64)


def without_one_thing(sheet: Sheet, whole: Composition, view: View, find: Any) -> Iterator[Lacking]:
    placement = whole.placement(view.resolution)
    for what, other in changed_sheets(sheet):
        yield Lacking(what, painted(compose(other, find), view, placement if other.layers else None))
    west, south, east, north = view.bounds
    inside = [i for i, one in enumerate(placement.labels) if west < one.x < east and south < one.y < north][:LABELS]
    for i in inside:
        fewer = replace(placement, labels=[*placement.labels[:i], *placement.labels[i + 1 :]])
        yield Lacking(f"the label '{placement.labels[i].text}'", painted(whole, view, fewer))


def changed_sheets(sheet: Sheet) -> Iterator[tuple[str, Sheet]]:
    """The sheet with one thing taken away, for every such thing."""
    for i, layer in enumerate(sheet.layers):
        for what, changed in changed_layers(layer):
            yield f"{what} of '{layer.name}'", _with(sheet, layers=[*sheet.layers[:i], changed, *sheet.layers[i + 1 :]])
    for i, group in enumerate(sheet.groups):
        for effect in ("shadow", "glow"):
            if getattr(group.effects, effect):
                less = group.model_copy(update={"effects": group.effects.model_copy(update={effect: None})})
                yield (
                    f"the {effect} of '{group.name}'",
                    _with(sheet, groups=[*sheet.groups[:i], less, *sheet.groups[i + 1 :]]),
                )


def changed_layers(layer: Layer) -> Iterator[tuple[str, Layer]]:
    if layer.blend != "normal":
        yield "the blend", layer.model_copy(update={"blend": "normal"})
    for effect in ("shadow", "glow"):
        if getattr(layer.effects, effect):
            yield f"the {effect}", layer.model_copy(update={"effects": layer.effects.model_copy(update={effect: None})})
    if layer.lettering and layer.lettering.halo:
        yield "the halo", layer.model_copy(update={"lettering": layer.lettering.model_copy(update={"halo": 0.0})})
    symbology = layer.symbology
    if not isinstance(symbology, Symbols):
        yield "the relief", layer.model_copy(update={"visible": False})
        return
    for what, less in changed_symbologies(symbology):
        yield what, layer.model_copy(update={"symbology": less})


def changed_symbologies(symbology: Symbols) -> Iterator[tuple[str, Symbols]]:
    for i in range(len(symbology.symbol.strokes)):
        yield f"stroke {i}", symbology.model_copy(update={"symbol": _without_stroke(symbology.symbol, i)})
    for part in ("inner", "pattern"):
        if getattr(symbology.symbol, part):
            yield (
                f"the {part}",
                symbology.model_copy(update={"symbol": symbology.symbol.model_copy(update={part: None})}),
            )
    yield "the fill", symbology.model_copy(update={"symbol": symbology.symbol.model_copy(update={"fill_opacity": 0.0})})
    for channel, _ in symbology.encodings.used():
        less = symbology.encodings.model_copy(update={channel: None})
        yield f"what varies in {channel}", symbology.model_copy(update={"encodings": less})
    if symbology.pins:
        yield "the pins", symbology.model_copy(update={"pins": None})
        same = symbology.pins.model_copy(update={"colour": symbology.pins.symbol.fill})
        yield "the signs of pins", symbology.model_copy(update={"pins": same})
    for i, rule in enumerate(symbology.rules):
        rules = [*symbology.rules[:i], *symbology.rules[i + 1 :]]
        yield (
            f"the rule '{rule.name}'",
            symbology.model_copy(update={"rules": rules or [rule.model_copy(update={"where": "1 = 0"})]}),
        )
        if rule.symbol.strokes:
            bare = rule.model_copy(update={"symbol": _without_stroke(rule.symbol, 0)})
            yield (
                f"the stroke of '{rule.name}'",
                symbology.model_copy(update={"rules": [*symbology.rules[:i], bare, *symbology.rules[i + 1 :]]}),
            )
        if rule.symbol.shape != "circle":
            round_ = rule.model_copy(update={"symbol": rule.symbol.model_copy(update={"shape": "circle"})})
            yield (
                f"the shape of '{rule.name}'",
                symbology.model_copy(update={"rules": [*symbology.rules[:i], round_, *symbology.rules[i + 1 :]]}),
            )


def _without_stroke(symbol: Any, i: int) -> Any:
    return symbol.model_copy(update={"strokes": [*symbol.strokes[:i], *symbol.strokes[i + 1 :]]})


def _with(sheet: Sheet, **update: Any) -> Sheet:
    return parse_sheet(sheet.model_copy(update=update).model_dump(mode="json"))
