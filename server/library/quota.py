"""How much of the disk a person may take."""

from django.conf import settings
from django.contrib.auth.models import User
from django.db.models import Sum
from editions.models import Edition
from greylatch.errors import BadInput
from greylatch.wording import megabytes
from jobs.work import check_disk

from library.models import AttachedPicture, Revision, Upload


def used_bytes(user: User) -> int:
    """What a person's uploads, datasets and editions take."""
    sizes = (
        Upload.objects.filter(owner=user).aggregate(n=Sum("size")),
        Revision.objects.filter(dataset__owner=user).aggregate(n=Sum("bytes")),
        AttachedPicture.objects.filter(dataset__owner=user).aggregate(n=Sum("bytes")),
        Edition.objects.filter(sheet__owner=user).aggregate(n=Sum("bytes")),
    )
    return sum(size["n"] or 0 for size in sizes)


def check_room(user: User, wanted: int) -> None:
    """Raise BadInput where a person's share, or the disk, has not so many bytes left."""
    used = used_bytes(user)
    if used + wanted > settings.QUOTA:
        raise BadInput(
            f"Your share of the disk is {megabytes(settings.QUOTA)}, of which {megabytes(used)} are taken; this needs {megabytes(wanted)}.",
            "Remove datasets or sheets that you do not need any more.",
        )
    check_disk(2 * wanted)  # once as it comes in, once as it is kept
