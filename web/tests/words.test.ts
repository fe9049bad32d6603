import { describe, expect, it } from "vitest";

import { LANGUAGES, t } from "../src/words";
import * as en from "../src/words/en";

type Words = { [name: string]: string | Words };

/** Every text by its path. */
function texts(words: Words, path = ""): Map<string, string> {
  return new Map(
    Object.entries(words).flatMap(([name, said]) =>
      typeof said === "string"
        ? [[`${path}${name}`, said] as const]
        : [...texts(said, `${path}${name}.`)],
    ),
  );
}

/** What a text takes in: its values and its elements. */
const taken = (text: string) => (text.match(/\{\{\w+\}\}|<\/?\w+>/g) ?? []).sort();

const english = texts({ ...en });

describe("the words", () => {
  it("are never empty, and close what they open", () => {
    for (const [path, text] of english) {
      expect(text.trim(), path).not.toBe("");
      const open = (text.match(/<\w+>/g) ?? []).map((tag) => tag.slice(1));
      const closed = (text.match(/<\/\w+>/g) ?? []).map((tag) => tag.slice(2));
      expect(open.sort(), path).toEqual(closed.sort());
    }
  });

  it("name no element that HTML holds to be empty: what stands in it would be lost", () => {
    const empty = /<(area|base|br|col|embed|hr|img|input|link|meta|param|source|track|wbr)\b/;
    for (const [path, text] of english) expect(text, path).not.toMatch(empty);
  });

  it.each(LANGUAGES.filter(({ code }) => code !== "en"))(
    "of $name stand where English has them and take in the same",
    async ({ bring }) => {
      const own = texts((await bring()) as Words);
      expect(own.size).toBeGreaterThan(50);
      for (const [path, text] of own) {
        expect(english.has(path), path).toBe(true);
        expect(taken(text), path).toEqual(taken(english.get(path) ?? ""));
      }
    },
  );

  it("take the form of the count", () => {
    expect(t("today:today_page.films_wait", { count: 1 })).toBe("1 film waits to be coded");
    expect(t("today:today_page.films_wait", { count: 2 })).toBe("2 films wait to be coded");
  });

  it("show what a user wrote as it stands", () => {
    const name = "<b>$t(common:undo)</b> {{day}}";
    expect(t("account:leaving.remove_name", { name })).toBe(`Remove ${name}`);
  });
});
