"""The painter: blends by the W3C's formulas, symbols where they belong, labels that never overlap."""

import numpy as np
import pyarrow as pa
import pytest
import shapely
from greylatch.lettering.asked import ToLetter
from greylatch.lettering.place import place
from greylatch.lettering.type import ASCENT, DESCENT, TextStyle, text_width
from greylatch.paint.passes import compose
from greylatch.paint.picture import BLEND_MODES, paint
from greylatch.paint.sources import VectorSource
from greylatch.places.crs import WEB_MERCATOR
from greylatch.places.frame import MERCATOR
from greylatch.places.grid import Tile
from greylatch.places.view import View
from greylatch.sheet.document import Sheet
from greylatch.sheet.layers import Layer
from greylatch.sheet.parts import Stroke, Symbol
from greylatch.sheet.symbology import Symbols
from greylatch.tables.dataset import Dataset

BELOW, ABOVE = (0.2, 0.6, 0.9), (0.8, 0.5, 0.1)


def hexed(rgb: tuple[float, float, float]) -> str:
    return "#" + "".join(f"{round(v * 255):02x}" for v in rgb)


def squares(*boxes: tuple[float, float, float, float]) -> VectorSource:
    shapes = np.array([shapely.box(*box) for box in boxes], dtype=object)
    return VectorSource(
        Dataset(pa.table({"name": [f"n{i}" for i in range(len(boxes))]}), "areas", shapes, WEB_MERCATOR)
    )


def sheet(blend: str, below_opacity: float = 1.0, opacity: float = 1.0) -> Sheet:
    def layer(id: str, fill: tuple[float, float, float], **more: object) -> dict[str, object]:
        return {
            "id": id,
            "name": id,
            "dataset": id,
            "symbology": {"kind": "single", "fill": hexed(fill), "stroke": {"width": 0}},
            **more,
        }

    layers = [layer("above", ABOVE, blend=blend, opacity=opacity), layer("below", BELOW, opacity=below_opacity)]
    return Sheet.model_validate({"title": "t", "layers": layers, "furniture": {"ground": None}})


# W3C Compositing and Blending Level 1, section 9: B(Cb, Cs) of the separable and the non-separable modes.
def soft_light(b: float, s: float) -> float:
    d = ((16 * b - 12) * b + 4) * b if b <= 0.25 else b**0.5
    return b - (1 - 2 * s) * b * (1 - b) if s <= 0.5 else b + (2 * s - 1) * (d - b)


def hard_light(b: float, s: float) -> float:
    return b * 2 * s if s <= 0.5 else b + (2 * s - 1) - b * (2 * s - 1)


SEPARABLE = {
    "normal": lambda b, s: s,
    "multiply": lambda b, s: b * s,
    "screen": lambda b, s: b + s - b * s,
    "overlay": lambda b, s: hard_light(s, b),
    "darken": min,
    "lighten": max,
    "color-dodge": lambda b, s: 0 if b == 0 else 1 if s >= 1 else min(1, b / (1 - s)),
    "color-burn": lambda b, s: 1 if b >= 1 else 0 if s <= 0 else 1 - min(1, (1 - b) / s),
    "hard-light": hard_light,
    "soft-light": soft_light,
    "difference": lambda b, s: abs(b - s),
    "exclusion": lambda b, s: b + s - 2 * b * s,
}
Rgb = tuple[float, ...]


def lum(c: Rgb) -> float:
    return 0.3 * c[0] + 0.59 * c[1] + 0.11 * c[2]


def clip_colour(c: Rgb) -> Rgb:
    light, low, high = lum(c), min(c), max(c)
    if low < 0:
        c = tuple(light + (v - light) * light / (light - low) for v in c)
    if high > 1:
        c = tuple(light + (v - light) * (1 - light) / (high - light) for v in c)
    return c


def set_lum(c: Rgb, light: float) -> Rgb:
    return clip_colour(tuple(v + light - lum(c) for v in c))


def sat(c: Rgb) -> float:
    return max(c) - min(c)


def set_sat(c: Rgb, s: float) -> Rgb:
    spread = sat(c)
    return tuple((v - min(c)) * s / spread for v in c) if spread else (0, 0, 0)


NON_SEPARABLE = {
    "hue": lambda b, s: set_lum(set_sat(s, sat(b)), lum(b)),
    "saturation": lambda b, s: set_lum(set_sat(b, sat(s)), lum(b)),
    "color": lambda b, s: set_lum(s, lum(b)),
    "luminosity": lambda b, s: set_lum(b, lum(s)),
}


def blended(mode: str, b: Rgb, s: Rgb) -> Rgb:
    if mode in SEPARABLE:
        return tuple(SEPARABLE[mode](x, y) for x, y in zip(b, s, strict=True))
    return NON_SEPARABLE[mode](b, s)


