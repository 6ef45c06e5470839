"""Fields that are worked out of others."""

from dataclasses import replace

from greylatch.errors import BadInput
from greylatch.rules.evaluating import computed
from greylatch.tables.dataset import MAX_NAME, Dataset

__all__ = ["calculated"]


def calculated(dataset: Dataset, field: str, expression: str) -> Dataset:
    """A dataset with a field that an expression gives, row by row; one of that name is replaced where it stands.

    Parameters
    ----------
    dataset : Dataset
        The data.
    field : str
        The name of the field.
    expression : str
        CQL2 text.

    Returns
    -------
    Dataset

    Raises
    ------
    BadExpression
        With line and column of a mistake.
    BadInput
        For a name that no field has.

    Examples
    --------
    >>> import pyarrow as pa
    >>> calculated(Dataset(pa.table({"t": [10, 4], "ha": [4, 0]}), "table"), "per_ha", "t / ha").columns["per_ha"].to_pylist()
    [2.5, None]
    """
    name = field.strip()
    if not 0 < len(name) <= MAX_NAME:
        raise BadInput(f"A field needs a name of 1 to {MAX_NAME} characters.")
    values = computed(dataset, expression)
    names = dataset.columns.column_names
    columns = (
        dataset.columns.set_column(names.index(name), name, values)
        if name in names
        else dataset.columns.append_column(name, values)
    )
    # What was known of a field that it replaces need not be true of it.
    return replace(dataset, columns=columns, meanings={k: v for k, v in dataset.meanings.items() if k != name})
