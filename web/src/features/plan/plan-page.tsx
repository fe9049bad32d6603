import { useQuery } from "@tanstack/react-query";
import { DropdownMenu } from "radix-ui";
import { useEffect, useLayoutEffect, useRef, useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";

import { api, given } from "../../api/client";
import { Button } from "../../components/button";
import { useNotice } from "../../components/notice";
import { Shell } from "../../components/shell";
import { Fault, Wait } from "../../components/states";
import { day } from "../../domain/words";
import { NewBehaviour } from "./new-behaviour";
import {
  inOneLine,
  stepsOf,
  withNewStep,
  withMoved,
  withPlaced,
  withValues,
  type BehaviourOut,
} from "../../domain/plan-document";
import { PlanPanel } from "./plan-panel";
import { Stairs } from "./stairs";
import { StepPanel } from "./step-panel";
import { usePlan, useRemarks, type Keeping, type WrittenPlan } from "./use-plan";
import { counted } from "../../domain/times";
import { Trans, t } from "../../words";

/** The plan of one behaviour of one learner. */
export function PlanPage() {
  const behaviourId = useParams()["behaviourId"] ?? "";
  const behaviour = useQuery({
    queryKey: ["behaviour", behaviourId],
    // What is being written must not be overtaken by what was fetched.
    staleTime: Infinity,
    gcTime: 0,
    queryFn: async () =>
      given(
        await api.GET("/api/behaviours/{behaviour_id}", {
          params: { path: { behaviour_id: behaviourId } },
        }),
      ),
  });
  if (behaviour.data) return <Written key={behaviour.data.id} behaviour={behaviour.data} />;
  return (
    <Shell title={t("plan:plan_page.plan")}>
      <main className="p-[18px]">
        {behaviour.error ? (
          <Fault error={behaviour.error} />
        ) : (
          <Wait>{t("plan:plan_page.fetching_the_plan")}</Wait>
        )}
      </main>
    </Shell>
  );
}

function Written({ behaviour }: { behaviour: BehaviourOut }) {
  const written = usePlan(behaviour);
  const { plan, change } = written;
  const remarks = useRemarks(plan, behaviour.learner.id);
  const [search, setSearch] = useSearchParams();
  const chosen = search.get("step");
  const choose = (key: string | null) => setSearch(key ? { step: key } : {}, { replace: true });
  const [room, width] = useWidth();
  useUndoKeys(written);

  const step = plan.approximations?.find((s) => s.key === chosen && !s.retired);
  const inForce = behaviour.filmed.findLast((s) => s.last_step !== null)?.last_step ?? null;
  const isFilmed = (key: string) => behaviour.filmed.some((s) => (s.judged[key] ?? 0) > 0);
  const checks = remarks.filter((r) => r.sort === "check");
  const insert = (after: string | null) => {
    const made = withNewStep(plan, after);
    change(made.plan);
    choose(made.key);
  };

  return (
    <Shell
      title={t("plan:plan_page.plan_name_behaviour", {
        name: behaviour.learner.name,
        behaviour: plan.behaviour ?? behaviour.name,
      })}
      crumb={`${behaviour.learner.name} · ${plan.behaviour ?? behaviour.name}`}
      corner={
        <>
          <KeptCorner keeping={written.keeping} />
          <PlanMenu behaviour={behaviour} written={written} />
        </>
      }
    >
      <main className="mx-auto grid w-full max-w-[1500px] flex-1 grid-cols-[minmax(0,1fr)_392px] gap-6 px-[18px] max-lg:grid-cols-1">
        <div className="min-w-0 pt-4 pb-4" ref={room}>
          <Troubles written={written} />
          <h1 className="sr-only">
            {t("plan:plan_page.plan_behaviour_of_name", {
              behaviour: plan.behaviour ?? behaviour.name,
              name: behaviour.learner.name,
            })}
          </h1>
          <textarea
            aria-label={t("plan:plan_page.the_end_picture")}
            placeholder={t("plan:plan_page.what_will_somebody_see_when")}
            value={plan.goal ?? ""}
            rows={2}
            maxLength={4000}
            onChange={(event) => change(withValues(plan, { goal: event.target.value }))}
            className="field-sizing-content w-full max-w-[34ch] resize-none border-b border-transparent bg-transparent text-[25px] leading-tight hover:border-line focus:border-ink"
          />
          <p className="mt-1 max-w-[70ch] text-soft">
            {inOneLine(plan)}
            {stepsOf(plan).length > 0 && (
              <>
                {" · "}
                <Link
                  to={`/plans/${behaviour.id}/rehearsal`}
                  className="underline underline-offset-3 hover:text-ink"
                >
                  {t("plan:plan_page.rehearse_it")}
                </Link>
              </>
            )}
          </p>
          {stepsOf(plan).length === 0 ? (
            <NoSteps onFirst={() => insert(null)} />
          ) : (
            <Stairs
              plan={plan}
              filmed={behaviour.filmed}
              inForce={inForce ?? stepsOf(plan)[0]?.key ?? null}
              chosen={chosen}
              width={width}
              height={Math.min(680, Math.max(430, window.innerHeight - 220))}
              onChoose={choose}
              onInsert={insert}
              onMove={(key, by) => change(withMoved(plan, key, by))}
              onPlace={(key, other, side) => change(withPlaced(plan, key, other, side))}
            />
          )}
        </div>
        <aside
          aria-label={t("plan:plan_page.what_is_opened")}
          className="border-l border-ink bg-raised px-[18px] pt-4 pb-8 lg:max-h-[calc(100vh-2.75rem)] lg:overflow-y-auto"
        >
          <Summary
            checks={checks.length}
            first={checks.find((c) => !step || !c.place.startsWith("approximations["))?.title}
            elsewhere={checks.flatMap((c) => {
              const place = /^approximations\[(\d+)\]$/.exec(c.place)?.[1];
              const key = place && plan.approximations?.[Number(place)]?.key;
              return key && key !== chosen ? [{ key, title: c.title }] : [];
            })}
            onStep={choose}
          />
          {step ? (
            <StepPanel
              key={step.key}
              plan={plan}
              step={step}
              remarks={remarks}
              isFilmed={isFilmed(step.key)}
              size={behaviour.learner.size ?? ""}
              withers={behaviour.learner.withers_cm ?? null}
              change={change}
              choose={choose}
            />
          ) : (
            <PlanPanel plan={plan} remarks={remarks} change={change} />
          )}
        </aside>
      </main>
    </Shell>
  );
}

function NoSteps({ onFirst }: { onFirst: () => void }) {
  return (
    <div className="max-w-[52ch] pt-10">
      <h2 className="text-[19px] font-semibold">
        {t("plan:plan_page.the_first_step_is_something")}
      </h2>
      <p className="mt-2">{t("plan:plan_page.looks_at_the_rope_walks")}</p>
      <Button look="main" className="mt-4" onClick={onFirst}>
        {t("plan:plan_page.write_the_first_step")}
      </Button>
    </div>
  );
}

/** How many things there are to mend, and the way to those in other steps. */
function Summary({
  checks,
  elsewhere,
  onStep,
}: {
  checks: number;
  first: string | undefined;
  elsewhere: { key: string; title: string }[];
  onStep: (key: string) => void;
}) {
  return (
    <p role="status" className="mb-3 border-b border-line pb-3 text-[13px]">
      {checks === 0 ? (
        <span className="text-reward">{t("plan:plan_page.nothing_to_mend_another_person")}</span>
      ) : (
        <>
          <span className="font-semibold">
            {t("plan:plan_page.checks_which_to_think_over", {
              things: counted(checks, "thing"),
            })}
          </span>{" "}
          {elsewhere.slice(0, 3).map((there, n) => (
            <button
              key={`${there.key}${n}`}
              type="button"
              className="mr-2 underline decoration-line underline-offset-3 hover:decoration-ink"
              onClick={() => onStep(there.key)}
            >
              {there.title}
            </button>
          ))}
        </>
      )}
    </p>
  );
}

const KEPT: Record<Keeping, string> = {
  saved: "saved",
  saving: t("plan:plan_page.saving"),
  waiting: t("plan:plan_page.kept_in_this_browser_the"),
  refused: t("plan:plan_page.not_saved"),
  overtaken: t("plan:plan_page.changed_elsewhere"),
};

function KeptCorner({ keeping }: { keeping: Keeping }) {
  return (
    <span role="status" data-keeping={keeping} className="flex items-center gap-2">
      <span
        aria-hidden
        className={`size-2 rounded-full ${keeping === "saved" ? "bg-reward" : "bg-marker"}`}
      />
      {KEPT[keeping]}
    </span>
  );
}

function Troubles({ written }: { written: WrittenPlan }) {
  if (written.keeping === "overtaken") {
    return (
      <div role="alert" className="mb-4 border-l-4 border-marker py-1 pl-4">
        <p>{t("plan:plan_page.this_plan_was_changed_in")}</p>
        <p className="mt-2 flex gap-2">
          <Button onClick={written.keepMine}>{t("plan:plan_page.the_one_on_this_screen")}</Button>
          <Button onClick={written.takeTheirs}>{t("plan:plan_page.the_other_one_x")}</Button>
        </p>
      </div>
    );
  }
  if (written.keeping !== "refused") return null;
  return (
    <div role="alert" className="mb-4 border-l-4 border-fault py-1 pl-4">
      <p>{t("plan:plan_page.the_plan_cannot_be_kept")}</p>
      <ul className="list-disc pl-5">
        {written.faults.map((fault) => (
          <li key={fault}>{fault}</li>
        ))}
      </ul>
    </div>
  );
}

const ITEM = "block cursor-pointer rounded px-3 py-1.5 outline-none data-[highlighted]:bg-hair";

function PlanMenu({ behaviour, written }: { behaviour: BehaviourOut; written: WrittenPlan }) {
  const navigate = useNavigate();
  const tell = useNotice();
  const [copying, setCopying] = useState(false);
  const [open, setOpen] = useState(false);
  const versions = useQuery({
    queryKey: ["versions", behaviour.id],
    enabled: open,
    queryFn: async () =>
      given(
        await api.GET("/api/behaviours/{behaviour_id}/versions", {
          params: { path: { behaviour_id: behaviour.id } },
        }),
      ),
  });
  const back = async (number: number) => {
    const answer = await api.GET("/api/behaviours/{behaviour_id}/versions/{number}", {
      params: { path: { behaviour_id: behaviour.id, number } },
    });
    if (!answer.data) return;
    written.change(answer.data.document);
    tell(t("plan:plan_page.plan_number_stands_again_as", { number }), {
      label: t("common:undo"),
      run: written.undo,
    });
  };
  return (
    <>
      <DropdownMenu.Root modal={false} open={open} onOpenChange={setOpen}>
        <DropdownMenu.Trigger className="text-soft hover:text-ink">
          <Trans i18nKey="plan:plan_page.plan_2" components={{ part: <span aria-hidden /> }} />
        </DropdownMenu.Trigger>
        <DropdownMenu.Content
          align="end"
          sideOffset={6}
          className="z-40 max-h-[70vh] overflow-y-auto rounded border border-ink bg-raised p-1"
        >
          <DropdownMenu.Item className={ITEM} onSelect={() => written.undo()}>
            {t("plan:plan_page.undo_ctrl_z")}
          </DropdownMenu.Item>
          <DropdownMenu.Item className={ITEM} onSelect={() => written.redo()}>
            {t("plan:plan_page.redo_ctrl_shift_z")}
          </DropdownMenu.Item>
          <DropdownMenu.Separator className="my-1 h-px bg-line" />
          <DropdownMenu.Item className={ITEM} onSelect={() => setCopying(true)}>
            {t("plan:plan_page.copy_it_for_another_learner")}
          </DropdownMenu.Item>
          <DropdownMenu.Item asChild className={ITEM}>
            <a href={`/api/behaviours/${behaviour.id}/plan.json`} download>
              {t("plan:plan_page.save_the_plan_as_json")}
            </a>
          </DropdownMenu.Item>
          <DropdownMenu.Item className={ITEM} onSelect={() => navigate("/plans")}>
            {t("plan:plan_page.all_plans")}
          </DropdownMenu.Item>
          {(versions.data?.length ?? 0) > 1 && (
            <>
              <DropdownMenu.Separator className="my-1 h-px bg-line" />
              <DropdownMenu.Label className="px-3 py-1 text-[12.5px] text-soft">
                {t("plan:plan_page.earlier_plans")}
              </DropdownMenu.Label>
              {versions.data
                ?.slice(0, -1)
                .reverse()
                .map((version) => (
                  <DropdownMenu.Item
                    key={version.number}
                    className={ITEM}
                    onSelect={() => void back(version.number)}
                  >
                    {t("plan:plan_page.day_steps_steps_sessions_filmed", {
                      day: day(version.saved_at.slice(0, 10)),
                      steps: version.steps,
                      sessions: version.sessions,
                    })}
                  </DropdownMenu.Item>
                ))}
            </>
          )}
        </DropdownMenu.Content>
      </DropdownMenu.Root>
      {copying && (
        <NewBehaviour
          copyOf={{ id: behaviour.id, name: behaviour.name }}
          learnerId={behaviour.learner.id}
          onClose={() => setCopying(false)}
        />
      )}
    </>
  );
}

/** Undo and redo where no field does its own. */
function useUndoKeys({ undo, redo }: WrittenPlan) {
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "z") return;
      if ((event.target as HTMLElement).closest("input, textarea, select")) return;
      event.preventDefault();
      if (event.shiftKey) redo();
      else undo();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [undo, redo]);
}

/** An element's width, followed. */
function useWidth() {
  const room = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(780);
  useLayoutEffect(() => {
    const element = room.current;
    if (!element) return;
    const observer = new ResizeObserver(([entry]) => {
      if (entry) setWidth(Math.floor(entry.contentRect.width));
    });
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return [room, width] as const;
}
