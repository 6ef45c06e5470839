"""What of the data is drawn: a kind of reading is a module that defines one."""

from collections.abc import Iterator

from greylatch.encodings.encoded import Use
from greylatch.sheet.parts import Part
from greylatch.tables.dataset import Dataset, Kind

__all__ = ["Reading"]


class Reading(Part):
    """Makes other rows of a dataset's rows: cells, dots, centres. What it makes is drawn as any dataset is."""

    def kind_of(self, kind: Kind) -> Kind:
        """What it makes of data of a kind. Raises BadInput for data that it cannot read."""
        raise NotImplementedError

    def derived(self, dataset: Dataset) -> Dataset:
        """What is drawn. Raises BadInput for fields that are not there."""
        raise NotImplementedError

    def said(self, dataset: Dataset) -> str:
        """What the key says of it under its heading; `dataset` is what it made."""
        return ""

    def uses(self) -> Iterator[Use]:
        """The fields that are needed."""
        yield from ()
