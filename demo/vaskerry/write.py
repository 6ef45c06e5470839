"""Write the whole demo as files, the way a survey would hand it over. Usage: python -m vaskerry.write FOLDER"""

import csv
import io
import json
import sys
import tempfile
import zipfile
from pathlib import Path
from typing import Any

import numpy as np
import pyogrio.raw
import pyproj
import rasterio
import shapely
from greylatch.formats.cells import BARE_TABLE
from greylatch.formats.files import read_file
from greylatch.formats.written_geojson import write_geojson
from greylatch.places.crs import to_lonlat
from greylatch.places.join import joined, keys_of, match

from vaskerry import survey
from vaskerry.bothies import bothies, draw_bothies
from vaskerry.names import place_names
from vaskerry.places import catchments
from vaskerry.sheets import finished_sheet, plants_sheet, slips_sheet
from vaskerry.terrain import GROUPS, TRANSFORM, make_terrain, picture

SEED = 5227
JOINED = "catchments_with_returns.geojson"


def write_demo(folder: Path, seed: int = SEED) -> None:
    """All files of the demo into `folder`; nothing is written where they stand already."""
    done = folder / "complete"
    if done.exists():
        return
    folder.mkdir(parents=True, exist_ok=True)
    rng = np.random.default_rng(seed + 3)
    terrain = make_terrain(seed)
    write_raster(folder / "relief.tif", terrain.relief)
    write_raster(folder / "peat_depth.tif", terrain.peat)
    write_raster(folder / "picture.tif", picture(terrain, seed))
    areas, groups = catchments(terrain, seed)
    names = place_names(rng, len(areas))
    fields = {"code": [f"VK{i + 1:03d}" for i in range(len(areas))], "name": names, "isles": groups}
    write_zipped_shapefile(folder / "catchments.zip", np.array(areas, dtype=object), fields, "catchments")
    write_csv(folder / "returns.csv", survey.returns(names, areas, rng), ";")
    write_csv(folder / "dip_wells.csv", survey.dip_wells(terrain, rng))
    write_csv(folder / "slips.csv", survey.slips(terrain, rng))
    lines, rows = survey.ditches(terrain, rng)
    ditches = to_lonlat(np.array(lines, dtype=object), pyproj.CRS.from_epsg(32626))
    fields = {name: [row[name] for row in rows] for name in rows[0]}
    write_shapes(folder / "ditches.geojson", ditches, fields, "LineString", "EPSG:4326", COORDINATE_PRECISION="6")
    write_csv(folder / "isles.csv", survey.isles())
    places = survey.gazetteer(terrain, GROUPS, rng)
    write_csv(folder / "gazetteer.csv", places)
    write_csv(folder / "huts.csv", survey.huts(places, rng))
    slept_in = bothies(places, seed)
    write_csv(folder / "bothies.csv", slept_in)
    draw_bothies(folder / "bothies", slept_in, seed)
    houses = survey.addresses(places, rng)
    write_csv(folder / "addresses.csv", houses)
    write_csv(folder / "smallholdings.csv", survey.smallholdings(houses, rng))
    settled = cross_reference(folder, names)
    (folder / "cross_reference.json").write_text(json.dumps(settled, indent=1), "utf-8")
    write_joined(folder, settled)
    for name, sheet in (("carbon", finished_sheet()), ("plants", plants_sheet()), ("slips", slips_sheet())):
        (folder / f"{name}.sheet.json").write_text(json.dumps(sheet, indent=1), "utf-8")
    done.touch()


def cross_reference(folder: Path, names: list[str]) -> dict[str, str]:
    """What a careful person would settle: each misspelt name to the catchment in whose place it stands."""
    table = read_file(folder / "returns.csv", cells=BARE_TABLE).dataset
    spelt = keys_of(table.columns, "catchment")
    order = [name for i, name in enumerate(names) if i != 100]
    return {spelling: name for spelling, name in zip(spelt, order, strict=False) if spelling != name}


def write_joined(folder: Path, settled: dict[str, str]) -> None:
    """Catchments with their returns, for the sheet that the command line draws."""
    areas = read_file(folder / "catchments.zip").dataset
    table = read_file(folder / "returns.csv", cells=BARE_TABLE).dataset
    keys = keys_of(table.columns, "catchment")
    twice = settled.get(keys[-1], keys[-1])
    matching = match(keys_of(areas.columns, "name"), keys, settled, {twice: len(keys) - 1})
    write_geojson(
        joined(areas, table.columns, matching, ["peat_ha", "carbon_t", "drained_percent", "restoration_money"]),
        folder / JOINED,
    )


def write_raster(path: Path, data: np.ndarray) -> None:
    """A tiled, compressed GeoTIFF; floats with nodata -9999."""
    bands = data[None] if data.ndim == 2 else data
    floating = bands.dtype == np.float32
    profile: dict[str, Any] = {
        "driver": "GTiff", "width": bands.shape[2], "height": bands.shape[1], "count": bands.shape[0], "dtype": bands.dtype,
        "crs": "EPSG:32626", "transform": TRANSFORM, "tiled": True, "compress": "deflate", "predictor": 3 if floating else 2,
        "nodata": -9999 if floating else None, "photometric": "minisblack" if floating else "rgb", "num_threads": "2",
    }  # fmt: skip
    with rasterio.open(path, "w", **profile) as out:
        out.write(np.where(np.isfinite(bands), np.round(bands, 2), -9999).astype(np.float32) if floating else bands)


def write_shapes(path: Path, shapes: Any, fields: dict[str, list[Any]], kind: str, crs: str, **options: str) -> None:
    """A file of shapes of a kind with their fields, in the format that its ending says."""
    values = [
        np.array(column) if isinstance(column[0], (int, float)) else np.array(column, dtype=object)
        for column in fields.values()
    ]
    pyogrio.raw.write(
        path, shapely.to_wkb(shapes), values, list(fields), geometry_type=kind, crs=crs, encoding="UTF-8", layer_options=options or None,
    )  # fmt: skip


def write_zipped_shapefile(path: Path, shapes: Any, fields: dict[str, list[Any]], stem: str) -> None:
    """A Shapefile in a zip."""
    with tempfile.TemporaryDirectory() as folder, zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as archive:
        write_shapes(Path(folder) / f"{stem}.shp", shapes, fields, "Polygon", "EPSG:32626")
        for part in sorted(Path(folder).iterdir()):
            archive.write(part, part.name)


def write_csv(path: Path, rows: list[dict[str, Any]], delimiter: str = ",") -> None:
    """UTF-8 text with a header row."""
    text = io.StringIO(newline="")
    writer = csv.DictWriter(text, rows[0].keys(), delimiter=delimiter)
    writer.writeheader()
    writer.writerows(rows)
    path.write_text(text.getvalue(), "utf-8")


if __name__ == "__main__":
    write_demo(Path(sys.argv[1]))
