/** The core's findings by the names of docs/measures.md; the types are made from the core's own. */

import type { components } from "./schema";

type Schemas = components["schemas"];

export type Findings = Schemas["Findings"];
export type Summary = Schemas["Summary"];
export type Rate = Schemas["Rate"];
/** So many of so many, with the 95 % interval of the share. */
export type Share = Schemas["Share"];
export type Rep = Schemas["Rep"];
export type Moment = Schemas["Moment"];
export type Outcome = Schemas["Outcome"];
export type Split = Schemas["Split"];
export type Level = Schemas["Level"];
export type SideDifference = Schemas["SideDifference"];
export type Decision = Schemas["Decision"];
export type Timing = NonNullable<Rep["timing"]>;

/** A share with its interval, whatever it is of. */
export type Interval = Pick<Share, "share" | "low" | "high">;
