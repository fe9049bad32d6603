import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api, faultsOf } from "../../api/client";
import { useBehaviours } from "../../api/queries";
import { Button } from "../../components/button";
import { counted } from "../../domain/times";
import type { LearnerOut } from "../../domain/plan-document";

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
        Remove {learner.name} …
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
        {learner.name} and {counted(own.length, "plan")} are removed for good.
      </p>
      {filmed > 0 && (
        <label className="mt-1 flex items-baseline gap-2">
          <input
            type="checkbox"
            checked={sessions}
            onChange={(event) => setSessions(event.target.checked)}
          />
          and {counted(filmed, "session")} with their films; else they stay, with the steps they
          were filmed under
        </label>
      )}
      {fault && (
        <p role="alert" className="mt-2 text-fault">
          {fault}
        </p>
      )}
      <p className="mt-2 flex gap-2">
        <Button onClick={() => setAsked(false)}>Do not remove</Button>
        <Button className="border-fault text-fault" onClick={() => void remove()}>
          Remove {learner.name}
        </Button>
      </p>
    </div>
  );
}
