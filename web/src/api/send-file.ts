/** A large file on its way to the server, with its share and a way to stop. */

import { csrfToken } from "./client";

/** How a file arrived: the answer's status and body, `null` where the connection broke. */
export type Arrival = { status: number; body: unknown } | null;

export interface Sending {
  /** Resolves once it has arrived or broken off; never where it was stopped. */
  arrived: Promise<Arrival>;
  stop: () => void;
}

/** Send a file as the plain body of a request; `onShare` hears the part sent, 0 to 1. */
export function sendFile(address: string, file: Blob, onShare: (share: number) => void): Sending {
  const request = new XMLHttpRequest();
  const arrived = new Promise<Arrival>((resolve) => {
    request.open("POST", address);
    request.setRequestHeader("X-CSRFToken", csrfToken());
    request.setRequestHeader("Content-Type", "application/octet-stream");
    request.upload.onprogress = (event) => onShare(event.total ? event.loaded / event.total : 0);
    request.onload = () => resolve({ status: request.status, body: parsed(request.responseText) });
    request.onerror = () => resolve(null);
    request.send(file);
  });
  return { arrived, stop: () => request.abort() };
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
