"""Limits on guessing passwords, for django-axes: by name, by address, and so that nobody can lock another out.

A browser in which somebody signed in before carries a signed cookie. What strangers get wrong does not count against it, as
OWASP's "device cookies" have it; only its own mistakes do.
"""

import hashlib
import ipaddress
import secrets
from collections.abc import Mapping
from typing import Any

from axes.handlers.proxy import AxesProxyHandler
from django.conf import settings
from django.contrib.auth import authenticate
from django.contrib.auth.models import User
from django.core import signing
from django.db import OperationalError, connection, transaction
from django.http import HttpRequest, HttpResponse
from greylatch.errors import GreyLatchError

COOKIE = "known"
SALT = "people.known-browser"
YEAR = 365 * 24 * 3600
WAIT = "3s"


class TooManyTries(GreyLatchError):
    """Guessing has to wait."""


def client_address(request: HttpRequest) -> str | None:
    """The address that the request comes from: the one that the outermost trusted proxy saw. Headers that anybody can write
    are believed only as far as settings say that there are proxies."""
    seen = [request.META.get("REMOTE_ADDR", "")]
    forwarded = request.META.get("HTTP_X_FORWARDED_FOR", "")
    if settings.TRUSTED_PROXIES and forwarded:
        seen = [*forwarded.split(","), *seen][-(settings.TRUSTED_PROXIES + 1) :]
    try:
        return str(ipaddress.ip_address(seen[0].strip()))
    except ValueError:
        return None


def counted_name(request: HttpRequest, credentials: Mapping[str, Any] | None) -> str:
    """The name under which tries are counted."""
    return str((credentials or {}).get("username", "")).casefold()[:150]


def limits(request: Any, credentials: Mapping[str, Any] | None = None) -> list[str | list[str]]:
    """What tries are counted by: in a known browser by name there, elsewhere by the name and by the address."""
    if getattr(request, "known_browser", None):
        return [["username", "user_agent"]]
    return ["username", "ip_address"]


def known_browser(request: HttpRequest, name: str) -> str | None:
    """The mark of a browser in which `name` signed in before; None for any other."""
    try:
        mark, names = signing.loads(request.COOKIES.get(COOKIE, ""), salt=SALT, max_age=YEAR)
    except (signing.BadSignature, ValueError):
        return None
    return str(mark) if name.casefold() in names else None


def remember_browser(request: HttpRequest, answer: HttpResponse, name: str) -> None:
    """Mark the browser as one in which `name` signed in."""
    try:
        mark, names = signing.loads(request.COOKIES.get(COOKIE, ""), salt=SALT, max_age=YEAR)
    except (signing.BadSignature, ValueError):
        mark, names = secrets.token_urlsafe(12), []
    names = [name.casefold(), *(other for other in names if other != name.casefold())][:10]
    answer.set_cookie(
        COOKIE, signing.dumps([mark, names], salt=SALT), max_age=YEAR, httponly=True, samesite="Lax",
        secure=settings.SESSION_COOKIE_SECURE,
    )  # fmt: skip


def checked(request: HttpRequest, name: str, password: str) -> User | None:
    """The person of that name, where the password is theirs; None otherwise. Raises TooManyTries.

    Tries for one name, and from one address, are checked one after the other, so that no number of parallel ones gets past
    the limit.
    """
    mark = known_browser(request, name)
    if mark:
        # Counted apart from everybody else's tries: nobody else can present this mark.
        request.known_browser = mark  # type: ignore[attr-defined]
        request.META["HTTP_USER_AGENT"] = f"known browser {mark}"
    credentials = {"username": name, "password": password}
    if not AxesProxyHandler.is_allowed(request, credentials):
        raise TooManyTries
    places = [mark] if mark else [f"name {name.casefold()}", f"address {client_address(request)}"]
    try:
        with transaction.atomic(), connection.cursor() as cursor:
            cursor.execute("SELECT set_config('lock_timeout', %s, true)", [WAIT])
            for place in sorted(places):
                number = int.from_bytes(hashlib.sha256(place.encode()).digest()[:8], "big", signed=True)
                cursor.execute("SELECT pg_advisory_xact_lock(%s)", [number])
            user = authenticate(request, **credentials)
    except OperationalError as error:
        if getattr(error.__cause__, "sqlstate", None) == "55P03":  # lock_not_available
            raise TooManyTries from error
        raise
    if user is None and getattr(request, "axes_locked_out", False):
        raise TooManyTries
    return user
