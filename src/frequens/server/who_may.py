"""Who may do what: every operation of the API by its name, and the roles that may ask for it.

An operation that stands in no line may be asked for by nobody.
"""

from __future__ import annotations

from collections.abc import Mapping
from functools import wraps
from inspect import unwrap
from typing import Any

from django.http import HttpRequest
from ninja.security import SessionAuth

from frequens.words.spoken import refusals as words

from .accounts.models import Membership, Role

EVERYBODY = frozenset(Role)
CODING = frozenset({Role.OWNER, Role.TRAINER, Role.REVIEWER})
TRAINING = frozenset({Role.OWNER, Role.TRAINER})
OWNING = frozenset({Role.OWNER})

_LINES: tuple[tuple[frozenset[Role], tuple[str, ...]], ...] = (
    # Oneself, and reports.
    (EVERYBODY, ("me", "set_preferences", "remove_account", "phone", "make_phone_code")),
    (EVERYBODY, ("sessions", "report_pictures", "report_pdf", "report_page")),
    # Looking at everything.
    (CODING, ("workspace", "members", "arriving_films", "films", "film", "frames", "frame_runs")),
    (CODING, ("still", "poster", "review_copy", "pieces", "piece", "sound", "fine_sound")),
    (CODING, ("clicks", "words", "original", "session", "edits", "findings", "judgement")),
    (CODING, ("export", "learners", "behaviours", "behaviour", "plan_versions", "plan_version")),
    (CODING, ("export_plan", "session_tables", "session_table", "next_session")),
    (CODING, ("next_session_calendar", "next_script", "followed_script", "starters", "limits")),
    (CODING, ("judging", "read_plan", "calculate", "logbook", "logbook_tables", "logbook_table")),
    (CODING, ("today", "calendar", "behaviour_calendar", "yard_kits", "rehearsal", "rehearse")),
    # Coding.
    (CODING, ("append_edits", "second_looks", "second_look", "compare_second_look")),
    (CODING, ("say_second_look_done", "settle_second_look", "give_up_second_look")),
    (CODING, ("drills", "drill_sessions", "begin_drill", "drill", "finish_drill")),
    (CODING, ("leave_out_drill", "hear_drill")),
    # Training, and what belongs to it.
    (TRAINING, ("upload", "simulate", "remove_film", "join_film", "cancel_film", "resume_film")),
    (TRAINING, ("set_slowed", "drop_copy", "abilities", "begin_film", "how_far", "next_piece")),
    (TRAINING, ("give_up_film", "import_session", "remove_session", "import_marks")),
    (TRAINING, ("add_learner", "change_learner", "remove_learner", "add_behaviour")),
    (TRAINING, ("remove_behaviour", "keep_plan", "filmed_for", "put_step_between")),
    (TRAINING, ("enter_by_hand", "change_by_hand", "tag_session", "lead_session")),
    (TRAINING, ("make_calendar_address", "revoke_calendar_address", "archive")),
    (TRAINING, ("ask_second_look",)),
    # Who else may, and everything at once.
    (OWNING, ("bring_back", "remove_workspace", "invite_member", "take_back_invitation")),
    (OWNING, ("change_member", "remove_member", "set_second_look_share")),
)
MAY: Mapping[str, frozenset[Role]] = {name: roles for roles, names in _LINES for name in names}


class NotAllowed(Exception):
    """Somebody's place in the workspace does not allow what they ask for."""

    def __str__(self) -> str:
        return words.NOT_ALLOWED


def named(run: Any) -> Any:
    """Let each request know which operation it asks for; a decorator of the API's views."""
    operation = unwrap(run).__self__
    name = operation.operation_id or operation.view_func.__name__

    @wraps(run)
    def run_named(request: HttpRequest, *args: Any, **kwargs: Any) -> Any:
        request.asked_for = name  # type: ignore[attr-defined]
        return run(request, *args, **kwargs)

    return run_named


class MayAuth(SessionAuth):
    """Logged in, and in a role that may ask for this; those roles stand on the request then.

    Raises NotAllowed for somebody who is in none of them.
    """

    def authenticate(self, request: HttpRequest, key: str | None) -> Any:
        user = super().authenticate(request, key)
        if user is None:
            return None
        roles = MAY.get(getattr(request, "asked_for", ""), frozenset())
        if not Membership.objects.filter(user=user, role__in=roles).exists():
            raise NotAllowed
        request.roles = roles  # type: ignore[attr-defined]
        return user
