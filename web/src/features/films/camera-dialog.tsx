import { zodResolver } from "@hookform/resolvers/zod";
import { Dialog } from "radix-ui";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { z } from "zod";

import { api, whyNot } from "../../api/client";
import { Button } from "../../components/button";
import { Wrong } from "../../components/field";
import { t } from "../../words";

const FRAME_RATES = ["24", "25", "30000/1001", "30", "50", "60"] as const;
const SCENE = z.object({
  animal: z.enum(["goat", "hen", "pony"]),
  length_s: z.coerce
    .number()
    .refine((s) => s >= 4 && s <= 180, { error: () => t("films:camera_dialog.4_to_180_seconds") }),
  fps: z.enum(FRAME_RATES),
  lateness_s: z.coerce.number(),
  variable: z.boolean(),
});
type Asked = z.input<typeof SCENE>;
type Scene = z.infer<typeof SCENE>;

/** The simulated camera: films a made-up session for trying things out. */
export function CameraDialog({ onFilming }: { onFilming: () => void }) {
  const [open, setOpen] = useState(false);
  const { register, handleSubmit, setError, clearErrors, formState } = useForm<
    Asked,
    unknown,
    Scene
  >({
    resolver: zodResolver(SCENE),
    defaultValues: { animal: "goat", length_s: "40", fps: "30", lateness_s: "0", variable: false },
  });
  const { errors } = formState;

  const film = async (body: Scene) => {
    const answer = await api.POST("/api/films/simulate", { body }).catch(() => null);
    if (!answer?.data) {
      setError("root", { message: whyNot(answer) });
      return;
    }
    setOpen(false);
    onFilming();
  };

  const row = "flex items-center justify-between gap-4";
  const field = "num rounded border border-line bg-paper px-2 py-1";
  return (
    // A modal one would write a style into the page, which the content security policy forbids.
    <Dialog.Root
      modal={false}
      open={open}
      onOpenChange={(next) => {
        setOpen(next);
        clearErrors();
      }}
    >
      <Dialog.Trigger asChild>
        <Button>{t("films:camera_dialog.use_the_simulated_camera")}</Button>
      </Dialog.Trigger>
      <Dialog.Portal>
        <div aria-hidden className="fixed inset-0 z-30 bg-ink/25" />
        <Dialog.Content className="fixed top-24 left-1/2 z-40 w-[26rem] max-w-[calc(100vw-2rem)] -translate-x-1/2 rounded border border-ink bg-raised p-6">
          <Dialog.Title className="text-[18px] font-semibold">
            {t("films:camera_dialog.film_a_made_up_session")}
          </Dialog.Title>
          <Dialog.Description className="mt-1 mb-4 text-soft">
            {t("films:camera_dialog.nothing_in_it_is_real")}
          </Dialog.Description>
          <form
            noValidate
            onSubmit={(event) => void handleSubmit(film)(event)}
            className="space-y-3"
          >
            <label className={row}>
              {t("films:camera_dialog.who")}
              <select {...register("animal")} className={field}>
                <option value="goat">{t("films:camera_dialog.thistle_the_bell")}</option>
                <option value="hen">{t("films:camera_dialog.pepper_the_striped_disc")}</option>
                <option value="pony">{t("films:camera_dialog.bramble_upright_a_word")}</option>
              </select>
            </label>
            <label className={row}>
              {t("films:camera_dialog.length_seconds")}
              <input
                {...register("length_s")}
                type="number"
                min={4}
                max={180}
                aria-invalid={errors.length_s !== undefined}
                className={`${field} w-24`}
              />
            </label>
            <Wrong fault={errors.length_s?.message} />
            <label className={row}>
              {t("films:camera_dialog.frames_a_second")}
              <select {...register("fps")} className={field}>
                {FRAME_RATES.map((fps) => (
                  <option key={fps} value={fps}>
                    {fps === "30000/1001" ? "29.97" : fps}
                  </option>
                ))}
              </select>
            </label>
            <label className={row}>
              {t("films:camera_dialog.the_trainers_hand")}
              <select {...register("lateness_s")} className={field}>
                <option value="0">{t("films:camera_dialog.quick")}</option>
                <option value="0.2">{t("films:camera_dialog.a_little_slow")}</option>
                <option value="0.5">{t("films:camera_dialog.slow")}</option>
              </select>
            </label>
            <label className={row}>
              {t("films:camera_dialog.uneven_frames_as_phones_film")}
              <input {...register("variable")} type="checkbox" className="size-5" />
            </label>
            <Wrong fault={errors.root?.message} />
            <div className="flex justify-end gap-2 pt-2">
              <Dialog.Close asChild>
                <Button>{t("common:not_now")}</Button>
              </Dialog.Close>
              <Button look="main" type="submit">
                {t("films:camera_dialog.film_it")}
              </Button>
            </div>
          </form>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
