"""Dot density: as many dots in an area as its number says, the same dots at every zoom."""

from collections.abc import Iterator
from typing import Annotated, Literal

import numpy as np
import pyarrow as pa
import shapely
from numpy.typing import NDArray
from pydantic import Field

from greylatch.classes.values import numbers_of
from greylatch.encodings.encoded import Use
from greylatch.errors import BadInput
from greylatch.readings.reading import Reading
from greylatch.sheet.parts import FieldName
from greylatch.tables.dataset import Dataset, Kind

__all__ = ["Dots", "dots_within"]

MOST = 500_000
AREA = "area"


class Dots(Reading):
    """A dot stands for `each` of a field's units, somewhere in the area: where is random and always the same."""

    by: Literal["dots"] = "dots"
    field: FieldName
    each: Annotated[float, Field(gt=0, description="How many one dot is")] = 100.0

    def kind_of(self, kind: Kind) -> Kind:
        if kind != "areas":
            raise BadInput(f"Dots are strewn over areas, and this layer holds {kind}.")
        return "points"

    def uses(self) -> Iterator[Use]:
        yield Use(self.field, "the number of its dots", True)

    def derived(self, dataset: Dataset) -> Dataset:
        kind = self.kind_of(dataset.kind)
        assert dataset.shapes is not None
        numbers = numbers_of(dataset, self.field)
        if (numbers < 0).any():
            row = int(np.argmax(numbers < 0))
            raise BadInput(f"Row {row + 1} has {numbers[row]:g} of '{self.field}': there is no less than no dot.")
        many = np.rint(np.nan_to_num(numbers) / self.each).astype(np.int64)
        if many.sum() > MOST:
            raise BadInput(
                f"That would be {many.sum():,} dots; at most {MOST:,} are strewn.", "Let one dot stand for more."
            )
        places = [
            dots_within(shape, int(n), int(fid))
            for shape, n, fid in zip(dataset.shapes, many.tolist(), dataset.fids.tolist(), strict=True)
        ]
        points = shapely.points(np.concatenate(places)) if places else np.empty(0, dtype=object)
        rows = np.repeat(np.arange(len(dataset)), many)
        columns = dataset.columns.take(pa.array(rows))
        if AREA not in columns.column_names:
            columns = columns.append_column(AREA, pa.array(dataset.fids[rows]))
        return Dataset(columns, kind, points, dataset.crs, meanings=dataset.meanings)


def dots_within(shape: shapely.Geometry, n: int, seed: int) -> NDArray[np.float64]:
    """`n` places within an area, evenly likely everywhere in it, the same whenever they are asked for; the first of more are those of fewer.

    Parameters
    ----------
    shape : shapely.Geometry
        The area.
    n : int
        How many.
    seed : int
        Says which of all such places.

    Returns
    -------
    NDArray[np.float64]

    Examples
    --------
    >>> first = dots_within(shapely.box(0, 0, 1, 1), 2, 7)
    >>> bool((dots_within(shapely.box(0, 0, 1, 1), 5, 7)[:2] == first).all())
    True
    """
    if n == 0 or shape is None or shape.is_empty or shape.area == 0:
        return np.empty((0, 2))
    # By triangles: within the box of a thin shape one would try for ever.
    triangles = shapely.get_parts(shapely.constrained_delaunay_triangles(shape))
    corners = shapely.get_coordinates(triangles).reshape(-1, 4, 2)[:, :3]
    upto = np.cumsum(shapely.area(triangles))
    rng = np.random.default_rng([seed, 20])
    lots = []
    # In lots of one size, so that a larger number begins with the same dots.
    for _ in range(-(-n // LOT)):
        chosen, along, across = rng.random((3, LOT))
        at = corners[np.minimum(np.searchsorted(upto, chosen * upto[-1]), len(corners) - 1)]
        # Evenly within a triangle (Osada and others 2002, Shape distributions, section 4.2).
        root = np.sqrt(along)[:, None]
        second, third = root * (1 - across[:, None]), root * across[:, None]
        lots.append((1 - root) * at[:, 0] + second * at[:, 1] + third * at[:, 2])
    return np.concatenate(lots)[:n]


LOT = 256
