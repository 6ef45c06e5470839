"""Signing in and out, with Django's own accounts and sessions."""

from typing import Annotated

from django.conf import settings
from django.contrib.auth import login, logout, password_validation, update_session_auth_hash
from django.contrib.auth.models import User
from django.core.exceptions import ValidationError
from django.http import HttpRequest, HttpResponse
from django.middleware.csrf import get_token
from django.views.decorators.csrf import ensure_csrf_cookie
from greylatch.errors import BadInput
from ninja import Field, Router, Schema
from ninja.decorators import decorate_view
from ninja.errors import HttpError
from ninja.utils import check_csrf

from people.access import makes, person
from people.sign_in import TooManyTries, checked, remember_browser

router = Router(tags=["people"])
Name = Annotated[str, Field(max_length=150)]
Password = Annotated[str, Field(max_length=1_000)]


class Credentials(Schema):
    """What is typed to sign in."""

    name: Name
    password: Password


class PasswordChange(Schema):
    """The password as it is and as it shall be."""

    old: Password
    new: Password


class Me(Schema):
    """Who is signed in; `name` is null for a visitor. `makes` says whether they make things of their own."""

    name: str | None
    makes: bool = True

    @classmethod
    def of(cls, user: User) -> "Me":
        """As the person who has signed in."""
        return cls(name=user.get_username(), makes=makes(user))


@router.get("/session", auth=None, response=Me, summary="Who is signed in")
@decorate_view(ensure_csrf_cookie)
def who(request: HttpRequest) -> Me:
    """Answers visitors too, and gives them the token that signing in wants."""
    if not request.user.is_authenticated:
        return Me(name=None)
    return Me.of(request.user)


@router.post("/session", auth=None, response=Me, summary="Sign in")
def sign_in(request: HttpRequest, response: HttpResponse, payload: Credentials) -> Me:
    """Starts a session. After ten wrong tries for a name or from an address, both rest for two minutes; a browser in which
    the person signed in before is held only by its own."""
    check_token(request)
    try:
        user = checked(request, payload.name, payload.password)
    except TooManyTries as error:
        raise _wait() from error
    if user is None:
        raise HttpError(403, "That name and password do not fit together.")
    login(request, user)
    get_token(request)
    remember_browser(request, response, user.get_username())
    return Me.of(user)


@router.delete("/session", response=Me, summary="Sign out")
def sign_out(request: HttpRequest) -> Me:
    """Ends the session."""
    logout(request)
    return Me(name=None)


@router.post("/password", response=Me, summary="Change my password")
def change_password(request: HttpRequest, payload: PasswordChange) -> Me:
    """All other sessions of the person end with it. Wrong tries count as they do for signing in."""
    user = person(request)
    try:
        known = checked(request, user.get_username(), payload.old)
    except TooManyTries as error:
        raise _wait() from error
    if known is None:
        raise BadInput("The password you have now is another one.")
    try:
        password_validation.validate_password(payload.new, known)
    except ValidationError as error:
        raise BadInput("The new password cannot be taken:", *error.messages) from error
    known.set_password(payload.new)
    known.save(update_fields=["password"])
    update_session_auth_hash(request, known)
    return Me.of(known)


def _wait() -> HttpError:
    minutes = settings.AXES_COOLOFF_TIME.total_seconds() / 60
    return HttpError(429, f"Too many wrong tries. Wait {minutes:g} minutes.")


def check_token(request: HttpRequest) -> None:
    """Signing in has no session yet, so its CSRF token is checked here rather than by the session guard."""
    if check_csrf(request):
        raise HttpError(403, "The sign-in page was open too long. Load it again.")
