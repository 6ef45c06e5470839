"""Dot density: as many dots in an area as its number says, the same dots at every zoom."""

from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from typing import Annotated, ClassVar, Literal

import numpy as np
import pyarrow as pa
import shapely
from numpy.typing import NDArray
from pydantic import Field

from greylatch.classes.values import meaning_of, numbers_of
from greylatch.encodings.encoded import Use
from greylatch.errors import BadInput
from greylatch.places.side_by_side import side_by_side
from greylatch.readings.reading import Reading
from greylatch.sheet.parts import FieldName
from greylatch.tables.dataset import Dataset, Kind, Shapes
from greylatch.wording import number_text

__all__ = ["Dots", "dots_within"]

MOST = 500_000
AREA = "area"


class Dots(Reading):
    """A dot stands for `each` of a field's units, somewhere in the area: where is random and always the same."""

    of: ClassVar[tuple[Kind, ...]] = ("areas",)
    makes: ClassVar[Kind] = "points"
    wants: ClassVar[str] = "Dots are strewn over areas"
    ways: ClassVar[tuple[str, ...]] = ("dots",)
    by: Literal["dots"] = "dots"
    field: FieldName
    each: Annotated[float, Field(gt=0, description="How many one dot is")] = 100.0

    def said(self, dataset: Dataset) -> str:
        """How many one dot is, without which nobody can read them."""
        return f"one dot is {number_text(self.each)} {meaning_of(dataset, self.field).unit or self.field}"

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
        # An area without an inside has no room for a dot.
        many[~(shapely.area(dataset.shapes) > 0)] = 0
        places = dots_within(dataset.shapes, many, dataset.fids)
        rows = np.repeat(np.arange(len(dataset)), many)
        columns = dataset.columns.take(pa.array(rows))
        if AREA not in columns.column_names:
            columns = columns.append_column(AREA, pa.array(dataset.fids[rows]))
        return Dataset(columns, kind, places, dataset.crs, meanings=dataset.meanings)


def dots_within(shapes: Shapes, many: NDArray[np.int64], seeds: NDArray[np.int64]) -> NDArray[np.float64]:
    """Places within areas, evenly likely everywhere in them, the same whenever they are asked for; the first of more are those of fewer.

    Parameters
    ----------
    shapes : Shapes
        Areas with an inside; what is to have no dot may be anything.
    many : NDArray[np.int64]
        How many in each.
    seeds : NDArray[np.int64]
        For each which of all such places.

    Returns
    -------
    NDArray[np.float64]
        (many.sum(), 2), area by area.

    Examples
    --------
    >>> square = np.array([shapely.box(0, 0, 1, 1)])
    >>> few, more = (dots_within(square, np.array([n]), np.array([7])) for n in (2, 5))
    >>> bool((more[:2] == few).all())
    True
    """
    there = np.flatnonzero(many > 0)
    if not len(there):
        return np.empty((0, 2))
    # By triangles: within the box of a thin shape one would try for ever.
    with ThreadPoolExecutor(1) as beside:
        cut = beside.submit(side_by_side, shapely.constrained_delaunay_triangles, shapes[there])
        drawn = _drawn(many[there], seeds[there])  # while GEOS, which needs no interpreter, cuts
        triangles = cut.result()
    corners = shapely.get_coordinates(triangles).reshape(-1, 4, 2)[:, :3]
    start = np.append(0, np.cumsum(shapely.get_num_coordinates(triangles) // 4))
    (x1, y1), (x2, y2) = (corners[:, 1] - corners[:, 0]).T, (corners[:, 2] - corners[:, 0]).T
    size = np.abs(x1 * y2 - x2 * y1) / 2
    # One number from 0 to 1 chooses among the triangles of all areas, laid end to end by their size.
    upto = np.cumsum(size)
    first, last = start[:-1], start[1:] - 1
    before = np.where(first > 0, upto[first - 1], 0.0)
    area = np.repeat(np.arange(len(there)), many[there])
    asked = before[area] + drawn[0] * (upto[last] - before)[area]
    at = corners[np.clip(np.searchsorted(upto, asked), first[area], last[area])]
    # Evenly within a triangle (Osada and others 2002, Shape distributions, section 4.2).
    root, part = np.sqrt(drawn[1])[:, None], drawn[2][:, None]
    return np.asarray((1 - root) * at[:, 0] + root * (1 - part) * at[:, 1] + root * part * at[:, 2])


def _drawn(many: NDArray[np.int64], seeds: NDArray[np.int64]) -> NDArray[np.float64]:
    """Three numbers from 0 to 1 for each dot (3, many.sum()), area by area: those of an area depend on its seed alone."""
    # In lots of one size, so that a larger number begins with the same dots.
    lots = -(-many // LOT)
    out = np.empty((3, int(many.sum())))
    random = np.empty((max(AT_ONCE, int(lots.max())), 3, LOT))
    ends = np.cumsum(lots)
    first = to = 0
    while first < len(many):
        last = max(first + 1, int(np.searchsorted(ends, ends[first] - lots[first] + AT_ONCE, side="right")))
        n, at = many[first:last], 0
        for count, seed in zip(lots[first:last].tolist(), seeds[first:last].tolist(), strict=True):
            np.random.default_rng([seed, 20]).random(out=random[at : at + count])
            at += count
        within = np.arange(int(n.sum())) - np.repeat(np.cumsum(n) - n, n)
        lot = np.repeat(np.cumsum(lots[first:last]) - lots[first:last], n) + within // LOT
        out[:, to : to + len(lot)] = random[lot, :, within % LOT].T
        first, to = last, to + len(lot)
    return out


AT_ONCE = 1_024
"""Lots that are drawn before they are looked at."""
LOT = 256
