"""Ramps of one's own: stops mixed by hand, kept by a name."""

from collections.abc import Sequence
from uuid import UUID

from django.http import HttpRequest
from greylatch.classes.methods import MAX_CLASSES
from greylatch.colour.difference import Alike, alike
from greylatch.colour.ramps import ramp_colours
from greylatch.errors import BadInput
from greylatch.sheet.parts import Colour, RampChoice
from ninja import Router, Schema
from people.access import Standing, allowed, allowed_one, maker, person, standings
from pydantic import Field

from library.models import KeptRamp

router = Router(tags=["library"])
MOST = 200
"""Ramps that a person may keep."""


class RampIn(Schema):
    """A ramp to be kept: stops from low to high."""

    name: str = Field(min_length=1, max_length=60, pattern=r"\S")
    stops: list[Colour] = Field(min_length=2, max_length=24)


class KeptRampOut(Standing):
    """A ramp of the library in as many colours as asked, with the readers who take neighbours of it for one another."""

    id: UUID
    name: str
    stops: list[Colour]
    colours: list[str]
    alike: list[Alike]


@router.get("/ramps", response=list[KeptRampOut], summary="My ramps")
def kept_ramps(request: HttpRequest, n: int = 5) -> list[KeptRampOut]:
    """The newest first, each in `n` colours."""
    return _out(request, list(allowed(person(request), "see", KeptRamp).select_related("owner")), n)


@router.post("/ramps", response=KeptRampOut, summary="Keep a ramp")
def keep_ramp(request: HttpRequest, payload: RampIn, n: int = 5) -> KeptRampOut:
    """Under its name; one of that name is replaced."""
    owner = maker(request)
    name = payload.name.strip()
    others = KeptRamp.objects.filter(owner=owner).exclude(name=name)
    if others.count() >= MOST:
        raise BadInput(f"You keep {MOST} ramps already.", "Remove some first.")
    kept, _ = KeptRamp.objects.update_or_create(owner=owner, name=name, defaults={"stops": payload.stops})
    return _out(request, [kept], n)[0]


@router.delete("/ramps/{ramp_id}", response={204: None}, summary="Remove a ramp")
def remove_ramp(request: HttpRequest, ramp_id: UUID) -> tuple[int, None]:
    """Sheets have the stops themselves and go on as they are."""
    allowed_one(person(request), "remove", KeptRamp, pk=ramp_id).delete()
    return 204, None


def _out(request: HttpRequest, ramps: Sequence[KeptRamp], n: int) -> list[KeptRampOut]:
    standing = standings(person(request), ramps)
    out = []
    for kept in ramps:
        colours = ramp_colours(RampChoice(stops=kept.stops), max(2, min(n, MAX_CLASSES)))
        described = {"id": kept.pk, "name": kept.name, "stops": kept.stops, "colours": colours, "alike": alike(colours)}
        out.append(KeptRampOut(**described, **standing[kept.pk]))
    return out