@pytest.mark.parametrize("mode", BLEND_MODES)
@pytest.mark.parametrize(("below_alpha", "alpha"), [(1.0, 1.0), (0.6, 0.7), (0.0, 0.8)])
def test_all_sixteen_modes_with_alpha(mode: str, below_alpha: float, alpha: float) -> None:
    """Section 5.1 and 10: co = cs·αs·(1−αb) + cb·αb·(1−αs) + αs·αb·B(cb, cs), premultiplied; αo = αs + αb·(1−αs)."""
    sources = {"above": squares((0, 0, 10, 10)), "below": squares((0, 0, 10, 10))}
    picture = paint(
        compose(sheet(mode, below_alpha, alpha), lambda name, _: sources[name]), View(MERCATOR, (0, 0, 10, 10), 10, 10)
    )
    b, s = (tuple(round(v * 255) / 255 for v in c) for c in (BELOW, ABOVE))
    mixed = blended(mode, b, s)
    out_alpha = alpha + below_alpha * (1 - alpha)
    out = [
        (cs * alpha * (1 - below_alpha) + cb * below_alpha * (1 - alpha) + alpha * below_alpha * m) / out_alpha
        for cs, cb, m in zip(s, b, mixed, strict=True)
    ]
    assert picture[5, 5].tolist() == pytest.approx([*(255 * v for v in out), 255 * out_alpha], abs=4)


def test_where_nothing_is_drawn_alpha_is_zero() -> None:
    sources = {"above": squares((0, 0, 5, 5)), "below": squares((0, 0, 5, 5))}
    picture = paint(compose(sheet("normal"), lambda name, _: sources[name]), View(MERCATOR, (0, 0, 10, 10), 10, 10))
    assert picture[2, 7, 3] == 0
    assert picture[8, 2, 3] == 255


def test_holes_stay_open() -> None:
    ring = shapely.Polygon([(0, 0), (10, 0), (10, 10), (0, 10)], [[(3, 3), (7, 3), (7, 7), (3, 7)]])
    source = VectorSource(Dataset(pa.table({"n": [1]}), "areas", np.array([ring], dtype=object), WEB_MERCATOR))
    picture = paint(compose(sheet("normal"), lambda *_: source), View(MERCATOR, (0, 0, 10, 10), 10, 10))
    assert picture[5, 5, 3] == 0
    assert picture[1, 1, 3] == 255


def test_a_picture_of_twice_the_ratio_shows_the_same_map() -> None:
    sources = {"above": squares((1, 1, 5, 7)), "below": squares((0, 0, 5, 5))}
    composition = compose(sheet("multiply"), lambda name, _: sources[name])
    small = paint(composition, View(MERCATOR, (0, 0, 10, 10), 10, 10))
    large = paint(composition, View(MERCATOR, (0, 0, 10, 10), 20, 20, 2))
    assert np.abs(large.reshape(10, 2, 10, 2, 4).mean(axis=(1, 3)) - small).max() <= 1


def test_labels_never_overlap_and_lie_inside_their_areas(demo) -> None:  # type: ignore[no-untyped-def]
    from greylatch.formats.files import read_file

    source = VectorSource(read_file(demo / "catchments.zip").dataset)
    names = source.dataset.columns["name"].to_pylist()
    asked = ToLetter("areas", source.shapes, [names], [TextStyle(11)], 1.5, True, 0, lambda: source.anchors)
    resolution = MERCATOR.grid.resolution(11)
    placed = place([asked], resolution)
    boxes = {}
    for one, piece in ((label, piece) for label in placed.labels for piece in label.pieces):
        width = text_width(piece.run.text, 11)
        x, y = one.x / resolution + piece.dx, -one.y / resolution + piece.dy
        box = shapely.box(x - 1.5, y - ASCENT * 11 - 1.5, x + width + 1.5, y + DESCENT * 11 + 1.5)
        boxes.setdefault(one.feature, []).append(box)
        inside = shapely.transform(
            source.shapes[one.feature], lambda xy: np.column_stack([xy[:, 0] / resolution, -xy[:, 1] / resolution])
        )
        assert inside.buffer(1e-6).contains(box)
    merged = [shapely.union_all(parts) for parts in boxes.values()]
    assert len(merged) >= 50
    tree = shapely.STRtree(merged)
    for i, box in enumerate(merged):
        assert [j for j in tree.query(box) if j != i and box.intersection(merged[j]).area > 1e-6] == []
    assert len(merged) + len(placed.left_out[0]) == 214


