// @vitest-environment jsdom
/** What a thumb says becomes edits; the one word follows the animal first, then limits, then school. */

import { beforeEach, describe, expect, it } from "vitest";

import {
  announceLed,
  beginLed,
  forgetLed,
  keepLed,
  ledSessions,
  onTheWall,
  readLed,
  throwAwayLed,
} from "../src/domain/led-sessions";
import {
  begins,
  breaks,
  clockOf,
  ends,
  goesOn,
  leaves,
  ledState,
  showsSign,
  tried,
  turnsTo,
  wordOf,
} from "../src/domain/led-taps";
import { fold, type EditBody } from "../src/domain/marks";
import type { ScriptLine } from "../src/domain/script";
import type { YardKit } from "../src/domain/yard-kits";

/** The core's numbers (`rules/judgement_numbers`); what they mean is held in judging.test. */
const NUMBERS = {
  ...{ memory_days: 14, try_reps: 3, try_share: 0.5, sure_reps: 5, sure_share: 0.8 },
  ...{ unease_signs: 3, unease_opt_outs: 2, opt_out_share: 0.2, misses: 5, low_reps: 10 },
  ...{ low_share: 0.4, good_share: 0.8, last_reps: 10, cycle_s: 10, two_signs: 2, mild_signs: 4 },
  ...{ mild_per_min: 1, missed: 3, missed_share: 1 / 3, unpaid: 2, unpaid_share: 0.2, hand: 3 },
  ...{ hand_share: 1 / 3, lure_reps: 5, lure_recent: 5, cue: 3, cue_share: 1 / 3, windows: 5 },
  ...{ alarms: 2, alarm_share: 0.2, wrong: 2, wrong_share: 0.2, level_reps: 5, level_last: 10 },
  ...{ level_share: 0.5, pauses: 8, pause_p: 0.05, pause_rise_s: 1, more_signs: 2, stays: 5 },
  ...{ kept_share: 0.8, plateau_reps: 30, plateau_sessions: 3, plateau_low: 0.5 },
  ...{ plateau_high: 0.8, plateau_gain: 0.15, over: 1.2, easy_end: 3 },
};

const step = (key: string) => ({
  ...{ key, title: key, hold_s: null, rate_floor_per_min: null, help: null },
  ...{ until_release: false, answers: false, fallback: null, quantity: null },
});

const KIT: YardKit = {
  behaviour_id: "b",
  learner: "Thistle",
  behaviour: "Ring the bell",
  plan: {
    approximations: [step("look"), step("nose"), step("ring")],
    prompts: [],
    rule: { kind: "run", need: 5, miss: 3 },
    rate_floor_per_min: null,
    session_cap_s: null,
    rep_cap: null,
    numbers: NUMBERS,
  },
  criteria: {},
  history: [],
  limits: { dry_spell_s: 30, reward_link_s: 10 },
  card: null,
  script: [],
};
const CAPS = { seconds: Infinity, reps: null };

/** Taps two seconds apart, and where the session stands a second after the last. */
function after(taps: ((t: number) => EditBody[])[], caps: typeof CAPS | object = CAPS) {
  const session = beginLed(KIT, "wren", "nose");
  const began = Date.parse(session.began_at);
  const at = (n: number) => clockOf(session, began + 2000 * n);
  const bodies = [...begins(at(0), "nose"), ...taps.flatMap((tap, n) => tap(at(n + 1)))];
  const state = ledState(session, fold(bodies), began + 2000 * taps.length + 1000);
  return { state, word: wordOf(state, { ...CAPS, ...caps }) };
}

const fits = (t: number) => tried(t, true, null);
const misses = (t: number) => tried(t, false, null);
const times = (n: number, tap: (t: number) => EditBody[]) => Array<typeof tap>(n).fill(tap);

beforeEach(() => localStorage.clear());

describe("the one word", () => {
  it.each([
    ["too few reps to say anything", times(4, fits), "go_on"],
    ["five in a row", times(5, fits), "raise"],
    ["two misses", times(2, misses), "go_on"],
    ["three misses", times(3, misses), "lower"],
    ["a strong sign after a perfect run", [...times(5, fits), sign(3)], "stop"],
    ["two marked signs in a perfect run", [sign(2), ...times(5, fits), sign(2)], "rest"],
    ["leaving twice", [...times(5, fits), leaves, leaves], "lower"],
    ["the last step holds", [(t: number) => turnsTo(t, "ring"), ...times(5, fits)], "stands"],
  ] as const)("%s", (_, taps, word) => {
    expect(after([...taps]).word).toBe(word);
  });

  it.each([
    [4, "go_on"],
    [5, "stop"],
  ])("with a limit of five reps, after %i", (reps, word) => {
    const mixed = Array.from({ length: reps }, (_, n) => (n % 2 ? fits : misses));
    expect(after(mixed, { reps: 5 }).word).toBe(word);
  });

  it.each([
    [9.1, "go_on"],
    [9, "stop"],
  ])("with a limit of %f s, after nine", (seconds, word) => {
    expect(after(times(4, fits), { seconds }).word).toBe(word);
  });

  function sign(severity: number) {
    return (t: number) => showsSign(t, "yawns", severity);
  }
});

