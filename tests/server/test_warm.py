"""What a fresh installation compiles before its first map is opened, so that nobody waits for it then: contests of labels took 14 seconds."""

import os
import subprocess
import sys
from pathlib import Path

ASKED_BY = """
import gc, sys
from pathlib import Path
import django
django.setup()
from config.warm import warm
warm()
gc.unfreeze()
from greylatch.cli.draw import beside
from greylatch.paint.passes import compose
from greylatch.paint.picture import paint
from greylatch.paint.sources import VectorSource
from greylatch.places.view import View
from greylatch.sheet.reading import read_sheet
from greylatch.tiles.density import shapes_from
from greylatch.tiles.map_pyramid import map_bounds
from greylatch.tiles.shape_tiles import shape_tile
from numba.core.registry import CPUDispatcher

def compiled():
    return {f"{each.__module__}.{each.__name__}" for each in gc.get_objects() if isinstance(each, CPUDispatcher) and each.signatures}

known = compiled()
for path in map(Path, sys.argv[1:]):
    composition = compose(read_sheet(path), beside(path.parent, "EPSG:32626"))
    bounds = map_bounds(composition)
    paint(composition, View.fitted(composition.frame, bounds, 800, 500))
    for source in (each.source for each in composition.passes):
        if isinstance(source, VectorSource):
            shape_tile(source, next(composition.frame.grid.tiles_over(bounds, max(8, shapes_from(source)))))
print(len(known), sorted(compiled() - known))
"""


def test_first_maps_find_compiled_what_they_ask_for(demo: Path) -> None:
    told = subprocess.run(
        [sys.executable, "-W", "ignore", "-c", ASKED_BY, *map(str, sorted(demo.glob("*.sheet.json")))],
        check=True, capture_output=True, text=True, env={**os.environ, "DJANGO_SETTINGS_MODULE": "config.settings"}, timeout=300,
        cwd=Path(__file__).parents[2] / "server",
    ).stdout  # fmt: skip
    known, missing = told.split(maxsplit=1)
    assert int(known) > 9
    assert missing.strip() == "[]"
