import { useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link } from "react-router";

import { api } from "../../api/client";
import { useBehaviours, useLearners } from "../../api/queries";
import type { components } from "../../api/schema";
import { Button } from "../../components/button";
import { useNotice } from "../../components/notice";
import { Shell } from "../../components/shell";
import { Fault, Wait } from "../../components/states";
import { counted } from "../../domain/times";
import { LearnerDialog } from "./learner-dialog";
import { NewBehaviour } from "./new-behaviour";
import type { LearnerOut } from "../../domain/plan-document";

type BehaviourRow = components["schemas"]["BehaviourRow"];

/** The learners, and what each is taught. */
export function PlansPage() {
  const learners = useLearners();
  const behaviours = useBehaviours();
  const [opened, setOpened] = useState<LearnerOut | "new" | null>(null);
  const [adding, setAdding] = useState<string | null>(null);
  const fault = learners.error ?? behaviours.error;
  return (
    <Shell title="Plans">
      <main className="mx-auto w-full max-w-[1100px] flex-1 px-[18px] pt-7 pb-16">
        <div className="flex flex-wrap items-end gap-3 border-b border-ink pb-4">
          <div className="min-w-64 flex-1">
            <h1 className="text-[26px] leading-tight">Plans</h1>
            <p className="text-soft">
              Who is taught what, and by which steps another person could judge.
            </p>
          </div>
          <Button look={learners.data?.length ? "plain" : "main"} onClick={() => setOpened("new")}>
            A new learner
          </Button>
        </div>
        {fault ? (
          <div className="pt-6">
            <Fault error={fault} />
          </div>
        ) : !learners.data || !behaviours.data ? (
          <Wait>Looking for your plans</Wait>
        ) : learners.data.length === 0 ? (
          <div className="max-w-xl pt-12">
            <h2 className="text-[22px]">Begin with the animal</h2>
            <p className="mt-2">
              Its name, what it is, and what there is to mind: Frequens shows cautions where the
              risk arises. Then the behaviour, and the steps that lead to it.
            </p>
          </div>
        ) : (
          learners.data.map((learner) => (
            <LearnerSection
              key={learner.id}
              learner={learner}
              behaviours={behaviours.data.filter((b) => b.learner_id === learner.id)}
              onOpen={() => setOpened(learner)}
              onAdd={() => setAdding(learner.id)}
            />
          ))
        )}
        {opened && (
          <LearnerDialog
            learner={opened === "new" ? null : opened}
            onClose={() => setOpened(null)}
          />
        )}
        {adding && <NewBehaviour learnerId={adding} onClose={() => setAdding(null)} />}
      </main>
    </Shell>
  );
}

function LearnerSection({
  learner,
  behaviours,
  onOpen,
  onAdd,
}: {
  learner: LearnerOut;
  behaviours: BehaviourRow[];
  onOpen: () => void;
  onAdd: () => void;
}) {
  const facts = [learner.species, ageOf(learner.born ?? null)].filter(Boolean).join(", ");
  const { removed, remove } = useRemoval();
  const shown = behaviours.filter((b) => !removed.has(b.id));
  return (
    <section className="border-b border-line py-5">
      <div className="flex items-baseline gap-3">
        <h2 className="text-[19px] font-semibold">{learner.name}</h2>
        <span className="text-soft">{facts}</span>
        <span className="flex-1" />
        <Button look="quiet" onClick={onOpen} aria-label={`About ${learner.name}`}>
          About {learner.name}
        </Button>
        <Button onClick={onAdd} aria-label={`A new behaviour for ${learner.name}`}>
          A new behaviour
        </Button>
      </div>
      {shown.length === 0 ? (
        <p className="mt-2 text-soft">Nothing planned yet.</p>
      ) : (
        <ul className="mt-2">
          {shown.map((behaviour) => (
            <li
              key={behaviour.id}
              className="flex items-baseline gap-4 border-t border-hair py-2 first:border-t-0"
            >
              <Link
                to={`/plans/${behaviour.id}`}
                className="min-w-52 font-semibold underline decoration-line underline-offset-4"
              >
                {behaviour.name}
              </Link>
              <span className="min-w-0 flex-1 truncate text-soft">{behaviour.goal}</span>
              <span className="num text-[12.5px] whitespace-nowrap text-soft">
                {counted(behaviour.steps, "step")} · {counted(behaviour.sessions, "session")}
              </span>
              <Button
                look="quiet"
                aria-label={`Remove ${behaviour.name}`}
                onClick={() => remove(behaviour)}
              >
                Remove
              </Button>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

/** How long a removed plan can be had back, milliseconds. */
const UNDO_MS = 7000;

/** Removing can be undone for a while; a page left before that keeps the plan. */
function useRemoval() {
  const client = useQueryClient();
  const tell = useNotice();
  const [removed, setRemoved] = useState<ReadonlySet<string>>(new Set());
  const timers = useRef(new Map<string, number>());
  const bringBack = (id: string) => {
    window.clearTimeout(timers.current.get(id));
    setRemoved((all) => new Set([...all].filter((one) => one !== id)));
  };
  const remove = ({ id, name }: BehaviourRow) => {
    setRemoved((all) => new Set(all).add(id));
    const really = async () => {
      const answer = await api.DELETE("/api/behaviours/{behaviour_id}", {
        params: { path: { behaviour_id: id } },
      });
      if (!answer.response.ok) bringBack(id);
      void client.invalidateQueries({ queryKey: ["behaviours"] });
    };
    timers.current.set(
      id,
      window.setTimeout(() => void really().catch(() => bringBack(id)), UNDO_MS),
    );
    tell(`The plan “${name}” is removed. Its sessions keep the steps they were filmed under.`, {
      label: "Undo",
      run: () => bringBack(id),
    });
  };
  return { removed, remove };
}

/** An age in words of years or months. */
function ageOf(born: string | null): string {
  if (!born) return "";
  const months = Math.floor((Date.now() - new Date(born).getTime()) / (30.44 * 86_400_000));
  if (months < 0) return "";
  return months < 24 ? counted(months, "month") : counted(Math.floor(months / 12), "year");
}
