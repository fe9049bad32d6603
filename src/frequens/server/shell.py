"""The one page of the front end; its own router shows the screen the address names."""

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import ensure_csrf_cookie
from django.views.decorators.http import require_safe

from frequens.words.spoken import refusals as words


@require_safe
@never_cache
@ensure_csrf_cookie
def app_shell(request: HttpRequest) -> HttpResponse:
    """The built page, with the CSRF cookie its requests need."""
    try:
        page = (settings.WEB_DIST / "index.html").read_text(encoding="utf-8")
    except FileNotFoundError:
        return HttpResponse(
            words.NOT_BUILT,
            status=503,
            content_type="text/plain",
        )
    return HttpResponse(page)
