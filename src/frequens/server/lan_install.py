"""The authority's certificate, for a phone to install."""

from __future__ import annotations

from django.conf import settings
from django.http import FileResponse, Http404, HttpRequest
from django.http.response import HttpResponseBase
from django.views.decorators.http import require_safe


@require_safe
def authority(request: HttpRequest) -> HttpResponseBase:
    """The certificate of this installation's own authority; 404 where it has none."""
    path = settings.LAN_FOLDER / "authority.crt"
    if not settings.LAN_URL or not path.exists():
        raise Http404
    return FileResponse(
        path.open("rb"), content_type="application/x-x509-ca-cert", filename="frequens.crt"
    )
