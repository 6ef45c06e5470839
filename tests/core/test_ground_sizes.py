"""Sizes measured on the ground: shapes, icons and lines that grow with the map, and are as large as PROJ's geodesics say."""

import json
import struct
from typing import Any

import numpy as np
import pyarrow as pa
import pytest
import shapely
from greylatch.encodings.by_category import ColourByCategory
from greylatch.encodings.by_classes import SizeByClasses
from greylatch.encodings.by_value import SizeByValue
from greylatch.encodings.channels import Encodings
from greylatch.paint.hits import hit
from greylatch.paint.passes import Composition, VectorPass, compose, drawn_reach, pass_of
from greylatch.paint.picture import paint
from greylatch.paint.sources import VectorSource
from greylatch.places.crs import LONLAT
from greylatch.places.frame import MERCATOR, Frame
from greylatch.places.view import View
from greylatch.sheet.document import Furniture, Sheet
from greylatch.sheet.layers import KeyText, Layer
from greylatch.sheet.lettering import LabelLine, Lettering
from greylatch.sheet.parts import WIDEST_STROKE, Classing, Icon, Stroke, Symbol
from greylatch.sheet.symbology import Departure, Pins, Rule, Symbols
from greylatch.symbols.ink import ink
from greylatch.symbols.key import unit_note
from greylatch.symbols.packed import packed_ink
from greylatch.tables.dataset import Dataset, Kind
from greylatch.tiles.map_pyramid import padded_bounds
from pyproj import Geod

GEOD = Geod(ellps="WGS84")
FRAMES = ["EPSG:3857", "EPSG:3035", "EPSG:8857", "+proj=laea +lat_0=60 +lon_0=25", "EPSG:2227"]
"""The last one counts in US survey feet."""


def points(*lonlat: tuple[float, float], **columns: list[Any]) -> Dataset:
    table = pa.table(columns or {"n": list(range(len(lonlat)))})
    return Dataset(table, "points", np.array([shapely.Point(*each) for each in lonlat]), LONLAT)


def lines(*shapes: list[tuple[float, float]], **columns: list[Any]) -> Dataset:
    table = pa.table(columns or {"n": list(range(len(shapes)))})
    return Dataset(table, "lines", np.array([shapely.LineString(each) for each in shapes]), LONLAT)


def vector(dataset: Dataset, symbology: Symbols, frame: Frame = MERCATOR) -> VectorPass:
    source = VectorSource(dataset, frame)
    made = pass_of(Layer(id="a", name="A", dataset="d", symbology=symbology), lambda *_: source, frame)
    assert isinstance(made, VectorPass)
    return made


def covered(vector: VectorPass, view: View) -> float:
    """Px that a layer covers in a view."""
    composition = Composition([vector], [], Furniture(), vector.source.frame)
    return float((paint(composition, view, ground=False)[..., 3] / 255).sum())


def plain(**more: Any) -> Symbol:
    return Symbol(**{"fill": "#204060", "strokes": [], **more})


@pytest.mark.parametrize("name", FRAMES)
def test_symbols_cover_as_much_ground_as_they_say(name: str) -> None:
    """A circle of 4 km covers π·16 km² wherever it lies, less what its 64 corners leave; by the geodesic area of what is painted."""
    frame = Frame.named(name)
    lon, lat = (-122.0, 37.5) if name == "EPSG:2227" else (25.0, 60.0)
    own = vector(points((lon, lat)), Symbols(symbol=plain(ground=4_000)), frame)
    x, y = frame.place(lon, lat)
    view = View.around(frame, x, y, 40 * frame.unit, 900, 900)
    ring_lon, ring_lat, _ = GEOD.fwd([lon] * 360, [lat] * 360, np.arange(360), [4_000] * 360)
    places = np.array([frame.place(*each) for each in zip(ring_lon, ring_lat, strict=True)])
    expected = shapely.Polygon(places).area / view.resolution**2
    assert covered(own, view) == pytest.approx(expected, rel=0.01)


def test_they_grow_with_the_map_and_end_at_what_tiles_can_hold() -> None:
    own = vector(points((0.0, 0.0)), Symbols(symbol=plain(ground=1_000)))
    sizes = [own.at(resolution).ink.size for resolution in (1_000.0, 100.0, 1.0)]
    assert [float(size[0]) for size in sizes if size is not None] == [1.0, 10.0, 200.0]
    at_home = lines([(0, 0), (0, 1)])
    wide = vector(at_home, Symbols(symbol=Symbol(ground=1_000)))
    assert wide.at(1.0).ink.size == pytest.approx([WIDEST_STROKE])
    assert own.at(50.0).at(1.0).ink.size == pytest.approx([20.0]), "once in px, sizes stay"


