"""Colour, and a shape where wanted, by what stands in a field: a look for each value."""

from collections.abc import Iterator
from typing import Annotated, ClassVar, Literal

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray
from pydantic import Field

from greylatch.classes.values import is_expression
from greylatch.colour.ramps import ramp_colours
from greylatch.encodings.encoded import NONE, Encoded, Encoding, Step, Use, taken_along
from greylatch.encodings.suiting import numeric_fields, suits_categories
from greylatch.rules.evaluating import computed
from greylatch.sheet.parts import MAX_ENTRIES, NO_DATA_COLOUR, Colour, FieldName, Part, RampChoice
from greylatch.tables.dataset import Dataset, column_named, text_of

__all__ = ["OTHER", "Category", "ColourByCategory", "Other", "categories_of"]

OTHER, MOST = "other", 12
"""The id of what no category takes; how many categories are made of a field by themselves."""
MIDNIGHT = " 00:00:00"
"""What days ended with in documents that were written before a day stood without an hour."""
Value = Annotated[str, Field(max_length=2_000)]


class Category(Part):
    """One or several values of a field that are drawn alike."""

    values: list[Value] = Field(min_length=1, max_length=MAX_ENTRIES)
    colour: Colour | None = Field(None, description="null: by its place, of the ramp")
    shape: Annotated[str, Field(max_length=100)] | None = Field(None, description="Of points; null: the symbol's")
    name: Annotated[str, Field(max_length=500)] = Field("", description="What the key says; '': the values")
    drawn: bool = True


class Other(Part):
    """Values that no category takes."""

    colour: Colour = "#b4b0a6"
    name: Annotated[str, Field(max_length=500)] = "other"


class ColourByCategory(Encoding):
    """A colour per value. Categories are in the key's order; without any they are made of the commonest values."""

    numbers: ClassVar[int] = 0
    by: Literal["category"] = "category"
    field: FieldName
    categories: list[Category] = Field([], max_length=MAX_ENTRIES)
    ramp: RampChoice = RampChoice(name="pebbles")
    other: Other | None = Field(Other(), description="null: values that no category takes are not drawn")
    no_data: Colour | None = NO_DATA_COLOUR

    @classmethod
    def begun(cls, dataset: Dataset, shown: list[str], before: Encoding | None = None) -> Encoding:
        suiting = [*shown, *dataset.columns.column_names] if before is not None else shown
        # Words that are all different still say more than numbers that are.
        words = [name for name in suiting if name not in numeric_fields(dataset)]
        field = next((name for name in suiting if suits_categories(dataset, name)), next(iter(words), shown[0]))
        hues = taken_along(before, "ramp") if getattr(before, "by", "") == "largest" else {}
        return cls(field=field, categories=categories_of(dataset, field), **taken_along(before, "no_data"), **hues)

    def uses(self) -> Iterator[Use]:
        yield Use(self.field, "its categories", False)

    def encode(self, dataset: Dataset) -> Encoded:
        words, codes = _coded(dataset, self.field)
        categories = self.categories or categories_of(dataset, self.field)
        position = {value: i for i, category in enumerate(categories) for value in category.values}
        n = len(categories)
        beyond = n if self.other else NONE
        # By word and not by row: a field of a million rows has few different words.
        by_word = np.array(
            [position.get(word, position.get(f"{word}{MIDNIGHT}", beyond)) for word in words] + [NONE], dtype=np.int32
        )
        hidden = np.array([category.drawn for category in categories] + [True, True])
        step = by_word[codes]
        counts = np.bincount(step[step >= 0], minlength=n + 1)
        colours = ramp_colours(self.ramp, max(1, n))
        steps = [
            Step(
                f"{self.field} = {' | '.join(category.values)}"[:1_200], category.name or ", ".join(category.values), int(counts[i]),
                category.colour or colours[i], shape=category.shape, drawn=bool(hidden[i]),
            )
            for i, category in enumerate(categories)
        ]  # fmt: skip
        if self.other and counts[n]:
            steps.append(Step(OTHER, self.other.name, int(counts[n]), self.other.colour))
        left_out = codes != len(words)
        # A value that is known, but of no category, is not "no data": it is left out.
        unknown = np.where((step == NONE) & left_out, len(steps), step).astype(np.int32)
        if (unknown == len(steps)).any():
            steps.append(Step("left out", "left out", int((unknown == len(steps)).sum()), drawn=False))
        return Encoded(tuple(steps), unknown, no_data=self.no_data)

    def held(self, dataset: Dataset) -> Encoding:
        return self.model_copy(update={"categories": self.categories or categories_of(dataset, self.field)})


def categories_of(dataset: Dataset, field: str, most: int = MOST) -> list[Category]:
    """A category for each of the commonest values of a field, the commonest first, those as common by name.

    Parameters
    ----------
    dataset : Dataset
        The data.
    field : str
        The name of a field.
    most : int
        How many at most.

    Returns
    -------
    list[Category]

    Examples
    --------
    >>> data = Dataset(pa.table({"cover": ["ling", "sedge", None, "ling"]}), "table")
    >>> [category.values for category in categories_of(data, "cover")]
    [['ling'], ['sedge']]
    """
    words, codes = _coded(dataset, field)
    counts = np.bincount(codes, minlength=len(words) + 1)[: len(words)].tolist()
    common = sorted(zip(words, counts, strict=True), key=lambda each: (-each[1], each[0]))[:most]
    return [Category(values=[word[:2_000]]) for word, _ in common]


def _coded(dataset: Dataset, field: str) -> tuple[list[str], NDArray[np.int64]]:
    """The different words of a field, and which of them each row has: as many as there are words where it has none."""
    known = field in dataset.columns.column_names or not is_expression(field)
    column = column_named(dataset.columns, field) if known else pa.chunked_array([pa.array(computed(dataset, field))])
    encoded = pc.dictionary_encode(column.combine_chunks())
    words = [text_of(value) for value in encoded.dictionary.to_pylist()]
    codes = encoded.indices.fill_null(len(words)).to_numpy(zero_copy_only=False).astype(np.int64)
    blank = np.array([not word for word in words] + [False])
    return words, np.where(blank[codes], len(words), codes)
