"""The API: typed, for the front end and for scripts. Names are the core's names."""

from django.core.exceptions import ObjectDoesNotExist, PermissionDenied
from django.http import HttpRequest, HttpResponse
from ninja import NinjaAPI

from frequens.core.reading.acceptable import MOST_FAULTS
from frequens.core.reading.document_values import InvalidDocument
from frequens.words import fill
from frequens.words.spoken import refusals as words

from .accounts.api import first_router, phone_router
from .accounts.api import router as account
from .accounts.members_api import invited_router, members_router
from .drill.api import router as drill
from .ingest.api import router as films
from .ingest.arriving_api import router as arriving
from .leaving.api import router as leaving
from .library.sessions import BeingSeenAgain, StillBlind
from .logbook.api import router as logbook
from .plans.api import behaviours_router, learners_router, plans_router
from .plans.calendar_api import router as calendar
from .plans.rehearsal_api import router as rehearsals
from .plans.today import router as today
from .reports.api import logbook_router as logbook_files
from .reports.api import session_router as reports
from .second_look.api import router as second_looks
from .second_look.api import session_router as seconds_of_sessions
from .second_look.looks import Refused
from .sessions.api import router as sessions
from .who_may import MayAuth, NotAllowed, named
from .yard.api import router as yard

api = NinjaAPI(
    title="Frequens",
    version="1",
    auth=MayAuth(),
    docs_url=None,
    openapi_url=None,
)
api.add_decorator(named, mode="view")
api.add_router("/first", first_router)
api.add_router("/phone", phone_router)
api.add_router("/me", account)
api.add_router("/me", leaving)
api.add_router("/members", members_router)
api.add_router("/invited", invited_router)
api.add_router("/films/arriving", arriving)
api.add_router("/films", films)
api.add_router("/sessions", sessions)
api.add_router("/learners", learners_router)
api.add_router("/behaviours", behaviours_router)
api.add_router("/behaviours", rehearsals)
api.add_router("/sessions", reports)
api.add_router("/plans", plans_router)
api.add_router("/logbook", logbook)
api.add_router("/logbook", logbook_files)
api.add_router("/today", today)
api.add_router("/calendar", calendar)
api.add_router("/yard", yard)
api.add_router("/second-looks", second_looks)
api.add_router("/drills", drill)
api.add_router("/sessions", seconds_of_sessions)


@api.exception_handler(InvalidDocument)
def refuse_invalid(request: HttpRequest, invalid: InvalidDocument) -> HttpResponse:
    """A document that cannot be right: every fault, one line each."""
    faults = list(invalid.faults)
    if len(faults) > MOST_FAULTS:
        faults = [
            *faults[:MOST_FAULTS],
            fill(words.FAULTS_MORE, {"more": len(faults) - MOST_FAULTS}),
        ]
    return api.create_response(request, {"faults": faults}, status=422)


@api.exception_handler(PermissionDenied)
def forbidden(request: HttpRequest, denied: PermissionDenied) -> HttpResponse:
    """Said here: Django's own page would read the body once more, whatever it is."""
    return api.create_response(request, {"detail": "Forbidden"}, status=403)


@api.exception_handler(NotAllowed)
def not_allowed(request: HttpRequest, refused: NotAllowed) -> HttpResponse:
    """Somebody's place in the workspace does not reach so far."""
    return _refusal_response(request, refused, 403)


def _refusal_response(request: HttpRequest, refusal: Exception, status: int) -> HttpResponse:
    said = str(refusal)
    return api.create_response(request, {"fault": said, "faults": [said]}, status=status)


@api.exception_handler(StillBlind)
def still_blind(request: HttpRequest, blind: StillBlind) -> HttpResponse:
    """Marks that are not to be seen until two have coded by themselves."""
    return _refusal_response(request, blind, 403)


@api.exception_handler(Refused)
@api.exception_handler(BeingSeenAgain)
def refused(request: HttpRequest, refusal: Exception) -> HttpResponse:
    """A second look does not allow it."""
    return _refusal_response(request, refusal, 409)


@api.exception_handler(ObjectDoesNotExist)
def gone(request: HttpRequest, missing: ObjectDoesNotExist) -> HttpResponse:
    """Something was removed while it was worked on."""
    return api.create_response(request, {"detail": "Not Found"}, status=404)
