import { Toast } from "radix-ui";
import { createContext, use, useCallback, useMemo, useState, type ReactNode } from "react";

import { Button } from "./button";
import { t } from "../words";

interface Notice {
  id: number;
  text: string;
  action?: { label: string; run: () => void };
}

type Tell = (text: string, action?: Notice["action"]) => void;

const NoticeContext = createContext<Tell>(() => undefined);

/** Tells the user something in passing, with at most one thing to do about it. */
export function useNotice(): Tell {
  return use(NoticeContext);
}

let counter = 0;

/** Shows the notices told anywhere below it. */
export function NoticeProvider({ children }: { children: ReactNode }) {
  const [notices, setNotices] = useState<Notice[]>([]);
  const tell = useCallback<Tell>((text, action) => {
    const notice: Notice = { id: ++counter, text, ...(action ? { action } : {}) };
    setNotices((all) => [...all.slice(-3), notice]);
  }, []);
  const close = (id: number) => setNotices((all) => all.filter((n) => n.id !== id));
  const value = useMemo(() => tell, [tell]);
  return (
    <NoticeContext value={value}>
      <Toast.Provider duration={7000} swipeDirection="right">
        {children}
        {notices.map((notice) => (
          <Toast.Root
            key={notice.id}
            onOpenChange={(open) => {
              if (!open) close(notice.id);
            }}
            className="flex items-center gap-4 rounded border border-ink bg-raised px-4 py-2"
          >
            <Toast.Description className="flex-1">{notice.text}</Toast.Description>
            {notice.action && (
              <Toast.Action asChild altText={notice.action.label}>
                <Button look="quiet" onClick={notice.action.run}>
                  {notice.action.label}
                </Button>
              </Toast.Action>
            )}
            <Toast.Close
              aria-label={t("components:notice.close_this_notice")}
              className="px-1 text-soft hover:text-ink"
            >
              ×
            </Toast.Close>
          </Toast.Root>
        ))}
        <Toast.Viewport className="fixed right-4 bottom-4 z-50 flex w-[26rem] max-w-[calc(100vw-2rem)] flex-col gap-2" />
      </Toast.Provider>
    </NoticeContext>
  );
}
