"""Vector tiles: commands as the specification has them, and shapes as two other readers see them."""

from pathlib import Path

import mapbox_vector_tile
import numpy as np
import pyarrow as pa
import pyogrio
import pytest
import shapely
from greylatch.formats.files import read_file
from greylatch.paint.sources import VectorSource
from greylatch.places.crs import LONLAT
from greylatch.places.frame import MERCATOR, Frame
from greylatch.places.grid import Tile
from greylatch.tables.dataset import Dataset, Kind
from greylatch.tiles.mvt import Property, encode_points, encode_shapes
from greylatch.tiles.shape_tiles import reach_of_tile, shape_tile
from shapely.affinity import affine_transform

UNITS = (0.0, -4096.0, 4096.0, 0.0)
"""The ground of a tile whose units are those of its shapes, y turned down."""


def down(*places: tuple[int, int]) -> list[tuple[int, int]]:
    return [(x, -y) for x, y in places]


def test_commands_of_points() -> None:
    """Vector Tile 2.1, 4.3.5.1 and 4.3.5.2 (from memory): a point at (25, 17), and two at (5, 7) and (3, 2)."""
    one = encode_points("l", np.array(down((25, 17)), float), np.array([0]), UNITS, [1])
    assert bytes([9, 50, 34]) in one
    two = encode_points("l", np.array(down((5, 7), (3, 2)), float), np.array([0, 0]), UNITS, [1])
    assert bytes([17, 10, 14, 3, 9]) in two


@pytest.mark.parametrize(
    ("kind", "shape", "commands"),
    [
        ("lines", shapely.LineString(down((2, 2), (2, 10), (10, 10))), [9, 4, 4, 18, 0, 16, 16, 0]),
        (
            "lines",
            shapely.MultiLineString([down((2, 2), (2, 10), (10, 10)), down((1, 1), (3, 5))]),
            [9, 4, 4, 18, 0, 16, 16, 0, 9, 17, 17, 10, 4, 8],
        ),
        ("areas", shapely.Polygon(down((3, 6), (8, 12), (20, 34))), [9, 6, 12, 18, 10, 12, 24, 44, 15]),
        (
            "areas",
            shapely.MultiPolygon(
                [
                    (down((0, 0), (10, 0), (10, 10), (0, 10)), []),
                    (down((11, 11), (20, 11), (20, 20), (11, 20)), [down((13, 13), (13, 17), (17, 17), (17, 13))]),
                ]
            ),
            [9, 0, 0, 26, 20, 0, 0, 20, 19, 0, 15, 9, 22, 2, 26, 18, 0, 0, 18, 17, 0, 15, 9, 4, 13, 26, 0, 8, 8, 0, 0, 7, 15],
        ),
    ],
)  # fmt: skip
def test_commands_of_the_specification(kind: Kind, shape: shapely.Geometry, commands: list[int]) -> None:
    """Vector Tile 2.1, 4.3.5.3 to 4.3.5.6 (from memory). Rings that run the wrong way are turned round from where they begin."""
    for given in (shape, shapely.reverse(shape) if kind == "areas" else shape):
        made = encode_shapes("l", kind, np.array([given], dtype=object), UNITS, [1])
        assert bytes(commands) in made


def test_what_shrinks_to_nothing_is_left_out() -> None:
    """A speck is gone, and so is a hole that has become a line; a tile of specks is empty."""
    ring = shapely.Polygon(down((0, 0), (100, 0), (100, 100), (0, 100)), [[(50, -50), (50.2, -50), (50.2, -50.2)]])
    specks = np.array([shapely.Point(9, -9).buffer(0.1), ring, shapely.Point(70, -70).buffer(0.2)], dtype=object)
    told = mapbox_vector_tile.decode(encode_shapes("l", "areas", specks, UNITS, [7, 8, 9]))["l"]["features"]
    assert [one["id"] for one in told] == [8]
    assert len(told[0]["geometry"]["coordinates"]) == 1
    assert encode_shapes("l", "areas", specks[:1], UNITS, [7]) == b""


