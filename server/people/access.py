"""Who may do what: the one place that says so. Every list and every address of the API asks here.

| verb   | who may                                                                                      |
|--------|----------------------------------------------------------------------------------------------|
| see    | the owner; people with whom it is shared, by themselves or as a member of a team              |
| change | the owner; of those, a person or a team's makers and keepers where it was shared to be changed |
| remove | the owner                                                                                    |
| share  | the owner                                                                                    |
| vet    | keepers of a team with which it is shared                                                    |

Members see a team, its keepers do the rest. What a person may not see is not there for them (404); what they see and may not change is refused (403). Jobs and uploads are
their owner's alone. Who is in teams as a reader only makes nothing.
"""

from collections.abc import Sequence
from typing import Any, Literal, TypeVar, get_args

from django.contrib.auth.models import User
from django.core.exceptions import ObjectDoesNotExist, ValidationError
from django.db.models import Model, Q, QuerySet
from django.http import Http404, HttpRequest
from ninja import Schema
from ninja.errors import HttpError

from people.models import Member, Owned, Role, Share, Team

M = TypeVar("M", bound=Model)
Verb = Literal["see", "change", "remove", "share", "vet"]
VERBS: tuple[Verb, ...] = get_args(Verb)
MAKING = (Role.MAKER, Role.KEEPER)
REFUSED = {
    "change": "You may look at this, not change it.",
    "remove": "Only its owner can remove this.",
    "share": "Only its owner says who sees this.",
    "vet": "Only a keeper of a team with which it is shared can vet this.",
}


def allowed(person: User, verb: Verb, things: type[M] | QuerySet[M]) -> QuerySet[M]:
    """Those of `things` of which `person` may do `verb`."""
    query = things if isinstance(things, QuerySet) else things._default_manager.all()
    if issubclass(query.model, Team):
        within = Q(members__person=person) if verb == "see" else Q(members__person=person, members__role=Role.KEEPER)
        return query.filter(within)
    own = Q(owner=person)
    if not issubclass(query.model, Owned) or verb in ("remove", "share"):
        return query.filter(own)
    shared = Q(pk__in=_shares(person, verb).values("thing"))
    return query.filter(shared if verb == "vet" else own | shared)


def may(person: User, verb: Verb, thing: Model) -> bool:
    """Whether `person` may do `verb` with `thing`."""
    return allowed(person, verb, type(thing)).filter(pk=thing.pk).exists()


def rights(person: User, thing: Model) -> list[Verb]:
    """All that `person` may do with `thing`."""
    return rights_of(person, [thing])[thing.pk]


def rights_of(person: User, things: Sequence[Model]) -> dict[Any, list[Verb]]:
    """All that `person` may do with each of some things of one kind, by their keys."""
    out: dict[Any, list[Verb]] = {thing.pk: [] for thing in things}
    for verb in VERBS if things else ():
        for pk in allowed(person, verb, type(things[0])).filter(pk__in=list(out)).values_list("pk", flat=True):
            out[pk].append(verb)
    return out


class Standing(Schema):
    """Whose a thing is, and what the one who asks may do with it."""

    owner: str
    may: list[Verb]


def standings(person: User, things: Sequence[Owned]) -> dict[Any, dict[str, Any]]:
    """How `person` stands to some things of one kind, by their keys, as the fields of `Standing`."""
    may = rights_of(person, things)
    return {thing.pk: {"owner": thing.owner.get_username(), "may": may[thing.pk]} for thing in things}


def allowed_one(person: User, verb: Verb, things: type[M] | QuerySet[M], **which: Any) -> M:
    """The one of `things` that fits, to do `verb`; Http404 where `person` sees none, HttpError 403 where they only see it."""
    try:
        thing = allowed(person, "see", things).get(**which)
    except (ObjectDoesNotExist, ValidationError) as error:
        raise Http404 from error
    if verb != "see" and not may(person, verb, thing):
        raise HttpError(403, "Only its keepers do that." if isinstance(thing, Team) else REFUSED[verb])
    return thing


def makes(person: User) -> bool:
    """Whether `person` may make things of their own: all but those who are in teams as readers only."""
    roles = set(Member.objects.filter(person=person).values_list("role", flat=True))
    return not roles or bool(roles & {role.value for role in MAKING})


def person(request: HttpRequest) -> User:
    """The signed-in person; the API's guard has made sure that there is one."""
    user = request.user
    assert user.is_authenticated
    return user


def maker(request: HttpRequest) -> User:
    """The signed-in person, who makes something new. Raises HttpError 403 for one who only reads."""
    user = person(request)
    if not makes(user):
        raise HttpError(403, "Readers look at what others make. A keeper of your team can make you a maker.")
    return user


def _shares(person: User, verb: Verb) -> QuerySet[Share]:
    if verb == "see":
        return Share.objects.filter(Q(person=person) | Q(team__members__person=person))
    if verb == "vet":
        keeping = Q(team__members__person=person, team__members__role=Role.KEEPER)
        return Share.objects.filter(keeping, through__isnull=True)
    making = Q(team__members__person=person, team__members__role__in=MAKING)
    return Share.objects.filter(Q(person=person) | making, may_change=True)
