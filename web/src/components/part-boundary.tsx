import type { ReactNode } from "react";
import { ErrorBoundary } from "react-error-boundary";
import { t } from "../words";

/** One part of a page: where it cannot be drawn it says so, and the others stand. */
export function PartBoundary({ children }: { children: ReactNode }) {
  return <ErrorBoundary fallback={<Undrawn />}>{children}</ErrorBoundary>;
}

function Undrawn() {
  return (
    <p role="alert" className="border-t border-ink pt-3 pb-6">
      {t("components:part_boundary.this_part_could_not_be")}
    </p>
  );
}
