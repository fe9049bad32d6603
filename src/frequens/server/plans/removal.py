"""Removing what is taught, and whom: what belongs to them goes with them."""

from __future__ import annotations

from ..library.sessions import TrainingSession
from .models import Behaviour, Learner


def remove_behaviour(behaviour: Behaviour, sessions: bool) -> None:
    """A behaviour with its plans; `sessions`: and everything filmed or counted for it."""
    if sessions:
        for session in TrainingSession.objects.filter(plan_version__behaviour=behaviour):
            session.remove()
    behaviour.delete()


def remove_learner(learner: Learner, sessions: bool) -> None:
    """A learner with all that is planned for it; `sessions`: and filmed or counted of it."""
    for behaviour in learner.behaviours.all():
        remove_behaviour(behaviour, sessions)
    learner.delete()
