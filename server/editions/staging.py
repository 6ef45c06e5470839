"""Where a publish keeps what is cut until it is whole: in the storage, so that workers of any machine can cut and gather."""

import secrets
from pathlib import Path

from greylatch.errors import BadInput
from jobs.models import Job, Part
from library.files import fetch_folder, remove_folder, store_folder

HOME = "staging"
SHARD = "shard"
"""The stage whose parts cut."""
LOT = "lot-2"
"""How the folders of what a part has cut begin. The number rises when lots hold something else than before."""


def staging(job: Job) -> str:
    """The folder of a publish in the storage."""
    return f"{HOME}/{job.pk.hex}"


def keep_lot(job: Job, number: int, cut: Path) -> None:
    """Put what a part has cut into the storage and write down where. A try that is killed halfway leaves what nobody looks for."""
    name = f"{staging(job)}/{LOT}-{number}-{secrets.token_hex(4)}"
    store_folder(cut, name)
    job.parts.filter(stage=SHARD, number=number).update(kept=name)


def gather_lots(job: Job, folder: Path) -> None:
    """Fetch what all parts have cut into a folder of this machine. Raises BadInput where an earlier version cut any of them."""
    kept = Part.objects.filter(job=job, stage=SHARD).values_list("kept", flat=True)
    if not all(name.startswith(f"{staging(job)}/{LOT}-") for name in kept):
        raise BadInput("This was begun by an earlier version, whose tiles are put together no more.", "Publish again.")
    for name in kept:
        fetch_folder(name, folder)


def clear_staging(job: Job) -> None:
    """Remove all that was kept for a publish."""
    remove_folder(staging(job))
