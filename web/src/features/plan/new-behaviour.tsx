import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useState, type FormEvent } from "react";
import { useNavigate } from "react-router";

import { api, faultsOf, given } from "../../api/client";
import { useLearners } from "../../api/queries";
import { Button } from "../../components/button";
import { textOf } from "../../components/forms";
import { FIELD } from "./fields";
import { WAYS } from "../../domain/plan-document";

interface NewBehaviourProps {
  learnerId: string;
  /** The plan to begin with, where it is another behaviour's. */
  copyOf?: { id: string; name: string };
  onClose: () => void;
}

/** Asks for whom and from what a new plan begins, and goes there. */
export function NewBehaviour({ learnerId, copyOf, onClose }: NewBehaviourProps) {
  const navigate = useNavigate();
  const client = useQueryClient();
  const learners = useLearners();
  const starters = useQuery({
    queryKey: ["starters"],
    staleTime: Infinity,
    queryFn: async () => given(await api.GET("/api/plans/starters")),
  });
  const [starter, setStarter] = useState("");
  const [file, setFile] = useState<File | null>(null);
  const [fault, setFault] = useState<string[]>([]);

  const make = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    let document: Record<string, never> | undefined;
    if (file) {
      try {
        document = JSON.parse(await file.text()) as Record<string, never>;
      } catch {
        setFault([`${file.name} is no JSON text.`]);
        return;
      }
    }
    const answer = await api.POST("/api/behaviours", {
      body: {
        learner_id: textOf(form, "learner"),
        name: textOf(form, "name"),
        ...(copyOf ? { copy_of: copyOf.id } : {}),
        ...(starter && !file ? { starter } : {}),
        ...(document ? { document } : {}),
      },
    });
    if (!answer.data) {
      setFault(faultsOf(answer.error, answer.response.status));
      return;
    }
    void client.invalidateQueries({ queryKey: ["behaviours"] });
    onClose();
    void navigate(`/plans/${answer.data.id}`);
  };

  const chosen = starters.data?.find((s) => s.key === starter)?.document;
  return (
    <Dialog.Root modal={false} open onOpenChange={onClose}>
      <Dialog.Portal>
        <div aria-hidden className="fixed inset-0 z-30 bg-ink/25" />
        <Dialog.Content
          onInteractOutside={(event) => event.preventDefault()}
          className="fixed top-16 left-1/2 z-40 max-h-[calc(100vh-6rem)] w-[34rem] max-w-[calc(100vw-2rem)] -translate-x-1/2 overflow-y-auto rounded border border-ink bg-raised p-6"
        >
          <Dialog.Title className="text-[18px] font-semibold">
            {copyOf ? `A plan like “${copyOf.name}”` : "A new behaviour"}
          </Dialog.Title>
          <Dialog.Description className="mt-1 mb-4 text-soft">
            {copyOf
              ? "It becomes a plan of its own; this one stays as it is."
              : "Begin with an empty flight of steps, or adapt one of ours."}
          </Dialog.Description>
          <form onSubmit={(event) => void make(event)} className="space-y-3">
            <label className="grid grid-cols-[7rem_1fr] items-center">
              Learner
              <select name="learner" defaultValue={learnerId} className={FIELD}>
                {learners.data?.map((learner) => (
                  <option key={learner.id} value={learner.id}>
                    {learner.name}
                  </option>
                ))}
              </select>
            </label>
            <label className="grid grid-cols-[7rem_1fr] items-center">
              Behaviour
              <input
                name="name"
                key={chosen?.behaviour ?? copyOf?.name ?? ""}
                defaultValue={chosen?.behaviour ?? copyOf?.name ?? ""}
                placeholder="Ring the ship's bell"
                maxLength={200}
                className={FIELD}
              />
            </label>
            {!copyOf && (
              <>
                <fieldset className="space-y-1">
                  <legend className="mb-1">Begin with</legend>
                  <label className="flex items-center gap-2">
                    <input
                      type="radio"
                      name="from"
                      checked={starter === "" && !file}
                      onChange={() => {
                        setStarter("");
                        setFile(null);
                      }}
                    />
                    an empty plan
                  </label>
                  {starters.data?.map(({ key, document }) => {
                    const plan = document;
                    return (
                      <label key={key} className="flex items-center gap-2">
                        <input
                          type="radio"
                          name="from"
                          checked={starter === key && !file}
                          onChange={() => {
                            setStarter(key);
                            setFile(null);
                          }}
                        />
                        <span>
                          {plan.behaviour}{" "}
                          <span className="text-soft">
                            {WAYS.find((w) => w.way === plan.way)?.words} ·{" "}
                            {plan.approximations?.length} steps
                          </span>
                        </span>
                      </label>
                    );
                  })}
                </fieldset>
                <label className="grid grid-cols-[7rem_1fr] items-center">
                  or a file
                  <input
                    type="file"
                    accept=".json"
                    aria-label="Plan as JSON"
                    onChange={(event) => setFile(event.target.files?.[0] ?? null)}
                  />
                </label>
              </>
            )}
            {fault.length > 0 && (
              <ul role="alert" className="list-disc pl-5 text-fault">
                {fault.slice(0, 6).map((line) => (
                  <li key={line}>{line}</li>
                ))}
              </ul>
            )}
            <div className="flex justify-end gap-2 pt-2">
              <Button onClick={onClose}>Not now</Button>
              <Button look="main" type="submit">
                Make the plan
              </Button>
            </div>
          </form>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
