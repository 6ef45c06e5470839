"""50,176 areas with 28 vertices, and a million points, in each format that can hold them, or in those whose endings are named: seen, brought in,
drawn; beside GeoJSON's bytes parsed and no more.

    python -m bench.first_maps areas geojson kml
    python -m bench.first_maps points
"""

import subprocess
import sys
import tempfile
from pathlib import Path
from typing import Any

import orjson
from greylatch.formats.bounded import bounded
from greylatch.formats.corrections import Corrections
from greylatch.formats.intake import take_in
from greylatch.formats.preview import preview
from greylatch.formats.written_geojson import write_geojson

from bench.table import print_table, timed

AREAS = ("geojson", "geojsonl", "topojson", "gpkg", "fgb", "parquet", "shp.zip", "csv", "kml", "gml")
POINTS = (*AREAS[:2], *AREAS[3:], "gpx", "xlsx", "ods")
"""Endings. Workbooks have no shapes but places in two columns; of a million points nobody makes a topology."""


def main() -> None:
    # The reader's process imports this file too, and should not wait for what only the benchmark needs.
    from bench.database import django_in, new_database

    what, *endings = sys.argv[1:] or ["areas"]
    asked = 6 if what == "areas" else 40
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        plain = folder / "rows.geojson"
        rows = write_plain(what, plain)
        new_database("measured")
        django_in(folder, "measured")
        from config.warm import warm

        # As a running server has done before anybody asks for something.
        warm()
        bounded(plain, preview, plain, plain.name, Corrections())
        bare, _ = timed(lambda: orjson.loads(plain.read_bytes()))
        for ending in endings or (AREAS if what == "areas" else POINTS):
            file = folder / f"rows.{ending}"
            write(plain, file)
            told(file, f"{rows:,} {what}", bare, asked)
            if file != plain:
                file.unlink()


def write_plain(what: str, plain: Path) -> int:
    """The GeoJSON that all others are made of; returns how many rows."""
    if what == "areas":
        from bench.dense import areas

        rows = areas()
        write_geojson(rows, plain)
        return len(rows)
    from bench.formats import points

    frame = points()
    frame.to_file(plain, driver="GeoJSON")
    return len(frame)


def write(plain: Path, file: Path) -> None:
    """A file of the format that its ending says, by GDAL, geopandas (PyPI) or, for a topology, ring by ring."""
    import geopandas

    from bench.formats import WRITTEN

    ending = file.name.removeprefix("rows.")
    if ending == "parquet":
        geopandas.read_file(plain).to_parquet(file)
    elif ending == "topojson":
        file.write_bytes(orjson.dumps(topology(orjson.loads(plain.read_bytes())["features"])))
    elif ending in ("xlsx", "ods"):
        frame = geopandas.read_file(plain)
        table = file.with_suffix(".csv")
        frame.drop(columns="geometry").assign(lon=frame.geometry.x, lat=frame.geometry.y).to_csv(table, index=False)
        subprocess.run(["ogr2ogr", "-q", "-f", ending.upper(), file, table, "-oo", "AUTODETECT_TYPE=YES"], check=True)
        table.unlink()
    elif ending != "geojson":
        subprocess.run(["ogr2ogr", "-q", "-f", *WRITTEN.get(ending, ["FlatGeobuf"]), file, plain], check=True)


def topology(features: list[Any]) -> dict[str, Any]:
    """Each area's ring as an arc of its own, which is the most that there is to read."""
    arcs = [ring for feature in features for ring in feature["geometry"]["coordinates"]]
    rows = [
        {"type": "Polygon", "arcs": [[i]], "properties": feature["properties"]} for i, feature in enumerate(features)
    ]
    return {"type": "Topology", "objects": {"rows": {"type": "GeometryCollection", "geometries": rows}}, "arcs": arcs}


def told(file: Path, rows: str, bare: float, asked: float) -> None:
    """Print how long each step takes."""
    steps = measured(file)
    whole = sum(seconds for _, seconds in steps)
    print_table(
        f"{file.name}: {rows}, {file.stat().st_size / 1e6:.0f} MB",
        [
            ("the reference: the bytes of its GeoJSON parsed", f"{bare:.2f} s"),
            *((words, f"{seconds:.2f} s, {seconds / bare:.2f} of it") for words, seconds in steps),
            (f"all of it, to the first map ({asked} s asked)", f"{whole:.2f} s, {whole / bare:.2f} of it"),
        ],
    )


def measured(file: Path) -> list[tuple[str, float]]:
    """The steps from the file to the first map."""
    from django.contrib.auth import get_user_model
    from greylatch.encodings.by_classes import ColourByClasses
    from greylatch.encodings.channels import Encodings
    from greylatch.paint.passes import Composition, pass_of
    from greylatch.paint.picture import paint
    from greylatch.places.view import View
    from greylatch.sheet.document import Furniture
    from greylatch.sheet.layers import Layer
    from greylatch.sheet.parts import Classing
    from greylatch.sheet.symbology import Symbols
    from greylatch.tiles.image import png
    from greylatch.tiles.map_pyramid import map_bounds
    from library.models import Dataset
    from library.store import keep_folder
    from sheets.sources import finder

    owner, _ = get_user_model().objects.get_or_create(username="isla")
    look, _ = timed(lambda: bounded(file, preview, file, file.name, Corrections()))
    folder = file.parent / f"taken from {file.name}"
    folder.mkdir()
    read, taken = timed(lambda: bounded(file, take_in, file, Corrections(), folder))
    keep, dataset = timed(lambda: keep_folder(owner, "Rows", folder, taken, file.name))

    def first_map() -> bytes:
        revision = Dataset.objects.select_related("current__dataset").get(pk=dataset.pk).current
        # What is not a field of GPX itself is called after who wrote it: ogr_depth.
        names = [field["name"] for field in revision.fields]
        field = next(name for name in names if name.rpartition("_")[2] in ("v", "depth"))
        symbology = Symbols(encodings=Encodings(colour=ColourByClasses(classing=Classing(field=field))))
        layer = Layer(id="a", name="Rows", dataset=str(dataset.pk), symbology=symbology)
        composition = Composition([pass_of(layer, finder({str(dataset.pk): revision}))], [], Furniture())
        return png(paint(composition, View.fitted(composition.frame, map_bounds(composition), 1024, 768)))

    draw, _ = timed(first_map)
    return [
        ("preview", look),
        ("reading the file", read),
        ("putting it on record", keep),
        ("a first picture", draw),
    ]


if __name__ == "__main__":
    main()