def test_shapes_icons_and_pies_are_measured_alike() -> None:
    """A square of 2 km from its middle to its corner covers 8 km²; a picture's longer side is twice the radius."""
    square = vector(points((0.0, 0.0)), Symbols(symbol=plain(shape="square", ground=2_000)))
    view = View.around(MERCATOR, 0, 0, 20, 500, 500)
    circle = vector(points((0.0, 0.0)), Symbols(symbol=plain(ground=2_000)))
    at_px = vector(points((0.0, 0.0)), Symbols(symbol=plain(shape="square", radius=100)))
    assert covered(square, view) == pytest.approx(covered(at_px, view), rel=0.005)
    assert covered(square, view) < 0.99 * covered(circle, view)
    svg = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 10 10"><path fill="#204060" d="M0 0H10V10H0z"/></svg>'
    icon = Symbol(icon=Icon(kind="svg", content=svg, name="tile", credit="ours"), ground=2_000)
    pictured = vector(points((0.0, 0.0)), Symbols(symbol=icon))
    assert covered(pictured, view) == pytest.approx(200 * 200, rel=0.02)


def test_the_largest_is_what_is_told_where_sizes_vary() -> None:
    data = points((0, 0), (1, 0), (2, 0), beds=[16.0, 4.0, None])
    by_value = Symbols(symbol=Symbol(ground=800), encodings=Encodings(size=SizeByValue(field="beds", largest=10)))
    made = ink(data, by_value)
    assert made.ground is not None and made.size is not None
    assert made.ground[:2] == pytest.approx([800, 400]) and made.size[:2] == pytest.approx([10, 5]), "true to area"
    limits = Classing(field="beds", method="manual", breaks=[10.0], classes=2)
    by_class = Symbols(symbol=Symbol(ground=800), encodings=Encodings(size=SizeByClasses(classing=limits, largest=8)))
    classed = ink(data, by_class)
    assert classed.ground is not None and classed.ground[:2] == pytest.approx([800, 250])
    (section,) = classed.sections
    assert [entry.mark.radius for entry in section.entries if entry.mark] == [2.5, 8.0, 2.5], "the key is in px"


def test_keys_say_in_words_how_large_they_are() -> None:
    """A key has one size for all scales; what a radius of 800 m or a width of 12 m is, readers are told."""
    beds, road = points((0.0, 0.0), (1.0, 0.0), beds=[4, 16]), lines([(0.0, 0.0), (0.1, 0.0)])
    by_value = Encodings(size=SizeByValue(field="beds", largest=10))

    def said(data: Dataset, symbology: Symbols, **key: Any) -> str:
        return unit_note(Layer(id="a", name="A", dataset="d", symbology=symbology, key=KeyText(**key)), data)

    assert said(beds, Symbols(symbol=Symbol(ground=800), encodings=by_value)) == "the largest 1.6 km across"
    assert said(beds, Symbols(symbol=Symbol(ground=400))) == "800 m across on the ground"
    assert said(road, Symbols(symbol=Symbol(ground=12))) == "12 m wide on the ground"
    assert said(beds, Symbols(symbol=Symbol(), encodings=by_value)) == ""
    assert said(beds, Symbols(symbol=Symbol(ground=400)), unit="as written") == "as written"


@pytest.mark.parametrize("name", ["EPSG:3857", "EPSG:3035"])
def test_lines_are_as_wide_as_roads_are(name: str) -> None:
    """A band of 40 m along 1,000 m covers 40,000 m² and its round ends; a casing stands out by the same px at every scale."""
    frame = Frame.named(name)
    lon, lat, _ = GEOD.fwd(20.0, 55.0, 90.0, 1_000.0)
    road = lines([(20.0, 55.0), (lon, lat)])
    x, y = frame.place((20.0 + lon) / 2, (55.0 + lat) / 2)
    symbol = Symbol(strokes=[Stroke(colour="#204060", width=3, cap="butt")], ground=40)
    view = View.around(frame, x, y, 2.0, 1_200, 1_200)
    expected = 40 * 1_000 / frame.metres(x, y) ** 2 / view.resolution**2
    assert covered(vector(road, Symbols(symbol=symbol), frame), view) == pytest.approx(expected, rel=0.01)
    cased = Symbol(strokes=[Stroke(width=5, cap="butt"), Stroke(width=3, cap="butt")], ground=40)
    wider = covered(vector(road, Symbols(symbol=cased), frame), view) / covered(
        vector(road, Symbols(symbol=symbol), frame), view
    )
    width = 40 / frame.metres(x, y) / view.resolution
    assert wider == pytest.approx((width + 2) / width, rel=0.01)