def test_point_labels_keep_off_their_symbol() -> None:
    shapes = shapely.points([[0, 0], [1, 0]])
    placed = place([ToLetter("points", shapes, [["one", "two"]], [TextStyle(12)], 1, True, np.array([5.0, 5.0]))], 1.0)
    first = placed.labels[0]
    assert first.pieces[0].dx >= 5 or first.pieces[0].dx + text_width("one", 12) <= -5
    assert {one.feature for one in placed.labels} == {0, 1}


def test_every_part_of_an_area_is_painted() -> None:
    parts = shapely.MultiPolygon([shapely.box(0, 0, 3, 3), shapely.box(6, 6, 9, 9)])
    source = VectorSource(Dataset(pa.table({"n": [1]}), "areas", np.array([parts], dtype=object), WEB_MERCATOR))
    picture = paint(compose(sheet("normal"), lambda *_: source), View(MERCATOR, (0, 0, 10, 10), 10, 10))
    assert picture[8, 1, 3] == picture[2, 7, 3] == 255
    assert picture[5, 5, 3] == 0


def test_every_part_of_a_line_is_painted() -> None:
    lines = shapely.MultiLineString([[(0, 2), (10, 2)], [(0, 8), (10, 8)]])
    source = VectorSource(Dataset(pa.table({"n": [1]}), "lines", np.array([lines], dtype=object), WEB_MERCATOR))
    thick = sheet("normal")
    for layer in thick.layers:
        layer.symbology.symbol.strokes[0].width = 2.0  # type: ignore[union-attr]
    picture = paint(compose(thick, lambda *_: source), View(MERCATOR, (0, 0, 10, 10), 10, 10))
    assert picture[1, 5, 3] > 200
    assert picture[7, 5, 3] > 200
    assert picture[5, 5, 3] == 0


def test_no_label_is_cut_at_a_tiles_edge(demo) -> None:  # type: ignore[no-untyped-def]
    """Tiles painted one by one show what one picture of them all shows: labels of the whole level are placed once, and each
    tile draws all that reach into it."""
    from greylatch.formats.files import read_file

    source = VectorSource(read_file(demo / "catchments.zip").dataset)
    layer = {
        "id": "a", "name": "A", "dataset": "a", "symbology": {"kind": "single", "stroke": {"width": 0}, "fill": "#ffffff"},
        "lettering": {"field": "name", "size": 14, "must_fit": False},
    }  # fmt: skip
    composition = compose(Sheet.model_validate({"title": "t", "layers": [layer]}), lambda *_: source)
    placement = composition.placement(MERCATOR.grid.resolution(11))
    west, south, east, north = MERCATOR.grid.tile_bounds(Tile(9, 217, 169))
    whole = paint(composition, View(MERCATOR, (west, south, east, north), 1024, 1024), placement=placement, cut=True)
    parts = np.zeros_like(whole)
    for y in range(4):
        for x in range(4):
            bounds = MERCATOR.grid.tile_bounds(Tile(11, 217 * 4 + x, 169 * 4 + y))
            parts[y * 256 : (y + 1) * 256, x * 256 : (x + 1) * 256] = paint(
                composition, View(MERCATOR, bounds, 256, 256), placement=placement, cut=True
            )
    edges = whole[:, 256::256]
    assert (edges[..., :3].max(axis=2) < 100).any(), "labels cross the edges of tiles"
    assert np.abs(whole.astype(int) - parts).max() <= 40
    assert np.abs(whole.astype(int) - parts).mean() < 0.05


def test_no_label_is_cut_at_the_edge_of_a_picture() -> None:
    """One that does not lie wholly within is left out; a tile has its part of it, whose rest its neighbour has."""
    shapes = shapely.points([(0.0, 0.0), (5_000.0, 0.0)])
    source = VectorSource(Dataset(pa.table({"n": ["Skara", "Wend"]}), "points", shapes, WEB_MERCATOR))
    lettering = {"lines": [{"text": "{n}", "size": 14}], "halo": 2}
    layer = {
        "id": "a",
        "name": "A",
        "dataset": "a",
        "symbology": {"kind": "symbols", "symbol": {"radius": 0.5}},
        "lettering": lettering,
    }
    composition = compose(Sheet.model_validate({"version": 4, "title": "t", "layers": [layer]}), lambda *_: source)
    asked = composition.lettered[0][1]
    label = next(each for each in composition.placement(10.0).labels if each.text == "Skara")
    left, _, right, _ = label.covered(asked.edge)
    middle = label.x + 10 * (left + right) / 2

    def painted(east: float, cut: bool) -> int:
        view = View(MERCATOR, (-1000, -500, east, 500), round((east + 1000) / 10), 100)
        return int((paint(composition, view, ground=False, cut=cut)[..., 3] > 0).sum())

    assert painted(middle, cut=False) < 20 and painted(middle, cut=True) > 50
    assert painted(label.x + 10 * (right - 4), cut=False) < 20
    assert painted(label.x + 10 * (right + 4), cut=False) > 100


