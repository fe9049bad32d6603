import type { ReactNode } from "react";

import { Refused } from "../api/client";

/** Something is on its way. */
export function Wait({ children }: { children: ReactNode }) {
  return (
    <p role="status" className="p-2 text-soft">
      {children} …
    </p>
  );
}

/** Something went wrong: what, and what to do. */
export function Fault({ error }: { error: Error }) {
  const gone = error instanceof Refused && error.status === 404;
  return (
    <div role="alert" className="max-w-xl border-l-4 border-fault py-1 pl-4">
      <p className="font-semibold">{gone ? "Not found" : "That did not work"}</p>
      <p>
        {error instanceof Refused
          ? error.message
          : "The server does not answer. Nothing you did is lost."}
      </p>
      <p className="mt-1">
        <a className="underline" href="/films">
          Back to the films
        </a>
      </p>
    </div>
  );
}
