"""A GeoJSON of 50,176 areas with 28 vertices: seen, brought in, drawn; beside parsing its bytes and no more."""

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

    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        file = folder / "fields.geojson"
        write_geojson(areas(), file)
        new_database("measured")
        django_in(folder, "measured")
        from config.warm import warm

        # As a running server has done before anybody asks for something.
        warm()
        bounded(file, preview, file, "fields.geojson", Corrections())
        bare, _ = timed(lambda: orjson.loads(file.read_bytes()))
        rows = measured(file)
        whole = sum(seconds for _, seconds in rows)
        print_table(
            f"A GeoJSON of 50,176 areas, {file.stat().st_size / 1e6:.0f} MB",
            [
                ("the reference: its bytes parsed", f"{bare:.2f} s"),
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

    owner = get_user_model().objects.create_user("isla")
    look, _ = timed(lambda: bounded(file, preview, file, "fields.geojson", Corrections()))
    folder = file.parent / "taken"
    folder.mkdir()
    read, taken = timed(lambda: bounded(file, take_in, file, Corrections(), folder))
    keep, dataset = timed(lambda: keep_folder(owner, "Fields", folder, taken, "fields.geojson"))

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
