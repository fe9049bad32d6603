import { useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link } from "react-router";

import { api } from "../../api/client";
import { useBehaviours, useLearners } from "../../api/queries";
import type { components } from "../../api/schema";
import { Button } from "../../components/button";
import { useNotice } from "../../components/notice";
import { ForTrainers } from "../../components/for-trainers";
import { Shell } from "../../components/shell";
import { Fault, Wait } from "../../components/states";
import { counted } from "../../domain/times";
import { LearnerDialog } from "./learner-dialog";
import { NewBehaviour } from "./new-behaviour";
import type { LearnerOut } from "../../domain/plan-document";
import { t } from "../../words";

type BehaviourRow = components["schemas"]["BehaviourRow"];

/** The learners, and what each is taught. */
export function PlansPage() {
  const learners = useLearners();
  const behaviours = useBehaviours();
  const [opened, setOpened] = useState<LearnerOut | "new" | null>(null);
  const [adding, setAdding] = useState<string | null>(null);
  const fault = learners.error ?? behaviours.error;
  return (
    <Shell title={t("plan:plans_page.plans")}>
      <main className="mx-auto w-full max-w-[1100px] flex-1 px-[18px] pt-7 pb-16">
        <div className="flex flex-wrap items-end gap-3 border-b border-ink pb-4">
          <div className="min-w-64 flex-1">
            <h1 className="text-[26px] leading-tight">{t("plan:plans_page.plans")}</h1>
            <p className="text-soft">{t("plan:plans_page.who_is_taught_what_and")}</p>
          </div>
          <ForTrainers>
            <Button
              look={learners.data?.length ? "plain" : "main"}
              onClick={() => setOpened("new")}
            >
              {t("plan:plans_page.a_new_learner")}
            </Button>
          </ForTrainers>
        </div>
        {fault ? (
          <div className="pt-6">
            <Fault error={fault} />
          </div>
        ) : !learners.data || !behaviours.data ? (
          <Wait>{t("plan:plans_page.looking_for_your_plans")}</Wait>
        ) : learners.data.length === 0 ? (
          <div className="max-w-xl pt-12">
            <h2 className="text-[22px]">{t("plan:plans_page.begin_with_the_animal")}</h2>
            <p className="mt-2">{t("plan:plans_page.its_name_what_it_is")}</p>
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
        <Button
          look="quiet"
          onClick={onOpen}
          aria-label={t("plan:plans_page.about_name", { name: learner.name })}
        >
          {t("plan:plans_page.about_name", { name: learner.name })}
        </Button>
        <ForTrainers>
          <Button
            onClick={onAdd}
            aria-label={t("plan:plans_page.a_new_behaviour_for_name", { name: learner.name })}
          >
            {t("plan:plans_page.a_new_behaviour")}
          </Button>
        </ForTrainers>
      </div>
      {shown.length === 0 ? (
        <p className="mt-2 text-soft">{t("plan:plans_page.nothing_planned_yet")}</p>
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
              <ForTrainers>
                <Button
                  look="quiet"
                  aria-label={t("plan:plans_page.remove_name", { name: behaviour.name })}
                  onClick={() => remove(behaviour)}
                >
                  {t("common:remove")}
                </Button>
              </ForTrainers>
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
    tell(t("plan:plans_page.the_plan_name_is_removed", { name }), {
      label: t("common:undo"),
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
