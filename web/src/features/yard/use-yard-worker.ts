import { useEffect, useState } from "react";

/** Whether the yard opens without a network: not yet known, it does, or this browser refused. */
export type Offline = "unknown" | "ready" | "refused";

/** Let the browser keep the yard's pages; it refuses where the certificate is not installed. */
export function useYardWorker(): Offline {
  const canKeep = "serviceWorker" in navigator;
  const [offline, setOffline] = useState<Offline>(canKeep ? "unknown" : "refused");
  useEffect(() => {
    // This very page may lose its network before the browser answers for it.
    void import("./begin-page");
    void import("./led-page");
    // A page that reloads itself while it is written must not be kept.
    if (import.meta.env.DEV || !canKeep) return;
    navigator.serviceWorker
      .register("/sw.js", { scope: "/yard" })
      .then((registration) => whenActive(registration))
      .then(
        () => setOffline("ready"),
        () => setOffline("refused"),
      );
  }, [canKeep]);
  return offline;
}

async function whenActive(registration: ServiceWorkerRegistration): Promise<void> {
  if (registration.active) return;
  const worker = registration.installing ?? registration.waiting;
  await new Promise<void>((resolve, reject) => {
    worker?.addEventListener("statechange", () => {
      if (worker.state === "activated") resolve();
      else if (worker.state === "redundant") reject(new Error("not kept"));
    });
  });
}
