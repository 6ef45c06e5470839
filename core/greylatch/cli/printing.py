"""What commands print."""

import json
from typing import Any

from greylatch.tables.fieldtypes import finite

__all__ = ["print_json"]


def print_json(value: Any) -> None:
    """One JSON document on standard output."""
    print(json.dumps(finite(value), ensure_ascii=False, indent=1, default=str, allow_nan=False))
