"""Conditions while they are being written: what they take, where a mistake is, what could stand there."""

from collections.abc import Callable
from typing import Literal

import numpy as np
from django.http import HttpRequest
from greylatch.errors import BadExpression
from greylatch.rules.evaluating import computed, computed_numbers, taken
from greylatch.rules.language import LONGEST
from greylatch.rules.operations import OPERATIONS
from greylatch.rules.values import Rows, literals_of
from greylatch.sheet.parts import FieldName
from greylatch.tables.dataset import column_named
from ninja import Field, Router, Schema
from numpy.typing import NDArray

from sheets.sources import LIT, FeaturesOut, RowsIn, rows_asked

router = Router(tags=["drawing"])
VALUES = 200
"""Values of a field that are offered."""


class ConditionIn(RowsIn):
    """A condition about rows."""

    text: str = Field(max_length=LONGEST)


class ExpressionIn(RowsIn):
    """An expression that is to give each row a number, or any value that a field can hold."""

    text: str = Field(min_length=1, max_length=LONGEST)
    gives: Literal["number", "value"] = "number"


class FieldIn(RowsIn):
    """A field of rows."""

    field: FieldName


class Mistake(Schema):
    """Where a condition can't be read or worked out, counted from 1, and what could have stood there."""

    problem: str
    line: int
    column: int
    expected: str


class ConditionOut(Schema):
    """How many rows a condition takes, or an expression has something for, of how many; or its mistake. Not `whole` where these are the first of
    more."""

    taken: int | None
    of: int
    mistake: Mistake | None
    whole: bool = True


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
    data = rows_asked(request, payload)
    if not payload.text.strip():
        return ConditionOut(taken=len(data), of=len(data), mistake=None)
    return _answer(len(data), lambda: taken(data, payload.text))


@router.post("/condition/features", response=FeaturesOut, summary="The features that a condition takes")
def features_taken(request: HttpRequest, payload: ConditionIn) -> FeaturesOut:
    """As far as they can be shown one by one. A condition with a mistake takes none."""
    data = rows_asked(request, payload)
    try:
        fids = data.fids[taken(data, payload.text)]
    except BadExpression:
        fids = data.fids[:0]
    return FeaturesOut(fids=fids[:LIT].tolist(), of=len(fids))


@router.post("/expression", response=ConditionOut, summary="For how many rows an expression gives something")
def expression(request: HttpRequest, payload: ExpressionIn) -> ConditionOut:
    """Mistakes are an answer here too."""
    data = rows_asked(request, payload)
    if payload.gives == "value":
        return _answer(len(data), lambda: np.asarray(computed(data, payload.text).is_valid()))
    return _answer(len(data), lambda: np.isfinite(computed_numbers(data, payload.text)))


def _answer(of: int, work: Callable[[], NDArray[np.bool_]]) -> ConditionOut:
    try:
        return ConditionOut(taken=int(np.count_nonzero(work())), of=of, mistake=None)
    except BadExpression as error:
        mistake = Mistake(problem=error.problem, line=error.line, column=error.column, expected=error.expected)
        return ConditionOut(taken=None, of=of, mistake=mistake)


@router.post("/condition/language", response=LanguageOut, summary="Names and functions of conditions")
def language(request: HttpRequest, payload: RowsIn) -> LanguageOut:
    """Fields, measures of shapes, functions."""
    return LanguageOut(names=Rows(rows_asked(request, payload)).names, functions=_functions())


@router.get("/functions", response=list[Function], summary="Functions of conditions")
def functions(request: HttpRequest) -> list[Function]:
    """Whatever the rows."""
    return _functions()


def _functions() -> list[Function]:
    return [Function(name=name, text=each.text) for name, each in OPERATIONS.items() if each.text]


@router.post("/condition/values", response=ValuesOut, summary="Values of a field for a condition")
def values(request: HttpRequest, payload: FieldIn) -> ValuesOut:
    """The commonest first."""
    return ValuesOut(values=literals_of(column_named(rows_asked(request, payload).columns, payload.field), VALUES))
