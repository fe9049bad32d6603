import { describe, expect, it } from "vitest";

import {
  blocksOf,
  commonLevels,
  keptWords,
  lineWords,
  ownLevels,
  payWords,
  scriptDocument,
  type ScriptLine,
} from "../src/domain/script";

const rep = (more: Partial<ScriptLine> = {}): ScriptLine => ({
  sort: "rep",
  phase: "work",
  step: "pull",
  levels: { side: "left", distance: "1 m" },
  cue: null,
  placement: null,
  pays: 1,
  ...more,
});
const pause = rep({ sort: "break", step: null, levels: {}, pays: 0 });
const wait = rep({ sort: "wait" });
const title = (key: string | null) => ({ pull: "Pulls the rope" })[key ?? ""] ?? "";

describe("a script in blocks", () => {
  it("numbers reps and waits through, whatever breaks lie between", () => {
    const blocks = blocksOf([rep(), wait, pause, rep(), pause, rep(), rep()]);
    expect(blocks.map(({ first, lines }) => [first, lines.length])).toEqual([
      [1, 2],
      [3, 1],
      [4, 2],
    ]);
    expect(blocksOf([])).toEqual([]);
  });

  it("says once what holds the whole time, and at a line what does not", () => {
    const far = rep({ levels: { side: "left", distance: "2 m" } });
    const common = commonLevels([rep(), far, { ...wait, levels: {} }, pause]);
    expect(common).toEqual({ side: "left" });
    expect(ownLevels(far, common)).toEqual({ distance: "2 m" });
    expect(commonLevels([pause])).toEqual({});
  });
});

describe("a line in words", () => {
  it("says what to do", () => {
    expect(lineWords(rep(), title)).toBe("Pulls the rope");
    expect(lineWords(rep({ cue: "“ring”" }), title)).toBe("Ask “ring”: Pulls the rope");
    expect(lineWords(rep({ step: null }), title)).toBe("A rep");
    expect(lineWords(wait, title)).toContain("ask nothing");
    expect(lineWords(pause, title)).toContain("Break");
  });

  it("says how it is paid, and once goes without saying", () => {
    expect(payWords(rep())).toBe("");
    expect(payWords(rep({ placement: "in_place" }))).toBe("in place");
    expect(payWords(rep({ pays: 3 }))).toBe("3 times");
    expect(payWords(rep({ pays: 3, placement: "on the mat" }))).toBe("3 times, on the mat");
  });

  it("says in what it was done another way", () => {
    const line = { planned: 1, done: "a", met: true };
    expect(keptWords({ ...line, kept: "as_planned", differs: [] })).toBe("as planned");
    expect(keptWords({ ...line, kept: "swapped", differs: ["step", "levels"] })).toBe(
      "another way (another step, another level)",
    );
  });
});

it("a script is kept as a document without what is not there", () => {
  const document = scriptDocument({ seed: 7, lines: [rep()] });
  expect(document).toEqual({
    format: "frequens-script",
    version: 1,
    seed: 7,
    lines: [
      {
        sort: "rep",
        phase: "work",
        step: "pull",
        levels: { side: "left", distance: "1 m" },
        pays: 1,
      },
    ],
  });
});
