"""What a phone takes along: plan, history, card and perhaps the script of each behaviour."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.utils import timezone

from frequens.core.decisions.judging.sent_plan import sent_plan
from frequens.core.formats.session_document import read_plan
from frequens.core.model.events import Settings
from frequens.core.planning.shaping import session_plan, steps_in_use

from ..findings.judgements import last_judged, remembered
from ..plans.models import Behaviour
from ..plans.next_card import card_of
from ..plans.scripts import kept_script
from .schemas import YardCard, YardKit, YardLimits, YardPlan


def kit_of(behaviour: Behaviour) -> YardKit | None:
    """The kit of a behaviour; None where its plan has no step to work at."""
    document = behaviour.current.document
    steps = steps_in_use(document)
    if not steps:
        return None
    plan = session_plan(document)
    last = last_judged(behaviour.pk)
    card = card_of(last[0]) if last else None
    script = kept_script(last[0]) if last else None
    given: Mapping[str, Any] = document.get("settings", {})
    usual = Settings()
    return YardKit(
        behaviour_id=behaviour.pk,
        learner=behaviour.learner.name,
        behaviour=behaviour.name,
        plan=YardPlan(**sent_plan(read_plan(plan))),
        criteria={step["key"]: step.get("criterion", "") for step in steps},
        history=remembered(behaviour.pk, plan, timezone.localdate()),
        limits=YardLimits(
            dry_spell_s=given.get("dry_spell_s", usual.dry_spell_s),
            reward_link_s=given.get("reward_link_s", usual.reward_link_s),
        ),
        card=_card(card) if card else None,
        script=list(script.lines) if script else [],
    )


def _card(card: Mapping[str, Any]) -> YardCard:
    values = {**card, **{k: v for k, v in card["changed"].items() if v is not None}}
    return YardCard(
        sentence=card["why"]["text"],
        **{name: values[name] for name in YardCard.model_fields if name != "sentence"},
    )
