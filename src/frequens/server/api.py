"""The API: typed, for the front end and for scripts. Names are the core's names."""

from django.core.exceptions import ObjectDoesNotExist, PermissionDenied
from django.http import HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.security import django_auth

from frequens.core.reading.acceptable import MOST_FAULTS
from frequens.core.reading.document_values import InvalidDocument

from .accounts.api import first_router, phone_router
from .accounts.api import router as account
from .ingest.api import router as films
from .ingest.arriving_api import router as arriving
from .leaving.api import router as leaving
from .logbook.api import router as logbook
from .plans.api import behaviours_router, learners_router, plans_router
from .plans.calendar_api import router as calendar
from .plans.today import router as today
from .reports.api import logbook_router as logbook_files
from .reports.api import session_router as reports
from .sessions.api import router as sessions
from .yard.api import router as yard

api = NinjaAPI(
    title="Frequens",
    version="1",
    auth=django_auth,
    docs_url=None,
    openapi_url=None,
)
api.add_router("/first", first_router)
api.add_router("/phone", phone_router)
api.add_router("/me", account)
api.add_router("/me", leaving)
api.add_router("/films/arriving", arriving)
api.add_router("/films", films)
api.add_router("/sessions", sessions)
api.add_router("/learners", learners_router)
api.add_router("/behaviours", behaviours_router)
api.add_router("/sessions", reports)
api.add_router("/plans", plans_router)
api.add_router("/logbook", logbook)
api.add_router("/logbook", logbook_files)
api.add_router("/today", today)
api.add_router("/calendar", calendar)
api.add_router("/yard", yard)


@api.exception_handler(InvalidDocument)
def refuse_invalid(request: HttpRequest, invalid: InvalidDocument) -> HttpResponse:
    """A document that cannot be right: every fault, one line each."""
    faults = list(invalid.faults)
    if len(faults) > MOST_FAULTS:
        faults = [*faults[:MOST_FAULTS], f"and {len(faults) - MOST_FAULTS} faults more"]
    return api.create_response(request, {"faults": faults}, status=422)


@api.exception_handler(PermissionDenied)
def forbidden(request: HttpRequest, denied: PermissionDenied) -> HttpResponse:
    """Said here: Django's own page would read the body once more, whatever it is."""
    return api.create_response(request, {"detail": "Forbidden"}, status=403)


@api.exception_handler(ObjectDoesNotExist)
def gone(request: HttpRequest, missing: ObjectDoesNotExist) -> HttpResponse:
    """Something was removed while it was worked on."""
    return api.create_response(request, {"detail": "Not Found"}, status=404)
