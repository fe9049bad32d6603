/** What stands in a form's fields, as values: shared parts of the forms' schemas. */

import { z } from "zod";

import { t } from "../words";

/** A number that may be left out: an empty field is null. */
export function optionalNumber(least: number, most = Infinity) {
  return z
    .string()
    .trim()
    .transform((text) => (text === "" ? null : Number(text.replace(",", "."))))
    .refine((n) => n === null || (Number.isFinite(n) && n >= least), {
      error: () => t("components:form_values.a_number_from", { least }),
    })
    .refine((n) => n === null || n <= most, {
      error: () => t("components:form_values.at_most", { most }),
    });
}

/** As `optionalNumber`, and it must be there. */
export function neededNumber(least: number) {
  return optionalNumber(least).refine((n) => n !== null, {
    error: () => t("components:form_values.this_is_needed"),
  });
}

/** A text that must be there. */
export const neededText = z
  .string()
  .trim()
  .min(1, { error: () => t("components:form_values.this_is_needed") });
