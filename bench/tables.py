"""A table of 1,000,000 points: bringing it in, changing a cell, moving a point; beside a bare COPY of the same file."""

import resource
import statistics
import tempfile
from pathlib import Path
from typing import Any

import numpy as np
import psycopg

from bench.database import django_in, new_database
from bench.table import print_table, timed
from tests.browser.conftest import server

N = 1_000_000


def main() -> None:
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        file = written(folder / "wells.csv")
        new_database("measured")
        bare, _ = timed(lambda: copied(file))
        django_in(folder, "measured")
        rows = [("bare COPY of the file into a table", bare, 1.0, "")]
        rows += [(words, seconds, seconds / bare, asked) for words, seconds, asked in measured(file)]
        print_table(
            "A table of 1,000,000 points",
            [
                (words, f"{seconds:.3f} s, {share:.2f} of the COPY{f' ({asked} asked)' if asked else ''}")
                for words, seconds, share, asked in rows
            ],
        )
        peak = max(resource.getrusage(who).ru_maxrss for who in (resource.RUSAGE_SELF, resource.RUSAGE_CHILDREN))
        print(f"largest process: {peak / 1024**2:.2f} GB (1.5 asked)")


def written(file: Path) -> Path:
    """A name, a lognormal value and a place each."""
    rng = np.random.default_rng(3)
    lon, lat, values = rng.uniform(-28, -26, N), rng.uniform(51, 53, N), rng.lognormal(size=N)
    with file.open("w") as sink:
        sink.write("well,depth,lon,lat\n")
        sink.writelines(
            f"W{i},{v:.4f},{x:.6f},{y:.6f}\n" for i, (v, x, y) in enumerate(zip(values, lon, lat, strict=True))
        )
    return file


def copied(file: Path) -> None:
    """The reference: the same file into a table without anything else."""
    with psycopg.connect(server("measured")) as connection:
        connection.execute("CREATE TABLE bare (well text, depth float8, lon float8, lat float8)")
        with connection.cursor().copy("COPY bare FROM STDIN (FORMAT csv, HEADER)") as copy:
            copy.write(file.read_bytes())


