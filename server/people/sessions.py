"""Where a person is signed in, and signing out there."""

from collections.abc import Callable
from datetime import datetime

from django.http import Http404, HttpRequest, HttpResponseBase
from django.utils import timezone
from ninja import Router, Schema
from qsessions.models import Session

from people.access import person
from people.models import digest_of
from people.sign_in import client_address

router = Router(tags=["people"])


def addressed(get_response: Callable[[HttpRequest], HttpResponseBase]) -> Callable[[HttpRequest], HttpResponseBase]:
    """A middleware after that of sessions: a session says from where it is used, as the outermost trusted proxy saw it."""

    def middleware(request: HttpRequest) -> HttpResponseBase:
        request.session.ip = client_address(request)  # type: ignore[attr-defined]
        return get_response(request)

    return middleware


class SessionOut(Schema):
    """A browser in which the person is signed in."""

    id: str
    browser: str
    address: str
    began: datetime | None
    seen: datetime
    this: bool


@router.get("/sessions", response=list[SessionOut], summary="Where I am signed in")
def sessions(request: HttpRequest) -> list[SessionOut]:
    """The one last used first."""
    own = Session.objects.filter(user=person(request), expire_date__gt=timezone.now()).order_by("-updated_at")
    return [
        # The key opens the session: what is told of it is a digest.
        SessionOut(
            id=digest_of(each.session_key), browser=_browser(each), address=each.ip or "", began=each.created_at,
            seen=each.updated_at, this=each.session_key == request.session.session_key,
        )
        for each in own
    ]  # fmt: skip


@router.delete("/sessions/{session_id}", response=list[SessionOut], summary="Sign out elsewhere")
def end(request: HttpRequest, session_id: str) -> list[SessionOut]:
    """Ends one session of one's own."""
    for each in Session.objects.filter(user=person(request)):
        if digest_of(each.session_key) == session_id:
            each.delete()
            return sessions(request)
    raise Http404


def _browser(session: Session) -> str:
    device = session.device_info
    names = [part.family for part in (device and device.user_agent, device and device.os) if part]
    return " on ".join(names) or "Unknown browser"
