"""Icons of one's own: sent as SVG or PNG, cleaned, and kept with whose they are."""

from base64 import b64encode
from collections.abc import Sequence
from uuid import UUID

from django.http import HttpRequest
from greylatch.errors import BadInput
from greylatch.sheet.parts import Icon
from greylatch.symbols.icons import LARGEST, icon_from, icon_png, is_plain
from ninja import File, Form, Router
from ninja.files import UploadedFile
from people.access import Standing, allowed, allowed_one, maker, person, standings

from library.models import KeptIcon

router = Router(tags=["library"])
MOST = 500
"""Icons that a person may keep."""


class IconOut(Standing):
    """An icon of the library: what a sheet takes of it, and its pixels as a PNG in base64."""

    id: UUID
    icon: Icon
    picture: str


@router.get("/icons", response=list[IconOut], summary="My icons")
def icons(request: HttpRequest) -> list[IconOut]:
    """The newest first."""
    return _out(request, list(allowed(person(request), "see", KeptIcon).select_related("owner")))


@router.post("/icons", response=IconOut, summary="Send an icon")
def send_icon(request: HttpRequest, file: File[UploadedFile], credit: str = Form("", max_length=500)) -> IconOut:
    """An SVG or a PNG. What is in it beside shapes and their paints is thrown away."""
    owner = maker(request)
    if KeptIcon.objects.filter(owner=owner).count() >= MOST:
        raise BadInput(f"You keep {MOST} icons already.", "Remove some first.")
    if (file.size or 0) > LARGEST:
        raise BadInput(f"An icon is at most {LARGEST // 1000} kB.", "Make it simpler or smaller.")
    name = (file.name or "icon").rsplit(".", 1)[0]
    icon = icon_from(file.read(), name, credit)
    return _out(request, [KeptIcon.objects.create(owner=owner, **icon.model_dump(exclude={"stencil"}))])[0]


@router.delete("/icons/{icon_id}", response={204: None}, summary="Remove an icon")
def remove_icon(request: HttpRequest, icon_id: UUID) -> tuple[int, None]:
    """Sheets that show it have it themselves and go on as they are."""
    allowed_one(person(request), "remove", KeptIcon, pk=icon_id).delete()
    return 204, None


def _out(request: HttpRequest, icons: Sequence[KeptIcon]) -> list[IconOut]:
    standing = standings(person(request), icons)
    out = []
    for kept in icons:
        icon = Icon(
            kind=kept.kind,
            content=kept.content,
            name=kept.name,
            credit=kept.credit,
            stencil=is_plain(kept.kind, kept.content),
        )
        out.append(IconOut(id=kept.pk, icon=icon, picture=b64encode(icon_png(icon)).decode(), **standing[kept.pk]))
    return out
