"""Rows joined by where they lie. The referee is geopandas (PyPI): its joins within and to the nearest."""

from pathlib import Path

import geopandas
import numpy as np
import pyarrow as pa
import pytest
import shapely
from greylatch.errors import BadInput
from greylatch.formats.files import read_file
from greylatch.places.by_place import areas_of
from greylatch.places.crs import LONLAT
from greylatch.tables.dataset import Dataset


def test_wells_lie_in_the_areas_that_another_library_says(demo: Path) -> None:
    wells, areas = read_file(demo / "dip_wells.csv").dataset, read_file(demo / "catchments.zip").dataset
    found = areas_of(wells, areas)
    theirs = geopandas.sjoin(
        geopandas.GeoDataFrame(geometry=wells.shapes, crs=4326).to_crs(32626),
        geopandas.GeoDataFrame(geometry=areas.shapes, crs=32626),
        how="left",
    )
    first = theirs.groupby(level=0)["index_right"].min().fillna(-1).astype(int)
    assert np.array_equal(found, first.to_numpy()) and (found >= 0).mean() > 0.9


def test_the_nearest_is_that_of_another_library_and_no_farther_than_asked(demo: Path) -> None:
    wells = read_file(demo / "dip_wells.csv").dataset
    rng = np.random.default_rng(3)
    around = Dataset(
        pa.table({"n": range(300)}),
        "points",
        shapely.points(rng.uniform((-27.9, 51.5), (-26.1, 52.5), (300, 2))),
        LONLAT,
    )
    areas = read_file(demo / "catchments.zip").dataset
    found = areas_of(around, areas, nearest_km=10)
    flat = geopandas.GeoDataFrame(geometry=around.shapes, crs=4326).to_crs(32626)
    cells = geopandas.GeoDataFrame(geometry=areas.shapes, crs=32626)
    theirs = geopandas.sjoin_nearest(flat, cells, distance_col="far").groupby(level=0).first()
    near = theirs["far"] < 9_950  # the two projections differ by less than that
    assert np.array_equal(found[near], theirs["index_right"][near])
    assert (found[theirs["far"] > 10_050] == -1).all() and (areas_of(around, areas) == -1).sum() > (found == -1).sum()
    assert len(wells)


def test_the_middle_counts_and_borders_go_to_the_first() -> None:
    areas = Dataset(
        pa.table({"a": [1, 2]}), "areas", np.array([shapely.box(0, 0, 1, 1), shapely.box(1, 0, 2, 1)]), LONLAT
    )
    shapes = np.array([shapely.Point(1, 0.5), shapely.box(1.1, 0.2, 3, 0.4), shapely.Point(), shapely.Point(5, 5)])
    rows = Dataset(pa.table({"r": range(4)}), "areas", shapes, LONLAT)
    assert areas_of(rows, areas).tolist() == [0, -1, -1, -1]
    assert areas_of(rows, areas, nearest_km=50).tolist() == [0, 1, -1, -1]
    with pytest.raises(BadInput, match="both need to lie somewhere"):
        areas_of(Dataset(pa.table({"r": [1]}), "table"), areas)