@pytest.mark.parametrize("grouped", [False, True])
@pytest.mark.parametrize(
    "effects",
    [{}, {"shadow": {"right": 6, "down": 9, "blur": 4}}, {"glow": {"blur": 5}}, {"blur": 4}],
    ids=["none", "shadow", "glow", "blur"],
)
@pytest.mark.parametrize("kind", ["points", "areas"])
def test_tiles_fit_together_whatever_is_drawn(kind: str, effects: dict[str, object], grouped: bool) -> None:
    """Patterns, inner lines, shapes and effects over the edges of tiles: painted one by one they are what one picture of them all is,
    but for the smoothing of edges."""
    rng = np.random.default_rng(1)
    shapes = {
        "points": shapely.points(rng.uniform(0, 256, (60, 2))),
        "areas": shapely.buffer(shapely.points([[100, 120], [190, 60]]), 40),
    }[kind]
    data = Dataset(pa.table({"n": np.arange(len(shapes))}), kind, shapes, WEB_MERCATOR)  # type: ignore[arg-type]
    pattern = {"kind": "hatch", "spacing": 5}
    symbol = {"radius": 4, "shape": "star", "pattern": pattern, "inner": {"width": 3, "colour": "#ff0000"}}
    layer = {"id": "a", "name": "A", "dataset": "a", "symbology": {"kind": "symbols", "symbol": symbol}}
    document: dict[str, object] = {"version": 3, "title": "T", "layers": [{**layer, "effects": effects}]}
    if grouped:
        document = {
            **document,
            "layers": [{**layer, "group": "g"}],
            "groups": [{"id": "g", "name": "G", "effects": effects}],
        }
    source = VectorSource(data)
    composition = compose(Sheet.model_validate(document), lambda *_: source)
    whole = _premultiplied(paint(composition, View(MERCATOR, (0, 0, 256, 256), 256, 256), ground=False))
    parts = np.zeros_like(whole)
    for i in range(4):
        for j in range(4):
            view = View(MERCATOR, (64 * i, 256 - 64 * (j + 1), 64 * (i + 1), 256 - 64 * j), 64, 64)
            parts[64 * j : 64 * (j + 1), 64 * i : 64 * (i + 1)] = _premultiplied(paint(composition, view, ground=False))
    assert np.abs(whole - parts).max() <= 24
    assert (np.abs(whole - parts) > 8).mean() < 0.001


def test_a_pattern_seen_from_near_costs_what_is_seen() -> None:
    """Dots over a country, seen at level 16: all of them would be 10¹⁰."""
    area = VectorSource(Dataset(pa.table({"n": [1]}), "areas", shapely.box([-1e6], [-1e6], [1e6], [1e6]), WEB_MERCATOR))
    symbol = {"fill_opacity": 0, "strokes": [], "pattern": {"kind": "dots", "spacing": 6, "width": 3, "turn": 0}}
    layer = {"id": "a", "name": "A", "dataset": "a", "symbology": {"kind": "symbols", "symbol": symbol}}
    composition = compose(Sheet.model_validate({"version": 3, "title": "T", "layers": [layer]}), lambda *_: area)
    view = View.around(MERCATOR, 900_000, 900_000, MERCATOR.grid.resolution(16), 60, 60)
    picture = paint(composition, view, ground=False)
    assert 0.15 < (picture[..., 3] > 128).mean() < 0.25, "π · 1.5² of every 6 × 6 px"


def _premultiplied(picture: np.ndarray) -> np.ndarray:
    """As it is seen: the colour of what is nearly transparent does not matter."""
    picture = picture.astype(float)
    return picture * picture[..., 3:] / 255


def test_no_casing_lies_over_another_lines_top_stroke() -> None:
    """Found on strangers' lines in pieces: where two met, the casing of the second cut the first."""
    shapes = [shapely.LineString([(-500, 0), (0, 0)]), shapely.LineString([(0, 0), (500, 0)])]
    dataset = Dataset(pa.table({"n": [0, 1]}), "lines", np.array(shapes), WEB_MERCATOR)
    symbol = Symbol(strokes=[Stroke(colour="#ffffff", width=20), Stroke(colour="#204060", width=8)])
    source = VectorSource(dataset)
    layer = Layer(id="a", name="A", dataset="d", symbology=Symbols(symbol=symbol))
    composition = compose(Sheet(title="T", layers=[layer]), lambda *_: source)
    picture = paint(composition, View(MERCATOR, (-50, -50, 50, 50), 100, 100), ground=False)
    assert (picture[50, :, :3] == (0x20, 0x40, 0x60)).all(), "one line from edge to edge"
    assert (picture[42, :, :3] == 255).all() and (picture[42, :, 3] == 255).all()