def test_properties_keep_their_kinds() -> None:
    columns = {"a": [1, 1], "b": [True, False], "c": [1.0, None], "d": ["ä", "ä"], "e": [None, None], "f": [-3, None]}
    properties = {name: Property.of(values) for name, values in columns.items()}
    properties["g"] = Property.of_numbers(np.array([np.nan, 2.5]))
    data = encode_points("l", np.array([[1.0, -1.0], [2.0, -2.0]]), np.array([0, 1]), UNITS, [300, 70_000], properties)
    told = mapbox_vector_tile.decode(data)["l"]
    assert [one["id"] for one in told["features"]] == [300, 70_000]
    first, second = (one["properties"] for one in told["features"])
    assert first == {"a": 1, "b": True, "c": 1.0, "d": "ä", "f": -3}
    assert [type(first[key]) for key in "abc"] == [int, bool, float]
    assert second == {"a": 1, "b": False, "d": "ä", "g": 2.5}


@pytest.mark.parametrize("crs", ["EPSG:3857", "EPSG:8857", "+proj=laea +lat_0=57 +lon_0=-27", "EPSG:32626"])
@pytest.mark.parametrize("z", [6, 9, 12])
def test_shapes_as_others_read_them(demo: Path, crs: str, z: int) -> None:
    """Every shape within one unit of what shapely cuts out of the same ground, read with mapbox-vector-tile (PyPI)."""
    source = VectorSource(read_file(demo / "catchments.zip").dataset, Frame.named(crs))
    tiles = list(source.frame.grid.tiles_over(source.bounds, z))
    seen: set[int] = set()
    for tile in tiles[:: max(1, len(tiles) // 12)]:
        west, _, east, north = bounds = source.frame.grid.tile_bounds(tile)
        scale = 4096 / (east - west)
        data = shape_tile(source, tile)
        features = (
            mapbox_vector_tile.decode(data, default_options={"y_coord_down": True})["shapes"]["features"]
            if data
            else []
        )
        for one in features:
            units = shapely.make_valid(shapely.geometry.shape(one["geometry"]))
            wanted = shapely.intersection(source.shapes[one["id"]], shapely.box(*reach_of_tile(bounds)))
            wanted = affine_transform(wanted, (scale, 0, 0, -scale, -west * scale, north * scale))
            assert shapely.symmetric_difference(units, wanted).area <= wanted.length + 1
            seen.add(one["id"])
    assert seen


def test_tiles_as_gdal_reads_them(demo: Path, tmp_path: Path) -> None:
    """GDAL's MVT driver, through pyogrio."""
    source = VectorSource(read_file(demo / "catchments.zip").dataset)
    file = tmp_path / "8" / "108" / "84.pbf"
    file.parent.mkdir(parents=True)
    file.write_bytes(shape_tile(source, Tile(8, 108, 84)))
    told = pyogrio.read_info(file)
    assert (told["layer_name"], told["features"] > 200) == ("shapes", True)
    assert told["geometry_type"] in ("MultiPolygon", "Polygon", "Unknown")


def test_a_point_is_in_one_tile_only() -> None:
    """Also one on a tile's edge, and one on the rim of the whole square; those beyond a projection's limits in none."""
    half = 20037508.342789244
    xy = [(0, 0), (0, 1), (half, 0), (-half, half), (half, -half), (1e6, -2e6)]
    crs = MERCATOR.crs
    source = VectorSource(Dataset(pa.table({"n": range(6)}), "points", shapely.points(xy), crs))
    for z in (0, 1, 3):
        found: list[int] = []
        for tile in MERCATOR.grid.tiles_over(MERCATOR.grid.extent, z):
            data = shape_tile(source, tile)
            found += [one["id"] for one in mapbox_vector_tile.decode(data)["shapes"]["features"]] if data else []
        assert sorted(found) == [0, 1, 2, 3, 4, 5]
    far = VectorSource(
        Dataset(pa.table({"n": [0]}), "points", shapely.points([[10, 80]]), LONLAT),
        Frame.named("+proj=ortho +lat_0=-90"),
    )
    assert shape_tile(far, Tile(0, 0, 0)) == b""
