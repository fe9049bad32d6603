import type { ReactNode } from "react";
import { ErrorBoundary } from "react-error-boundary";

/** One part of a page: where it cannot be drawn it says so, and the others stand. */
export function PartBoundary({ children }: { children: ReactNode }) {
  return <ErrorBoundary fallback={<Undrawn />}>{children}</ErrorBoundary>;
}

function Undrawn() {
  return (
    <p role="alert" className="border-t border-ink pt-3 pb-6">
      This part could not be drawn. The marks and all other parts are as they were; reloading the
      page may help.
    </p>
  );
}
