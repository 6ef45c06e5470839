"""Areas and lines drawn as points at their middles."""

from dataclasses import replace
from typing import ClassVar, Literal

import shapely

from greylatch.readings.reading import Reading
from greylatch.tables.dataset import Dataset, Kind

__all__ = ["Centres"]


class Centres(Reading):
    """A point for each feature: within an area that is hollow or bent too, on a line halfway."""

    of: ClassVar[tuple[Kind, ...]] = ("areas", "lines")
    makes: ClassVar[Kind] = "points"
    wants: ClassVar[str] = "Only areas and lines have centres"
    ways: ClassVar[tuple[str, ...]] = ("centres",)
    keeps_rows: ClassVar[bool] = True
    by: Literal["centres"] = "centres"

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
