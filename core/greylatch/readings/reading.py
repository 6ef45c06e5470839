"""What of the data is drawn: a kind of reading is a module that defines one."""

from collections.abc import Iterator
from typing import ClassVar

from greylatch.encodings.encoded import Use
from greylatch.errors import BadInput
from greylatch.sheet.parts import Part
from greylatch.tables.dataset import Dataset, Kind
from greylatch.tables.fieldtypes import FieldType

__all__ = ["Reading"]


class Reading(Part):
    """Makes other rows of a dataset's rows: cells, dots, centres. What it makes is drawn as any dataset is."""

    of: ClassVar[tuple[Kind, ...]]
    """The kinds of data that it can be made of."""
    makes: ClassVar[Kind]
    wants: ClassVar[str]
    """That in words, as the beginning of what is said of other data."""
    ways: ClassVar[tuple[str, ...]]
    """What of it is offered, each by a word."""
    own_fields: ClassVar[dict[str, FieldType] | None] = None
    """The fields of what it makes; None: those of the rows that it was made of."""
    keeps_rows: ClassVar[bool] = False
    """Whether it makes one mark of each row: what is said of the row is said of the mark."""

    @classmethod
    def named(cls) -> str:
        """The word by which a sheet names such a reading."""
        return str(cls.model_fields["by"].default)

    def kind_of(self, kind: Kind) -> Kind:
        """What it makes of data of a kind. Raises BadInput for data that it cannot read."""
        if kind not in self.of:
            raise BadInput(f"{self.wants}, and this layer holds {kind}.")
        return self.makes

    def derived(self, dataset: Dataset) -> Dataset:
        """What is drawn. Raises BadInput for fields that are not there."""
        raise NotImplementedError

    def said(self, dataset: Dataset) -> str:
        """What the key says of it under its heading; `dataset` is what it made."""
        return ""

    def uses(self) -> Iterator[Use]:
        """The fields that are needed."""
        yield from ()
