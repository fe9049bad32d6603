"""Where requests go: the API, accounts, and the application's page for everything else."""

from django.urls import include, path, re_path

from .api import api
from .health import health
from .lan_install import authority
from .plans.calendar_feed import feed
from .shell import app_shell

urlpatterns = [
    path("api/", api.urls),
    path("health", health),
    path("lan/certificate.crt", authority),
    path("calendar/<str:secret>.ics", feed),
    path("_allauth/", include("allauth.headless.urls")),
    re_path(r"^(?!api/|_allauth/|assets/).*$", app_shell),
]

handler500 = "frequens.server.trouble.failed"
