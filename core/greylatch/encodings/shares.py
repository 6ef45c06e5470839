"""Pies and rings: the shares that several fields have of their sum."""

from collections.abc import Iterator
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from greylatch.colour.ramps import ramp_colours
from greylatch.encodings.encoded import Encoded, Encoding, Step, Use
from greylatch.encodings.largest import Component, amounts_of
from greylatch.encodings.suiting import two_or_more
from greylatch.sheet.parts import Colour, RampChoice, Share
from greylatch.tables.dataset import Dataset

__all__ = ["Shares"]

SMALL = "small shares"


class Shares(Encoding):
    """A wedge for each field, clockwise from the top; features whose fields sum up to nothing have none and are not drawn."""

    numbers: ClassVar[int] = 2
    by: Literal["shares"] = "shares"
    fields: list[Component] = Field(min_length=2, max_length=24)
    ramp: RampChoice = RampChoice(name="pennants")
    hollow: Annotated[Share, Field(description="Radius of a ring's hole as a share of the whole; 0: a pie")] = 0.0
    small: Annotated[Share, Field(description="Shares below it are drawn together as 'other'; 0: none")] = 0.0
    small_colour: Colour = "#b4b0a6"

    @classmethod
    def begun(cls, dataset: Dataset, shown: list[str], before: Encoding | None = None) -> Encoding:
        return cls(fields=[Component(field=name) for name in two_or_more(dataset, shown)])

    def shown(self) -> list[str]:
        return [component.field for component in self.fields]

    def uses(self) -> Iterator[Use]:
        for component in self.fields:
            yield Use(component.field, "its wedges", True)

    def encode(self, dataset: Dataset) -> Encoded:
        amounts = amounts_of(dataset, self.fields)
        total = amounts.sum(axis=1, keepdims=True)
        with np.errstate(divide="ignore", invalid="ignore"):
            shares = np.where(total > 0, amounts / total, np.nan)
        colours = ramp_colours(self.ramp, len(self.fields))
        steps = [
            Step(f"share {each.field}", each.name or each.field, None, each.colour or colours[i])
            for i, each in enumerate(self.fields)
        ]
        if self.small > 0:
            little = shares < self.small
            together = np.where(little, shares, 0.0).sum(axis=1, keepdims=True)
            shares = np.hstack([np.where(little, 0.0, shares), together])
            steps.append(Step(SMALL, "other", None, self.small_colour))
        known = ~np.isnan(shares[:, 0])
        amount = np.where(known, 1.0, np.nan).astype(np.float32)
        return Encoded(tuple(steps), amount=amount, shares=np.nan_to_num(shares).astype(np.float32), hollow=self.hollow)
