"""A file through all that the application does with one: preview, import, classify, a picture, tiles; each within bounds."""

import json
import random
import resource
import shutil
import tempfile
import time
import traceback
import warnings
from dataclasses import dataclass
from pathlib import Path

from greylatch.classes.classify import classify
from greylatch.classes.distribution import distribution
from greylatch.classes.values import values_of
from greylatch.errors import BadInput
from greylatch.formats.bounded import memory_for, within
from greylatch.formats.corrections import Corrections
from greylatch.formats.geoparquet import read_geoparquet
from greylatch.formats.intake import take_in
from greylatch.formats.preview import preview
from greylatch.formats.written_geojson import feature_collection
from greylatch.paint.passes import compose
from greylatch.paint.picture import paint
from greylatch.paint.sources import RasterSource, VectorSource
from greylatch.places.view import View
from greylatch.sheet.document import Sheet
from greylatch.sheet.template import as_field
from greylatch.tables.dataset import fields
from greylatch.tables.fieldtypes import plain
from greylatch.tiles.map_pyramid import map_bounds

from bench.fuzz.seeds import seeds

SECONDS = 30


@dataclass
class Outcome:
    """How far a file came; `trouble` is a traceback or another failure, None where it was read or refused in words."""

    name: str
    reached: str
    words: str
    seconds: float
    peak: int
    trouble: str | None = None


def through(name: str, data: bytes, scratch: Path) -> Outcome:
    """Send a file through, in a process of its own. What is left behind in `scratch` is trouble too."""
    path = scratch / f"sent{Path(name).suffix}"
    path.write_bytes(data)
    began = time.monotonic()
    try:
        outcome = within(memory_for(path), SECONDS, _all, str(path), name)
    except BadInput as error:
        outcome = Outcome(name, "a bound", str(error), 0, 0, str(error) if "stops its reader" in str(error) else None)
    except BaseException:
        outcome = Outcome(name, "?", "", 0, 0, traceback.format_exc())
    outcome.seconds = time.monotonic() - began
    path.unlink()
    left = list(scratch.iterdir())
    if left and outcome.trouble is None:
        outcome.trouble = f"left behind: {left}"
    return outcome


def _all(path: str, name: str) -> Outcome:
    warnings.simplefilter("ignore")
    reached, words, trouble = "preview", "", None
    folder = tempfile.mkdtemp()
    try:
        json.dumps(preview(path, name, Corrections()).model_dump(mode="json"), allow_nan=False).encode()
        reached = "import"
        # A projection is chosen where none is known, as a person would.
        try:
            taken = take_in(path, Corrections(), folder)
        except BadInput:
            taken = take_in(path, Corrections(crs="EPSG:32626", ragged="pad"), folder)
        reached = "classify"
        if taken.kind == "raster":
            _raster(Path(folder))
        else:
            _rows(Path(folder))
        reached = "all"
    except BadInput as error:
        words = str(error)
    except MemoryError:
        raise
    except BaseException as error:
        if "bad_alloc" in str(error):
            raise
        trouble = traceback.format_exc()
    finally:
        shutil.rmtree(folder, ignore_errors=True)
    return Outcome(name, reached, words, 0, resource.getrusage(resource.RUSAGE_SELF).ru_maxrss * 1024, trouble)


def _raster(folder: Path) -> None:
    source = RasterSource(folder / "raster.tif")
    json.dumps(source.info.as_json(), allow_nan=False).encode()
    for symbology in ({"kind": "picture"}, {"kind": "hillshade"}, {"kind": "raster-ramp"}):
        _draw(source, symbology)


def _rows(folder: Path) -> None:
    data = read_geoparquet(folder / "data.parquet")
    rows = data.columns.slice(0, 100).to_pylist()
    json.dumps([{name: plain(value) for name, value in row.items()} for row in rows], allow_nan=False).encode()
    numeric = [field.name for field in fields(data.columns) if field.type in ("integer", "number")][:3]
    for field in numeric:
        values = values_of(data, field)
        json.dumps(vars(distribution(values)), allow_nan=False)
        for method in (
            "natural-breaks",
            "quantile",
            "pretty",
            "standard-deviation",
            "head-tail",
            "geometric",
            "equal-interval",
        ):
            try:
                classify(values, method, 3)  # type: ignore[arg-type]
            except BadInput:
                continue
    if data.shapes is None or data.crs is None:
        return
    json.dumps(feature_collection(data), allow_nan=False).encode()
    source = VectorSource(data)
    _draw(source, {"kind": "symbols"})
    for field in numeric[:1]:
        _draw(
            source,
            {"kind": "symbols", "encodings": {"colour": {"by": "classes", "classing": {"field": field, "classes": 2}}}},
        )


def warm() -> None:
    """Send a sound table, areas and a raster through once, so that what is compiled on first use is there for all that follow:
    every reading is a copy of the process that did this."""
    rng = random.Random(0)
    for name, data in seeds(rng):
        if name in ("utf-8.csv", "areas.geojson", "raster-7.tif"):
            with tempfile.NamedTemporaryFile(suffix=Path(name).suffix) as file:
                file.write(data)
                file.flush()
                _all(file.name, name)


def _draw(source: RasterSource | VectorSource, symbology: dict[str, object]) -> None:
    layer: dict[str, object] = {"id": "a", "name": "A", "dataset": "d", "symbology": symbology}
    if isinstance(source, VectorSource):
        layer["lettering"] = {"lines": [{"text": as_field(source.dataset.columns.column_names[0])}]}
    try:
        composition = compose(Sheet.model_validate({"title": "T", "layers": [layer]}), lambda *_: source)
        paint(composition, View.fitted(composition.frame, map_bounds(composition), 128, 128))
    except BadInput:
        return
