"""Areas and lines drawn as points at their middles."""

from dataclasses import replace
from typing import Literal

import shapely

from greylatch.errors import BadInput
from greylatch.readings.reading import Reading
from greylatch.tables.dataset import Dataset, Kind

__all__ = ["Centres"]


class Centres(Reading):
    """A point for each feature: within an area that is hollow or bent too, on a line halfway."""

    by: Literal["centres"] = "centres"

    def kind_of(self, kind: Kind) -> Kind:
        if kind not in ("areas", "lines"):
            raise BadInput(f"Only areas and lines have centres, and this layer holds {kind}.")
        return "points"

    def derived(self, dataset: Dataset) -> Dataset:
        kind = self.kind_of(dataset.kind)
        assert dataset.shapes is not None
        if dataset.kind == "lines":
            middles = shapely.line_interpolate_point(shapely.line_merge(dataset.shapes), 0.5, normalized=True)
        else:
            centroids = shapely.centroid(dataset.shapes)
            inside = shapely.contains(dataset.shapes, centroids)
            middles = centroids
            middles[~inside] = shapely.point_on_surface(dataset.shapes[~inside])
        return replace(dataset, kind=kind, geometry=middles)
