"""Parts of a sheet as they begin: the editor repeats none of what the core says by default."""

from uuid import UUID

from django.http import HttpRequest
from greylatch.classes.methods import MAX_CLASSES
from greylatch.sheet.document import NO_DATA_COLOUR, Colour, FieldName, Graticule, Symbology, VectorSymbology
from greylatch.sheet.document import Sheet as Document
from greylatch.symbols.starting import VectorKind, turned_into
from library.models import Dataset
from ninja import Router, Schema
from people.access import own, person

router = Router(tags=["drawing"])
UNTITLED = "Untitled sheet"


class StartingOut(Schema):
    """A sheet without a layer, and the parts that it may have."""

    sheet: Document
    graticule: Graticule
    most_classes: int
    no_data: Colour


class TurnIn(Schema):
    """A layer's symbology that is to become another."""

    dataset: UUID
    symbology: Symbology
    kind: VectorKind | None = None
    field: FieldName | None = None


@router.get("/starting", response=StartingOut, summary="Parts of a sheet as they begin")
def starting(request: HttpRequest) -> StartingOut:
    """The same for everybody."""
    person(request)
    return StartingOut(
        sheet=Document(title=UNTITLED), graticule=Graticule(), most_classes=MAX_CLASSES, no_data=NO_DATA_COLOUR
    )


@router.post("/turned", response=VectorSymbology, summary="A symbology of another kind")
def turned(request: HttpRequest, payload: TurnIn) -> VectorSymbology:
    """With what it has of the old one; without a kind the one that shows numbers."""
    dataset = own(Dataset, person(request), pk=payload.dataset)
    return turned_into(payload.symbology, dataset.holds, payload.kind, payload.field)
