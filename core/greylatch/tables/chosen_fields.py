"""Which fields of a table go on, and under which names."""

from collections.abc import Sequence
from dataclasses import replace

from greylatch.errors import BadInput
from greylatch.tables.dataset import Dataset

__all__ = ["with_fields"]


def with_fields(data: Dataset, chosen: Sequence[tuple[str, str]]) -> Dataset:
    """Only the chosen fields, in their order, each under its new name.

    Parameters
    ----------
    data : Dataset
        The data.
    chosen : Sequence[tuple[str, str]]
        Name, and what it is to be called.

    Returns
    -------
    Dataset

    Raises
    ------
    BadInput
        For a field that is not there, for none at all, and for two of one name.

    Examples
    --------
    >>> import pyarrow as pa
    >>> with_fields(Dataset(pa.table({"a": [1], "b": [2]}), "table"), [("b", "depth")]).columns.column_names
    ['depth']
    """
    names = [(old.strip(), new.strip() or old.strip()) for old, new in chosen]
    missing = [old for old, _ in names if old not in data.columns.column_names]
    if missing:
        there = ", ".join(data.columns.column_names[:12])
        raise BadInput(f"There is no field '{missing[0]}'.", f"The fields are: {there}.")
    if not names:
        raise BadInput("No field is chosen.", "A table keeps at least one.")
    new_names = [new for _, new in names]
    twice = [name for name in new_names if new_names.count(name) > 1]
    if twice:
        raise BadInput(f"Two fields would be called '{twice[0]}'.")
    columns = data.columns.select([old for old, _ in names]).rename_columns(new_names)
    meanings = {new: data.meanings[old] for old, new in names if old in data.meanings}
    return replace(data, columns=columns, meanings=meanings)
