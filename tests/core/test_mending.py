"""Areas whose rings cross, made sound. Referee: GEOS's own repair (through shapely.make_valid), which does the same slowly."""

import json
from pathlib import Path

import numpy as np
import pytest
import shapely
from greylatch.errors import BadFile
from greylatch.formats.files import read_file
from greylatch.places import mending
from greylatch.places.mending import mended
from numpy.typing import NDArray

BOW = "POLYGON((0 0,2 2,2 0,0 2,0 0))"


def wild_ring(rng: np.random.Generator, corners: int, middle: tuple[float, float]) -> NDArray[np.float64]:
    """A ring that crosses itself many times."""
    turned = np.sort(rng.uniform(0, 2 * np.pi, corners))
    far = rng.uniform(0.5, 3, corners)
    xy = np.column_stack([np.cos(turned * 2) * far, np.sin(turned * 2) * far]) + middle
    return np.vstack([xy, xy[:1]])


@pytest.fixture
def by_faces(monkeypatch: pytest.MonkeyPatch) -> None:
    """What is done for large areas, done for small ones."""
    monkeypatch.setattr(mending, "LARGE", 0)


def geos(area: shapely.Geometry) -> shapely.Geometry:
    return shapely.make_valid(area, method="structure", keep_collapsed=False)


@pytest.mark.usefixtures("by_faces")
@pytest.mark.parametrize("seed", range(25))
def test_rings_that_cross_themselves_and_their_holes_are_mended_as_geos_does(seed: int) -> None:
    rng = np.random.default_rng(seed)
    shell = wild_ring(rng, 40, (0, 0))
    area = shapely.Polygon(shell, [wild_ring(rng, 9, (1, 0)), wild_ring(rng, 7, (-1, 0.5))])
    (sound,) = mended(np.array([area]))
    assert sound.is_valid
    assert shapely.symmetric_difference(sound, geos(area)).area < 1e-9


@pytest.mark.usefixtures("by_faces")
def test_parts_that_overlap_are_one_and_a_hole_counts_for_its_own_part_only() -> None:
    ring = shapely.box(0, 0, 4, 4).exterior
    pierced = shapely.Polygon(ring, [shapely.box(1, 1, 3, 3).exterior.coords])
    area = shapely.MultiPolygon([pierced, shapely.box(2, 2, 6, 6), shapely.box(9, 9, 10, 10)])
    (sound,) = mended(np.array([area]))
    assert sound.is_valid
    # By hand: 16 - 4 of the pierced one, 16 of the other less the 3 that both cover, and the one far off.
    assert sound.area == pytest.approx(12 + 16 - 3 + 1)
    assert sound.covers(shapely.Point(2.5, 2.5)) and not sound.covers(shapely.Point(1.5, 1.5))


@pytest.mark.usefixtures("by_faces")
def test_nothing_is_left_of_an_area_without_an_inside() -> None:
    assert mended(shapely.from_wkt(["POLYGON((0 0,1 1,2 2,0 0))"]))[0].is_empty


def test_a_country_of_ten_thousand_vertices_is_mended_as_geos_does() -> None:
    """An outline with many lakes, some of which cross it: what freely published coastlines are like."""
    rng = np.random.default_rng(4)
    around = np.linspace(0, 2 * np.pi, 6_000, endpoint=False)
    radius = 10 + 0.05 * rng.standard_normal(6_000)
    shell = np.column_stack([np.cos(around) * radius, np.sin(around) * radius])
    lakes = [
        shapely.Point(*place).buffer(0.1, quad_segs=4).exterior.coords for place in rng.uniform(-7.2, 7.2, (250, 2))
    ]
    area = shapely.Polygon(shell, lakes)
    assert shapely.get_num_coordinates(area) > mending.LARGE and not area.is_valid
    (sound,) = mended(np.array([area]))
    assert sound.is_valid and shapely.symmetric_difference(sound, geos(area)).area < 1e-9


def test_what_is_sound_is_the_same_object() -> None:
    shapes = np.array([shapely.box(0, 0, 1, 1), shapely.from_wkt(BOW), shapely.Point(1, 2), shapely.Point(), None])
    out = mended(shapes)
    assert out[0] is shapes[0] and out[2] is shapes[2] and out[3] is shapes[3] and out[4] is None
    assert out[1].is_valid and out[1].area == 2


def geojson(tmp_path: Path, document: object) -> Path:
    path = tmp_path / "file.geojson"
    path.write_text(json.dumps(document))
    return path


def square(x: float) -> dict[str, object]:
    return json.loads(shapely.to_geojson(shapely.box(x, 0, x + 1, 1)))


def test_a_bare_collection_is_a_row_for_each_of_its_shapes(tmp_path: Path) -> None:
    """Found with coastlines from npm: one collection of one shape of 1.2 million vertices made the reader fail."""
    several = {"type": "MultiPolygon", "coordinates": [square(4)["coordinates"], square(170.0)["coordinates"]]}
    read = read_file(geojson(tmp_path, {"type": "GeometryCollection", "geometries": [square(0), square(2), several]}))
    assert read.dataset.kind == "areas" and len(read.dataset) == 3 and not read.notes
    assert read.dataset.meaning("row").kind == "identifier", "they are numbered, however few they are"
    with pytest.raises(BadFile, match="no shape"):
        read_file(geojson(tmp_path, {"type": "GeometryCollection", "geometries": []}))


def test_collections_in_collections_keep_what_is_of_the_kind_over_the_meridian_too(tmp_path: Path) -> None:
    over = shapely.to_geojson(shapely.from_wkt("POLYGON((179 0,-179 0,-179 1,179 1,179 0))"))
    bow = shapely.to_geojson(shapely.from_wkt(BOW))
    nested = {
        "type": "GeometryCollection",
        "geometries": [
            {"type": "GeometryCollection", "geometries": [json.loads(over), json.loads(bow)]},
            {"type": "Point", "coordinates": [5, 5]},
        ],
    }
    plain = {"type": "GeometryCollection", "geometries": [square(20), square(30)]}
    features = [
        {"type": "Feature", "properties": {"n": i}, "geometry": shape} for i, shape in enumerate([nested, plain])
    ]
    read = read_file(geojson(tmp_path, {"type": "FeatureCollection", "features": features}))
    assert read.dataset.shapes is not None
    # Two on either side of the meridian, two halves of the bow; of the second row nothing is lost, and nothing is said.
    assert [shapely.get_num_geometries(shape) for shape in read.dataset.shapes] == [4, 2]
    assert shapely.area(read.dataset.shapes).tolist() == pytest.approx([4, 2])
    assert any("row 1." in note and "another kind" in note for note in read.notes)
