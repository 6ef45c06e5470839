"""Sharing things with people and teams, and vetting them."""

from datetime import datetime
from typing import Any
from uuid import UUID

from django.contrib.auth.models import User
from django.core.exceptions import ObjectDoesNotExist
from django.http import Http404, HttpRequest
from django.utils import timezone
from greylatch.errors import BadInput
from ninja import Router, Schema
from ninja.errors import HttpError
from pydantic import Field

from people.access import Verb, allowed, allowed_one, person
from people.models import Owned, Share, Team

router = Router(tags=["people"])


class ShareIn(Schema):
    """With whom: a person by name, or a team; and whether they may change it."""

    person: str = Field("", max_length=150)
    team: UUID | None = None
    may_change: bool = False


class ShareOut(Schema):
    """That somebody, or a team, sees a thing; `through` says whether by a sheet that draws it."""

    id: UUID
    name: str
    team: bool
    may_change: bool
    through: bool


class Vetted(Schema):
    """Whether a keeper has vetted a thing, and who."""

    vetted: datetime | None
    vetted_by: str | None


@router.get("/shares/{thing_id}", response=list[ShareOut], summary="Who sees a thing besides its owner")
def shares(request: HttpRequest, thing_id: UUID) -> list[ShareOut]:
    """In the order in which it was shared."""
    thing = _thing(person(request), "see", thing_id)
    return [
        ShareOut(
            id=share.pk, name=share.team.name if share.team else share.person.get_username() if share.person else "",
            team=share.team is not None, may_change=share.may_change, through=share.through is not None,
        )
        for share in Share.objects.filter(thing=thing.pk).select_related("team", "person")
    ]  # fmt: skip


@router.post("/shares/{thing_id}", response=list[ShareOut], summary="Share a thing")
def share(request: HttpRequest, thing_id: UUID, payload: ShareIn) -> list[ShareOut]:
    """With a person or a team; said again, it changes what they may. With a sheet its datasets are seen."""
    who = person(request)
    thing = _thing(who, "share", thing_id)
    if payload.team is not None:
        target: dict[str, Any] = {"person": None, "team": allowed_one(who, "see", Team, pk=payload.team)}
    else:
        name = payload.person.strip()
        other = User.objects.filter(username__iexact=name, is_active=True).first() if name else None
        if other is None:
            raise BadInput(f"Nobody is called '{name}' here." if name else "Say with whom.")
        if other == who:
            raise BadInput("It is yours already.")
        target = {"person": other, "team": None}
    Share.objects.update_or_create(thing=thing.pk, through=None, **target, defaults={"may_change": payload.may_change})
    carry(thing, who)
    return shares(request, thing_id)


@router.delete("/shares/{thing_id}/{share_id}", summary="Share a thing no more")
def unshare(request: HttpRequest, thing_id: UUID, share_id: UUID) -> dict[str, str]:
    """By its owner, by the one with whom it was shared, or by a keeper of that team."""
    who = person(request)
    thing = _thing(who, "see", thing_id)
    share = Share.objects.filter(pk=share_id, thing=thing.pk).first()
    if share is None:
        raise Http404
    keeping = share.team is not None and allowed(who, "change", Team).filter(pk=share.team.pk).exists()
    if not (thing.owner == who or share.person == who or keeping):
        raise HttpError(403, "Only its owner says who sees this.")
    share.delete()
    if share.team is not None and not share.through:
        _unvet_unshared(thing)
    carry(thing, thing.owner)
    return {}


@router.post("/vetted/{thing_id}", response=Vetted, summary="Vet a thing")
def vet(request: HttpRequest, thing_id: UUID) -> Vetted:
    """Says to all who see it that a keeper has looked at it and found it good."""
    return _vetted(_thing(person(request), "vet", thing_id), person(request))


@router.delete("/vetted/{thing_id}", response=Vetted, summary="Take back that a thing is vetted")
def unvet(request: HttpRequest, thing_id: UUID) -> Vetted:
    """By a keeper of any team with which it is shared."""
    return _vetted(_thing(person(request), "vet", thing_id), None)


def carry(thing: Owned, by: User) -> None:
    """Let all who see a thing see what belongs to it, and its owner what `by` put into it; take back what does not belong to it any more."""
    direct = list(Share.objects.filter(thing=thing.pk, through=None))
    carried = Share.objects.filter(through=thing.pk)
    if not direct:
        carried.delete()
        return
    owners = dict(thing.seen_with(by))
    carried.exclude(thing__in=owners).delete()
    targets = {(share.person_id, share.team_id) for share in direct} | {(thing.owner.pk, None)}
    known = {(share.thing, share.person_id, share.team_id) for share in carried}
    there = {(pk, *target) for pk, owner in owners.items() for target in targets if target[0] != owner}
    for pk, who, team in known - there:
        carried.filter(thing=pk, person=who, team=team).delete()
    Share.objects.bulk_create(
        [Share(thing=pk, person_id=who, team_id=team, through=thing.pk) for pk, who, team in there - known],
        ignore_conflicts=True,
    )


def forget_shares(sender: Any, instance: Any, **_: Any) -> None:
    """A thing that is gone is shared with nobody (a receiver of Django's post_delete)."""
    if isinstance(instance, Owned):
        Share.objects.filter(thing=instance.pk).delete()
        Share.objects.filter(through=instance.pk).delete()


def _thing(who: User, verb: Verb, pk: UUID) -> Owned:
    for kind in Owned.__subclasses__():
        try:
            kind._default_manager.get(pk=pk)
        except ObjectDoesNotExist:
            continue
        return allowed_one(who, verb, kind, pk=pk)
    raise Http404


def _vetted(thing: Owned, by: User | None) -> Vetted:
    thing.vetted, thing.vetted_by = (timezone.now(), by) if by else (None, None)
    # Nothing but this: the thing may be changed by somebody else meanwhile.
    type(thing)._default_manager.filter(pk=thing.pk).update(vetted=thing.vetted, vetted_by=by)
    return Vetted(vetted=thing.vetted, vetted_by=by.get_username() if by else None)


def _unvet_unshared(thing: Owned) -> None:
    if not Share.objects.filter(thing=thing.pk, team__isnull=False, through=None).exists():
        _vetted(thing, None)
