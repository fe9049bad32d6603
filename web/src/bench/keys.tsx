import { Dialog } from "radix-ui";
import { useEffect } from "react";

import { Button } from "../ui/button";
import type { EditLog } from "./edit-log";
import { KINDS } from "./marks";
import type { Desk } from "./use-desk";
import type { Stage } from "./use-stage";

/** Whether a key press belongs to a field or an open menu rather than to the bench. */
function isElsewhere(event: KeyboardEvent): boolean {
  const target = event.target as HTMLElement;
  return (
    target.closest("input, select, textarea, [role=menu], [role=dialog], [contenteditable]") !==
    null
  );
}

/** The bench's keys, all of them. */
export function useKeys(desk: Desk, stage: Stage, log: EditLog, showKeys: () => void): void {
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (isElsewhere(event)) return;
      if (event.ctrlKey || event.metaKey) {
        if (event.key.toLowerCase() !== "z") return;
        event.preventDefault();
        if (event.shiftKey) log.redo();
        else log.undo();
        return;
      }
      const by = event.shiftKey ? 10 : 1;
      const kind = KINDS.find((k) => k.key === event.key.toLowerCase())?.kind;
      const acts: Record<string, () => void> = {
        ArrowLeft: () => (event.altKey ? desk.nudge(-by) : stage.goTo(stage.wanted - by)),
        ArrowRight: () => (event.altKey ? desk.nudge(by) : stage.goTo(stage.wanted + by)),
        ArrowUp: () => desk.toRep(-1),
        ArrowDown: () => desk.toRep(1),
        " ": stage.toggle,
        f: desk.judge,
        Backspace: desk.remove,
        Delete: desk.remove,
        Escape: () => {
          desk.setChosen(null);
          desk.setPointing({ does: "go" });
        },
        "?": showKeys,
      };
      const step = desk.plan.approximations?.[Number(event.key) - 1];
      const act =
        kind && !event.altKey
          ? () => desk.place(kind)
          : step
            ? () => desk.startStep(step.key)
            : acts[event.key];
      if (!act) return;
      // Space on a focused button must not press it as well.
      event.preventDefault();
      act();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [desk, stage, log, showKeys]);
}

const OTHER_KEYS: [string, string][] = [
  ["1 … 9", "from here this step of the plan is in force"],
  ["f", "fits the criterion · not yet · not judged"],
  ["← →", "one frame; with Shift ten"],
  ["↑ ↓", "the rep before, the next rep"],
  ["Space", "play and stop"],
  ["Alt ← →", "move the chosen mark by a frame"],
  ["Backspace", "remove the chosen mark"],
  ["Esc", "let go of the chosen mark"],
  ["Ctrl Z", "undo; with Shift redo"],
  ["?", "this list"],
];

/** All keys on one card. */
export function KeyCard({
  open,
  onOpenChange,
}: {
  open: boolean;
  onOpenChange: (o: boolean) => void;
}) {
  const rows = [...KINDS.map((k): [string, string] => [k.key, k.words]), ...OTHER_KEYS];
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange} modal={false}>
      <Dialog.Content
        aria-describedby={undefined}
        className="fixed top-16 right-[18px] z-40 w-96 rounded border border-ink bg-raised p-5"
      >
        <Dialog.Title className="mb-3 text-[16px] font-semibold">Keys of the bench</Dialog.Title>
        <dl className="grid grid-cols-[6rem_1fr] gap-y-1.5">
          {rows.map(([key, words]) => (
            <div key={key} className="contents">
              <dt>
                <Key>{key}</Key>
              </dt>
              <dd>{words}</dd>
            </div>
          ))}
        </dl>
        <Dialog.Close asChild>
          <Button className="mt-4">Close</Button>
        </Dialog.Close>
      </Dialog.Content>
    </Dialog.Root>
  );
}

/** A key as it looks on a keyboard. */
export function Key({ children }: { children: string }) {
  return (
    <kbd className="num rounded-[3px] border border-b-2 border-line bg-paper px-1 text-[11px]">
      {children}
    </kbd>
  );
}
