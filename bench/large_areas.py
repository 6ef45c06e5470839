"""50,176 areas with 28 vertices in each format that can hold them, or in those whose endings are named: seen, brought in, drawn; beside
GeoJSON's bytes parsed and no more.

    python -m bench.large_areas geojson kml
"""

import subprocess
import sys
import tempfile
from pathlib import Path

import orjson
from greylatch.formats.bounded import bounded
from greylatch.formats.corrections import Corrections
from greylatch.formats.geojson import write_geojson
from greylatch.formats.intake import take_in
from greylatch.formats.preview import preview

from bench.table import print_table, timed


def main() -> None:
    # The reader's process imports this file too, and should not wait for what only the benchmark needs.
    from bench.database import django_in, new_database
    from bench.dense import areas
    from bench.formats import WRITTEN

    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        plain = folder / "fields.geojson"
        write_geojson(areas(), plain)
        new_database("measured")
        django_in(folder, "measured")
        from config.warm import warm

        # As a running server has done before anybody asks for something.
        warm()
        bounded(plain, preview, plain, plain.name, Corrections())
        bare, _ = timed(lambda: orjson.loads(plain.read_bytes()))
        for ending in sys.argv[1:] or [each for each in WRITTEN if each != "gpx"]:
            file = folder / f"fields.{ending}"
            if ending != "geojson":
                subprocess.run(["ogr2ogr", "-q", "-f", *WRITTEN[ending], file, plain], check=True)
            told(file, bare)


def told(file: Path, bare: float) -> None:
    """Print how long each step takes."""
    rows = measured(file)
    whole = sum(seconds for _, seconds in rows)
    print_table(
        f"{file.name}: 50,176 areas, {file.stat().st_size / 1e6:.0f} MB",
        [
            ("the reference: the bytes of its GeoJSON parsed", f"{bare:.2f} s"),
            *((words, f"{seconds:.2f} s, {seconds / bare:.2f} of it") for words, seconds in rows),
            ("all of it, to the first map (6 s asked)", f"{whole:.2f} s, {whole / bare:.2f} of it"),
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
    keep, dataset = timed(lambda: keep_folder(owner, "Fields", folder, taken, file.name))

    def first_map() -> bytes:
        revision = Dataset.objects.select_related("current__dataset").get(pk=dataset.pk).current
        symbology = Symbols(encodings=Encodings(colour=ColourByClasses(classing=Classing(field="v"))))
        layer = Layer(id="a", name="Fields", dataset=str(dataset.pk), symbology=symbology)
        composition = Composition([pass_of(layer, finder({str(dataset.pk): revision}))], [], Furniture())
        return png(paint(composition, View.fitted(composition.frame, map_bounds(composition), 1024, 768)))

    draw, _ = timed(first_map)
    return [
        ("preview (1 s asked)", look),
        ("reading the file", read),
        ("putting it on record", keep),
        ("a first picture", draw),
    ]


if __name__ == "__main__":
    main()
