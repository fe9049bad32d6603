/** What every part of the findings is given. */

import type { SessionOut } from "../../api/client";
import type { Findings } from "../../api/findings";

export interface PartOf {
  findings: Findings;
  session: SessionOut;
  titleOf: (key: string | null) => string;
}
