// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, configure, render, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { MemoryRouter } from "react-router";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import { NoticeProvider } from "../src/components/notice";
import type { LogbookOut } from "../src/domain/behaviour-logbook";
import { Login } from "../src/features/account/login";
import { HandDialog } from "../src/features/logbook/hand-dialog";
import { LearnerDialog } from "../src/features/plan/learner-dialog";

// A loaded machine is slow, not wrong.
configure({ asyncUtilTimeout: 30_000 });

// Relative addresses are for browsers; the client of the API takes its Request when it is loaded.
vi.hoisted(() => {
  globalThis.Request = class extends Request {
    constructor(input: RequestInfo | URL, init?: RequestInit) {
      super(typeof input === "string" ? new URL(input, "http://localhost") : input, init);
    }
  };
});

/** What was asked of the server: method, path and body. */
const asked: { method: string; path: string; body: unknown }[] = [];

beforeEach(() => {
  asked.length = 0;
  vi.stubGlobal("fetch", async (input: Request | string, init?: RequestInit) => {
    const request = input instanceof Request ? input : new Request(input, init);
    const text = await request.text();
    asked.push({
      method: request.method,
      path: new URL(request.url).pathname,
      body: text ? (JSON.parse(text) as unknown) : null,
    });
    return Response.json({}, { status: request.method === "GET" ? 200 : 201 });
  });
});

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

const sent = () => asked.filter(({ method }) => method !== "GET");

function show(form: React.ReactElement) {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  render(
    <QueryClientProvider client={client}>
      <NoticeProvider>
        <MemoryRouter>{form}</MemoryRouter>
      </NoticeProvider>
    </QueryClientProvider>,
  );
  return userEvent.setup();
}

const LOGBOOK = {
  behaviour_id: "7b0c",
  order: ["near"],
  titles: { near: "Nose near the bell" },
} as unknown as LogbookOut;

describe("a session counted by hand", () => {
  const open = () => {
    const onClose = vi.fn();
    const user = show(<HandDialog logbook={LOGBOOK} session={null} onClose={onClose} />);
    return { user, onClose };
  };

  it("is not sent while what must be there is missing, and says where", async () => {
    const { user, onClose } = open();
    await user.click(screen.getByRole("button", { name: "Keep" }));
    expect((await screen.findByRole("alert")).textContent).toBe("This is needed.");
    expect(screen.getByLabelText("Minutes").getAttribute("aria-invalid")).toBe("true");
    expect(document.activeElement).toBe(screen.getByLabelText("Minutes"));
    expect(sent()).toEqual([]);
    expect(onClose).not.toHaveBeenCalled();
  });

  it.each([
    ["8", "9", "More than the 8 reps."],
    ["9", "9", null],
  ])("of %s reps lets %s fit: %s", async (reps, met, fault) => {
    const { user, onClose } = open();
    await user.type(screen.getByLabelText("Minutes"), "2.5");
    await user.type(screen.getByLabelText("Reps"), reps);
    await user.type(screen.getByLabelText("of them fit"), met);
    await user.click(screen.getByRole("button", { name: "Keep" }));
    if (fault) {
      expect((await screen.findByRole("alert")).textContent).toBe(fault);
      expect(sent()).toEqual([]);
    } else {
      await waitFor(() => expect(onClose).toHaveBeenCalled());
      expect(sent()[0]).toMatchObject({
        method: "POST",
        path: "/api/logbook/7b0c/by-hand",
        body: { counts: { minutes: 2.5, reps: 9, met: 9 } },
      });
    }
  });

  it.each([
    ["50", null],
    ["51", "At most 50."],
  ])("with %s slight signs: %s", async (signs, fault) => {
    const { user, onClose } = open();
    await user.type(screen.getByLabelText("Minutes"), "2");
    await user.type(screen.getByLabelText("slight signs"), signs);
    await user.click(screen.getByRole("button", { name: "Keep" }));
    if (fault) {
      expect((await screen.findByRole("alert")).textContent).toBe(fault);
      expect(sent()).toEqual([]);
    } else {
      await waitFor(() => expect(onClose).toHaveBeenCalled());
    }
  });

  it("sends what was said and nothing that was not", async () => {
    const { user, onClose } = open();
    await user.type(screen.getByLabelText("Minutes"), "3");
    await user.type(screen.getByLabelText("slight signs"), "2");
    await user.type(screen.getByLabelText("severe signs"), "1");
    await user.type(screen.getByLabelText("Conditions"), "side: left, place: barn, odd");
    await user.click(screen.getByRole("button", { name: "Keep" }));
    await waitFor(() => expect(onClose).toHaveBeenCalled());
    expect((sent()[0]?.body as { counts: unknown }).counts).toEqual({
      minutes: 3,
      signs: [{ severity: 1 }, { severity: 1 }, { severity: 3 }],
      conditions: { side: "left", place: "barn" },
    });
  });
});

describe("a learner", () => {
  it("needs a name; what is left out is none", async () => {
    const onClose = vi.fn();
    const user = show(<LearnerDialog learner={null} onClose={onClose} />);
    await user.click(screen.getByRole("button", { name: "Keep" }));
    expect((await screen.findByRole("alert")).textContent).toBe("This is needed.");
    expect(sent()).toEqual([]);
    await user.type(screen.getByLabelText("Name"), "Thistle");
    await user.click(screen.getByRole("button", { name: "timid" }));
    await user.click(screen.getByRole("button", { name: "Keep" }));
    await waitFor(() => expect(onClose).toHaveBeenCalled());
    expect(sent()[0]?.body).toEqual({
      name: "Thistle",
      species: "",
      born: null,
      size: "",
      notes: "",
      health: ["timid"],
      piece_kj: null,
      day_kj: null,
      withers_cm: null,
    });
  });

  it.each([
    ["0.01", null],
    ["0", "A number from 0.01 up."],
  ])("whose piece has %s kJ: %s", async (kj, fault) => {
    const onClose = vi.fn();
    const user = show(<LearnerDialog learner={null} onClose={onClose} />);
    await user.type(screen.getByLabelText("Name"), "Pepper");
    await user.type(screen.getByLabelText(/one piece/), kj);
    await user.click(screen.getByRole("button", { name: "Keep" }));
    if (fault) expect((await screen.findByRole("alert")).textContent).toBe(fault);
    else await waitFor(() => expect(onClose).toHaveBeenCalled());
  });
});

describe("a server that does not answer", () => {
  it("is said in the form, and what was written stays", async () => {
    vi.stubGlobal("fetch", () => Promise.reject(new TypeError("Failed to fetch")));
    const onClose = vi.fn();
    const user = show(<LearnerDialog learner={null} onClose={onClose} />);
    await user.type(screen.getByLabelText("Name"), "Bramble");
    await user.click(screen.getByRole("button", { name: "Keep" }));
    expect((await screen.findByRole("alert")).textContent).toContain("does not answer");
    expect(screen.getByLabelText<HTMLInputElement>("Name").value).toBe("Bramble");
    expect(onClose).not.toHaveBeenCalled();
  });
});

describe("the way in", () => {
  it("asks for both before it asks the server", async () => {
    const user = show(<Login />);
    await user.type(screen.getByLabelText("Name"), "wren");
    await user.click(screen.getByRole("button", { name: "Log in" }));
    expect((await screen.findByRole("alert")).textContent).toBe("This is needed.");
    expect(sent()).toEqual([]);
  });
});
