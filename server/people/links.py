"""What is done by a link that was handed over: coming into a team, with an account or without, and choosing a new password."""

from typing import Annotated

from django.contrib.auth import login, password_validation
from django.contrib.auth.models import User
from django.contrib.auth.tokens import default_token_generator
from django.contrib.auth.validators import UnicodeUsernameValidator
from django.core.exceptions import ValidationError
from django.db import IntegrityError, transaction
from django.http import Http404, HttpRequest
from django.middleware.csrf import get_token
from greylatch.errors import BadInput
from ninja import Field, Router, Schema
from ninja.errors import HttpError

from people.api import Me, Name, Password, check_token
from people.models import Invitation, Member, Role, digest_of

router = Router(tags=["people"])
Token = Annotated[str, Field(max_length=200)]
RANK = (Role.READER, Role.MAKER, Role.KEEPER)


class InvitedTo(Schema):
    """What an invitation is to."""

    team: str
    role: Role
    made_by: str


class NewAccount(Schema):
    """A name and a password; both empty for somebody who has signed in."""

    name: Name = ""
    password: Password = ""


class NewPassword(Schema):
    """Whose password, by which link, and what it shall be."""

    person: int = Field(ge=1, lt=2**31)
    token: Token
    password: Password


@router.get("/invitations/{token}", auth=None, response=InvitedTo, summary="What an invitation is to")
def invited(request: HttpRequest, token: Token) -> InvitedTo:
    """Http404 for one that was taken, taken back, or is too old."""
    invitation = _invitation(token)
    return InvitedTo(team=invitation.team.name, role=Role(invitation.role), made_by=invitation.made_by.get_username())


@router.post("/invitations/{token}", auth=None, response=Me, summary="Take an invitation")
def take(request: HttpRequest, token: Token, payload: NewAccount) -> Me:
    """Into the team as the one who has signed in, or with a new account. It can be taken once."""
    check_token(request)
    with transaction.atomic():
        # Of two who take it at once, one waits here and finds it taken.
        Invitation.objects.select_for_update().filter(digest=digest_of(token)).first()
        invitation = _invitation(token)
        known = request.user if request.user.is_authenticated else None
        person = known or _new_account(payload)
        member, new = Member.objects.get_or_create(
            team=invitation.team, person=person, defaults={"role": invitation.role, "answered_for": known is None}
        )
        if not new:
            if RANK.index(Role(invitation.role)) <= RANK.index(Role(member.role)):
                raise BadInput(f"You are in {invitation.team.name} already.", "The link is good for somebody else.")
            member.role = invitation.role
            member.save(update_fields=["role"])
        invitation.delete()
    if known is None:
        login(request, person, "django.contrib.auth.backends.ModelBackend")
        get_token(request)
    return Me.of(person)


@router.post("/new-password", auth=None, response=Me, summary="Choose a new password by a keeper's link")
def choose(request: HttpRequest, payload: NewPassword) -> Me:
    """All sessions of the person end with it, and so does the link."""
    check_token(request)
    person = User.objects.filter(pk=payload.person, is_active=True).first()
    if person is None or not default_token_generator.check_token(person, payload.token):
        raise HttpError(404, "This link was used, or is too old. Ask for another one.")
    _check_password(payload.password, person)
    person.set_password(payload.password)
    person.save(update_fields=["password"])
    return Me.of(person)


def _invitation(token: str) -> Invitation:
    invitation = Invitation.of(token)
    if invitation is None:
        raise Http404("This invitation was taken, or is too old. Ask for another one.")
    return invitation


def _new_account(payload: NewAccount) -> User:
    name = payload.name.strip()
    try:
        UnicodeUsernameValidator()(name)
    except ValidationError as error:
        raise BadInput("A name is of letters, digits and @ . + - _ .") from error
    if User.objects.filter(username__iexact=name).exists():
        raise BadInput(f"Somebody is called '{name}' already.", "Choose another name, or sign in first if that is you.")
    person = User(username=name)
    _check_password(payload.password, person)
    person.set_password(payload.password)
    try:
        with transaction.atomic():
            person.save()
    except IntegrityError as error:
        raise BadInput(f"Somebody is called '{name}' already.", "Choose another name.") from error
    return person


def _check_password(password: str, person: User) -> None:
    try:
        password_validation.validate_password(password, person)
    except ValidationError as error:
        raise BadInput("That password cannot be taken:", *error.messages) from error
