"""Cells, dots and centres: sizes on the ground against PROJ's geodesics, counts against numpy and shapely."""

from dataclasses import replace

import numpy as np
import pyarrow as pa
import pyproj
import pytest
import shapely
from greylatch.errors import BadInput, CannotDraw
from greylatch.paint.heat import draw_heat
from greylatch.paint.key import layer_key
from greylatch.paint.passes import VectorPass, compose, pass_of
from greylatch.paint.picture import paint
from greylatch.paint.sources import VectorSource
from greylatch.places.crs import LONLAT, WEB_MERCATOR
from greylatch.places.frame import MERCATOR
from greylatch.places.measures import geodesic_areas
from greylatch.places.view import View
from greylatch.readings.begun import begun
from greylatch.readings.centres import Centres
from greylatch.readings.dots import Dots, dots_within
from greylatch.readings.grid import Grid, hexagon_of
from greylatch.readings.rounds import Rounds
from greylatch.sheet.layers import Layer
from greylatch.sheet.reading import parse_sheet
from greylatch.sheet.symbology import Heat
from greylatch.tables.dataset import Dataset
from greylatch.tables.meaning import Meaning
from scipy.spatial import cKDTree

RNG = np.random.default_rng(11)
PLACES = np.column_stack([RNG.uniform(-30, -20, 5_000), RNG.uniform(48, 60, 5_000)])
WELLS = Dataset(
    pa.table({"depth": RNG.lognormal(size=5_000), "kind": ["a", "b"] * 2_500}), "points", shapely.points(PLACES), LONLAT
)
AREAS = Dataset(
    pa.table({"people": [1_000, 250, None], "name": ["Ard", "Bren", "Corra"]}), "areas",
    np.array([shapely.box(0, 0, 1, 1), shapely.Point(5, 5).buffer(1) - shapely.Point(5, 5).buffer(0.8), shapely.box(9, 9, 10, 10)]), LONLAT,
)  # fmt: skip


@pytest.mark.parametrize("shape", ["hexagon", "square"])
def test_cells_are_of_one_size_on_the_ground(shape: str) -> None:
    """Geodesic areas (Karney 2013, as PROJ has it): a hexagon of 50 km across has √3/2 × 2,500 km², a square 2,500 km²."""
    cells = Grid(shape=shape, size=50_000).derived(WELLS)  # type: ignore[arg-type]
    assert cells.crs is not None and cells.shapes is not None
    expected = 2_500 * (np.sqrt(3) / 2 if shape == "hexagon" else 1)
    assert geodesic_areas(cells.shapes, cells.crs) == pytest.approx(np.full(len(cells), expected), rel=2e-3)
    assert sum(cells.columns["count"].to_pylist()) == 5_000
    points = shapely.points(
        np.column_stack(pyproj.Transformer.from_crs(LONLAT, cells.crs, always_xy=True).transform(*PLACES.T))
    )
    inside = shapely.STRtree(cells.shapes).query(points, predicate="intersects")
    assert len(inside[0]) == 5_000 and np.bincount(inside[1]).tolist() == cells.columns["count"].to_pylist()


def test_a_point_is_in_the_hexagon_whose_middle_is_nearest() -> None:
    """The cells of a hexagonal lattice are its Voronoi cells; the nearest middle by scipy's k-d tree."""
    points = RNG.uniform(-20, 20, (4_000, 2))
    lattice = np.array([(i, j) for i in range(-60, 61) for j in range(-60, 61) if (i + j) % 2 == 0])
    _, nearest = cKDTree(lattice * (0.5, np.sqrt(3) / 2)).query(points)
    assert np.array_equal(hexagon_of(points, 1.0), lattice[nearest])


def test_sums_and_means_of_a_field() -> None:
    sums = Grid(size=80_000, what="sum", field="depth").derived(WELLS)
    means = Grid(size=80_000, what="mean", field="depth").derived(WELLS)
    depth, count = WELLS.columns["depth"].to_numpy(), sums.columns["count"].to_numpy()
    assert sums.columns["value"].to_numpy().sum() == pytest.approx(depth.sum())
    assert means.columns["value"].to_numpy() == pytest.approx(sums.columns["value"].to_numpy() / count)
    assert (sums.meaning("value").kind, means.meaning("value").kind) == ("count", "measure")
    with pytest.raises(BadInput, match="wants a field"):
        Grid(what="sum").derived(WELLS)
    with pytest.raises(BadInput, match="at most 200,000 are made"):
        dense = Dataset(
            pa.table({"n": np.arange(300_000)}), "points", shapely.points(RNG.uniform(0, 40, (300_000, 2))), LONLAT
        )
        Grid(size=1).derived(dense)
    with pytest.raises(BadInput, match="Only points are gathered"):
        Grid().derived(AREAS)


