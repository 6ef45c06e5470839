"""Where data come from that were fetched, as uploads and datasets keep it."""

from datetime import datetime
from typing import Annotated, Any, Literal, Self

from greylatch.formats.corrections import Corrections
from pydantic import BaseModel, BeforeValidator

from library.models import Dataset, Upload

Every = Literal["", "hour", "day", "week"]


class Origin(BaseModel):
    """A service's question and answer: what was `asked` (by its kind, see `services.kinds`), when it was fetched, what the service `said` of
    its data (a title, a source, …), how the answer was corrected; how often it is asked again, when next, and why that failed lately."""

    asked: dict[str, Any]
    fetched: datetime
    said: dict[str, str] = {}
    corrections: Corrections = Corrections()
    every: Every = ""
    next: Annotated[datetime | None, BeforeValidator(lambda told: told or None)] = None  # '' as it was written once
    trouble: str = ""

    @classmethod
    def of(cls, thing: Dataset | Upload) -> Self | None:
        """That of an upload or a dataset; None for a file."""
        return None if thing.origin is None else cls.model_validate(thing.origin)

    @property
    def kind(self) -> str:
        """Of the question."""
        return str(self.asked["kind"])

    @property
    def address(self) -> str:
        """Of the service; '' for one without."""
        return str(self.asked.get("address", ""))

    def kept(self) -> dict[str, Any]:
        """As the database has it."""
        return self.model_dump(mode="json")
