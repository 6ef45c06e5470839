"""Addresses: the API, published editions, and the interface for everything else."""

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.urls import path, re_path
from django.views.decorators.csrf import ensure_csrf_cookie
from django.views.decorators.http import require_safe
from editions import views as editions
from sheets.sources import allowed_pictures

from config.api import api


@require_safe
@ensure_csrf_cookie
def interface(request: HttpRequest, **_: str) -> HttpResponse:
    """The built page of the editor; it asks for the session itself."""
    built = settings.WEB_DIST / "index.html"
    if not built.exists():
        return HttpResponse("The interface is not built yet: run bin/start.", status=503)
    answer = HttpResponse(built.read_text("utf-8"), headers={"Cache-Control": "no-cache"})
    if request.user.is_authenticated:
        # A maker sees in the live card what readers will see: pictures of those whom they allowed in a sheet of theirs.
        allowed = allowed_pictures(request.user)
        answer._csp_update = {"img-src": allowed}  # type: ignore[attr-defined]
    return answer


handler500 = "config.away.failed"

urlpatterns = [
    path("api/", api.urls),
    path("e/<slug:slug>/", editions.page),
    path("e/<slug:slug>/<int:number>/", editions.page),
    path("e/<slug:slug>/edition.json", editions.description),
    path("e/<slug:slug>/<int:number>/edition.json", editions.description),
    path("e/<slug:slug>/<int:number>/card", editions.card),
    path("e/<slug:slug>/<int:number>/features", editions.features),
    path("e/<slug:slug>/<int:number>/<slug:archive>/<int:z>/<int:x>/<int:y>.<slug:ending>", editions.tile),
    path("e/<slug:slug>/<int:number>/<slug:archive>/<int:z>/<int:x>/<int:y>@2x.<slug:ending>", editions.tile),
    re_path(
        r"^e/(?P<slug>[-\w]+)/(?P<number>[0-9]{1,18})/(?P<name>style|map|below|labels|(?:shapes|pictures)-[-\w]+)\.json$",
        editions.addressed,
    ),
    path("e/<slug:slug>/<int:number>/index.html", editions.page),
    path("e/<slug:slug>/<int:number>/<path:name>", editions.file),
    path("glyphs/<str:stack>/<int:first>-<int:last>.pbf", editions.glyphs),
    re_path(
        r"^(?:sheets/[0-9a-f-]+(?:/[a-z]+)?|about-api|people|invited/[-\w]+|new-password/[0-9]+/[-\w]+)?/?$", interface
    ),
]
