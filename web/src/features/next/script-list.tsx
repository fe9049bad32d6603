import {
  blocksOf,
  commonLevels,
  lineWords,
  ownLevels,
  payWords,
  type ScriptLine,
} from "../../domain/script";
import { t } from "../../words";
import { levelWords } from "../../domain/variation";

/** A whole script on one page: blocks with a break after each, in type one can read from a post. */
export function ScriptList({
  lines,
  titleOf,
}: {
  lines: ScriptLine[];
  titleOf: (key: string | null) => string;
}) {
  const blocks = blocksOf(lines);
  const common = commonLevels(lines);
  // A long one goes in two columns, so that it stays one page.
  const isLong = lines.length > 22;
  return (
    <div className={`mt-6 ${isLong ? "gap-8 columns-2 max-md:columns-1" : ""}`}>
      {blocks.map((block, place) => (
        <section key={block.first} className="break-inside-avoid">
          <ol start={block.first} className="border-t border-ink">
            {block.lines.map((line, n) => (
              <li
                key={block.first + n}
                className={`flex items-baseline gap-3 border-b border-hair py-1 text-[17px] leading-snug ${isLong ? "print:text-[13pt]" : "print:text-[16pt]"} ${
                  line.sort === "wait" ? "text-soft italic" : ""
                }`}
              >
                <span className="num w-7 shrink-0 text-right text-[14px] text-soft not-italic">
                  {block.first + n}
                </span>
                <span className="min-w-0 flex-1">
                  {lineWords(line, titleOf)}
                  {line.sort === "rep" && (
                    <span className="ml-3 text-[14px] text-soft">
                      {levelWords(ownLevels(line, common))}
                    </span>
                  )}
                </span>
                <span className="shrink-0 text-[14px] text-reward">{payWords(line)}</span>
              </li>
            ))}
          </ol>
          {place < blocks.length - 1 && (
            <p className="py-1.5 text-center text-[14px] tracking-wide text-soft">
              {t("domain:script.break")}
            </p>
          )}
        </section>
      ))}
    </div>
  );
}
