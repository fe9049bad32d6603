import { useQuery } from "@tanstack/react-query";

import { api, given } from "../../api/client";
import { NumberField } from "./fields";
import { Trans, t } from "../../words";

interface LimitsProps {
  settings: Record<string, number>;
  onChange: (settings: Record<string, number> | undefined) => void;
}

/** The limits sessions are measured by: the usual ones, or the plan's own. */
export function Limits(props: LimitsProps) {
  const limits = useQuery({
    queryKey: ["limits"],
    staleTime: Infinity,
    queryFn: async () => given(await api.GET("/api/plans/limits")),
  });
  return (
    <Usual
      {...props}
      about={t("plan:limits.how_soon_is_soon_how")}
      label={t("plan:limits.limit")}
      limits={limits.data ?? []}
      unit="s"
      most={3600}
    />
  );
}

/** The numbers of the rules that say what to do next. */
export function JudgingNumbers(props: LimitsProps) {
  const numbers = useQuery({
    queryKey: ["judging"],
    staleTime: Infinity,
    queryFn: async () => given(await api.GET("/api/plans/judging")),
  });
  return (
    <Usual
      {...props}
      about={t("plan:limits.when_to_go_on_back")}
      label={t("plan:limits.number")}
      limits={numbers.data ?? []}
      unit=""
      most={3650}
    />
  );
}

interface Limit {
  name: string;
  words: string;
  default: number;
  why: string;
}

/** Numbers with their usual values and reasons, each of which a plan may set. */
function Usual({
  settings,
  onChange,
  about,
  label,
  limits,
  unit,
  most,
}: LimitsProps & { about: string; label: string; limits: Limit[]; unit: string; most: number }) {
  const own = Object.keys(settings).length;
  const set = (name: string, value: number | undefined) => {
    const rest = Object.fromEntries(Object.entries(settings).filter(([key]) => key !== name));
    const next = value === undefined ? rest : { ...rest, [name]: value };
    onChange(Object.keys(next).length > 0 ? next : undefined);
  };
  return (
    <details className="text-[13px]">
      <summary className="cursor-pointer text-soft underline decoration-line underline-offset-3 hover:text-ink">
        {own === 0
          ? t("plan:limits.the_usual_ones_about", { about })
          : t("plan:limits.own_of_your_own_about", { own, about })}
      </summary>
      <ul className="mt-2 space-y-2.5 border-l border-line pl-3">
        {limits.map((limit) => (
          <li key={limit.name}>
            <div className="flex items-center justify-between gap-2">
              <span className={limit.name in settings ? "font-semibold" : ""}>{limit.words}</span>
              <NumberField
                label={`${label}: ${limit.words}${unit && t("plan:limits.seconds")}`}
                value={settings[limit.name] ?? +limit.default.toFixed(4)}
                max={most}
                step="any"
                unit={unit}
                onChange={(value) => set(limit.name, value === limit.default ? undefined : value)}
              />
            </div>
            <p className="text-soft">
              <Trans
                i18nKey="plan:limits.why_usual_value_unit"
                components={{ part: <span className="num" /> }}
                values={{
                  why: limit.why,
                  value: +limit.default.toFixed(2),
                  unit: unit && ` ${unit}`,
                }}
              />
              {limit.name in settings && (
                <button
                  type="button"
                  className="ml-1 underline underline-offset-3 hover:text-ink"
                  onClick={() => set(limit.name, undefined)}
                >
                  {t("plan:limits.as_usual")}
                </button>
              )}
            </p>
          </li>
        ))}
      </ul>
      <p className="mt-2 text-soft">{t("plan:limits.common_practice_they_hold_for")}</p>
    </details>
  );
}
