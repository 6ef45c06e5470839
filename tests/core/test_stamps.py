"""Symbols that are pressed rather than drawn one by one. Referee: Skia, at the same size and sixteen times as large, each pixel then the mean of
what lies in it."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
import pyarrow as pa
import pyproj
import pytest
import shapely
import skia
from greylatch.paint.brush import draw_point
from greylatch.paint.passes import Composition, VectorPass
from greylatch.paint.picture import paint
from greylatch.paint.sources import VectorSource
from greylatch.paint.stamps import EACH, MANY, Look, looks_of, pressed
from greylatch.places.frame import MERCATOR
from greylatch.places.view import View
from greylatch.sheet.document import Furniture
from greylatch.sheet.layers import Effects, Layer
from greylatch.sheet.parts import Shadow, Stroke
from greylatch.symbols.ink import Ink, ink
from greylatch.symbols.marks import Line, Mark, Texture
from greylatch.symbols.shapes import shape_path
from greylatch.tables.dataset import Dataset

from tests.looks import alike, proportional

LOOKS: dict[str, Look] = {
    "circle": (Mark("#3f6f8f", 1.0, (Line("#ffffff", 0.8),)), 4.0),
    "tiny": (Mark("#101010", 1.0), 0.7),
    "glass": (Mark("#a03020", 0.4, (Line("#000000", 1.2, 0.5),)), 5.3),
    "star": (Mark("#4a8030", 1.0, (Line("#202020", 0.8),), path=shape_path("star"), turn=15.0), 6.0),
    "hatched": (Mark("#e0d0b0", 1.0, (), texture=Texture("hatch", "#604020", 1.0, 3.0, 1.0, 45.0)), 7.0),
    "signed": (Mark("#205080", 1.0, sign=shape_path("cross"), sign_colour="#ffffff"), 8.0),
}
PLACES = np.random.default_rng(3)


def by_skia(x: Sequence[float], y: Sequence[float], look: Sequence[int], looks: Sequence[Look], ratio: float, side: int) -> np.ndarray:  # fmt: skip
    surface = skia.Surface(side, side)
    canvas = surface.getCanvas()
    canvas.clear(0)
    canvas.scale(ratio, ratio)
    for px, py, at in zip(x, y, look, strict=True):
        draw_point(canvas, px / ratio, py / ratio, looks[at][1], looks[at][0])
    kind = {"colorType": skia.ColorType.kRGBA_8888_ColorType, "alphaType": skia.AlphaType.kPremul_AlphaType}
    return np.asarray(surface.makeImageSnapshot().toarray(**kind)).astype(float)


@pytest.mark.parametrize("ratio", [1.0, 1.37, 2.0])
@pytest.mark.parametrize("name", LOOKS)
def test_a_symbol_that_is_pressed_is_as_true_as_one_that_is_drawn(name: str, ratio: float) -> None:
    looks, fine = [LOOKS[name]], 16
    step = int(40 * ratio)
    grid = np.arange(step // 2, 6 * step, step)
    x, y = (each.ravel() + PLACES.random(36) for each in np.meshgrid(grid, grid))
    none = np.zeros(36, dtype=np.intp)
    mine = pressed(x, y, none, looks, ratio, 6 * step, 6 * step).astype(float)
    drawn = by_skia(x.tolist(), y.tolist(), none.tolist(), looks, ratio, 6 * step)
    large = by_skia((x * fine).tolist(), (y * fine).tolist(), none.tolist(), looks, ratio * fine, 6 * step * fine)
    true = large.reshape(6 * step, fine, 6 * step, fine, 4).mean((1, 3))
    touched = true[..., 3] > 0
    amiss, theirs = (np.abs(each - true)[touched].mean() for each in (mine, drawn))
    assert touched.sum() > 30 and amiss < theirs * 1.15 + 0.3
    ink_of, ink_of_theirs = (each.sum((0, 1)) / drawn.sum((0, 1)) for each in (mine, true))
    assert np.abs(ink_of - 1).max() < 0.02 + np.abs(ink_of_theirs - 1).max(), "as much ink in all"


def test_the_last_lies_on_top_and_each_has_its_look() -> None:
    looks, n = list(LOOKS.values()), 4_000
    x, y, look = PLACES.uniform(-12, 212, n), PLACES.uniform(-12, 212, n), PLACES.integers(0, len(looks), n)
    mine = pressed(x, y, look, looks, 1.0, 200, 200).astype(float)
    drawn = by_skia(x.tolist(), y.tolist(), look.tolist(), looks, 1.0, 200)
    off = np.abs(mine - drawn).max(-1)
    assert off.mean() < 4 and (off > 64).mean() < 0.005, "nothing but edges, and these by little"
    assert np.abs(mine - by_skia(x.tolist()[::-1], y.tolist()[::-1], look.tolist()[::-1], looks, 1.0, 200)).mean() > 20


def test_a_look_of_no_size_and_one_beside_the_picture_press_nothing() -> None:
    at, none = np.array([50.0]), np.array([0])
    for x, look in ((-60.0, LOOKS["circle"]), (160.0, LOOKS["circle"]), (50.0, (Mark("#000000", 1.0), 0.0))):
        assert not pressed(np.array([x]), at, none, [look], 1.0, 100, 100).any()


def points_of(n: int, look: object, effects: Effects | None = None) -> Composition:
    rng = np.random.default_rng(6)
    places = shapely.points(rng.normal(0, 2, n), rng.normal(50, 1, n))
    source = VectorSource(Dataset(pa.table({"v": rng.lognormal(size=n)}), "points", places, pyproj.CRS(4326)))
    layer = Layer(id="a", name="A", dataset="a", symbology=look, effects=effects or Effects())  # type: ignore[arg-type]
    return Composition([VectorPass(layer, source, ink(source.dataset, layer.symbology))], [], Furniture(), MERCATOR)  # type: ignore[arg-type]


def inked(n: int, look: object) -> tuple[Ink, np.ndarray, np.ndarray]:
    made = points_of(n, look).passes[0].ink  # type: ignore[union-attr]
    radii = np.full(n, 4.0) if made.size is None else made.size.astype(float)
    return made, made.mark, radii


def test_what_is_few_or_differs_or_is_large_is_drawn_one_by_one() -> None:
    plain = inked(MANY, alike())
    found = looks_of(*plain, 1.0)
    assert found is not None and len(found[1]) == 1 and not found[0].any()
    assert looks_of(plain[0], plain[1][:-1], plain[2][:-1], 1.0) is None, "few"
    assert looks_of(*inked(MANY, proportional("v", largest=14)), 1.0) is None, "each of its own size"
    assert looks_of(*inked(MANY, alike(radius=40)), 1.0) is not None
    assert looks_of(plain[0], plain[1], plain[2] * 20, 1.0) is None, "large"
    assert looks_of(replace(plain[0], opacity=np.ones(MANY, np.float32)), *plain[1:], 1.0) is None
    some = np.resize([3.0, 4.0, 5.0], MANY)
    of_three = looks_of(plain[0], plain[1], some, 1.0)
    assert of_three is not None and [of_three[1][at][1] for at in of_three[0][:3]] == [3.0, 4.0, 5.0]
    assert looks_of(plain[0], plain[1], np.resize(np.linspace(3, 5, MANY // EACH + 1), MANY), 1.0) is None, (
        "too many looks"
    )


@pytest.mark.parametrize("effects", [None, Effects(shadow=Shadow(right=3, down=3, blur=2))])
def test_tiles_of_pressed_symbols_fit_together(effects: Effects | None) -> None:
    """A symbol over an edge stands at the same part of a px on both sides of it."""
    look = alike(Stroke(colour="#ffffff", width=0.8), fill="#3f6f8f", radius=3.5)
    composition = points_of(40_000, look, effects)
    x, y = MERCATOR.place(0, 50)
    size = MERCATOR.grid.resolution(7)
    whole = paint(composition, View.around(MERCATOR, x, y, size, 512, 256), ground=False)
    left, right = (
        paint(composition, View.around(MERCATOR, x + side * 128 * size, y, size, 256, 256), ground=False)
        for side in (-1, 1)
    )
    assert (whole[..., 3] > 0).mean() > 0.3
    assert np.abs(np.concatenate([left, right], axis=1).astype(int) - whole).max() <= (0 if effects is None else 2)
