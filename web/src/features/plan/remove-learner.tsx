import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api, faultsOf } from "../../api/client";
import { useBehaviours } from "../../api/queries";
import { Button } from "../../components/button";
import { counted } from "../../domain/times";
import type { LearnerOut } from "../../domain/plan-document";
import { t } from "../../words";

/** Removing an animal: its plans go, its sessions and films only where that is asked for. */
export function RemoveLearner({
  learner,
  onRemoved,
}: {
  learner: LearnerOut;
  onRemoved: () => void;
}) {
  const client = useQueryClient();
  const behaviours = useBehaviours();
  const [asked, setAsked] = useState(false);
  const [sessions, setSessions] = useState(false);
  const [fault, setFault] = useState<string | null>(null);
  if (!asked) {
    return (
      <Button look="quiet" onClick={() => setAsked(true)}>
        {t("plan:remove_learner.remove_name", { name: learner.name })}
      </Button>
    );
  }
  const own = (behaviours.data ?? []).filter((b) => b.learner_id === learner.id);
  const filmed = own.reduce((n, b) => n + b.sessions, 0);
  const remove = async () => {
    const answer = await api.DELETE("/api/learners/{learner_id}", {
      params: { path: { learner_id: learner.id }, query: { sessions } },
    });
    if (!answer.response.ok) {
      setFault(faultsOf(answer.error, answer.response.status)[0] ?? "");
      return;
    }
    await client.invalidateQueries();
    onRemoved();
  };
  return (
    <div className="rounded border border-fault p-3">
      <p>
        {t("plan:remove_learner.name_and_owncount_are_removed", {
          name: learner.name,
          ownCount: counted(own.length, "plan"),
        })}
      </p>
      {filmed > 0 && (
        <label className="mt-1 flex items-baseline gap-2">
          <input
            type="checkbox"
            checked={sessions}
            onChange={(event) => setSessions(event.target.checked)}
          />
          {t("plan:remove_learner.and_filmed_with_their_films", {
            filmed: counted(filmed, "session"),
          })}
        </label>
      )}
      {fault && (
        <p role="alert" className="mt-2 text-fault">
          {fault}
        </p>
      )}
      <p className="mt-2 flex gap-2">
        <Button onClick={() => setAsked(false)}>{t("plan:remove_learner.do_not_remove")}</Button>
        <Button className="border-fault text-fault" onClick={() => void remove()}>
          {t("plan:remove_learner.remove_name_2", { name: learner.name })}
        </Button>
      </p>
    </div>
  );
}
