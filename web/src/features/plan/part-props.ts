import type { Changes, PlanDocument } from "../../domain/plan-document";

/** One part of the whole plan: what stands in it, and how that is changed. */
export interface PartProps {
  plan: PlanDocument;
  set: (values: Changes<PlanDocument>) => void;
}
