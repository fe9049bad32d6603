import { describe, expect, it } from "vitest";

import { ACTS, isFree, keyMapOf } from "../src/domain/key-map";
import { KINDS } from "../src/domain/marks";

describe("the bench's keys", () => {
  it("are each used for one thing only", () => {
    const keys = [...KINDS.map((k) => k.key), ...ACTS.map((a) => a.key)];
    expect(new Set(keys).size).toBe(keys.length);
    expect(keys.every(isFree)).toBe(true);
  });

  it("follow the reviewer's own choice, whichever case is pressed", () => {
    const map = keyMapOf({ onset: "y" });
    expect(map.doneBy("y")).toEqual({ kind: "onset" });
    expect(map.doneBy("Y")).toEqual({ kind: "onset" });
    expect(map.doneBy("b")).toBeNull();
    // What usually has that key has none then, until it is given one.
    expect(map.keyOf("part")).toBe("");
    expect(map.keyOf("onset")).toBe("y");
    expect(map.doneBy("Enter")).toEqual({ act: "accept" });
    expect(map.doneBy("F13")).toBeNull();
  });

  it("leave the steps' digits, arrows and Escape alone", () => {
    for (const key of ["1", "9", "ArrowLeft", "Escape", "Backspace", "Tab"]) {
      expect(isFree(key)).toBe(false);
    }
  });
});
