"""Teams: who is in them, in which role, and how people come into them."""

from datetime import datetime
from uuid import UUID

from django.conf import settings
from django.contrib.auth.models import User
from django.contrib.auth.tokens import default_token_generator
from django.db import transaction
from django.http import Http404, HttpRequest
from django.utils import timezone
from greylatch.errors import BadInput
from ninja import Router, Schema
from ninja.errors import HttpError
from pydantic import Field

from people.access import allowed, allowed_one, maker, person
from people.models import Invitation, Member, Role, Team

router = Router(tags=["people"])


class TeamIn(Schema):
    """What a team is called."""

    name: str = Field(min_length=1, max_length=80, pattern=r"\S")


class RoleIn(Schema):
    """What somebody does in a team."""

    role: Role


class MemberOut(Schema):
    """Somebody in a team; `resettable` says whether its keepers may reset the password."""

    id: UUID
    name: str
    role: Role
    resettable: bool


class InvitationOut(Schema):
    """An invitation that nobody has taken yet."""

    id: UUID
    role: Role
    made_by: str
    ends: datetime


class TeamOut(Schema):
    """A team as one of its members sees it; only keepers see invitations."""

    id: UUID
    name: str
    role: Role
    members: list[MemberOut]
    invitations: list[InvitationOut]


class Link(Schema):
    """An address to hand over; it is told this once."""

    address: str


@router.get("/teams", response=list[TeamOut], summary="My teams")
def teams(request: HttpRequest) -> list[TeamOut]:
    """By name."""
    who = person(request)
    return [_out(team, who) for team in allowed(who, "see", Team)]


@router.post("/teams", response=TeamOut, summary="Begin a team")
def begin(request: HttpRequest, payload: TeamIn) -> TeamOut:
    """Who begins a team is its keeper."""
    who = maker(request)
    with transaction.atomic():
        team = Team.objects.create(name=payload.name.strip())
        Member.objects.create(team=team, person=who, role=Role.KEEPER)
    return _out(team, who)


@router.patch("/teams/{team_id}", response=TeamOut, summary="Rename a team")
def rename(request: HttpRequest, team_id: UUID, payload: TeamIn) -> TeamOut:
    """By a keeper."""
    team = allowed_one(person(request), "change", Team, pk=team_id)
    team.name = payload.name.strip()
    team.save(update_fields=["name"])
    return _out(team, person(request))


@router.delete("/teams/{team_id}", summary="End a team")
def end(request: HttpRequest, team_id: UUID) -> dict[str, str]:
    """By a keeper. What was shared with it is its owners' alone again."""
    allowed_one(person(request), "remove", Team, pk=team_id).delete()
    return {}


@router.patch("/teams/{team_id}/members/{member_id}", response=TeamOut, summary="Give somebody another role")
def give_role(request: HttpRequest, team_id: UUID, member_id: UUID, payload: RoleIn) -> TeamOut:
    """By a keeper; a team keeps at least one."""
    team = allowed_one(person(request), "change", Team, pk=team_id)
    with transaction.atomic():
        # Of two keepers who step down at once, one waits here and finds that none would be left.
        Team.objects.select_for_update().get(pk=team.pk)
        member = _member(team, member_id)
        member.role = payload.role
        member.save(update_fields=["role"])
        _keep_a_keeper(team)
    return _out(team, person(request))


@router.delete("/teams/{team_id}/members/{member_id}", summary="Take somebody out of a team")
def take_out(request: HttpRequest, team_id: UUID, member_id: UUID) -> dict[str, str]:
    """By a keeper, or by the one who leaves. Their own things stay theirs."""
    team = allowed_one(person(request), "see", Team, pk=team_id)
    with transaction.atomic():
        # Of two keepers who step down at once, one waits here and finds that none would be left.
        Team.objects.select_for_update().get(pk=team.pk)
        member = _member(team, member_id)
        if member.person != person(request):
            allowed_one(person(request), "change", Team, pk=team_id)
        member.delete()
        _keep_a_keeper(team)
    return {}


@router.post("/teams/{team_id}/invitations", response=Link, summary="Invite somebody")
def invite(request: HttpRequest, team_id: UUID, payload: RoleIn) -> Link:
    """A link for one person, good for two weeks."""
    team = allowed_one(person(request), "change", Team, pk=team_id)
    _, token = Invitation.write(team, payload.role, person(request))
    return Link(address=f"{settings.PUBLIC_ADDRESS}/invited/{token}")


@router.delete("/teams/{team_id}/invitations/{invitation_id}", summary="Take an invitation back")
def uninvite(request: HttpRequest, team_id: UUID, invitation_id: UUID) -> dict[str, str]:
    """Its link leads nowhere from now on."""
    allowed_one(person(request), "change", Team, pk=team_id).invitations.filter(pk=invitation_id).delete()
    return {}


@router.post("/teams/{team_id}/members/{member_id}/reset", response=Link, summary="Let somebody choose a new password")
def reset(request: HttpRequest, team_id: UUID, member_id: UUID) -> Link:
    """A link for one who has forgotten it, good for a day and until the password is changed. Only for accounts that were made by an
    invitation of this team: others its keepers do not answer for."""
    team = allowed_one(person(request), "change", Team, pk=team_id)
    member = _member(team, member_id)
    if not member.answered_for:
        raise HttpError(
            403, f"The account of {member.person.get_username()} was not made by an invitation of this team."
        )
    token = default_token_generator.make_token(member.person)
    return Link(address=f"{settings.PUBLIC_ADDRESS}/new-password/{member.person.pk}/{token}")


def _member(team: Team, pk: UUID) -> Member:
    member = team.members.select_related("person").filter(pk=pk).first()
    if member is None:
        raise Http404
    return member


def _keep_a_keeper(team: Team) -> None:
    roles = list(team.members.values_list("role", flat=True))
    if roles and Role.KEEPER not in roles:
        raise BadInput("A team keeps at least one keeper.", "Make somebody else a keeper first, or end the team.")


def _out(team: Team, who: User) -> TeamOut:
    members = list(team.members.select_related("person"))
    role = Role(next(member.role for member in members if member.person_id == who.pk))
    waiting = team.invitations.filter(ends__gt=timezone.now()).select_related("made_by") if role == Role.KEEPER else ()
    return TeamOut(
        id=team.pk, name=team.name, role=role,
        members=[
            MemberOut(
                id=member.pk, name=member.person.get_username(), role=Role(member.role), resettable=member.answered_for
            )
            for member in members
        ],
        invitations=[
            InvitationOut(id=each.pk, role=Role(each.role), made_by=each.made_by.get_username(), ends=each.ends)
            for each in waiting
        ],
    )  # fmt: skip
