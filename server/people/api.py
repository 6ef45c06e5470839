"""Signing in and out, with Django's own accounts and sessions."""

from django.contrib.auth import authenticate, login, logout
from django.core.cache import cache
from django.http import HttpRequest
from django.middleware.csrf import get_token
from django.views.decorators.csrf import ensure_csrf_cookie
from ninja import Router, Schema
from ninja.decorators import decorate_view
from ninja.errors import HttpError
from ninja.utils import check_csrf

router = Router(tags=["people"])
TRIES, MINUTES = 10, 5


class Credentials(Schema):
    """What is typed to sign in."""

    name: str
    password: str


class Me(Schema):
    """Who is signed in; `name` is null for a visitor."""

    name: str | None


@router.get("/session", auth=None, response=Me, summary="Who is signed in")
@decorate_view(ensure_csrf_cookie)
def who(request: HttpRequest):
    """Answers visitors too, and gives them the token that signing in wants."""
    return Me(name=request.user.get_username() if request.user.is_authenticated else None)


@router.post("/session", auth=None, response=Me, summary="Sign in")
def sign_in(request: HttpRequest, given: Credentials):
    """Starts a session. After ten wrong tries for a name it rests for five minutes."""
    _check_token(request)
    key = f"tries:{given.name.casefold()[:100]}:{request.META.get('REMOTE_ADDR')}"
    tries = cache.get(key, 0)
    if tries >= TRIES:
        raise HttpError(429, f"Too many wrong tries. Wait {MINUTES} minutes.")
    user = authenticate(request, username=given.name, password=given.password)
    if user is None:
        cache.set(key, tries + 1, MINUTES * 60)
        raise HttpError(403, "That name and password do not fit together.")
    cache.delete(key)
    login(request, user)
    get_token(request)
    return Me(name=user.get_username())


@router.delete("/session", response=Me, summary="Sign out")
def sign_out(request: HttpRequest):
    """Ends the session."""
    logout(request)
    return Me(name=None)


def _check_token(request: HttpRequest) -> None:
    """Signing in has no session yet, so its CSRF token is checked here rather than by the session guard."""
    if check_csrf(request):
        raise HttpError(403, "The sign-in page was open too long. Load it again.")
