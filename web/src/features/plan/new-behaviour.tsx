import { zodResolver } from "@hookform/resolvers/zod";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useForm, useWatch } from "react-hook-form";
import { useNavigate } from "react-router";
import { z } from "zod";

import { api, faultsOf, given, whyNot } from "../../api/client";
import { useLearners } from "../../api/queries";
import { PaperDialog } from "../../components/paper-dialog";
import { Button } from "../../components/button";
import { FIELD } from "./fields";
import { WAYS } from "../../domain/plan-document";
import { t } from "../../words";

const BEGIN = z.object({ learner_id: z.string(), name: z.string().trim(), starter: z.string() });
type Begin = z.infer<typeof BEGIN>;

interface NewBehaviourProps {
  learnerId: string;
  /** The plan to begin with, where it is another behaviour's. */
  copyOf?: { id: string; name: string };
  onClose: () => void;
}

/** Asks for whom and from what a new plan begins, and goes there. */
export function NewBehaviour({ learnerId, copyOf, onClose }: NewBehaviourProps) {
  const navigate = useNavigate();
  const client = useQueryClient();
  const learners = useLearners();
  const starters = useQuery({
    queryKey: ["starters"],
    staleTime: Infinity,
    queryFn: async () => given(await api.GET("/api/plans/starters")),
  });
  const [file, setFile] = useState<File | null>(null);
  const [fault, setFault] = useState<string[]>([]);
  const { register, control, handleSubmit, setValue } = useForm<Begin>({
    resolver: zodResolver(BEGIN),
    defaultValues: { learner_id: learnerId, name: copyOf?.name ?? "", starter: "" },
  });
  const starter = useWatch({ control, name: "starter" });

  const make = async ({ learner_id, name, starter }: Begin) => {
    let document: Record<string, never> | undefined;
    if (file) {
      try {
        document = JSON.parse(await file.text()) as Record<string, never>;
      } catch {
        setFault([t("plan:new_behaviour.name_is_no_json_text", { name: file.name })]);
        return;
      }
    }
    const answer = await api
      .POST("/api/behaviours", {
        body: {
          learner_id,
          name,
          ...(copyOf ? { copy_of: copyOf.id } : {}),
          ...(starter && !file ? { starter } : {}),
          ...(document ? { document } : {}),
        },
      })
      .catch(() => null);
    if (!answer?.data) {
      setFault(answer ? faultsOf(answer.error, answer.response.status) : [whyNot(null)]);
      return;
    }
    void client.invalidateQueries({ queryKey: ["behaviours"] });
    onClose();
    void navigate(`/plans/${answer.data.id}`);
  };
  /** A ready-made plan brings its name along. */
  const begin = (key: string, name: string) => {
    setFile(null);
    setValue("starter", key);
    setValue("name", name);
  };

  return (
    <PaperDialog
      title={
        copyOf
          ? t("plan:new_behaviour.a_plan_like_name", { name: copyOf.name })
          : t("plan:new_behaviour.a_new_behaviour")
      }
      description={
        copyOf
          ? t("plan:new_behaviour.it_becomes_a_plan_of")
          : t("plan:new_behaviour.begin_with_an_empty_flight")
      }
      className="w-[34rem]"
      onClose={onClose}
    >
      <form onSubmit={(event) => void handleSubmit(make)(event)} className="space-y-3">
        <label className="grid grid-cols-[7rem_1fr] items-center">
          {t("plan:new_behaviour.learner")}
          <select {...register("learner_id")} className={FIELD}>
            {learners.data?.map((learner) => (
              <option key={learner.id} value={learner.id}>
                {learner.name}
              </option>
            ))}
          </select>
        </label>
        <label className="grid grid-cols-[7rem_1fr] items-center">
          {t("plan:new_behaviour.behaviour")}
          <input
            {...register("name")}
            placeholder={t("plan:new_behaviour.ring_the_ships_bell")}
            maxLength={200}
            className={FIELD}
          />
        </label>
        {!copyOf && (
          <>
            <fieldset className="space-y-1">
              <legend className="mb-1">{t("plan:new_behaviour.begin_with")}</legend>
              <label className="flex items-center gap-2">
                <input
                  type="radio"
                  name="from"
                  checked={starter === "" && !file}
                  onChange={() => begin("", "")}
                />
                {t("plan:new_behaviour.an_empty_plan")}
              </label>
              {starters.data?.map(({ key, document }) => {
                const plan = document;
                return (
                  <label key={key} className="flex items-center gap-2">
                    <input
                      type="radio"
                      name="from"
                      checked={starter === key && !file}
                      onChange={() => begin(key, plan.behaviour ?? "")}
                    />
                    <span>
                      {plan.behaviour}{" "}
                      <span className="text-soft">
                        {WAYS.find((w) => w.way === plan.way)?.words} ·{" "}
                        {plan.approximations?.length} {t("plan:new_behaviour.steps")}
                      </span>
                    </span>
                  </label>
                );
              })}
            </fieldset>
            <label className="grid grid-cols-[7rem_1fr] items-center">
              {t("plan:new_behaviour.or_a_file")}
              <input
                type="file"
                accept=".json"
                aria-label={t("plan:new_behaviour.plan_as_json")}
                onChange={(event) => setFile(event.target.files?.[0] ?? null)}
              />
            </label>
          </>
        )}
        {fault.length > 0 && (
          <ul role="alert" className="list-disc pl-5 text-fault">
            {fault.slice(0, 6).map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
        )}
        <div className="flex justify-end gap-2 pt-2">
          <Button onClick={onClose}>{t("common:not_now")}</Button>
          <Button look="main" type="submit">
            {t("plan:new_behaviour.make_the_plan")}
          </Button>
        </div>
      </form>
    </PaperDialog>
  );
}
