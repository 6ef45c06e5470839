"""What runs asks for no package that is only installed for the tests: `bin/start` on a new machine has none of these."""

import ast
import re
import sys
from importlib.metadata import packages_distributions
from pathlib import Path

ROOT = Path(__file__).parents[2]
OURS = {path.stem for home in ("core", "server", "demo") for path in (ROOT / home).iterdir()}


def locked(name: str) -> set[str]:
    text = (ROOT / "requirements" / name).read_text()
    return {found.lower().replace("_", "-") for found in re.findall(r"^([A-Za-z0-9_.-]+)==", text, re.MULTILINE)}


def test_what_runs_takes_only_what_is_installed_to_run() -> None:
    installed, there = packages_distributions(), locked("run.lock")
    lacking = set()
    for home in ("core", "server", "demo"):
        for path in (ROOT / home).rglob("*.py"):
            for node in ast.walk(ast.parse(path.read_text())):
                names = [name.name for name in node.names] if isinstance(node, ast.Import) else []
                names += [node.module or ""] if isinstance(node, ast.ImportFrom) and not node.level else []
                for top in {name.split(".")[0] for name in names} - OURS - set(sys.stdlib_module_names):
                    parcels = {parcel.lower().replace("_", "-") for parcel in installed.get(top, [])}
                    if not parcels & there:
                        lacking.add(f"{path.relative_to(ROOT)}: {top}")
    assert lacking == set()