def test_dots_are_as_many_as_the_number_says_within_their_area_and_always_the_same() -> None:
    dots = Dots(field="people", each=10).derived(AREAS)
    assert dots.shapes is not None and AREAS.shapes is not None
    names = dots.columns["name"].to_pylist()
    assert (names.count("Ard"), names.count("Bren"), names.count("Corra")) == (100, 25, 0)
    assert shapely.contains(AREAS.shapes[[0 if name == "Ard" else 1 for name in names]], dots.shapes).all()
    again = Dots(field="people", each=5).derived(AREAS)
    assert again.shapes is not None
    assert shapely.equals(again.shapes[:100], dots.shapes[:100]).all(), "more dots begin with the same ones"
    spread = dots_within(np.array([shapely.box(0, 0, 1, 1)]), np.array([20_000]), np.array([3]))
    # Evenly: a quarter in each quarter, within four standard deviations of a binomial.
    quarters = np.bincount((2 * (spread[:, 0] > 0.5) + (spread[:, 1] > 0.5)).astype(int))
    assert quarters == pytest.approx([5_000] * 4, abs=4 * np.sqrt(20_000 * 0.25 * 0.75))
    sliver = shapely.LineString([(0, 0), (1, 1)]).buffer(1e-9)
    near = dots_within(np.array([sliver]), np.array([500]), np.array([1]))
    assert np.abs(near[:, 0] - near[:, 1]).max() < 1e-8, "a thin shape is no trouble"
    with pytest.raises(BadInput, match="Let one dot stand for more"):
        Dots(field="people", each=0.001).derived(AREAS)


def test_centres_lie_within() -> None:
    centres = Centres().derived(AREAS)
    assert centres.kind == "points" and centres.fids.tolist() == [0, 1, 2]
    assert shapely.contains(AREAS.shapes, centres.shapes).all(), "of a ring too"  # type: ignore[arg-type]
    with pytest.raises(BadInput, match="have centres"):
        Centres().derived(WELLS)


def test_readings_begin_with_what_suits_the_data() -> None:
    grid = begun("hexagon", WELLS)
    assert isinstance(grid, Grid) and 20_000 <= grid.size <= 100_000
    dots = begun("dots", AREAS)
    assert isinstance(dots, Dots) and dots.field == "people"
    with pytest.raises(BadInput):
        begun("hexagon", AREAS)


def test_what_is_read_is_drawn_and_asked_by_its_own_number() -> None:
    look = {"kind": "symbols", "encodings": {"colour": {"by": "classes", "classing": {"field": "value", "classes": 4}}}}
    layer = {
        "id": "a",
        "name": "A",
        "dataset": "d",
        "symbology": look,
        "reading": {"by": "grid", "size": 60_000},
        "filter": "kind = 'a'",
    }
    sheet = parse_sheet({"version": 3, "title": "T", "layers": [layer]})
    source = VectorSource(WELLS)
    composition = compose(sheet, lambda *_: source)
    (drawn,) = composition.passes
    assert isinstance(drawn, VectorPass) and drawn.source.dataset.kind == "areas"
    assert sum(drawn.source.dataset.columns["count"].to_pylist()) == 2_500
    picture = paint(composition, View.fitted(composition.frame, composition.bounds, 200, 200), ground=False)  # type: ignore[arg-type]
    assert (picture[..., 3] > 0).mean() > 0.4
    with pytest.raises(CannotDraw, match="Dots are strewn over areas"):
        bad = Layer.model_validate({**layer, "reading": {"by": "dots", "field": "depth"}})
        pass_of(bad, lambda *_: source)


def test_keys_say_what_a_dot_a_cell_and_a_circle_stand_for() -> None:
    """A key of dots said only what the layer was called: nobody could tell how many one was."""
    areas = Dataset(pa.table({"people": [900.0]}), "areas", np.array([shapely.box(0, 0, 1, 1)]), LONLAT)
    points = Dataset(pa.table({"v": [1.0, 2.0]}), "points", shapely.points([[0.1, 0.1], [0.2, 0.2]]), LONLAT)

    def said(data: Dataset, reading: dict[str, object], key: dict[str, object] | None = None) -> str:
        layer = Layer.model_validate(
            {
                "id": "a",
                "name": "A",
                "dataset": "d",
                "symbology": {"kind": "symbols"},
                "reading": reading,
                "key": key or {},
            }
        )
        return layer_key(pass_of(layer, lambda name, frame: VectorSource(data, frame))).unit

    dots = {"by": "dots", "field": "people", "each": 50}
    assert said(areas, dots) == "one dot is 50 people"
    assert (
        said(replace(areas, meanings={"people": Meaning("count", "inhabitants")}), dots) == "one dot is 50 inhabitants"
    )
    assert said(areas, dots, {"unit": "fifty each"}) == "fifty each"
    assert said(points, {"by": "grid", "size": 2500}) == "how many in each hexagon, 2.5 km across"
    means = {"by": "grid", "shape": "square", "size": 800, "what": "mean", "field": "v"}
    assert said(points, means) == "mean of v in each square, 800 m across"
    assert said(points, {"by": "rounds", "metres": 1500}) == "1.5 km around each"
    assert said(points, {"by": "rounds", "metres": 1500, "field": "v"}) == ""