def measured(file: Path) -> list[tuple[str, float, str]]:
    """What is asked for, with how long it took and how long it may."""
    from django.contrib.auth import get_user_model
    from greylatch.encodings.by_classes import ColourByClasses
    from greylatch.encodings.channels import Encodings
    from greylatch.formats.bounded import bounded
    from greylatch.formats.corrections import Corrections
    from greylatch.formats.intake import take_in
    from greylatch.formats.preview import preview
    from greylatch.paint.passes import Composition, VectorPass, pass_of
    from greylatch.paint.picture import paint
    from greylatch.places.frame import MERCATOR
    from greylatch.places.grid import Tile
    from greylatch.places.view import View
    from greylatch.sheet.document import Furniture
    from greylatch.sheet.layers import Layer
    from greylatch.sheet.parts import Classing
    from greylatch.sheet.symbology import Symbols
    from greylatch.tables.edit import MovePoint, SetCell
    from greylatch.tiles.image import png
    from library.derived import data_of, forget_remembered
    from library.editing import edit
    from library.models import Dataset
    from library.row_by_row import row_by_row
    from library.store import keep_folder
    from library.tiles import level_of
    from library.undoing import undo
    from sheets.sources import finder

    owner = get_user_model().objects.create_user("isla")
    symbology = Symbols(
        encodings=Encodings(colour=ColourByClasses(classing=Classing(field="depth", method="quantile")))
    )

    def current(dataset: Dataset) -> Any:
        return Dataset.objects.select_related("current__dataset").get(pk=dataset.pk).current

    def first_map(dataset: Dataset) -> bytes:
        """What the editor asks at level 3: too many shapes to be sent, so a picture of them."""
        revision = current(dataset)
        layer = Layer(id="a", name="Wells", dataset=str(dataset.pk), symbology=symbology)
        pass_ = pass_of(layer, finder({str(dataset.pk): revision}))
        assert isinstance(pass_, VectorPass) and level_of(revision) > 3
        view = View.of_tile(MERCATOR, Tile(3, 3, 2), 512)
        return png(paint(Composition([pass_], [], Furniture()), view, ground=False))

    look, _ = timed(lambda: bounded(file, preview, file, "wells.csv", Corrections()))
    folder = file.parent / "taken"
    folder.mkdir()
    read, taken = timed(lambda: bounded(file, take_in, file, Corrections(), folder))
    keep, dataset = timed(lambda: keep_folder(owner, "Wells", folder, taken, "wells.csv"))
    draw, _ = timed(lambda: first_map(dataset))
    warm, picture = timed(lambda: first_map(dataset))
    forget_remembered()
    cold, _ = timed(lambda: first_map(dataset))
    size = len(picture)
    # A worker does that a moment after the first map; whoever changes something sooner waits for it.
    apart, _ = timed(lambda: row_by_row(dataset.pk))
    record = data_of(current(dataset))

    def change(i: int) -> None:
        fid = 1_000 * i + 7
        edit(dataset, owner, [SetCell(fid=fid, field="depth", value=float(i), was=record.record(fid)["depth"])])

    edits = [timed(lambda i=i: change(i))[0] for i in range(11)]
    shown, _ = timed(lambda: first_map(dataset))
    move, _ = timed(lambda: edit(dataset, owner, [MovePoint(fid=5, place=(-27.0, 52.0))]))
    after, _ = timed(lambda: first_map(dataset))
    back, _ = timed(lambda: undo(dataset, owner))
    return [
        ("preview", look, ""),
        ("reading the file", read, ""),
        ("putting it on record", keep, ""),
        ("ink and a first picture at level 3", draw, "1 s"),
        ("all of it, to the first map", look + read + keep + draw, "40 s"),
        (f"that picture again, not from the cache ({size / 1e6:.2f} MB)", warm, "0.5 MB"),
        ("and in a process that has nothing", cold, "1 s"),
        ("each row on record by itself, after that", apart, ""),
        ("one cell changed (median of 11)", statistics.median(edits), "0.2 s"),
        ("one cell changed (slowest)", max(edits), "0.2 s"),
        ("ink and tile after eleven changes", shown, ""),
        ("one point moved", move, ""),
        ("ink and tile after that", after, ""),
        ("undone", back, ""),
        *scrolled(owner, dataset),
    ]


def scrolled(owner: Any, dataset: Any) -> list[tuple[str, float, str]]:
    """The table as the editor asks for it by HTTP's own way through Django: pages here and there, sorted, filtered, by another field
    each time so that nothing is remembered."""
    from django.test import Client

    client = Client(headers={"host": "localhost"})
    client.force_login(owner)

    def page(**query: Any) -> None:
        answer = client.get(f"/api/datasets/{dataset.pk}/rows", {"limit": 200, **query})
        assert answer.status_code == 200 and len(answer.json()["rows"]) == 200, answer.content[:200]

    page()
    places = np.random.default_rng(8).integers(0, N - 200, 31)
    plain = [timed(lambda at=at: page(offset=int(at)))[0] for at in places]
    sorts = [timed(lambda field=field: page(sort=field))[0] for field in ("depth", "lon", "lat")]
    text, _ = timed(lambda: page(sort="well"))
    ordered = [timed(lambda at=at: page(offset=int(at), sort="depth"))[0] for at in places]
    filters = [
        timed(lambda text=text: page(where=text))[0]
        for text in ("depth > 2", "depth < 0.5 AND lat > 52", "lon BETWEEN -27.5 AND -26.5", "well LIKE 'W99%'")
    ]
    return [
        ("a page of 200 rows anywhere (median of 31)", statistics.median(plain), "0.03 s"),
        ("a page anywhere, sorted (median of 31)", statistics.median(ordered), "0.03 s"),
        ("sorted by numbers for the first time (slowest of 3)", max(sorts), "0.3 s"),
        ("sorted by texts for the first time", text, "0.3 s"),
        ("filtered for the first time (slowest of 4)", max(filters), "0.3 s"),
    ]


if __name__ == "__main__":
    main()