def test_tiles_hold_what_stands_over_their_edges() -> None:
    """Tile for tile the same as a star of as many px, in four tiles of which only one holds its place."""
    level, place = 10, (0.01, 0.01)
    resolution = MERCATOR.grid.resolution(level)
    own = vector(points(place), Symbols(symbol=plain(shape="star", ground=3_000)))
    as_large = Symbols(symbol=plain(shape="star", radius=round(3_000 / resolution * 8) / 8))
    for x, y in ((-1.0, -1.0), (1.0, -1.0), (-1.0, 1.0), (1.0, 1.0)):
        view = View.of_tile(MERCATOR, MERCATOR.grid.tile_at(x, y, level))
        pictures = [
            paint(Composition([pass_], [], Furniture()), view, ground=False)
            for pass_ in (own, vector(points(place), as_large))
        ]
        assert pictures[0].any() and (pictures[0] == pictures[1]).all()
    west, *_ = padded_bounds(Composition([own], [], Furniture()), level)
    assert west == pytest.approx(own.source.bounds[0] - (19.625 * 1.5 + 1) * resolution)


def test_what_is_pointed_at_is_as_large_as_it_is_drawn() -> None:
    own = vector(points((0.0, 0.0)), Symbols(symbol=plain(ground=1_000)))
    assert hit(own, 950.0, 0.0, 10.0) == 0 and hit(own, 1_100.0, 0.0, 10.0) is None
    assert hit(own, 1_100.0, 0.0, 100.0) == 0, "within the px by which one may miss it"


def test_rules_and_hands_may_keep_px() -> None:
    data = points((0, 0), (1, 0), (2, 0), (3, 0), kind=["hut", "hut", "mast", "mast"])
    rule = Rule(id="m", name="Masts", where="kind = 'mast'", symbol=Symbol(radius=6))
    look = Symbols(
        symbol=Symbol(ground=500), rules=[rule], exceptions={1: Departure(radius=12)}, pins=Pins(fids=[3]),
    )  # fmt: skip
    own = vector(data, look)
    near, far = own.at(10.0).ink.size, own.at(1_000.0).ink.size
    assert near is not None and near.tolist() == [50, 12, 6, 9]
    assert far is not None and far.tolist() == [0.5, 12, 6, 9]
    assert drawn_reach(own.at(10.0)).max() > 50


def test_labels_stand_beside_symbols_at_every_scale() -> None:
    data = points((0.0, 0.0), name=["Hallan"])
    layer = Layer(
        id="a", name="A", dataset="d", symbology=Symbols(symbol=plain(ground=1_000)),
        lettering=Lettering(lines=[LabelLine(text="{name}")]),
    )  # fmt: skip
    composition = compose(Sheet(title="Hallan", layers=[layer]), lambda *_: VectorSource(data, MERCATOR))
    boxes = [composition.placement(resolution).boxes[0] for resolution in (10.0, 40.0)]
    beside = [float(np.abs(np.concatenate([box[:1], box[2:3]])).min()) for box in boxes]
    assert beside[0] > 100 and 25 < beside[1] < 40


@pytest.mark.parametrize("kind", ["points", "lines", "areas"])
def test_the_page_gets_units_of_its_map(kind: Kind) -> None:
    """Areas have no size of their own: what their symbol says of the ground is left alone."""
    data = {
        "points": points((25.0, 60.0)),
        "lines": lines([(25.0, 60.0), (25.0, 60.001)]),
        "areas": Dataset(pa.table({"n": [0]}), "areas", np.array([shapely.box(24, 59, 26, 61)]), LONLAT),
    }[kind]
    own = vector(data, Symbols(symbol=Symbol(ground=100), encodings=Encodings(colour=ColourByCategory(field="n"))))
    packed = packed_ink(own.ink, kind, data.fids)
    header = json.loads(packed[4 : 4 + struct.unpack("<I", packed[:4])[0]])
    assert ("ground" in header["columns"]) == (kind != "areas")
    if own.ink.ground is not None:
        assert own.ink.ground == pytest.approx([200.0], rel=0.001), "twice as large at 60° in Web Mercator"
        assert header["most"] == {"points": 200.0, "lines": WIDEST_STROKE}[kind]