describe("where a session stands", () => {
  it("counts reps since the step came into force, and the clock stands still in a break", () => {
    const { state } = after([fits, (t) => turnsTo(t, "ring"), misses, breaks, breaks.bind(null)]);
    expect([state.step, state.met, state.tried]).toEqual(["ring", 0, 1]);
    expect(state.isBreak).toBe(true);
    expect(60 * state.digest.minutes).toBeCloseTo(8, 6);
    expect(after([breaks, goesOn]).state.isBreak).toBe(false);
    expect(after([leaves]).state.isAway).toBe(true);
  });

  it("is judged with the sessions before it, and with none that comes after it", () => {
    const { digest } = after(times(4, fits)).state;
    const sent = {
      ...digest,
      trials: digest.trials.map((trial): unknown[] => Object.values(trial)),
    };
    const at = (time: string) => ({ ...sent, time }) as unknown as YardKit["history"][number];
    const judgedWith = (time: string) => {
      const session = { ...beginLed(KIT, "wren", "nose"), began_at: "2026-05-04T18:30:00+02:00" };
      const kit = { ...KIT, history: [{ ...at(time), date: "2026-05-04" }] };
      const began = Date.parse(session.began_at);
      const bodies = [...begins(1, "nose"), ...tried(3, true, null)];
      return ledState({ ...session, kit }, fold(bodies), began + 5000).said.judged;
    };
    expect(judgedWith("18:29")).toBe(5);
    expect(judgedWith("18:31")).toBe(1);
  });

  it("pays as the script's line says, under its levels", () => {
    const line: ScriptLine = {
      ...{ sort: "rep", phase: "work", step: "nose", levels: { side: "left" } },
      ...{ cue: null, placement: "behind", pays: 3 },
    };
    const [rep, reward] = tried(4, true, line);
    expect(rep).toMatchObject({
      event: { kind: "onset", met: true, conditions: { side: "left" } },
    });
    expect(reward).toMatchObject({ event: { kind: "reward", pieces: 3, placement: "behind" } });
    expect(after([(t) => tried(t, true, line), fits]).state.pieces).toBe(4);
    expect(tried(4, false, line)).toHaveLength(1);
  });

  it("ends where the last thing happened, and closes the bout only where one is open", () => {
    expect(ends(10, false).map((body) => body.op)).toEqual(["put", "facts"]);
    expect(ends(10, true)).toEqual([{ op: "facts", set: { end_s: 9 } }]);
  });
});

describe("what is kept on the phone", () => {
  it("is there again after the page was closed, until the server has it", () => {
    const one = beginLed(KIT, "wren", "look");
    expect(readLed(one.id)).toEqual(one);
    keepLed({ ...one, is_ended: true });
    expect(ledSessions().map(({ is_ended }) => is_ended)).toEqual([true]);
    forgetLed(one.id);
    expect(ledSessions()).toEqual([]);
  });

  it("is thrown away with its taps, and with no other's", () => {
    const [one, other] = [beginLed(KIT, "wren", "look"), beginLed(KIT, "wren", "look")];
    for (const { id } of [one, other]) localStorage.setItem(`frequens.edit.${id}.a`, "{}");
    throwAwayLed(one.id);
    expect(Object.keys(localStorage).sort()).toEqual(
      [`frequens.edit.${other.id}.a`, `frequens.led.${other.id}`].sort(),
    );
  });

  it("stays where the server cannot be reached", async () => {
    const one = beginLed(KIT, "wren", "look");
    expect(await announceLed(one)).toBe(false);
    expect(readLed(one.id)).toEqual(one);
  });

  it("says an instant with the phone's distance from UTC", () => {
    const now = new Date("2026-05-04T21:40:00.000Z");
    const written = onTheWall(now);
    expect(written).toMatch(/^2026-05-0\dT\d\d:\d\d:00\.000[+-]\d\d:\d\d$/);
    expect(new Date(written).getTime()).toBe(now.getTime());
    const inKathmandu = { getTimezoneOffset: () => -345, getTime: () => now.getTime() } as Date;
    expect(onTheWall(inKathmandu)).toBe("2026-05-05T03:25:00.000+05:45");
    const inNewfoundland = { getTimezoneOffset: () => 150, getTime: () => now.getTime() } as Date;
    expect(onTheWall(inNewfoundland)).toBe("2026-05-04T19:10:00.000-02:30");
  });
});
