"""Conditions while they are being written: what they take, where a mistake is, what could stand there."""

from collections.abc import Callable
from uuid import UUID

import numpy as np
from django.http import HttpRequest
from greylatch.errors import BadExpression, BadInput
from greylatch.rules.evaluating import computed_numbers, taken
from greylatch.rules.language import LONGEST
from greylatch.rules.operations import OPERATIONS
from greylatch.rules.values import Rows, literals_of
from greylatch.sheet.parts import FieldName
from greylatch.tables.dataset import column_named
from library.derived import data_of
from library.models import Dataset
from ninja import Field, Router, Schema
from numpy.typing import NDArray
from people.access import own, person

router = Router(tags=["drawing"])
VALUES = 200
"""Values of a field that are offered."""


class ConditionIn(Schema):
    """A condition about the rows of a dataset."""

    dataset: UUID
    text: str = Field(max_length=LONGEST)


class ExpressionIn(Schema):
    """An expression that is to give a number for each row of a dataset."""

    dataset: UUID
    text: str = Field(min_length=1, max_length=LONGEST)


class Mistake(Schema):
    """Where a condition can't be read or worked out, counted from 1, and what could have stood there."""

    problem: str
    line: int
    column: int
    expected: str


class ConditionOut(Schema):
    """How many rows a condition takes, or an expression has a number for, of how many; or its mistake."""

    taken: int | None
    of: int
    mistake: Mistake | None


class Function(Schema):
    """A function of conditions, and how it is called."""

    name: str
    text: str


class LanguageOut(Schema):
    """What conditions about a dataset can be made of."""

    names: list[str]
    functions: list[Function]


class ValuesOut(Schema):
    """The commonest values of a field, as they are written in a condition."""

    values: list[str]


@router.post("/condition", response=ConditionOut, summary="What a condition takes")
def condition(request: HttpRequest, payload: ConditionIn) -> ConditionOut:
    """Mistakes are an answer, not an error: the condition is being typed."""
    dataset = own(Dataset.objects.select_related("current"), person(request), pk=payload.dataset)
    data = data_of(_with_rows(dataset).newest)
    if not payload.text.strip():
        return ConditionOut(taken=len(data), of=len(data), mistake=None)
    return _answer(len(data), lambda: taken(data, payload.text))


@router.post("/expression", response=ConditionOut, summary="For how many rows an expression gives a number")
def expression(request: HttpRequest, payload: ExpressionIn) -> ConditionOut:
    """Mistakes are an answer here too."""
    dataset = own(Dataset.objects.select_related("current"), person(request), pk=payload.dataset)
    data = data_of(_with_rows(dataset).newest)
    return _answer(len(data), lambda: np.isfinite(computed_numbers(data, payload.text)))


def _answer(of: int, work: Callable[[], NDArray[np.bool_]]) -> ConditionOut:
    try:
        return ConditionOut(taken=int(np.count_nonzero(work())), of=of, mistake=None)
    except BadExpression as error:
        mistake = Mistake(problem=error.problem, line=error.line, column=error.column, expected=error.expected)
        return ConditionOut(taken=None, of=of, mistake=mistake)


@router.get("/condition/{dataset_id}", response=LanguageOut, summary="Names and functions of conditions")
def language(request: HttpRequest, dataset_id: UUID) -> LanguageOut:
    """Fields, measures of shapes, functions."""
    dataset = own(Dataset.objects.select_related("current"), person(request), pk=dataset_id)
    functions = [Function(name=name, text=each.text) for name, each in OPERATIONS.items() if each.text]
    return LanguageOut(names=Rows(data_of(_with_rows(dataset).newest)).names, functions=functions)


@router.get("/condition/{dataset_id}/values", response=ValuesOut, summary="Values of a field for a condition")
def values(request: HttpRequest, dataset_id: UUID, field: FieldName) -> ValuesOut:
    """The commonest first."""
    dataset = own(Dataset.objects.select_related("current"), person(request), pk=dataset_id)
    return ValuesOut(values=literals_of(column_named(data_of(_with_rows(dataset).newest).columns, field), VALUES))


def _with_rows(dataset: Dataset) -> Dataset:
    if dataset.newest.raster is not None:
        raise BadInput(f"'{dataset.title}' is a raster, which has no rows to choose from.")
    return dataset
