import { Link } from "react-router";

import { Fault } from "../../components/states";
import { useYardKits, type YardKit } from "../../domain/yard-kits";
import { t } from "../../words";
import { useYardWorker } from "./use-yard-worker";

/** What can be led from here, also without a network. */
export function ToLead() {
  const kept = useYardKits();
  const offline = useYardWorker();
  if (kept.error && !kept.data) {
    return kept.error instanceof TypeError ? (
      <p className="mt-6">{t("yard:yard_page.no_network_yet")}</p>
    ) : (
      <Fault error={kept.error} />
    );
  }
  if (!kept.data) return null;
  const { kits, at, isFresh } = kept.data;
  return (
    <section aria-labelledby="lead" className="mt-6 border-t border-ink pt-3">
      <h2 id="lead" className="text-[18px] font-semibold">
        {t("yard:yard_page.lead_a_session")}
      </h2>
      {!isFresh && (
        <p className="text-[13.5px] text-soft">
          {t("yard:yard_page.taken_along", { at: new Date(at).toLocaleString() })}
        </p>
      )}
      {kits.length === 0 && <p className="mt-1">{t("yard:yard_page.nothing_to_lead")}</p>}
      <p className="text-[13.5px] text-soft" data-offline={offline}>
        {t(`yard:offline.${offline}`)}
      </p>
      <ul className="mt-1">
        {kits.map((kit) => (
          <li key={kit.behaviour_id}>
            <Link
              to={`/yard/lead/${kit.behaviour_id}`}
              className="flex min-h-14 flex-col justify-center border-b border-line py-2"
            >
              <span className="text-[17px] underline underline-offset-3">
                {t("yard:lead_page.title", { learner: kit.learner, behaviour: kit.behaviour })}
              </span>
              <span className="text-[13.5px] text-soft">
                {t("yard:yard_page.next_is", { step: nextStep(kit) })}
              </span>
            </Link>
          </li>
        ))}
      </ul>
    </section>
  );
}

function nextStep({ card, plan }: YardKit): string {
  const steps = plan.approximations;
  return (steps.find((step) => step.key === card?.criterion) ?? steps[0])?.title ?? "";
}
