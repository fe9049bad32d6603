import { Link } from "react-router";

import { Shell } from "./shell";

/** An address that leads nowhere. */
export function NotFound() {
  return (
    <Shell title="Not found">
      <main className="p-[18px]">
        <h1 className="text-[22px]">There is nothing at this address</h1>
        <Link className="underline" to="/films">
          To the films
        </Link>
      </main>
    </Shell>
  );
}
