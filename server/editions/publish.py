"""Making an edition: freeze, cut in lots, gather, and only then let it be seen."""

import secrets
from collections.abc import Callable
from functools import lru_cache
from typing import Any, TypedDict

from django.db import transaction
from django.db.models import Max
from django.utils import timezone
from greylatch.edition.plan import Plan, plan_edition
from greylatch.edition.writing import write_edition
from greylatch.paint.passes import Composition, compose
from greylatch.progress import Progress
from greylatch.sheet.document import Sheet as Document
from greylatch.tiles.archive import RasterFormat
from greylatch.tiles.raster_pyramid import Levels
from jobs.models import Job
from jobs.tidying import scratch
from library.attached import attached_to
from library.files import remove_folder, remove_folders, store_folder
from library.models import Revision
from sheets.models import Sheet
from sheets.sources import finder, revisions_for

from editions.models import Address, Edition
from editions.staging import clear_staging, gather_lots


class Cutting(TypedDict):
    """How an edition is cut; levels that are None follow from the data."""

    size: int
    format: RasterFormat
    min_zoom: int | None
    max_zoom: int | None


def freeze(sheet: Sheet, document: Document, job: Job, how: Cutting) -> Edition:
    """An edition that nobody sees yet. Raises BadInput where the map cannot be drawn."""
    revisions = revisions_for(sheet.owner, document)
    plan = plan_edition(document, finder(revisions), **how)
    with transaction.atomic():
        Sheet.objects.select_for_update().get(pk=sheet.pk)
        last = sheet.editions.aggregate(last=Max("number"))["last"] or 0
        edition = Edition.objects.create(
            sheet=sheet, number=last + 1, job=job, publisher=sheet.owner, document=document.model_dump(mode="json"),
            folder="", size=plan.size, format=plan.format, min_zoom=plan.levels.min_zoom, max_zoom=plan.levels.max_zoom,
        )  # fmt: skip
        edition.data.set(revisions.values())
    return edition


def complete(edition: Edition, job: Job, progress: Progress, last: Callable[[dict[str, Any]], None]) -> None:
    """Gather what the parts of the job cut, write all files, and let the edition be seen. Whole or absent.

    Every try writes into a folder of its own in the storage, and what was stored is read again; then, in one transaction with
    what `last` does, the edition and its address are switched over. Until then no address leads there.
    """
    with scratch() as folder:
        staged, out = folder / "staged", folder / "edition"
        out.mkdir()
        gather_lots(job, staged)
        page = write_edition(opened(edition.pk), staged, out, progress)
        name = f"editions/{job.pk.hex}-{secrets.token_hex(4)}"
        try:
            stored = store_folder(out, name)
            with transaction.atomic():
                address, _ = Address.objects.get_or_create(sheet=edition.sheet)
                edition.described, edition.published = page, timezone.now()
                edition.folder, edition.bytes = name, stored
                edition.save(update_fields=["described", "published", "folder", "bytes"])
                address.current = edition
                address.save(update_fields=["current"])
                last({"edition": edition.number, "slug": address.slug, "tiles": page["tiles"]})
        except BaseException:
            remove_folder(name)
            raise


def discard(job: Job) -> None:
    """Remove every trace of a publish that did not end well. Files in the storage that no edition names go with the sweep."""
    clear_staging(job)
    Edition.objects.filter(job=job, published=None).delete()


@lru_cache(maxsize=16)
def unlettered(edition_pk: int) -> Composition:
    """The frozen map without its labels, for asking what lies where; kept by this process."""
    edition = Edition.objects.get(pk=edition_pk)
    document = Document.model_validate(edition.document)
    plain = [layer.model_copy(update={"lettering": None}) for layer in document.layers]
    return compose(document.model_copy(update={"layers": plain}), finder(frozen_revisions(edition)))


@lru_cache(maxsize=2)
def opened(edition_pk: int) -> Plan:
    """The frozen map ready to be cut; kept by this process."""
    edition = Edition.objects.get(pk=edition_pk)
    document = Document.model_validate(edition.document)
    composition = compose(document, finder(frozen_revisions(edition)))
    revisions = frozen_revisions(edition)
    levels = Levels(edition.min_zoom, edition.max_zoom)
    return Plan(document, composition, levels, edition.size, edition.pictures, attached_to(revisions))


def frozen_revisions(edition: Edition) -> dict[str, Revision]:
    """The data revisions of the edition by dataset."""
    return {str(revision.dataset_id): revision for revision in edition.data.select_related("dataset")}


def forget_editions(sheet: Sheet) -> None:
    """Take the files of all editions of a sheet out of the storage, once the transaction that removes the sheet has ended."""
    folders = [folder for folder in sheet.editions.values_list("folder", flat=True) if folder]
    transaction.on_commit(lambda: remove_folders(folders))
