"""Where a sheet's datasets are found, as the one who asks may see them."""

from collections.abc import Iterable
from uuid import UUID

from django.contrib.auth.models import User
from django.db.models import F
from greylatch.errors import BadInput, CannotDraw
from greylatch.paint.sources import Find, Source
from greylatch.places.frame import Frame
from greylatch.proof.findings import Provenance
from greylatch.sheet.document import Sheet as Document
from library.derived import source_of
from library.models import Dataset, Revision

from sheets.models import SheetRevision


def revisions_for(owner: User, document: Document) -> dict[str, Revision]:
    """The current revision of every dataset that the document names and `owner` may see."""
    wanted = [name for name in {layer.dataset for layer in document.layers} if _is_uuid(name)]
    datasets = Dataset.objects.filter(owner=owner, pk__in=wanted).select_related("current", "current__dataset")
    return {str(dataset.pk): dataset.current for dataset in datasets if dataset.current}


def refuse_foreign(owner: User, document: Document) -> None:
    """Raise BadInput that names the first layer, shown or hidden, whose dataset is somebody else's."""
    wanted = [layer.dataset for layer in document.layers if _is_uuid(layer.dataset)]
    foreign = {
        str(pk) for pk in Dataset.objects.filter(pk__in=wanted).exclude(owner=owner).values_list("pk", flat=True)
    }
    for layer in document.layers:
        if _is_uuid(layer.dataset) and str(UUID(layer.dataset)) in foreign:
            raise BadInput(f"Layer '{layer.name}' names a dataset that is not yours.", "Choose one of your library.")


def allowed_pictures(owner: User) -> list[str]:
    """Whose pictures the cards of a person's sheets may show."""
    newest = SheetRevision.objects.filter(sheet__owner=owner, number=F("sheet__revision"))
    return sorted(
        {host for listed in newest.values_list("document__pictures_from", flat=True) for host in listed or []}
    )


def finder(revisions: dict[str, Revision]) -> Find:
    """A finder over these revisions only."""

    def find(name: str, frame: Frame) -> Source:
        if name not in revisions:
            raise CannotDraw("Its dataset is not in the library any more.", "Choose another, or remove the layer.")
        return source_of(revisions[name], frame)

    return find


def provenance(revisions: Iterable[Revision]) -> dict[str, Provenance]:
    """Source and left-overs of the join, by dataset."""
    out = {}
    for revision in revisions:
        join = revision.join or {}
        out[str(revision.dataset_id)] = Provenance(
            revision.dataset.source, len(join.get("rows_without_area", [])), len(join.get("areas_without_row", []))
        )
    return out


def _is_uuid(text: str) -> bool:
    try:
        UUID(text)
        return True
    except ValueError:
        return False
