"""Reports and tables over HTTP."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from typing import Any

from csp.constants import SELF
from csp.decorators import csp_replace, csp_update
from django.http import Http404, HttpRequest, HttpResponse
from django.views.decorators.clickjacking import xframe_options_sameorigin
from ninja import Router, Schema
from ninja.decorators import decorate_view

from ..downloads import as_download
from ..findings.store import measurement_of
from ..library.sessions import TrainingSession
from ..logbook.behaviour_logbook import logbook_of
from ..plans.models import Behaviour
from .content import Report, report_of
from .page import STYLE_HASH, write_page
from .pdf import write_pdf
from .pictures import candidates, usual_choice
from .tables import Table, logbook_tables, session_tables, write_csv

XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
session_router = Router()
logbook_router = Router()


class CandidateOut(Schema):
    """A mark whose frame the report may show."""

    mark: str
    caption: str
    film_id: str
    frame: int


class ChoiceOut(Schema):
    """What can be chosen for a report, and the marks it shows where nothing was chosen."""

    candidates: list[CandidateOut]
    usual: list[str]


@session_router.get(
    "/{uuid:session_id}/report/pictures", response=ChoiceOut, operation_id="report_pictures"
)
def report_pictures(request: HttpRequest, session_id: uuid.UUID) -> ChoiceOut:
    session, findings = _session_findings(request, session_id)
    return ChoiceOut(
        candidates=[CandidateOut(**vars(c)) for c in candidates(session, findings)],
        usual=usual_choice(findings),
    )


@session_router.get("/{uuid:session_id}/report.pdf", operation_id="report_pdf")
def report_pdf(request: HttpRequest, session_id: uuid.UUID) -> HttpResponse:
    """The two-page report."""
    session, report = _report(request, session_id)
    return _file(write_pdf(report), "application/pdf", f"{session}.pdf")


@session_router.get("/{uuid:session_id}/report.html", operation_id="report_page")
# The page brings its own style, and is shown inside the report's screen.
@decorate_view(
    csp_update({"style-src": [STYLE_HASH]}),
    csp_replace({"frame-ancestors": [SELF]}),
    xframe_options_sameorigin,
)
def report_page(request: HttpRequest, session_id: uuid.UUID, download: bool = False) -> Any:
    """The same report as one page that needs nothing beside it."""
    session, report = _report(request, session_id)
    page = write_page(report)
    if download:
        return _file(page, "text/html; charset=utf-8", f"{session}.html")
    return HttpResponse(page)


@session_router.get("/{uuid:session_id}/tables.xlsx", operation_id="session_tables")
def session_xlsx(request: HttpRequest, session_id: uuid.UUID) -> HttpResponse:
    """All tables of the findings as one workbook."""
    session, findings = _session_findings(request, session_id)
    return _workbook(session_tables(findings), f"{session}.xlsx")


@session_router.get("/{uuid:session_id}/tables/{name}.csv", operation_id="session_table")
def session_csv(request: HttpRequest, session_id: uuid.UUID, name: str) -> HttpResponse:
    """One table of the findings."""
    session, findings = _session_findings(request, session_id)
    table = _named(session_tables(findings), name)
    return _file(write_csv(table), "text/csv; charset=utf-8", f"{session} {name}.csv")


@logbook_router.get("/{uuid:behaviour_id}/tables.xlsx", operation_id="logbook_tables")
def logbook_xlsx(request: HttpRequest, behaviour_id: uuid.UUID) -> HttpResponse:
    """All tables of a logbook as one workbook."""
    behaviour: Behaviour = Behaviour.objects.get_or_404(request, behaviour_id)
    return _workbook(logbook_tables(logbook_of(behaviour)), f"{behaviour} logbook.xlsx")


@logbook_router.get("/{uuid:behaviour_id}/{name}.csv", operation_id="logbook_table")
def logbook_csv(request: HttpRequest, behaviour_id: uuid.UUID, name: str) -> HttpResponse:
    """One table of a logbook."""
    behaviour: Behaviour = Behaviour.objects.get_or_404(request, behaviour_id)
    table = _named(logbook_tables(logbook_of(behaviour)), name)
    return _file(write_csv(table), "text/csv; charset=utf-8", f"{behaviour} {name}.csv")


def _session_findings(request: HttpRequest, session_id: uuid.UUID) -> tuple[TrainingSession, Any]:
    session: TrainingSession = TrainingSession.objects.get_or_404(request, session_id)
    findings = measurement_of(session, keep=True).findings
    if findings is None:
        raise Http404
    return session, findings


def _report(request: HttpRequest, session_id: uuid.UUID) -> tuple[TrainingSession, Report]:
    session: TrainingSession = TrainingSession.objects.get_or_404(request, session_id)
    report = report_of(session)
    if report is None:
        raise Http404
    return session, report


def _named(tables: list[Table], name: str) -> Table:
    found = next((table for table in tables if table.name == name), None)
    if found is None:
        raise Http404
    return found


def _workbook(tables: Sequence[Table], name: str) -> HttpResponse:
    # Takes longer to import than to use; a start does without it.
    from .workbook import write_xlsx

    return _file(write_xlsx(tables), XLSX, name)


def _file(body: str | bytes, media_type: str, name: str) -> HttpResponse:
    return as_download(HttpResponse(body, content_type=media_type), name)
