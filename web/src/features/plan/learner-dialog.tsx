import { useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useState, type FormEvent } from "react";

import { api, faultsOf } from "../../api/client";
import type { components } from "../../api/schema";
import { Button } from "../../components/button";
import { RemoveLearner } from "./remove-learner";
import { textOf } from "../../components/forms";
import { Choice, FIELD } from "./fields";
import type { LearnerOut } from "../../domain/plan-document";

type Health = NonNullable<components["schemas"]["LearnerIn"]["health"]>[number];

const HEALTH: { value: Health; words: string }[] = [
  { value: "growing", words: "still growing" },
  { value: "old", words: "old" },
  { value: "pregnant", words: "pregnant" },
  { value: "overweight", words: "overweight" },
  { value: "injured", words: "hurt or lame" },
  { value: "ill", words: "ill" },
  { value: "timid", words: "timid" },
  { value: "bites_or_guards", words: "bites or guards" },
  { value: "food_allergy", words: "not every food" },
];

/** A learner: what drives the cautions of its plans. */
export function LearnerDialog({
  learner,
  onClose,
}: {
  learner: LearnerOut | null;
  onClose: () => void;
}) {
  const client = useQueryClient();
  const [health, setHealth] = useState<Health[]>(learner?.health ?? []);
  const [fault, setFault] = useState("");

  const keep = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const text = (name: string) => textOf(form, name);
    const body = {
      name: text("name"),
      species: text("species"),
      born: text("born") || null,
      size: text("size") as "" | "small" | "medium" | "large",
      notes: text("notes"),
      health,
      piece_kj: Number(text("piece_kj")) || null,
      day_kj: Number(text("day_kj")) || null,
    };
    const answer = learner
      ? await api.PUT("/api/learners/{learner_id}", {
          params: { path: { learner_id: learner.id } },
          body,
        })
      : await api.POST("/api/learners", { body });
    if (!answer.data) {
      setFault(faultsOf(answer.error, answer.response.status).join(" "));
      return;
    }
    void client.invalidateQueries({ queryKey: ["learners"] });
    onClose();
  };
  const row = "grid grid-cols-[7rem_1fr] items-center";
  return (
    <Dialog.Root modal={false} open onOpenChange={onClose}>
      <Dialog.Portal>
        <div aria-hidden className="fixed inset-0 z-30 bg-ink/25" />
        <Dialog.Content
          aria-describedby={undefined}
          onInteractOutside={(event) => event.preventDefault()}
          className="fixed top-16 left-1/2 z-40 w-[32rem] max-w-[calc(100vw-2rem)] -translate-x-1/2 rounded border border-ink bg-raised p-6"
        >
          <Dialog.Title className="mb-4 text-[18px] font-semibold">
            {learner ? learner.name : "A new learner"}
          </Dialog.Title>
          <form onSubmit={(event) => void keep(event)} className="space-y-3">
            <label className={row}>
              Name
              <input
                name="name"
                required
                maxLength={200}
                defaultValue={learner?.name}
                className={FIELD}
              />
            </label>
            <label className={row}>
              Species
              <input
                name="species"
                maxLength={200}
                placeholder="goat, hen, pony …"
                defaultValue={learner?.species}
                className={FIELD}
              />
            </label>
            <label className={row}>
              Born
              <input name="born" type="date" defaultValue={learner?.born ?? ""} className={FIELD} />
            </label>
            <label className={row}>
              Size
              <select name="size" defaultValue={learner?.size ?? ""} className={FIELD}>
                <option value="">–</option>
                <option value="small">small</option>
                <option value="medium">medium</option>
                <option value="large">large</option>
              </select>
            </label>
            <div className={row}>
              Mind that it is
              <Choice
                label="Mind that it is"
                options={HEALTH}
                chosen={health}
                onChange={setHealth}
              />
            </div>
            <label className={row}>
              Notes
              <textarea
                name="notes"
                rows={2}
                maxLength={4000}
                defaultValue={learner?.notes}
                className={`${FIELD} h-auto py-1`}
              />
            </label>
            <div className={row}>
              Food
              <span className="flex flex-wrap items-center gap-x-3 gap-y-1 text-soft">
                <label className="flex items-center gap-2">
                  one piece
                  <input
                    name="piece_kj"
                    type="number"
                    min={0.01}
                    step="any"
                    defaultValue={learner?.piece_kj ?? ""}
                    className={`${FIELD} w-20`}
                  />
                  kJ,
                </label>
                <label className="flex items-center gap-2">
                  its whole day
                  <input
                    name="day_kj"
                    type="number"
                    min={1}
                    step="any"
                    defaultValue={learner?.day_kj ?? ""}
                    className={`${FIELD} w-24`}
                  />
                  kJ
                </label>
              </span>
            </div>
            {fault && (
              <p role="alert" className="text-fault">
                {fault}
              </p>
            )}
            {learner && <RemoveLearner learner={learner} onRemoved={onClose} />}
            <div className="flex justify-end gap-2 pt-2">
              <Button onClick={onClose}>Not now</Button>
              <Button look="main" type="submit">
                Keep
              </Button>
            </div>
          </form>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
