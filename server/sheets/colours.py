"""Ramps, and colours by lightness, chroma and hue."""

from functools import lru_cache

from django.http import HttpRequest
from greylatch.classes.methods import MAX_CLASSES
from greylatch.colour.difference import Alike, alike
from greylatch.colour.lch import Lch, colour_at, lch_of, strips_through
from greylatch.colour.ramps import RAMPS, ramp_colours, ramp_matched, ramp_of, ramp_refined
from greylatch.sheet.parts import MOST_STOPS, Colour, RampChoice
from ninja import Query, Router, Schema
from people.access import person

router = Router(tags=["drawing"])


class RampOut(Schema):
    """A ramp in as many colours as asked, with the readers who take neighbours of it for one another."""

    name: str
    family: str
    colours: list[str]
    alike: list[Alike]


class StripsOut(Schema):
    """A colour, its coordinates in OKLCh, and for each of these the colours from its one end to the other with the others held."""

    colour: str
    lightness: float
    chroma: float
    hue: float
    strips: dict[str, list[str]]


@router.get("/ramps", response=list[RampOut], summary="All ramps")
def ramps(request: HttpRequest, n: int = 5) -> list[RampOut]:
    """Each in `n` colours."""
    return list(ramps_in(max(2, min(n, MAX_CLASSES))))


@router.get("/ramps/of", response=list[Colour], summary="A ramp through a colour")
def ramp_of_colour(request: HttpRequest, colour: Colour) -> list[str]:
    """Stops from light to dark, of one hue."""
    person(request)
    return ramp_of(colour)


@router.get("/ramps/matched", response=list[Colour], summary="A ramp matched to its ground")
def ramp_on_ground(
    request: HttpRequest, ground: Colour, stops: list[Colour] = Query(min_length=2, max_length=MOST_STOPS)
) -> list[str]:
    """Its low end nearly as light as the ground, its high end far from it."""
    person(request)
    return ramp_matched(stops, ground)


@router.get("/ramps/refined", response=list[Colour], summary="A ramp with a stop more")
def ramp_with_a_stop_more(
    request: HttpRequest, stops: list[Colour] = Query(min_length=2, max_length=MOST_STOPS - 1)
) -> list[str]:
    """Between the neighbours that are farthest apart."""
    person(request)
    return ramp_refined(stops)


@lru_cache(maxsize=64)
def ramps_in(n: int) -> tuple[RampOut, ...]:
    """All ramps in `n` colours: the same for everybody, and long in the making."""
    out = []
    for ramp in RAMPS.values():
        colours = ramp_colours(RampChoice(name=ramp.name), n)
        out.append(RampOut(name=ramp.name, family=ramp.family, colours=colours, alike=alike(colours)))
    return tuple(out)


@router.get("/oklch", response=StripsOut, summary="A colour by lightness, chroma and hue")
def oklch(request: HttpRequest, colour: Colour) -> StripsOut:
    """Of OKLCh, in which equal steps look equally large."""
    person(request)
    return _strips(lch_of(colour))


@router.get("/oklch/at", response=StripsOut, summary="The colour at a lightness, chroma and hue")
def oklch_at(
    request: HttpRequest, lightness: float = Query(ge=0, le=1), chroma: float = Query(ge=0, le=1), hue: float = Query(ge=-720, le=720)
) -> StripsOut:  # fmt: skip
    """The nearest that a screen has."""
    person(request)
    return _strips(Lch(lightness, chroma, hue))


def _strips(place: Lch) -> StripsOut:
    return StripsOut(
        colour=colour_at(place),
        lightness=place.lightness,
        chroma=place.chroma,
        hue=place.hue,
        strips=strips_through(place),
    )
