"""Colour by which of several fields is the largest, with how far it leads as strength."""

from collections.abc import Iterator, Sequence
from typing import Annotated, ClassVar, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from greylatch.classes.values import is_expression, numbers_of
from greylatch.colour.ramps import ramp_colours
from greylatch.encodings.encoded import NONE, Encoded, Encoding, Step, Use, taken_along
from greylatch.encodings.suiting import two_or_more
from greylatch.errors import BadInput
from greylatch.rules.language import named
from greylatch.sheet.parts import NO_DATA_COLOUR, Colour, FieldName, Part, RampChoice, Share
from greylatch.tables.dataset import Dataset

__all__ = ["ColourByLargest", "Component", "amounts_of", "total_of"]

TIE = "tie"


class Component(Part):
    """One of several fields that are parts of something."""

    field: FieldName
    colour: Colour | None = Field(None, description="null: by its place, of the ramp")
    name: Annotated[str, Field(max_length=500)] = Field("", description="What the key says; '': the field")


def total_of(components: Sequence[Component]) -> str:
    """The sum of several fields, as an expression.

    Parameters
    ----------
    components : Sequence[Component]
        The fields, or expressions.

    Returns
    -------
    str

    Examples
    --------
    >>> total_of([Component(field="moss"), Component(field="bare peat"), Component(field="heath / 2")])
    'moss + "bare peat" + (heath / 2)'
    """
    return " + ".join(f"({each.field})" if is_expression(each.field) else named(each.field) for each in components)


class ColourByLargest(Encoding):
    """The colour of the field with the largest number; where two share it, the colour of a tie."""

    numbers: ClassVar[int] = 2
    by: Literal["largest"] = "largest"
    fields: list[Component] = Field(min_length=2, max_length=24)
    ramp: RampChoice = RampChoice(name="pennants")
    lead: bool = Field(True, description="Fainter, the less the largest leads the second as a share of all")
    faintest: Share = 0.35
    tie: Colour = "#8d8a83"
    no_data: Colour | None = NO_DATA_COLOUR

    @classmethod
    def begun(cls, dataset: Dataset, shown: list[str], before: Encoding | None = None) -> Encoding:
        hues = taken_along(before, "ramp") if getattr(before, "by", "") == "category" else {}
        parts = [Component(field=name) for name in two_or_more(dataset, shown)]
        return cls(fields=parts, **taken_along(before, "no_data"), **hues)

    def shown(self) -> list[str]:
        return [component.field for component in self.fields]

    def uses(self) -> Iterator[Use]:
        for component in self.fields:
            yield Use(component.field, "which is the largest", True)

    def encode(self, dataset: Dataset) -> Encoded:
        amounts = amounts_of(dataset, self.fields)
        known = amounts.max(axis=1, initial=0.0) > 0
        ranked = np.sort(amounts, axis=1)
        greatest, second = ranked[:, -1], ranked[:, -2]
        tied = known & (greatest == second)
        n = len(self.fields)
        step = np.where(known, np.where(tied, n, amounts.argmax(axis=1)), NONE).astype(np.int32)
        counts = np.bincount(step[known], minlength=n + 1)
        colours = ramp_colours(self.ramp, n)
        steps = [
            Step(f"largest {each.field}", each.name or each.field, int(counts[i]), each.colour or colours[i])
            for i, each in enumerate(self.fields)
        ]
        if counts[n]:
            steps.append(Step(TIE, "as much of several", int(counts[n]), self.tie))
        strength = None
        if self.lead:
            with np.errstate(divide="ignore", invalid="ignore"):
                ahead = np.where(known, (greatest - second) / amounts.sum(axis=1), 0.0)
            strength = np.where(tied, 1.0, self.faintest + (1 - self.faintest) * ahead).astype(np.float32)
        return Encoded(tuple(steps), step, strength=strength, no_data=self.no_data)


def amounts_of(dataset: Dataset, components: list[Component]) -> NDArray[np.float64]:
    """The numbers of each component, a column each; 0 where one is missing.

    Raises
    ------
    BadInput
        For a negative number, with its row: shares of it mean nothing.
    """
    columns = []
    for component in components:
        numbers = numbers_of(dataset, component.field)
        if (numbers < 0).any():
            row = int(np.argmax(numbers < 0))
            raise BadInput(
                f"Row {row + 1} has {numbers[row]:g} of '{component.field}': parts of a whole are not negative."
            )
        columns.append(np.where(np.isfinite(numbers), numbers, 0.0))
    return np.column_stack(columns)
