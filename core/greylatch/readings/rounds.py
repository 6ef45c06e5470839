"""Circles of a true size on the ground around points: how far a call carries, how wide a crater is."""

from collections.abc import Iterator
from dataclasses import replace
from typing import Annotated, ClassVar, Literal

import numpy as np
import shapely
from pydantic import Field

from greylatch.classes.values import numbers_of
from greylatch.encodings.encoded import Use
from greylatch.errors import BadInput
from greylatch.places.antimeridian import cut_at_antimeridian
from greylatch.places.crs import LONLAT, reproject
from greylatch.places.measures import GEOD
from greylatch.readings.reading import Reading
from greylatch.sheet.parts import FieldName
from greylatch.tables.dataset import Dataset, Kind
from greylatch.wording import length_text

__all__ = ["Rounds"]

CORNERS = 64
FARTHEST = 5_000_000.0


class Rounds(Reading):
    """A circle around each point, its radius in metres on the ground: the same for all, or a field's or an expression's. Rows without a
    radius have none."""

    of: ClassVar[tuple[Kind, ...]] = ("points",)
    makes: ClassVar[Kind] = "areas"
    wants: ClassVar[str] = "Only points have circles around them"
    ways: ClassVar[tuple[str, ...]] = ("rounds",)
    by: Literal["rounds"] = "rounds"
    metres: Annotated[float, Field(gt=0, le=FARTHEST, description="Radius, or what a unit of the field is")] = 1_000.0
    field: FieldName | None = Field(None, description="What the radius is multiplied by")

    def said(self, dataset: Dataset) -> str:
        """How far they reach, where all reach as far."""
        return "" if self.field else f"{length_text(self.metres)} around each"

    def uses(self) -> Iterator[Use]:
        if self.field:
            yield Use(self.field, "the radius of its circles", True)

    def derived(self, dataset: Dataset) -> Dataset:
        kind = self.kind_of(dataset.kind)
        assert dataset.shapes is not None and dataset.crs is not None
        points = reproject(dataset.shapes, dataset.crs, LONLAT)
        factors = numbers_of(dataset, self.field) if self.field else np.ones(len(dataset))
        radii = self.metres * np.where(np.isfinite(factors) & (factors > 0), factors, 0.0)
        if (far := radii > FARTHEST).any():
            raise BadInput(
                f"Row {int(np.argmax(far)) + 1} has a radius of {radii.max():,.0f} m; at most {FARTHEST:,.0f} m are drawn."
            )
        xy, owner = shapely.get_coordinates(points, return_index=True)
        there = (radii[owner] > 0) & np.isfinite(xy).all(axis=1)
        xy, owner = xy[there], owner[there]
        # Anticlockwise from the east, as rings of areas run.
        turns = np.tile(90 - np.arange(CORNERS) * 360 / CORNERS, len(xy))
        lon, lat, _ = GEOD.fwd(
            np.repeat(xy[:, 0], CORNERS), np.repeat(xy[:, 1], CORNERS), turns, np.repeat(radii[owner], CORNERS)
        )
        # Corners are counted on over the 180th meridian, where they are cut then.
        lon = lon.reshape(-1, CORNERS)
        lon += 360 * np.rint((xy[:, :1] - lon) / 360)
        rings = np.stack([lon, lat.reshape(-1, CORNERS)], axis=2)
        circles = cut_at_antimeridian(shapely.polygons(np.concatenate([rings, rings[:, :1]], axis=1)))
        shapes = np.full(len(dataset), shapely.Polygon(), dtype=object)
        # Of several points in a row the first.
        shapes[owner[::-1]] = circles[::-1]
        return replace(dataset, kind=kind, geometry=shapes, system=LONLAT)
