"""What is made of all points of a layer together at a scale. A kind of it is one entry of `GATHERINGS`."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from greylatch.colour.ramps import ramp_colours
from greylatch.paint.clusters import cluster_reach, cluster_sections, draw_clusters
from greylatch.paint.heat import draw_heat, heat_reach
from greylatch.paint.sources import VectorSource
from greylatch.places.view import View
from greylatch.sheet.symbology import Clusters, Heat
from greylatch.symbols.look import Section

__all__ = ["GATHERINGS", "Gathering"]

STEPS = 24


@dataclass(frozen=True)
class Gathering:
    """How it is drawn, how far it stands out over its points (px), what the key says of it, and how it says what it needs."""

    draw: Callable[[VectorSource, Any, View], NDArray[np.uint8] | None]
    reach: Callable[[Any], float]
    key: Callable[[VectorSource, Any], tuple[Section, ...]]
    needs: str


def _heat_key(source: VectorSource, heat: Heat) -> tuple[Section, ...]:
    return (Section("", "", "colour", (), ramp=tuple(ramp_colours(heat.ramp, STEPS)), words=("few", "many")),)


GATHERINGS: dict[type, Gathering] = {
    Heat: Gathering(draw_heat, heat_reach, _heat_key, "A heat surface needs"),
    Clusters: Gathering(draw_clusters, cluster_reach, cluster_sections, "Clusters need"),
}
