"""Single points as well-known binary; the referee is shapely (PyPI)."""

import numpy as np
import pyarrow as pa
import pytest
import shapely
from greylatch.formats.geoparquet import read_geoparquet, write_geoparquet
from greylatch.tables.dataset import Dataset
from greylatch.tables.point_wkb import places_of_wkb, wkb_of, wkb_of_places
from pyproj import CRS

XY = np.array([[-26.5, 51.75], [0.0, -0.0], [179.999999999, -90.0], [1e-300, 1e300]])
POINTS = shapely.to_wkb(shapely.points(XY))


@pytest.mark.parametrize("kind", [pa.binary(), pa.large_binary()])
def test_places_are_those_of_the_points_to_the_last_bit(kind: pa.DataType) -> None:
    whole = pa.array(POINTS, kind)
    assert np.array_equal(places_of_wkb(whole), XY)
    assert np.array_equal(places_of_wkb(pa.chunked_array([whole[:1], whole[1:1], whole[1:]])), XY)
    assert np.array_equal(places_of_wkb(whole[2:]), XY[2:])


def test_points_are_written_as_shapely_writes_them() -> None:
    assert wkb_of_places(XY).to_pylist() == POINTS.tolist()
    assert wkb_of_places(XY[:0]).to_pylist() == []
    for rows in (
        Dataset(pa.table({"a": range(4)}), "points", shapely.points(XY)),
        Dataset(pa.table({"a": range(4)}), "points", XY),
    ):
        assert wkb_of(rows).to_pylist() == POINTS.tolist()


@pytest.mark.parametrize(
    "odd",
    [
        None, shapely.to_wkb(shapely.Point()), shapely.to_wkb(shapely.Point(1, 2, 3)), shapely.to_wkb(shapely.Point(1, 2), byte_order=0),
        shapely.to_wkb(shapely.MultiPoint([(1, 2)])), shapely.to_wkb(shapely.LineString([(0, 0), (1, 1)])), b"", b"\x01" * 21,
        shapely.to_wkb(shapely.Point(np.inf, 0)),
    ],
)  # fmt: skip
def test_whatever_else_there_is_takes_the_slower_way(odd: bytes | None) -> None:
    assert places_of_wkb(pa.array([*POINTS, odd], pa.binary())) is None
    assert places_of_wkb(pa.array([], pa.binary())) is None


def test_a_file_of_points_makes_no_shape(tmp_path) -> None:  # type: ignore[no-untyped-def]
    rows = Dataset(pa.table({"a": range(4)}), "points", XY, CRS("EPSG:3857"))
    write_geoparquet(rows, tmp_path / "points.parquet")
    back = read_geoparquet(tmp_path / "points.parquet")
    assert (back.kind, back.columns.to_pylist()) == ("points", rows.columns.to_pylist())
    assert np.array_equal(back.places, XY)
    assert shapely.equals_exact(back.shapes, shapely.points(XY)).all()
