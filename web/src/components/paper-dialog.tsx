import { Dialog } from "radix-ui";
import type { ReactNode } from "react";

interface PaperDialogProps {
  title: ReactNode;
  description: ReactNode;
  /** How wide it is. */
  className: string;
  onClose: () => void;
  children: ReactNode;
}

/** A sheet of paper over the page; a press beside it does not throw away what was written. */
export function PaperDialog({
  title,
  description,
  className,
  onClose,
  children,
}: PaperDialogProps) {
  return (
    <Dialog.Root modal={false} open onOpenChange={onClose}>
      <Dialog.Portal>
        <div aria-hidden className="fixed inset-0 z-30 bg-ink/25" />
        <Dialog.Content
          onInteractOutside={(event) => event.preventDefault()}
          className={`fixed top-16 left-1/2 z-40 max-h-[calc(100vh-5rem)] max-w-[calc(100vw-2rem)] -translate-x-1/2 overflow-y-auto rounded border border-ink bg-raised p-6 ${className}`}
        >
          <Dialog.Title className="text-[18px] font-semibold">{title}</Dialog.Title>
          <Dialog.Description className="mt-1 mb-4 text-soft">{description}</Dialog.Description>
          {children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
