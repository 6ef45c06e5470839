"""What a finding is: something on a map that a careful editor would look at again."""

from collections.abc import Callable
from dataclasses import dataclass

from greylatch.sheet.document import Sheet

__all__ = ["Finding"]


@dataclass(frozen=True)
class Finding:
    """Something to look at. `id` stays the same for the same matter; `stage` says where it is mended.

    `mend` is the text of a button where one press mends it, and `mended` makes the new sheet.
    """

    id: str
    layer: str | None
    stage: str
    text: str
    reason: str
    mend: str | None = None
    mended: Callable[[Sheet], Sheet] | None = None
    accepted: str | None = None
