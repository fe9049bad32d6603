import type { Advice, Decision, School } from "../api/findings";

const WORDS: Record<Advice["decision"], string> = {
  raise: "Raise",
  hold: "Hold",
  lower: "One step back",
  split: "A smaller step",
  end: "End here",
};

const SCHOOLS: Record<School, string> = {
  run: "a run in a row",
  share: "a share of the last reps",
  block: "blocks of reps",
  percentile: "a criterion that moves with the animal",
  comfort: "the animal's own ease",
};

/** Why the other schools hold, in words. */
const HOLDS: Record<string, string> = {
  too_few: "hold, too few to say",
  between: "hold",
  mid_block: "hold until the block is full",
  moving: "hold, the criterion has not moved up",
};

/** What the rule said where a limit ended the session. */
const NEXT_TIME: Record<string, string> = {
  raise: "next time: raise",
  hold: "next time: hold",
  lower: "next time: one step back",
  timing: "next time: the marker's timing first",
};

interface JudgementProps {
  advice: Advice;
  step: string;
  /** What the rule said where a limit of the plan ended the session. */
  then: string | null;
}

/** What to do at the step in force: the word first, then why, then what others would say. */
export function Judgement({ advice, step, then }: JudgementProps) {
  const others = Object.entries(advice.other_rules) as [School, Decision][];
  return (
    <section
      aria-labelledby="judgement-title"
      className="mt-7 grid grid-cols-[15rem_1fr] gap-x-10 border-t border-ink pt-4 max-md:grid-cols-1"
    >
      <div>
        <h2 id="judgement-title" className="text-[13px] text-soft">
          What to do next{step ? ` at “${step}”` : ""}
        </h2>
        <p className="text-[31px] leading-tight" data-testid="decision">
          {WORDS[advice.decision]}
        </p>
        {then && <p className="text-[16px]">{NEXT_TIME[then] ?? then}</p>}
      </div>
      <div>
        <ul className="max-w-[75ch] space-y-1.5">
          {advice.reasons.map((reason) => (
            <li key={reason.code}>{reason.text}</li>
          ))}
        </ul>
        <details className="mt-3 text-soft">
          <summary className="cursor-pointer underline decoration-line underline-offset-3">
            What other schools would say
          </summary>
          <ul className="mt-2 space-y-1">
            {others.map(([school, said]) => (
              <li key={school}>
                By {SCHOOLS[school]}:{" "}
                <span className="text-ink">
                  {said.decision === "hold"
                    ? (HOLDS[said.reason] ?? "hold")
                    : WORDS[said.decision].toLowerCase()}
                </span>
              </li>
            ))}
          </ul>
        </details>
      </div>
    </section>
  );
}