def test_a_heat_surface_is_the_sum_of_gaussians_and_fits_together_in_tiles() -> None:
    """Against the sum written out for every pixel and point; cut off at two and a half standard deviations, as far as the radius goes."""
    places = np.array([[0.0, 0.0], [30.0, 10.0], [30.0, 10.0]])
    wells = VectorSource(Dataset(pa.table({"n": [1.0, 1, 1]}), "points", shapely.points(places), WEB_MERCATOR))
    heat = Heat(radius=25)
    view = View(MERCATOR, (-64.0, -64.0, 64.0, 64.0), 128, 128)
    picture = draw_heat(wells, heat, view)
    assert picture is not None
    x, y = np.meshgrid(np.arange(128) - 64, 63 - np.arange(128))
    sigma = 25 / 2.5
    density = np.zeros((128, 128))
    for px, py in places:
        away = (x - px) ** 2 + (y - py) ** 2
        density += np.exp(-away / (2 * sigma**2)) / (2 * np.pi * sigma**2)
    shown = picture[..., 3].astype(int)
    dark = picture[..., :3].sum(axis=2)
    assert np.argwhere(dark == dark[shown == 255].min()).mean(axis=0) == pytest.approx([53.5, 94], abs=1.5)
    near = density > 0.3 * density.max()
    assert (shown[near] == 255).all() and (shown[density < 1e-3 * density.max()] < 30).all()
    left = draw_heat(wells, heat, View(MERCATOR, (-64.0, -64.0, 0.0, 64.0), 64, 128))
    assert left is not None and np.abs(left.astype(int) - picture[:, :64].astype(int)).max() <= 1
    heavy = VectorSource(Dataset(pa.table({"n": [1.0, -1, 1]}), "points", shapely.points(places), WEB_MERCATOR))
    with pytest.raises(BadInput, match="Row 2 has -1"):
        draw_heat(heavy, Heat(weight="n"), view)


def test_a_heat_surface_in_a_sheet_has_a_key_and_needs_points() -> None:
    layer = Layer.model_validate(
        {"id": "a", "name": "A", "dataset": "d", "symbology": {"kind": "heat", "ramp": {"name": "bathos"}}}
    )
    source = VectorSource(WELLS)
    pass_ = pass_of(layer, lambda *_: source)
    (section,) = layer_key(pass_).sections
    assert (section.words, section.ends) == (("few", "many"), ()) and 20 < len(section.ramp) < 30
    composition = compose(parse_sheet({"version": 3, "title": "T", "layers": [layer.model_dump()]}), lambda *_: source)
    picture = paint(composition, View.fitted(composition.frame, composition.bounds, 200, 200), ground=False)  # type: ignore[arg-type]
    assert (picture[..., 3] > 0).mean() > 0.4
    with pytest.raises(CannotDraw, match="needs points"):
        pass_of(layer, lambda *_: VectorSource(AREAS))


def test_cells_over_the_whole_world_end_at_its_edge() -> None:
    """Found with airportsdata (PyPI): around one point the other end of the world has no place."""
    places = np.column_stack([RNG.uniform(-180, 180, 4_000), np.degrees(np.arcsin(RNG.uniform(-1, 1, 4_000)))])
    world = Dataset(pa.table({"n": np.arange(4_000)}), "points", shapely.points(places), LONLAT)
    cells = Grid(size=800_000).derived(world)
    assert sum(cells.columns["count"].to_pylist()) == 4_000
    source = VectorSource(cells)
    assert not shapely.is_empty(source.shapes).any() and np.isfinite(source.bounds).all()
    west, east = shapely.bounds(shapely.get_parts(source.shapes))[:, [0, 2]].T
    assert (east - west).max() < 2e7, "none is smeared over the map"


def test_circles_are_true_on_the_ground() -> None:
    """Every corner lies as far from the middle as PROJ's geodesic says (Karney 2013), wherever on the globe; rows without a number have none."""
    places = shapely.points([[-27.0, 52.0], [0.0, 0.0], [10.0, 78.0], [20.0, 10.0]])
    data = Dataset(pa.table({"km": [1.0, 2.5, 0.5, None]}), "points", places, pyproj.CRS(4326))
    made = Rounds(metres=1_000, field="km").derived(data)
    assert made.kind == "areas" and made.shapes is not None
    geod = pyproj.Geod(ellps="WGS84")
    for place, shape, km in zip(places, made.shapes, [1.0, 2.5, 0.5], strict=False):
        corners = shapely.get_coordinates(shape)
        _, _, away = geod.inv([place.x] * len(corners), [place.y] * len(corners), *corners.T)
        assert np.abs(np.array(away) - km * 1_000).max() < 0.01
        assert shapely.is_ccw(shape.exterior)
    assert shapely.is_empty(made.shapes[3])
    with pytest.raises(BadInput, match="Row 2"):
        Rounds(metres=3_000_000, field="km").derived(data)


def test_circles_over_the_180th_meridian_are_cut_there() -> None:
    """RFC 7946, 3.1.9."""
    data = Dataset(pa.table({"a": [1]}), "points", shapely.points([[179.9, -17.0]]), pyproj.CRS(4326))
    made = Rounds(metres=50_000).derived(data)
    assert made.shapes is not None
    assert shapely.get_num_geometries(made.shapes[0]) == 2
    assert abs(shapely.bounds(made.shapes[0])).max() <= 180
