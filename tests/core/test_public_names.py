"""What the core's modules say is public is what others take from them."""

import ast
import importlib
from collections.abc import Iterator
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
MODULES = sorted(
    ".".join(path.relative_to(ROOT / "core").with_suffix("").parts)
    for path in (ROOT / "core" / "greylatch").rglob("*.py")
    if path.stem not in ("__init__", "__main__")
)


def taken() -> Iterator[tuple[str, str, Path]]:
    """Module, name and by which file of every import from the core."""
    for home in ("core", "server", "bench", "demo"):
        for path in (ROOT / home).rglob("*.py"):
            for node in ast.walk(ast.parse(path.read_text())):
                if isinstance(node, ast.ImportFrom) and (node.module or "").startswith("greylatch"):
                    yield from ((str(node.module), name.name, path) for name in node.names)


@pytest.mark.parametrize("module", MODULES)
def test_every_module_says_what_is_public_and_has_it(module: str) -> None:
    there = importlib.import_module(module)
    assert there.__all__ and list(there.__all__) == sorted(set(there.__all__), key=there.__all__.index)
    assert [name for name in there.__all__ if not hasattr(there, name) or name.startswith("_")] == []


def test_nobody_takes_what_is_not_public() -> None:
    public = {module: set(importlib.import_module(module).__all__) for module in MODULES}
    hidden = [f"{path}: {name} of {module}" for module, name, path in taken() if name not in public.get(module, {name})]
    assert hidden == []
