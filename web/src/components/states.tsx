import type { ReactNode } from "react";

import { Refused } from "../api/client";
import { t } from "../words";

/** Something is on its way. */
export function Wait({ children }: { children: ReactNode }) {
  return (
    <p role="status" className="p-2 text-soft">
      {children} …
    </p>
  );
}

/** What to say of a failure: the server's own words, no answer, or a fault of the page's. */
function saidOf(error: Error): string {
  if (error instanceof Refused) return error.message;
  // What `fetch` throws; a page's code that does not come is told in the same way.
  if (/fetch|network|import|load failed/i.test(error.message)) {
    return t("components:states.the_server_does_not_answer");
  }
  return t("components:states.this_page_could_not_be");
}

/** Something went wrong: what, and what to do. */
export function Fault({ error }: { error: Error }) {
  const gone = error instanceof Refused && error.status === 404;
  return (
    <div role="alert" className="max-w-xl border-l-4 border-fault py-1 pl-4">
      <p className="font-semibold">
        {gone ? t("components:states.not_found") : t("components:states.that_did_not_work")}
      </p>
      <p>{saidOf(error)}</p>
      <p className="mt-1">
        <a className="underline" href="/films">
          {t("components:states.back_to_the_films")}
        </a>
      </p>
    </div>
  );
}
