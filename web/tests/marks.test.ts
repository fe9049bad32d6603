import { describe, expect, it } from "vitest";

import { fold, inverse, type EditBody } from "../src/domain/marks";

const put = (id: string, frame: number): EditBody => ({
  op: "put",
  event: { id, kind: "onset", frame },
});
const drop = (id: string): EditBody => ({ op: "drop", id });
const facts = (set: Record<string, unknown>): EditBody => ({ op: "facts", set });

describe("fold", () => {
  it("keeps the last word on every mark", () => {
    const state = fold([put("a", 1), put("b", 2), put("a", 5), drop("b"), put("c", 3)]);
    expect([...state.events.values()].map((e) => [e.id, e.frame])).toEqual([
      ["a", 5],
      ["c", 3],
    ]);
  });

  it("drops what is not there without harm", () => {
    expect(fold([drop("x")]).events.size).toBe(0);
  });
});

describe("inverse", () => {
  const before: EditBody[] = [put("a", 1), put("b", 2), facts({ learner: "Thistle" })];

  it.each([
    ["a new mark", [put("c", 9)]],
    ["a moved mark", [put("a", 7)]],
    ["a removed mark", [drop("b")]],
    ["a mark made and moved at once", [put("c", 1), put("c", 2)]],
    ["a mark removed and made again", [drop("a"), put("a", 3)]],
    ["facts", [facts({ learner: "Pepper" })]],
    ["all together", [drop("a"), put("b", 4), put("c", 1), facts({ learner: "Bramble" })]],
  ])("brings back the state before %s", (_, bodies) => {
    const undone = [...before, ...bodies, ...inverse(bodies, fold(before))];
    expect(new Map(fold(undone).events)).toEqual(fold(before).events);
    expect(fold(undone).facts).toEqual(fold(before).facts);
  });

  it("of an inverse is the change again", () => {
    const change = [put("a", 8), drop("b")];
    const undo = inverse(change, fold(before));
    const redo = inverse(undo, fold([...before, ...change]));
    expect(fold([...before, ...change, ...undo, ...redo]).events).toEqual(
      fold([...before, ...change]).events,
    );
  });
});
