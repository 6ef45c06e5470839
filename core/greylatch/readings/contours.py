"""Lines of equal height through a raster."""

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from greylatch.errors import BadInput
from greylatch.readings.reading import Reading
from greylatch.tables.dataset import Dataset, Kind
from greylatch.tables.fieldtypes import FieldType
from greylatch.wording import number_text

__all__ = ["HEIGHT", "INDEX", "NUMBERED", "Contours"]

HEIGHT, INDEX, NUMBERED = "height", "index_line", "index_height"


class Contours(Reading):
    """A line for each multiple of `interval`, counted from `base`, through the values of a band. Each has its `height`, whether it is an
    `index_line`, every `index`th from the base on, and `index_height`, the height of those only, to be lettered."""

    of: ClassVar[tuple[Kind, ...]] = ("raster",)
    makes: ClassVar[Kind] = "lines"
    wants: ClassVar[str] = "Contours are made of rasters"
    ways: ClassVar[tuple[str, ...]] = ("contours",)
    own_fields: ClassVar[dict[str, FieldType] | None] = {HEIGHT: "number", INDEX: "boolean", NUMBERED: "number"}
    by: Literal["contours"] = "contours"
    band: Annotated[int, Field(ge=1, description="Counted from 1")] = 1
    interval: Annotated[float, Field(gt=0, description="From one line to the next, in the raster's units")] = 10.0
    base: float = 0.0
    index: Annotated[int, Field(ge=0, le=100, description="Every how manieth line is an index line; 0: none")] = 5

    def said(self, dataset: Dataset) -> str:
        """How far they lie apart."""
        return f"a line every {number_text(self.interval)}"

    def derived(self, dataset: Dataset) -> Dataset:
        self.kind_of(dataset.kind)
        raise BadInput("Contours are made of the raster itself.")
