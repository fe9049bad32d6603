import { zodResolver } from "@hookform/resolvers/zod";
import { useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { Controller, useForm } from "react-hook-form";
import { z } from "zod";

import { api, whyNot } from "../../api/client";
import type { components } from "../../api/schema";
import { Button } from "../../components/button";
import { RemoveLearner } from "./remove-learner";
import { Wrong } from "../../components/field";
import { neededText, optionalNumber } from "../../components/form-values";
import { Choice, FIELD } from "./fields";
import type { LearnerOut } from "../../domain/plan-document";
import { t } from "../../words";

type Health = NonNullable<components["schemas"]["LearnerIn"]["health"]>[number];

const HEALTH: { value: Health; words: string }[] = [
  { value: "growing", words: t("plan:learner_dialog.still_growing") },
  { value: "old", words: t("plan:learner_dialog.old") },
  { value: "pregnant", words: t("plan:learner_dialog.pregnant") },
  { value: "overweight", words: t("plan:learner_dialog.overweight") },
  { value: "injured", words: t("plan:learner_dialog.hurt_or_lame") },
  { value: "ill", words: t("plan:learner_dialog.ill") },
  { value: "timid", words: t("plan:learner_dialog.timid") },
  { value: "bites_or_guards", words: t("plan:learner_dialog.bites_or_guards") },
  { value: "food_allergy", words: t("plan:learner_dialog.not_every_food") },
];

const LEARNER = z.object({
  name: neededText,
  species: z.string().trim(),
  born: z.string().transform((day) => day || null),
  size: z.enum(["", "small", "medium", "large"]),
  notes: z.string().trim(),
  health: z.array(z.enum(HEALTH.map(({ value }) => value))),
  piece_kj: optionalNumber(0.01),
  day_kj: optionalNumber(1),
  withers_cm: optionalNumber(1),
});
type Written = z.input<typeof LEARNER>;
type LearnerIn = z.output<typeof LEARNER>;

/** A learner: what drives the cautions of its plans. */
export function LearnerDialog({
  learner,
  onClose,
}: {
  learner: LearnerOut | null;
  onClose: () => void;
}) {
  const client = useQueryClient();
  const { register, control, handleSubmit, setError, formState } = useForm<
    Written,
    unknown,
    LearnerIn
  >({
    resolver: zodResolver(LEARNER),
    defaultValues: {
      name: learner?.name ?? "",
      species: learner?.species ?? "",
      born: learner?.born ?? "",
      size: learner?.size ?? "",
      notes: learner?.notes ?? "",
      health: learner?.health ?? [],
      piece_kj: `${learner?.piece_kj ?? ""}`,
      day_kj: `${learner?.day_kj ?? ""}`,
      withers_cm: `${learner?.withers_cm ?? ""}`,
    },
  });
  const { errors } = formState;

  const keep = async (body: LearnerIn) => {
    const answer = await (
      learner
        ? api.PUT("/api/learners/{learner_id}", {
            params: { path: { learner_id: learner.id } },
            body,
          })
        : api.POST("/api/learners", { body })
    ).catch(() => null);
    if (!answer?.data) {
      setError("root", { message: whyNot(answer) });
      return;
    }
    void client.invalidateQueries({ queryKey: ["learners"] });
    onClose();
  };
  const row = "grid grid-cols-[7rem_1fr] items-center";
  return (
    <Dialog.Root modal={false} open onOpenChange={onClose}>
      <Dialog.Portal>
        <div aria-hidden className="fixed inset-0 z-30 bg-ink/25" />
        <Dialog.Content
          aria-describedby={undefined}
          onInteractOutside={(event) => event.preventDefault()}
          className="fixed top-16 left-1/2 z-40 w-[32rem] max-w-[calc(100vw-2rem)] -translate-x-1/2 rounded border border-ink bg-raised p-6"
        >
          <Dialog.Title className="mb-4 text-[18px] font-semibold">
            {learner ? learner.name : t("plan:learner_dialog.a_new_learner")}
          </Dialog.Title>
          <form
            noValidate
            onSubmit={(event) => void handleSubmit(keep)(event)}
            className="space-y-3"
          >
            <label className={row}>
              {t("plan:learner_dialog.name")}
              <input
                {...register("name")}
                maxLength={200}
                aria-invalid={errors.name !== undefined}
                className={FIELD}
              />
            </label>
            <Wrong beside fault={errors.name?.message} />
            <label className={row}>
              {t("plan:learner_dialog.species")}
              <input
                {...register("species")}
                maxLength={200}
                placeholder={t("plan:learner_dialog.goat_hen_pony")}
                className={FIELD}
              />
            </label>
            <label className={row}>
              {t("plan:learner_dialog.born")}
              <input {...register("born")} type="date" className={FIELD} />
            </label>
            <label className={row}>
              {t("plan:learner_dialog.size")}
              <select {...register("size")} className={FIELD}>
                <option value="">–</option>
                <option value="small">{t("plan:learner_dialog.small")}</option>
                <option value="medium">{t("plan:learner_dialog.medium")}</option>
                <option value="large">{t("plan:learner_dialog.large")}</option>
              </select>
            </label>
            <label className={row}>
              {t("plan:learner_dialog.withers")}
              <span className="flex items-center gap-2 text-soft">
                <input
                  {...register("withers_cm")}
                  type="number"
                  min={1}
                  step="any"
                  aria-invalid={errors.withers_cm !== undefined}
                  className={`${FIELD} w-20`}
                />
                {t("plan:learner_dialog.cm_high")}
              </span>
            </label>
            <Wrong beside fault={errors.withers_cm?.message} />
            <div className={row}>
              {t("plan:learner_dialog.mind_that_it_is")}
              <Controller
                control={control}
                name="health"
                render={({ field }) => (
                  <Choice
                    label={t("plan:learner_dialog.mind_that_it_is")}
                    options={HEALTH}
                    chosen={field.value}
                    onChange={field.onChange}
                  />
                )}
              />
            </div>
            <label className={row}>
              {t("plan:learner_dialog.notes")}
              <textarea
                {...register("notes")}
                rows={2}
                maxLength={4000}
                className={`${FIELD} h-auto py-1`}
              />
            </label>
            <div className={row}>
              {t("plan:learner_dialog.food")}
              <span className="flex flex-wrap items-center gap-x-3 gap-y-1 text-soft">
                <label className="flex items-center gap-2">
                  {t("plan:learner_dialog.one_piece")}
                  <input
                    {...register("piece_kj")}
                    type="number"
                    min={0.01}
                    step="any"
                    aria-invalid={errors.piece_kj !== undefined}
                    className={`${FIELD} w-20`}
                  />
                  {t("plan:learner_dialog.kj")}
                </label>
                <label className="flex items-center gap-2">
                  {t("plan:learner_dialog.its_whole_day")}
                  <input
                    {...register("day_kj")}
                    type="number"
                    min={1}
                    step="any"
                    aria-invalid={errors.day_kj !== undefined}
                    className={`${FIELD} w-24`}
                  />
                  {t("plan:learner_dialog.kj_2")}
                </label>
              </span>
            </div>
            <Wrong beside fault={(errors.piece_kj ?? errors.day_kj)?.message} />
            <Wrong fault={errors.root?.message} />
            {learner && <RemoveLearner learner={learner} onRemoved={onClose} />}
            <div className="flex justify-end gap-2 pt-2">
              <Button onClick={onClose}>{t("common:not_now")}</Button>
              <Button look="main" type="submit">
                {t("plan:learner_dialog.keep")}
              </Button>
            </div>
          </form>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
