"""What an encoding gives: which step of its key, or how much of something, each row gets."""

from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any, ClassVar

import numpy as np
from numpy.typing import NDArray

from greylatch.classes.classify import Classification
from greylatch.classes.values import meaning_of
from greylatch.sheet.parts import Normalise, NormaliseByField, Part
from greylatch.tables.dataset import Dataset

__all__ = [
    "NONE",
    "Encoded",
    "Encoding",
    "Step",
    "Use",
    "decimals_of",
    "taken_along",
    "unknown_text",
    "uses_of_classing",
]

NONE = -1
"""The step of rows that have none."""


@dataclass(frozen=True)
class Step:
    """One line of a key: what it stands for (`id`, from which words written for it are found), its text, how many rows have it,
    and what of a mark it sets. `limits` are those of a class; `numbers` what its text says, from where to where, so that it can be said with
    other decimals."""

    id: str
    text: str
    count: int | None = None
    colour: str | None = None
    size: float | None = None
    shape: str | None = None
    opacity: float | None = None
    limits: tuple[float, float] | None = None
    drawn: bool = True
    numbers: tuple[tuple[float, float], ...] = ()


@dataclass(frozen=True)
class Encoded:
    """One channel of every row.

    `steps` are the lines of its key. `step` says which of them a row has (`NONE`: none of them), where rows differ by steps;
    `amount` how large, how far along `ramp`, how turned or how opaque it is, where they differ by amounts; NaN where that is not known.
    Rows without either get the colour `no_data`, or are not drawn where that is None.
    """

    steps: tuple[Step, ...] = ()
    step: NDArray[np.int32] | None = None
    amount: NDArray[np.float32] | None = None
    ramp: tuple[str, ...] = ()
    ends: tuple[float, ...] = ()
    """The values at the ends of the ramp, and in its middle where that has one."""
    shares: NDArray[np.float32] | None = None
    hollow: float = 0.0
    """Radius of the hole of rings, as a share of the whole."""
    strength: NDArray[np.float32] | None = None
    """By what the fill's opacity is multiplied, where a step is drawn fainter for some rows."""
    square: tuple[int, int] | None = None
    """Columns and rows of a key that is a square; its steps row by row from the lowest."""
    sides: tuple[str, ...] = ()
    """What rises to the right and upwards in it."""
    no_data: str | None = None
    unknown: str = "no data"
    """What the key says of rows without either."""
    rising: bool = False
    """Whether steps are those of a ladder, which a key shows with the highest on top."""
    classification: Classification | None = None
    values: NDArray[np.float64] | None = field(default=None, compare=False)
    note: str = ""
    decimals: int | None = None
    """Those with which its field's numbers are shown; None: as many as tell them apart."""

    @property
    def lacking(self) -> NDArray[np.bool_]:
        """The rows of which nothing is known."""
        if self.step is not None:
            return np.asarray(self.step == NONE)
        assert self.amount is not None
        return np.isnan(self.amount)


@dataclass(frozen=True)
class Use:
    """A field or an expression that a layer needs, for what, and whether it has to hold numbers."""

    field: str
    purpose: str
    numeric: bool


class Encoding(Part):
    """What varies from feature to feature in one channel, and by what. A kind of encoding is a module that defines one."""

    numbers: ClassVar[int] = 1
    """Fields of numbers that it needs at least."""

    def encode(self, dataset: Dataset) -> Encoded:
        """What each row gets. Raises BadInput for fields that are not there or do not fit."""
        raise NotImplementedError

    def uses(self) -> Iterator[Use]:
        """The fields that are needed."""
        yield from ()

    @classmethod
    def begun(cls, dataset: Dataset, shown: list[str], before: "Encoding | None" = None) -> "Encoding":
        """As a cartographer would begin it, to show fields of a dataset. What the look had `before`, in this channel or another, is
        taken along where it says the same. Raises BadInput where the fields do not suit."""
        raise NotImplementedError

    def shown(self) -> list[str]:
        """The fields that it shows first; not those that these are divided by."""
        return [use.field for use in self.uses()][:1]

    def held(self, dataset: Dataset) -> "Encoding":
        """The same with what was computed of the data written down, so that other data are drawn alike."""
        return self


def taken_along(before: Encoding | None, *names: str) -> dict[str, Any]:
    """What an encoding says under some names, where it says it at all; `normalise` also where that is said in its classes."""
    classing = getattr(before, "classing", None)
    shared = {name: getattr(before, name) for name in names if getattr(before, name, None) is not None}
    if "normalise" in names and classing is not None and classing.normalise is not None:
        shared["normalise"] = classing.normalise
    return shared


def decimals_of(dataset: Dataset, field: str, normalise: Normalise | None) -> int | None:
    """The decimals with which the numbers of a field are shown; of numbers that are divided nobody has said any.

    >>> import pyarrow as pa
    >>> decimals_of(Dataset(pa.table({"carbon_t": [1.25]}), "points"), "carbon_t", None) is None
    True
    """
    return meaning_of(dataset, field).decimals if normalise is None else None


def unknown_text(normalise: Normalise | None) -> str:
    """What a key says of rows of which nothing is known, or too little.

    >>> unknown_text(NormaliseByField(field="wells", least=50))
    'no data, or fewer than 50 wells'
    """
    if not isinstance(normalise, NormaliseByField) or normalise.least is None:
        return "no data"
    return f"no data, or fewer than {normalise.least:,g} {normalise.field}"


def uses_of_classing(field: str, purpose: str, normalise: object, weight: str | None = None) -> Iterator[Use]:
    """The fields behind numbers that are divided and weighed."""
    yield Use(field, purpose, True)
    if weight:
        yield Use(weight, "weighing its classes", True)
    if isinstance(normalise, NormaliseByField):
        yield Use(normalise.field, "dividing its values", True)
