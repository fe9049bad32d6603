import { Link } from "react-router";

import { t } from "../words";

/** Whoever holds a phone is in the yard, and wants what is made for it first. */
export function ToTheYard() {
  return (
    <Link
      to="/yard"
      className="mb-4 flex min-h-14 w-full items-center justify-center rounded border border-ink bg-ink px-3 text-[17px] text-paper md:hidden"
    >
      {t("common:yard.in_the_yard")}
    </Link>
  );
}
