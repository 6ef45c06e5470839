"""Longitude and latitude are known by how they are written, without PROJ; whatever is written otherwise is PROJ's to read."""

import json
import subprocess
import sys
from pathlib import Path
from typing import Any

import geopandas
import numpy as np
import pyarrow as pa
import pyproj
import pytest
import shapely
from greylatch.errors import BadFile
from greylatch.places.stated import _LONLAT, crs_name, crs_text, in_degrees, system_of, system_of_json
from greylatch.tables.dataset import Dataset

PLACE = np.array([[-26.7, 57.3]])
GRAD = {"type": "AngularUnit", "name": "grad", "conversion_factor": np.pi / 200}


@pytest.mark.parametrize("text", _LONLAT)
def test_texts_that_are_known_mean_what_proj_reads_in_them(text: str) -> None:
    """Against PROJ: no place moves between what a text means to it and EPSG:4326, x first."""
    moved = pyproj.Transformer.from_crs(text, 4326, always_xy=True).transform(*PLACE[0])
    assert moved == tuple(PLACE[0])
    assert system_of(f" {text}\n") == "EPSG:4326"


def test_what_is_said_of_it_is_what_proj_says() -> None:
    whole = pyproj.CRS.from_epsg(4326)
    assert crs_name("EPSG:4326") == crs_name(whole) == f"EPSG:4326 · {whole.name}"
    assert crs_text(whole) == "EPSG:4326"
    assert in_degrees("EPSG:4326") and in_degrees(whole) and not in_degrees(None)
    assert not in_degrees(system_of("EPSG:32626"))
    data = Dataset(pa.table({"a": [1]}), "points", PLACE, "EPSG:4326")
    assert data.crs == whole and Dataset(data.columns, "table").crs is None


def test_projjson_of_proj_itself_is_known() -> None:
    assert system_of_json(pyproj.CRS.from_epsg(4326).to_json_dict()) == "EPSG:4326"


@pytest.mark.parametrize(
    "change",
    [
        {"id": {"authority": "EPSG", "code": 4258}}, {"id": None}, {"name": "ETRS89"},
        {"coordinate_system": {"subtype": "ellipsoidal", "axis": [
            {"name": "Geodetic latitude", "abbreviation": "Lat", "direction": "north", "unit": GRAD},
            {"name": "Geodetic longitude", "abbreviation": "Lon", "direction": "east", "unit": GRAD},
        ]}},
        {"datum_ensemble": None, "datum": {"type": "GeodeticReferenceFrame", "name": "Of Vaskerry", "ellipsoid": {
            "name": "of Vaskerry", "semi_major_axis": 6378000, "inverse_flattening": 298,
        }}},
    ],
)  # fmt: skip
def test_projjson_that_says_anything_else_is_read_by_proj(change: dict[str, Any]) -> None:
    """A code that the rest does not bear out is not taken at its word."""
    described = pyproj.CRS.from_epsg(4326).to_json_dict() | change
    described = {key: value for key, value in described.items() if value is not None}
    system = system_of_json(described)
    assert not isinstance(system, str)
    assert system == pyproj.CRS.from_json_dict(described)


@pytest.mark.parametrize("odd", [{}, [], "EPSG:4326 or so", 4, {"coordinate_system": {"axis": [3]}, "type": 4}])
def test_what_is_no_projjson_is_told(odd: Any) -> None:
    with pytest.raises(BadFile, match="is not understood"):
        system_of_json(odd)


@pytest.mark.parametrize("ending", ["csv", "geojson", "parquet", "gpkg", "fgb", "kml", "gml", "gpx", "shp.zip"])
def test_info_of_longitudes_and_latitudes_loads_no_proj(ending: str, tmp_path: Path) -> None:
    """Nor pandas: each takes as long to load as a file of 4 MB to read. What follows them in the process finds them all the same."""
    path = tmp_path / f"wells.{ending}"
    wells = geopandas.GeoDataFrame(
        {"name": ["a", "b"]}, geometry=shapely.points([[-26.7, 57.3], [-26.6, 57.2]]), crs=4326
    )
    if ending == "csv":
        path.write_text("name,lon,lat\na,-26.7,57.3\nb,-26.6,57.2\n")
    elif ending == "parquet":
        wells.to_parquet(path)
    else:
        wells.to_file(path, driver={"kml": "LIBKML", "shp.zip": "ESRI Shapefile"}.get(ending))
    code = f"""
import sys
sys.argv = ["greylatch", "info", {str(path)!r}, "--json"]
from greylatch.cli.main import main
main()
loaded = [name for name in ("pyproj", "pandas", "multiprocessing", "dateutil") if name in sys.modules]
import pyproj, pyproj.network
import json
json.dump([loaded, pyproj.network.is_network_enabled()], sys.stderr)
"""
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True)
    assert json.loads(done.stdout)["crs"] == "EPSG:4326 · WGS 84"
    loaded, network = json.loads(done.stderr)
    assert not loaded
    assert not network, "no grid is fetched for anybody"
