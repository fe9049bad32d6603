import { Dialog } from "radix-ui";
import { useState, type FormEvent } from "react";

import { api, faultsOf } from "../../api/client";
import { Button } from "../../components/button";

/** The simulated camera: films a made-up session for trying things out. */
export function CameraDialog({ onFilming }: { onFilming: () => void }) {
  const [open, setOpen] = useState(false);
  const [fault, setFault] = useState<string | null>(null);

  const film = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const answer = await api.POST("/api/films/simulate", {
      body: {
        animal: form.get("animal") as "goat",
        length_s: Number(form.get("length_s")),
        lateness_s: Number(form.get("lateness_s")),
        variable: form.get("variable") === "on",
        fps: form.get("fps") as "30",
      },
    });
    if (!answer.data) return setFault(faultsOf(answer.error, answer.response.status)[0] ?? "");
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
        setFault(null);
      }}
    >
      <Dialog.Trigger asChild>
        <Button>Use the simulated camera</Button>
      </Dialog.Trigger>
      <Dialog.Portal>
        <div aria-hidden className="fixed inset-0 z-30 bg-ink/25" />
        <Dialog.Content className="fixed top-24 left-1/2 z-40 w-[26rem] max-w-[calc(100vw-2rem)] -translate-x-1/2 rounded border border-ink bg-raised p-6">
          <Dialog.Title className="text-[18px] font-semibold">Film a made-up session</Dialog.Title>
          <Dialog.Description className="mt-1 mb-4 text-soft">
            Nothing in it is real; it is for trying things out.
          </Dialog.Description>
          <form onSubmit={(event) => void film(event)} className="space-y-3">
            <label className={row}>
              Who
              <select name="animal" defaultValue="goat" className={field}>
                <option value="goat">Thistle, the bell</option>
                <option value="hen">Pepper, the striped disc</option>
                <option value="pony">Bramble, upright, a word</option>
              </select>
            </label>
            <label className={row}>
              Length, seconds
              <input
                name="length_s"
                type="number"
                min={4}
                max={180}
                defaultValue={40}
                className={`${field} w-24`}
              />
            </label>
            <label className={row}>
              Frames a second
              <select name="fps" defaultValue="30" className={field}>
                {["24", "25", "30000/1001", "30", "50", "60"].map((fps) => (
                  <option key={fps} value={fps}>
                    {fps === "30000/1001" ? "29.97" : fps}
                  </option>
                ))}
              </select>
            </label>
            <label className={row}>
              The trainer's hand
              <select name="lateness_s" defaultValue="0" className={field}>
                <option value="0">quick</option>
                <option value="0.2">a little slow</option>
                <option value="0.5">slow</option>
              </select>
            </label>
            <label className={row}>
              Uneven frames, as phones film
              <input name="variable" type="checkbox" className="size-5" />
            </label>
            {fault && (
              <p role="alert" className="text-fault">
                {fault}
              </p>
            )}
            <div className="flex justify-end gap-2 pt-2">
              <Dialog.Close asChild>
                <Button>Not now</Button>
              </Dialog.Close>
              <Button look="main" type="submit">
                Film it
              </Button>
            </div>
          </form>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
