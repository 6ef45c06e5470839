"""Labels while a map is being made: where they stand, which find no room, and the typefaces that they are set in."""

import math
from dataclasses import replace
from itertools import chain

from django.http import HttpRequest, HttpResponse
from django.utils.cache import patch_response_headers
from greylatch.edition.faces import letters_by_face, part_of_face
from greylatch.errors import BadInput
from greylatch.lettering.faces import FAMILIES, face_named
from greylatch.lettering.fitting import room_found
from greylatch.lettering.telling import left_out
from greylatch.lettering.written import label_json
from greylatch.paint.passes import Composition, compose
from greylatch.places.grid import DEEPEST
from greylatch.sheet.document import Sheet as Document
from ninja import Field, Query, Router, Schema
from people.access import person

from sheets.sources import finder, revisions_for

router = Router(tags=["drawing"])
LISTED = 300
"""Labels without room that are told one by one."""


class LabelOut(Schema):
    """A label of a layer of the sheet: its place in the sheet's frame, and what is drawn there, as pages read it. `box` is left, top, right
    and bottom of its text, px from the place; `hand` says that somebody put it there."""

    layer: str
    feature: int
    text: str
    x: float
    y: float
    box: list[float]
    set: str
    hand: bool


class LettersOut(Schema):
    """All labels of the map at a zoom, which of each layer found no room, and with which letters of which faces they are set."""

    resolution: float = Field(description="Units of the frame to the px for which they are placed")
    labels: list[LabelOut]
    left_out: dict[str, list[int]]
    by_hand: dict[str, dict[int, str]] = Field(
        description="Of each layer what the labels changed by hand say of themselves, by feature: those too that are hidden or far off"
    )
    faces: dict[str, str] = Field({}, description="Of faces that don't ship with the editor: the letters of all labels")


class LeftOutOut(Schema):
    """A label that found no room: of which feature, what it would say, and why."""

    fid: int
    text: str
    why: str


class FitOut(Schema):
    """What is to be done by hand to a label so that it has room: px of its first line, or longitude and latitude with a leader."""

    size: float | None = None
    at: list[float] | None = None
    leader: bool = False


def _lettered(request: HttpRequest, document: Document, zoom: float) -> tuple[Composition, float]:
    drawn = [layer for layer in document.layers if layer.lettering or layer.in_the_way]
    lettered = document.model_copy(update={"layers": drawn})
    composition = compose(lettered, finder(revisions_for(person(request), lettered)))
    return composition, composition.frame.grid.resolution(max(0, min(zoom, DEEPEST)))


@router.post("/letters", response=LettersOut, summary="Labels of a sheet")
def letters(
    request: HttpRequest, document: Document, zoom: float, within: list[float] = Query([], max_length=4)
) -> LettersOut:
    """Where the labels stand at a zoom; further in they only move apart, so they still do not overlap there. With them those of areas that
    are named throughout, as far as they stand `within` west, south, east, north of the sheet's frame."""
    composition, resolution = _lettered(request, document, zoom)
    layers = [layer for layer, _ in composition.lettered]
    if len(within) not in (0, 4) or not all(map(math.isfinite, within)):
        raise BadInput("A box has four sides: west, south, east, north.")
    placements = [composition.placement(resolution)]
    if within:
        west, south, east, north = within
        placements = composition.placement_over(resolution, (west, south, east, north))
    faces = letters_by_face(wanted for _, wanted in composition.lettered)
    labels = []
    for label in chain.from_iterable(placement.labels for placement in placements):
        layer, asked = layers[label.layer], composition.lettered[label.layer][1]
        frame = layer.lettering.frame if layer.lettering else None
        box = [round(side, 2) for side in label.box]
        labels.append(
            LabelOut(
                layer=layer.id, feature=label.feature, text=label.text, x=label.x, y=label.y, box=box,
                set=label_json(label, frame, asked.styles, asked.edge), hand=label.hand,
            )
        )  # fmt: skip
    return LettersOut(
        resolution=resolution,
        labels=labels,
        left_out={layers[number].id: rows for number, rows in placements[0].left_out.items()},
        by_hand={
            layer.id: {int(wanted.numbered[row]): wanted.texts[row] for row in wanted.hands}
            for layer, wanted in composition.lettered
        },
        faces={
            face.name: "".join(sorted(own)) for face, own in faces.items() if face.name.split("-")[0] not in FAMILIES
        },
    )


@router.post("/letters/left-out", response=list[LeftOutOut], summary="Labels that found no room")
def letters_left_out(request: HttpRequest, document: Document, zoom: float, layer: str) -> list[LeftOutOut]:
    """Those of a layer at a zoom, at most 300, in the order in which they were tried, each with why."""
    composition, resolution = _lettered(request, document, zoom)
    asked = [wanted for _, wanted in composition.lettered]
    number = next((i for i, (each, _) in enumerate(composition.lettered) if each.id == layer), None)
    if number is None:
        return []
    placement = composition.placement(resolution)
    mine = replace(placement, left_out={number: placement.left_out.get(number, [])[:LISTED]})
    wanted = asked[number]
    rows = {int(fid): row for row, fid in enumerate(wanted.numbered.tolist())}
    return [
        LeftOutOut(fid=each.feature, text=wanted.texts[rows[each.feature]], why=each.why)
        for each in left_out(mine, asked, resolution)
    ]


@router.post("/letters/fit", response=FitOut, summary="Room for a label")
def letters_fit(request: HttpRequest, document: Document, zoom: float, layer: str, fid: int) -> FitOut:
    """How a label that found no room at a zoom would find some beside the others as they stand there: smaller, or near by with a leader."""
    composition, resolution = _lettered(request, document, zoom)
    asked = [wanted for _, wanted in composition.lettered]
    lettered = next(((i, each) for i, (each, _) in enumerate(composition.lettered) if each.id == layer), None)
    if lettered is None or lettered[1].lettering is None or fid not in asked[lettered[0]].numbered:
        raise BadInput(f"There is no label of feature {fid}.")
    fit = room_found(composition.placement(resolution), asked, lettered[0], fid, resolution)
    if fit is None:
        raise BadInput("There is no room for it near what it names.", "Look closer, or drag it to a free place.")
    if fit.place is None:
        return FitOut(size=round(lettered[1].lettering.lines[0].size * fit.share, 2))
    return FitOut(at=list(composition.frame.lonlat(*fit.place)), leader=True)


@router.get("/faces/{name}", summary="A typeface", openapi_extra={"responses": {200: {"content": {"font/woff": {}}}}})
def face(request: HttpRequest, name: str, letters: str) -> HttpResponse:
    """WOFF: as much of a face of the machine as some letters need."""
    try:
        own = face_named(name)
    except (ValueError, KeyError) as error:
        raise BadInput(f"There is no typeface '{name[:60]}'.") from error
    if not own.file.is_file() or "/" in name or not 0 < len(letters) <= 2_000:
        raise BadInput(f"There is no typeface '{name[:60]}', or nothing is asked of it.")
    answer = HttpResponse(part_of_face(own, letters), content_type="font/woff")
    patch_response_headers(answer, 86_400)
    return answer
