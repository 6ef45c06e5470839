"""The pictures of features in an edition: files under names of their content, and a list of whose they are."""

import json
import shutil
from pathlib import Path

from greylatch.edition.plan import Plan
from greylatch.reading.attached import Attached, AttachedTo

__all__ = ["LIST", "PICTURES", "read_attached", "write_attached"]

PICTURES = "pictures"
"""The folder in an edition."""
LIST = f"{PICTURES}/attached.json"


def write_attached(plan: Plan, out: Path) -> None:
    """Copy the pictures of all layers that have cards into the folder `out`, with a list of them; nothing where there are none.

    Parameters
    ----------
    plan : Plan
        The sheet to be published.
    out : Path
        The folder of the edition.
    """
    carded = {layer.dataset for layer in plan.sheet.layers if layer.card}
    listed = {dataset: pictures for dataset, pictures in plan.attached.items() if dataset in carded and pictures}
    if not listed:
        return
    home = out / PICTURES
    home.mkdir()
    for pictures in listed.values():
        for each in (each for some in pictures.values() for each in some):
            if not (home / each.name).exists():
                shutil.copyfile(each.path, home / each.name)
    contents = {
        dataset: {
            str(fid): [[e.name, e.width, e.height, e.credit, e.text] for e in some] for fid, some in pictures.items()
        }
        for dataset, pictures in listed.items()
    }
    (out / LIST).write_text(json.dumps(contents, ensure_ascii=False), "utf-8")


def read_attached(path: Path) -> dict[str, AttachedTo]:
    """The pictures that an edition has, by dataset and fid, as `write_attached` listed them.

    Parameters
    ----------
    path : Path
        The list.

    Returns
    -------
    dict[str, AttachedTo]
    """
    contents = json.loads(path.read_text("utf-8"))
    return {
        dataset: {
            int(fid): [Attached(name, path.parent / name, width, height, credit, text) for name, width, height, credit, text in some]
            for fid, some in pictures.items()
        }
        for dataset, pictures in contents.items()
    }  # fmt: skip
