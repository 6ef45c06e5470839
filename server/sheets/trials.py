"""Other classifications of a layer as small maps."""

from base64 import b64encode
from typing import Literal
from uuid import UUID

from django.http import Http404, HttpRequest
from greylatch.errors import BadInput
from greylatch.paint.passes import RasterPass, VectorPass, pass_of
from greylatch.paint.trials import trials
from greylatch.places.frame import Frame
from greylatch.sheet.document import CrsText
from greylatch.sheet.layers import Layer
from greylatch.sheet.parts import Limits, RampChoice
from greylatch.tiles.image import png
from library.seen import current_dataset
from ninja import Router, Schema
from people.access import person

from sheets.sources import finder, revisions_named

router = Router(tags=["drawing"])
WIDTH, HEIGHT = 200, 130


class TrialIn(Schema):
    """A layer whose classes are to be tried otherwise."""

    layer: Layer
    of: Literal["classes", "ramps"] = "classes"
    crs: CrsText = "EPSG:3857"


class TrialOut(Schema):
    """A classification, its fit, and the map that it makes as an address that holds the picture itself."""

    classing: Limits
    classes: int
    fit: float
    colours: list[str]
    picture: str
    ramp: RampChoice | None


@router.post("/trials", response=list[TrialOut], summary="Other classifications of a layer as small maps")
def try_others(request: HttpRequest, payload: TrialIn) -> list[TrialOut]:
    """Up to twelve: other methods and other numbers of classes, or other ramps."""
    name = payload.layer.dataset
    try:
        dataset = current_dataset(request, UUID(name))
    except ValueError as error:
        raise Http404 from error
    drawn = pass_of(
        payload.layer,
        finder({**revisions_named(person(request), payload.layer.others.values()), name: dataset.newest}),
        Frame.named(payload.crs),
    )
    if not isinstance(drawn, VectorPass | RasterPass):
        raise BadInput("This layer has no classes.")
    return [
        TrialOut(
            classing=trial.classing, classes=trial.classes, fit=trial.fit, colours=list(trial.colours), ramp=trial.ramp,
            picture=f"data:image/png;base64,{b64encode(png(trial.picture)).decode()}",
        )
        for trial in trials(drawn, WIDTH, HEIGHT, payload.of)
    ]  # fmt: skip
