import { t } from "../../words";

/** Signs one sees from a distance (common practice); what else there is, the film will show. */
const SIGNS = [
  ...(["looks_away", "yawns", "licks", "freezes", "turns_off", "calls", "pants"] as const),
  "trembles" as const,
];
const STRENGTHS = [
  { severity: 1, name: "slight" as const },
  { severity: 2, name: "marked" as const },
  { severity: 3, name: "severe" as const },
];

/** Which sign, and how strong: one tap for both. */
export function SignSheet({
  onSign,
  onLeave,
}: {
  onSign: (label: string, severity: number) => void;
  onLeave: () => void;
}) {
  return (
    <section aria-label={t("yard:lead_page.which_sign")} className="mt-3">
      <h2 className="text-[17px] font-semibold">{t("yard:lead_page.which_sign")}</h2>
      <ul className="mt-1 space-y-1">
        {[...SIGNS, "another_sign" as const].map((sign) => {
          const label =
            sign === "another_sign" ? t("yard:lead_page.another_sign") : t(`yard:signs.${sign}`);
          return (
            <li key={sign} className="grid grid-cols-[1fr_repeat(3,4.6rem)] items-center gap-1">
              <span>{label}</span>
              {STRENGTHS.map(({ severity, name }) => (
                <button
                  key={severity}
                  type="button"
                  aria-label={`${label}, ${t(`yard:lead_page.${name}`)}`}
                  onClick={() => onSign(label, severity)}
                  className={`min-h-10 touch-manipulation rounded border-2 border-ink ${severity === 3 ? "bg-ink text-paper" : "bg-raised"}`}
                >
                  {t(`yard:lead_page.${name}`)}
                </button>
              ))}
            </li>
          );
        })}
      </ul>
      <button
        type="button"
        onClick={onLeave}
        className="mt-2 min-h-12 w-full rounded border border-line"
      >
        {t("yard:lead_page.leave_it")}
      </button>
    </section>
  );
}
