import { describe, expect, it } from "vitest";

import {
  differences,
  framesAround,
  framesInWords,
  inRows,
  isAlike,
  nextOpen,
  pairKey,
  rowLength,
  saidDifferently,
  type Pair,
} from "../src/domain/second-look";

const FILM = "00000000-0000-0000-0000-000000000001";

function mark(id: string, frame: number, fields: Record<string, unknown> = {}, film_id = FILM) {
  return { event: { id, kind: "onset" as const, ...fields }, t_s: frame / 30, film_id, frame };
}

function pair(fields: Partial<Pair>): Pair {
  const { first = null, second = null } = fields;
  const frames = first && second ? second.frame - first.frame : null;
  return {
    kind: "onset",
    first,
    second,
    frames,
    difference_s: null,
    differs: [],
    settled: null,
    ...fields,
  };
}

const alike = pair({ first: mark("a", 3), second: mark("x", 3) });
const later = pair({ first: mark("b", 30), second: mark("y", 32) });
const otherwise = pair({
  first: mark("c", 60, { met: true }),
  second: mark("z", 60, { met: false }),
  differs: ["met"],
});
const onlySecond = pair({ second: mark("w", 90) });

describe("what differs", () => {
  it("is another frame, another word, or a mark only one has", () => {
    expect([alike, later, otherwise, onlySecond].map(isAlike)).toEqual([true, false, false, false]);
    expect(differences([alike, later, otherwise, onlySecond])).toHaveLength(3);
    expect(new Set([alike, later, otherwise, onlySecond].map(pairKey)).size).toBe(4);
  });

  it("is gone through from where one is, then from the start, and ends", () => {
    const settled = { chosen: "first" as const, mark: null, author: "wren", at: "" };
    const [one, two, three] = [later, otherwise, onlySecond];
    expect(nextOpen([one, two, three], 0)).toBe(1);
    expect(nextOpen([one, two, three], 2)).toBe(0);
    expect(nextOpen([{ ...one, settled }, { ...two, settled }, three], 2)).toBe(2);
    expect(nextOpen([{ ...one, settled }], 0)).toBeNull();
  });

  it("is told in frames and in the words of the marks", () => {
    expect(framesInWords(2)).toBe("2 frames later");
    expect(framesInWords(-1)).toBe("one frame earlier");
    expect(framesInWords(0)).toBe("on the same frame");
    expect(saidDifferently(otherwise, {})).toEqual([
      { name: "met", first: "fits", second: "not yet" },
    ]);
    const steps = { approximations: [{ key: "low", title: "Takes it low" }] };
    const renamed = pair({
      first: mark("d", 1, { approximation: "low" }),
      second: mark("v", 1),
      differs: ["approximation"],
    });
    expect(saidDifferently(renamed, steps)[0]).toMatchObject({
      first: "Takes it low",
      second: "nothing said",
    });
  });
});

describe("the frames to look at", () => {
  it("hold both marks and what is around them", () => {
    expect(framesAround(later, 3, 18)).toEqual([27, 28, 29, 30, 31, 32, 33, 34, 35]);
    expect(framesAround(onlySecond, 1, 18)).toEqual([89, 90, 91]);
  });

  it("never come before the film, and are never too many, with both marks among them", () => {
    expect(framesAround(alike, 5, 18)[0]).toBe(0);
    const far = pair({ first: mark("e", 100), second: mark("u", 147) });
    const shown = framesAround(far, 3, 18);
    expect(shown.length).toBeLessThanOrEqual(20);
    expect(shown).toContain(100);
    expect(shown).toContain(147);
  });

  it("are those of one film", () => {
    const apart = pair({ first: mark("f", 10), second: mark("t", 500, {}, "other") });
    expect(framesAround(apart, 1, 18)).toEqual([9, 10, 11]);
  });
});

describe("the rows of the facing ladders", () => {
  it("are as long as the session needs", () => {
    expect(rowLength(60, 24)).toBe(10);
    expect(rowLength(240, 24)).toBe(10);
    expect(rowLength(241, 24)).toBe(15);
    expect(rowLength(100_000, 24)).toBe(Math.ceil(100_000 / 24));
  });

  it("hold every pair once, the last second in the last row", () => {
    const end = pair({ first: mark("g", 20 * 30) });
    const rows = inRows([alike, later, end], 20, 10);
    expect(rows.map((row) => row.length)).toEqual([2, 1]);
    expect(inRows([], 0, 10)).toEqual([[]]);
  });
});
