import type { Findings } from "../../api/findings";
import { counted } from "../../domain/times";
import { behind } from "./behind";
import { Numbers } from "../../components/numbers-behind";
import { Main, Part } from "./part";
import type { PartOf } from "./parts";
import { t } from "../../words";

interface Quantity {
  name: string;
  unit: string;
  better?: "more" | "less";
}

/** What was measured of the reps, against where the plan wants it to be. */
export function ValuesPart({ findings, session, titleOf }: PartOf) {
  const steps = Object.entries(findings.values).filter(([, values]) => values.n > 0);
  if (steps.length === 0) return null;
  const planned = session.plan.approximations ?? [];
  return (
    <Part
      id="values"
      session={session}
      about={t("findings:values_part.the_measured_reps")}
      title={t("findings:values_part.measured")}
    >
      {steps.map(([key, values]) => {
        const quantity: Quantity = planned.find((s) => s.key === key)?.quantity ?? {
          name: t("findings:values_part.value"),
          unit: "",
        };
        const said = (value: number | null) =>
          value === null ? "–" : `${+value.toFixed(2)} ${quantity.unit}`.trim();
        return (
          <div key={key} className="mb-3">
            <p className="flex justify-between gap-4">
              <span>
                {titleOf(key || null)}: {quantity.name}
              </span>
              <span className="num">
                <Main value={said(values.median)} behind={behind(`measured:${key}`)} />
              </span>
            </p>
            <ValuesPlot
              findings={findings}
              step={key}
              target={values.target}
              name={quantity.name}
            />
            <p className="text-soft">
              {t("findings:values_part.in_the_middle_of_n", { n: counted(values.n, "rep") })}
              {values.first_third !== null &&
                values.last_third !== null &&
                t("findings:values_part.the_first_third_first_third", {
                  first_third: said(values.first_third),
                  last_third: said(values.last_third),
                })}
              {values.target !== null &&
                values.reached &&
                t("findings:values_part.number_of_of_at_target", {
                  number: values.reached.count,
                  of: values.reached.of,
                  target: said(values.target),
                  which:
                    quantity.better === "less"
                      ? t("findings:values_part.less")
                      : t("findings:values_part.more"),
                })}
              .
            </p>
            {Object.entries(values.conditions).map(([name, levels]) => (
              <p key={name} className="text-[13.5px] text-soft">
                {t("findings:values_part.by_name_map", {
                  name,
                  map: Object.entries(levels)
                    .map(([level, v]) => `${level} ${said(v.median)} (${v.n})`)
                    .join(", "),
                })}
              </p>
            ))}
          </div>
        );
      })}
      <Numbers
        caption={t("findings:values_part.each_measured_rep")}
        heads={[t("common:rep"), t("findings:values_part.step"), t("findings:values_part.value")]}
        rows={findings.reps.flatMap((r, n) =>
          r.value === null ? [] : [[n + 1, titleOf(r.approximation), r.value]],
        )}
      />
    </Part>
  );
}

/** The values in their order; full where the rep fitted, the plan's aim as a line. */
function ValuesPlot({
  findings,
  step,
  target,
  name,
}: {
  findings: Findings;
  step: string;
  target: number | null;
  name: string;
}) {
  const reps = findings.reps.filter(
    (r) => r.value !== null && !r.false_alarm && (r.approximation ?? "") === step,
  );
  const all = [...reps.map((r) => r.value ?? 0), ...(target === null ? [] : [target])];
  const [low, high] = [Math.min(0, ...all), Math.max(...all, 1e-9)];
  const x = (n: number) => 12 + (n / Math.max(1, reps.length - 1)) * 576;
  const y = (value: number) => 92 - ((value - low) / (high - low || 1)) * 80;
  return (
    <svg
      viewBox="0 0 600 100"
      className="mt-1 w-full"
      role="img"
      aria-label={t("findings:values_part.name_rep_by_rep", { name })}
    >
      <path d={`M4 ${y(low)}H596`} stroke="var(--line)" />
      {target !== null && (
        <path d={`M4 ${y(target)}H596`} stroke="var(--ink)" strokeDasharray="4 3" />
      )}
      {reps.map((rep, n) => (
        <circle
          key={rep.id}
          cx={x(n)}
          cy={y(rep.value ?? 0)}
          r={4}
          fill={rep.met ? "var(--behaviour)" : "var(--paper)"}
          stroke="var(--behaviour)"
          strokeWidth={1.6}
        />
      ))}
    </svg>
  );
}
