"""A layer's classes or categories turned into rules, each looking as it did, to be changed one by one."""

from dataclasses import dataclass

from greylatch.classes.values import is_expression
from greylatch.encodings.by_category import ColourByCategory, categories_of
from greylatch.encodings.by_classes import ColourByClasses, SizeByClasses
from greylatch.encodings.encoded import Encoded, Step
from greylatch.errors import BadInput
from greylatch.rules.language import named
from greylatch.sheet.parts import Classing, NormaliseByField, Symbol
from greylatch.sheet.symbology import Rule, Symbols
from greylatch.tables.dataset import Dataset, Kind, column_named, field_type

__all__ = ["split_into_rules"]


@dataclass(frozen=True)
class Part:
    """What becomes a rule."""

    name: str
    where: str
    step: Step


def split_into_rules(symbology: Symbols, dataset: Dataset) -> Symbols:
    """The same picture by rules: one for each class or category; rows that have none are what no rule takes.

    Parameters
    ----------
    symbology : Symbols
        How the layer is drawn.
    dataset : Dataset
        Its rows.

    Returns
    -------
    Symbols

    Raises
    ------
    BadInput
        Where neither colour nor size goes by classes or categories, and where there are rules already.
    """
    if symbology.rules:
        raise BadInput("This layer has rules already.")
    encodings = symbology.encodings
    leading = encodings.colour or encodings.size
    if isinstance(leading, (ColourByClasses, SizeByClasses)):
        parts = _of_classes(leading.classing, leading.encode(dataset))
    elif isinstance(leading, ColourByCategory):
        parts = _of_categories(leading, dataset)
    else:
        raise BadInput("Rules are made of classes or categories, and this layer has neither.")
    sized = encodings.size.encode(dataset) if isinstance(encodings.size, SizeByClasses) else None
    together = isinstance(encodings.colour, ColourByClasses) and isinstance(encodings.size, SizeByClasses) and (
        encodings.colour.classing == encodings.size.classing
    )  # fmt: skip
    gone = {"colour": None, **({"size": None} if together or not encodings.colour else {})}
    kept = encodings.model_copy(update=gone)
    rules = []
    for i, part in enumerate(parts):
        size = sized.steps[i].size if sized and together else part.step.size
        symbol = _looking(symbology.symbol, dataset.kind, part.step, size)
        rules.append(
            Rule(
                id=f"rule-{i + 1}",
                name=part.name[:200] or f"Rule {i + 1}",
                where=part.where,
                symbol=symbol,
                encodings=kept,
            )
        )
    lacking = leading.no_data
    rest = (
        symbology.symbol
        if lacking is None
        else _looking(symbology.symbol, dataset.kind, Step("", "", colour=lacking), None)
    )
    return symbology.model_copy(
        update={"rules": rules, "symbol": rest, "encodings": kept, "others": "left out" if lacking is None else "drawn"}
    )


def _of_classes(classing: Classing, encoded: Encoded) -> list[Part]:
    numbers = classing.field if is_expression(classing.field) else named(classing.field)
    if classing.normalise is not None:
        if classing.normalise.by == "total":
            raise BadInput("A share of the total is no condition on a row.", "Divide by a field, or by nothing.")
        below = "area_km2"
        if isinstance(classing.normalise, NormaliseByField):
            other = classing.normalise.field
            below = f"({other})" if is_expression(other) else named(other)
            if classing.normalise.per != 1:
                below += f" * {classing.normalise.per!r}"
        numbers = f"({numbers}) / {below}"
    parts = []
    for i, step in enumerate(encoded.steps):
        assert step.limits is not None
        low, high = step.limits
        first = ">=" if i == 0 else ">"
        parts.append(Part(step.text, f"{numbers} {first} {low!r} AND {numbers} <= {high!r}", step))
    return parts[::-1]


def _among(values: list[str]) -> str:
    return f"= {values[0]}" if len(values) == 1 else f"IN ({', '.join(values)})"


def _of_categories(encoding: ColourByCategory, dataset: Dataset) -> list[Part]:
    categories = encoding.categories or categories_of(dataset, encoding.field)
    steps = encoding.encode(dataset).steps
    field = encoding.field
    expression = field not in dataset.columns.column_names
    kind = "text" if expression else field_type(column_named(dataset.columns, field).type)
    said = field if expression else named(field)
    return [
        Part(step.text, f"{said} {_among([_literal(value, kind) for value in category.values])}", step)
        for category, step in zip(categories, steps, strict=False)
        if category.drawn
    ]


def _literal(value: str, kind: str) -> str:
    if kind in ("number", "integer", "boolean"):
        return value
    text = "'" + value.replace("'", "''") + "'"
    return f"DATE({text})" if kind == "date" and len(value) == 10 else text


def _looking(symbol: Symbol, kind: Kind, step: Step, size: float | None) -> Symbol:
    """The symbol with what a step sets of it."""
    if kind == "lines":
        if not symbol.strokes:
            return symbol
        top = symbol.strokes[-1].model_copy(
            update={
                "colour": step.colour or symbol.strokes[-1].colour,
                "width": symbol.strokes[-1].width if size is None else size,
            }
        )
        return symbol.model_copy(update={"strokes": [*symbol.strokes[:-1], top]})
    return symbol.model_copy(
        update={
            "fill": step.colour or symbol.fill, "shape": step.shape or symbol.shape,
            "radius": symbol.radius if size is None else size,
        }
    )  # fmt: skip
