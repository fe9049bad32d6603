import type { ReactNode } from "react";

import { useMe } from "../api/queries";

/** What only those see who may do it: a reviewer codes, and neither brings, changes nor removes. */
export function ForTrainers({ children }: { children: ReactNode }) {
  const role = useMe().data?.role;
  return role === "owner" || role === "trainer" ? children : null;
}
