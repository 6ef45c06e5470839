"""Cross-lists: which spelling in a table stands for which key of the areas, kept as a file."""

import csv
import io
import json
from pathlib import Path

from greylatch.errors import BadFile

__all__ = ["read_cross_list"]

MOST = 200_000


def read_cross_list(path: str | Path) -> dict[str, str]:
    """A cross-list: a JSON object of spellings with their areas, or CSV of two columns with a line of headings; '' leaves a spelling out.

    Parameters
    ----------
    path : str | Path
        The file.

    Returns
    -------
    dict[str, str]

    Raises
    ------
    BadFile
        For a file that is neither, naming the line.
    """
    try:
        text = Path(path).read_text(encoding="utf-8-sig")
    except OSError as error:
        raise BadFile(f"{path} cannot be read: {error.strerror}.") from error
    except UnicodeDecodeError as error:
        raise BadFile(f"{Path(path).name} is not written in UTF-8.") from error
    pairs = _of_json(text, Path(path).name) if text.lstrip().startswith("{") else _of_csv(text, Path(path).name)
    if len(pairs) > MOST:
        raise BadFile(f"{Path(path).name} has more than {MOST:,} spellings.")
    return pairs


def _of_json(text: str, name: str) -> dict[str, str]:
    try:
        pairs = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise BadFile(f"{name} is not readable as JSON: {error}.") from error
    if not all(isinstance(area, str) for area in pairs.values()):
        raise BadFile(f"{name} does not give a text for each spelling.")
    return dict(pairs)


def _of_csv(text: str, name: str) -> dict[str, str]:
    pairs: dict[str, str] = {}
    rows = csv.reader(io.StringIO(text))
    next(rows, None)
    for line, row in enumerate(rows, 2):
        if not any(cell.strip() for cell in row):
            continue
        if len(row) < 2:
            raise BadFile(f"{name}, line {line}: there are to be two columns, a spelling and its area.")
        if row[0] in pairs and pairs[row[0]] != row[1]:
            raise BadFile(f"{name}, line {line}: '{row[0][:60]}' stands for '{pairs[row[0]][:60]}' already.")
        pairs[row[0]] = row[1]
    return pairs
