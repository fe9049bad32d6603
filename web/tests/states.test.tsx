// @vitest-environment jsdom
import { cleanup, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";

import { Refused } from "../src/api/client";
import { IntakeStages } from "../src/components/intake-stages";
import { Fault, Wait } from "../src/components/states";
import type { FilmOut } from "../src/api/client";

afterEach(cleanup);

const said = (error: Error) => {
  render(<Fault error={error} />);
  const text = screen.getByRole("alert").textContent;
  cleanup();
  return text;
};

describe("what is said of a failure", () => {
  it("is the server's own word where it refused", () => {
    expect(said(new Refused(422, ["No rep is judged."]))).toContain("No rep is judged.");
    expect(said(new Refused(404, ["Not here."]))).toContain("Not found");
    expect(said(new Refused(422, ["x"]))).not.toContain("Not found");
  });

  it.each(["Failed to fetch", "NetworkError when attempting to fetch resource.", "Load failed"])(
    "is that nobody answers: %s",
    (message) => expect(said(new TypeError(message))).toContain("does not answer"),
  );

  it("is the page's own fault where it is", () => {
    const text = said(new TypeError("Cannot read properties of undefined (reading 'low')"));
    expect(text).toContain("could not be drawn");
    expect(text).not.toContain("does not answer");
  });

  it("is a status while something is on its way", () => {
    render(<Wait>Measuring</Wait>);
    expect(screen.getByRole("status").textContent).toBe("Measuring …");
  });
});

describe("a film on its way in", () => {
  it("names each stage by what is done, and the one under way with its share", () => {
    const film = {
      stages: [
        { name: "check", state: "done", share: 1 },
        { name: "review", state: "working", share: 0.42 },
        { name: "sound", state: "waiting", share: 0 },
      ],
    } as FilmOut;
    render(<IntakeStages film={film} />);
    const stages = screen.getAllByRole("listitem").map((item) => item.textContent);
    expect(stages[0]).toContain("checked");
    expect(stages[1]).toMatch(/making the review copy.*42/);
    expect(stages[2]).toContain("listening");
  });
});
