"""The command that prints the schema of a sheet."""

import argparse
import json

from greylatch.sheet.reading import sheet_schema

__all__ = ["print_schema"]


def print_schema(arguments: argparse.Namespace) -> None:
    """Print the JSON Schema of the sheet."""
    print(json.dumps(sheet_schema(), ensure_ascii=False, indent=1))
