import { Link } from "react-router";

import { Shell } from "./shell";
import { t } from "../words";

/** An address that leads nowhere. */
export function NotFound() {
  return (
    <Shell title={t("components:not_found.not_found")}>
      <main className="p-[18px]">
        <h1 className="text-[22px]">{t("components:not_found.there_is_nothing_at_this")}</h1>
        <Link className="underline" to="/films">
          {t("components:not_found.to_the_films")}
        </Link>
      </main>
    </Shell>
  );
}
