import { useEffect, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";

import { Fault, Wait } from "../../components/states";
import { beginLed } from "../../domain/led-sessions";
import { useYardKits, type YardKit } from "../../domain/yard-kits";
import { t } from "../../words";

/** Before the first rep: what the card says, and with which step to begin. */
export function BeginPage() {
  const { behaviourId } = useParams();
  const kept = useYardKits();
  const kit = kept.data?.kits.find((one) => one.behaviour_id === behaviourId);
  if (kept.error) return <Fault error={kept.error} />;
  if (!kept.data) return <Wait>{t("yard:yard_page.lead_a_session")}</Wait>;
  if (!kit) {
    return (
      <main className="p-4">
        <p>{t("yard:yard_page.nothing_to_lead")}</p>
        <Link className="underline" to="/yard">
          {t("yard:lead_page.back_to_the_yard")}
        </Link>
      </main>
    );
  }
  return <Card kit={kit} user={kept.data.user} />;
}

function Card({ kit, user }: { kit: YardKit; user: string }) {
  const navigate = useNavigate();
  const { card, plan } = kit;
  const steps = plan.approximations;
  const scripted = kit.script.find((line) => line.step !== null)?.step;
  const [first, setFirst] = useState(
    scripted ?? card?.warm_up ?? card?.criterion ?? steps[0]?.key ?? "",
  );
  const titleOf = (key: string | null) => steps.find((step) => step.key === key)?.title ?? "";
  const title = t("yard:lead_page.title", { learner: kit.learner, behaviour: kit.behaviour });
  useEffect(() => {
    document.title = t("components:shell.title_frequens", { title });
  }, [title]);
  const begin = () => {
    const session = beginLed(kit, user, first);
    void navigate(`/yard/led/${session.id}`, { replace: true });
  };
  return (
    <main className="sunlight flex min-h-full flex-col px-4 pt-4 pb-6 text-[17px]">
      <Link to="/yard" className="text-[15px] underline underline-offset-3">
        {t("yard:lead_page.back_to_the_yard")}
      </Link>
      <h1 className="mt-3 text-[26px] leading-tight">{title}</h1>
      {card ? (
        <ul className="mt-3 space-y-1.5">
          <li>{card.sentence}</li>
          {card.warm_up && (
            <li>
              {t("yard:lead_page.warm_up_first", {
                reps: card.warm_up_reps,
                step: titleOf(card.warm_up),
              })}
            </li>
          )}
          <li>
            {card.reps === null
              ? t("yard:lead_page.at_most_minutes", { minutes: card.minutes })
              : t("yard:lead_page.at_most", { minutes: card.minutes, reps: card.reps })}
          </li>
          <li>{t("yard:lead_page.pieces", { pieces: card.pieces })}</li>
          {card.stop_rules.map((rule) => (
            <li key={rule}>{rule}</li>
          ))}
        </ul>
      ) : (
        <p className="mt-3">{t("yard:lead_page.first_time")}</p>
      )}
      {kit.script.length > 0 && (
        <p className="mt-3 font-semibold">
          {t("yard:lead_page.script_leads", { lines: kit.script.length })}
        </p>
      )}
      <span className="flex-1" />
      <label className="mt-5 block">
        <span className="text-soft">{t("yard:lead_page.begin_with")}</span>
        <select
          value={first}
          onChange={(event) => setFirst(event.target.value)}
          className="mt-1 min-h-14 w-full rounded border-2 border-ink bg-raised px-3 text-[18px]"
        >
          {steps.map((step) => (
            <option key={step.key} value={step.key}>
              {step.title}
            </option>
          ))}
        </select>
      </label>
      <button
        type="button"
        onClick={begin}
        className="mt-4 min-h-20 w-full rounded bg-ink text-[24px] font-semibold text-paper"
      >
        {t("yard:lead_page.begin")}
      </button>
    </main>
  );
}
