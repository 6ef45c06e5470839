"""What the first requests of a process would wait for, loaded before it takes any."""

import gc

import numpy as np
import shapely
from django.urls import get_resolver
from greylatch.classes.natural import natural_breaks
from greylatch.lettering.inside import middles
from greylatch.paint.occlusion import seen
from greylatch.paint.thinning import thinned

NEW_OBJECTS = 50_000
"""After how many new objects cycles are looked for among them."""


def collect_seldom() -> None:
    """Have this process look for cycles of objects that nobody holds less often, and never among what is there by now. Reading and
    drawing make shapes by the million, which are in no cycle: to look through them took half of the time."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(NEW_OBJECTS, 20, 20)


def warm() -> None:
    """Load the addresses with all behind them, the compiled functions that drawing takes, and the ramps in as many colours as a
    map begins with: together some two seconds, in which a process answers nothing else either."""
    _ = get_resolver().url_patterns
    from sheets.colours import ramps_in  # only now, when Django is ready

    ramps_in(5)
    natural_breaks(np.array([1.0, 2.0, 3.0]), 2)
    middles(np.array([shapely.box(0, 0, 1, 1)]))
    thinned(np.zeros((2, 2)), np.zeros(2, dtype=np.intp), False, 1.0)
    place, first = np.array([1.0]), np.array([0])
    seen(place, place, first, place, np.array([[1.0, 1.0, 0.0, 0.0, 1.0]]), 1.0, 2, 2)
    collect_seldom()
