"""A training session: who, what, when, and what it was filmed under."""

from __future__ import annotations

import datetime as dt
import uuid
from typing import TYPE_CHECKING, Any, Self

from django.db import models
from django.db.models import Exists, OuterRef
from django.http import HttpRequest

from frequens.words.spoken import refusals as words

from ..accounts.models import Owned, OwnedQuerySet

if TYPE_CHECKING:
    from .models import Film


class StillBlind(Exception):
    """Somebody asks for marks they are not to see before they have coded by themselves."""


class BeingSeenAgain(Exception):
    """What somebody is coding a second time must not be taken away from under them."""


class SessionQuerySet(OwnedQuerySet):
    """Sessions, and what a second look keeps from those who take part in it."""

    def get_or_404(self, request: HttpRequest, pk: Any) -> Any:
        """The session; somebody else's is as absent as one that never was.

        Raises StillBlind for whoever codes it a second time, and for a second coding that is not
        one's own, until both have said that they are done.
        """
        asked = self.select_related("second_look").annotate(is_coded_blind=_coded_blind(request))
        found = OwnedQuerySet.get_or_404(asked, request, pk)
        if found.is_coded_blind:
            raise StillBlind(words.CODING_BLIND)
        if found.second_of_id is not None:
            look = found.second_look
            if look.opened_at is None and look.reviewer_id != request.user.pk:
                raise StillBlind(words.STILL_BLIND)
        return found

    def seen_by(self, request: HttpRequest) -> Self:
        """Without those whose marks the request's user is not to see yet."""
        return self.exclude(_coded_blind(request))


def _coded_blind(request: HttpRequest) -> Exists:
    """Whether the request's user is coding a session a second time."""
    return Exists(
        TrainingSession.codings.filter(
            second_of=OuterRef("pk"),
            second_look__reviewer=request.user.pk,
            second_look__opened_at__isnull=True,
        )
    )


AllCodings = models.Manager.from_queryset(SessionQuerySet)


class FirstCodings(AllCodings["TrainingSession"]):
    """Sessions as they count: second codings of them stand nowhere but in their second look."""

    def get_queryset(self) -> Any:
        return super().get_queryset().filter(second_of__isnull=True)


class TrainingSession(Owned):
    """One training session: who, what, when, and the plan it was filmed under.

    `plan` and `settings` are written as in a `frequens-session` document. The marks are
    not here: they are folded from the session's edits. A second coding of a session is one too,
    with the first one's films; `codings` has those as well, `objects` does not.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    date = models.DateField(null=True)
    learner = models.CharField(max_length=200, blank=True)
    behaviour = models.CharField(max_length=200, blank=True)
    trainer = models.CharField(max_length=200, blank=True)
    plan = models.JSONField(default=dict)
    #: The shaping plan it was filmed under, where there is one.
    plan_version = models.ForeignKey(
        "plans.PlanVersion", null=True, on_delete=models.SET_NULL, related_name="sessions"
    )
    settings = models.JSONField(default=dict)
    #: Of a session without a film of its own, as its document says.
    duration_s = models.FloatField(null=True)
    #: Counts and minutes of a session entered by hand, as `core.history.logbook` reads them.
    by_hand = models.JSONField(null=True)
    #: When it began, where a phone led it: its taps lie on the clock on the wall from there.
    led_at = models.DateTimeField(null=True)
    #: What lists show of it as its edits stand: SUMMARISED facts and the number of `marks`.
    #: Written with every change, so that lists need not go through the edits.
    summary = models.JSONField(default=dict)
    #: The session this is a second coding of.
    second_of = models.ForeignKey(
        "self", null=True, on_delete=models.CASCADE, related_name="second_codings"
    )
    created_at = models.DateTimeField(auto_now_add=True)

    objects = FirstCodings()  # type: ignore[misc]
    codings = AllCodings()

    class Meta:
        app_label = "reviews"
        ordering = ("-created_at", "-id")

    @property
    def clips(self) -> list[Film]:
        """The session's films in the order they were shot, those that can be looked at."""
        return [film for film in self.shot if film.has_index]

    @property
    def shot(self) -> list[Film]:
        """The session's films in the order they were shot; a second coding has the first one's."""
        films = (self.second_of or self).films.all()
        # Sorted here, so that films fetched with many sessions are not asked for again.
        return sorted(films, key=lambda film: (film.place, film.created_at))

    @property
    def learner_now(self) -> str:
        """The learner as the edits have it; so the three below."""
        return self.summary.get("learner") or self.learner

    @property
    def behaviour_now(self) -> str:
        return self.summary.get("behaviour") or self.behaviour

    @property
    def date_now(self) -> dt.date | None:
        said = self.summary.get("date")
        return dt.date.fromisoformat(said) if said else self.date

    @property
    def trainer_now(self) -> str:
        """Who trained: what the edits say, else whoever brought the film."""
        return self.summary.get("trainer") or self.trainer

    @property
    def marks(self) -> int:
        """The number of its marks."""
        return self.summary.get("marks", 0)

    def remove(self) -> None:
        """It goes with its marks, its history and its films."""
        for film in self.films.all():
            film.delete()
        self.delete()

    def __str__(self) -> str:
        facts = (self.learner_now, self.behaviour_now, str(self.date_now or ""))
        return " · ".join(filter(None, facts))
