import { useImperativeHandle, useLayoutEffect, useRef, type Ref } from "react";

import { AT_EASE, type Pose } from "../../domain/drill";

/** Moves the drawn animal at once, in the frame it is called in. */
export interface Animal {
  pose: (pose: Pose) => void;
  /** Show the marker's ring for a moment. */
  ring: (isOn: boolean) => void;
}

export type Whom = "pony" | "goat";

const GROUND = 262;
const HIP = { x: 388, y: 176 };
const UPPER = 40;
const LOWER = 40;
/** Where the hoof stands, and where it lies on the stand. */
const AT_REST = { x: 392, y: GROUND + 3 };
const ON_STAND = { x: 446, y: 232 };
/** Withers and chest, between which the neck grows. */
const WITHERS = { x: 344, y: 124 };
const CHEST = { x: 408, y: 168 };
/** The knob hangs where the nose reaches it. */
const KNOB = { x: 546, y: 170 };
const INK = { stroke: "var(--ink)", strokeWidth: 3.5, strokeLinejoin: "round" } as const;

/** Bramble the pony or Thistle the goat: a head that turns, a nose that touches, a foot that lifts. */
export function DrawnAnimal({ whom, label, ref }: { whom: Whom; label: string; ref: Ref<Animal> }) {
  const svg = useRef<SVGSVGElement>(null);
  useImperativeHandle(ref, () => ({
    pose: (pose) => svg.current && move(svg.current, pose),
    ring: (isOn) => part(svg.current, "ring")?.setAttribute("opacity", isOn ? "1" : "0"),
  }));
  useLayoutEffect(() => {
    if (svg.current) move(svg.current, AT_EASE);
  }, [whom]);
  const isGoat = whom === "goat";
  return (
    <svg
      ref={svg}
      viewBox="40 20 600 272"
      role="img"
      aria-label={label}
      data-whom={whom}
      data-look="0"
      data-touch="0"
      data-lift="0"
      className="h-full w-full select-none"
    >
      <path d={`M-600 ${GROUND + 4}H1240`} stroke="var(--line)" strokeWidth={2} />
      {/* What it may touch: a bell's rope for the goat, a ball on a stick for the pony. */}
      <g data-part="knob">
        {isGoat ? (
          <>
            <path d="M546 24V170" stroke="var(--soft)" strokeWidth={3} />
            <circle cx={KNOB.x} cy={KNOB.y} r={10} fill="var(--hair)" {...INK} strokeWidth={3} />
          </>
        ) : (
          <>
            <path d="M860 4L556 164" stroke="var(--soft)" strokeWidth={4} />
            <circle cx={KNOB.x} cy={KNOB.y} r={10} fill="var(--hair)" {...INK} strokeWidth={3} />
          </>
        )}
      </g>
      {/* The stand gives way a little under a foot. */}
      <g data-part="stand">
        <path d="M418 236h64v7h-64z" fill="var(--hair)" {...INK} strokeWidth={3} />
      </g>
      <path d="M426 246v18M474 246v18" stroke="var(--ink)" strokeWidth={3} />
      <Leg x={196} />
      <Leg x={228} isNear />
      <Leg x={364} />
      {isGoat ? (
        <path d="M200 130q-18 -12 -12 -30" fill="none" {...INK} />
      ) : (
        <path d="M196 138q-34 10 -36 78q14 -12 20 -22q10 -30 22 -36z" fill="var(--soft)" {...INK} />
      )}
      <path
        d={
          isGoat
            ? "M194 150C192 124 214 118 240 120C290 126 330 122 352 122C390 122 410 140 408 166C406 194 386 200 366 200C330 216 270 218 246 206C214 204 196 190 194 150z"
            : "M194 150C194 120 226 112 254 120C290 130 320 128 346 120C384 112 414 132 410 166C408 192 388 202 364 202C320 212 276 206 250 202C218 208 196 192 194 150z"
        }
        fill="var(--raised)"
        {...INK}
      />
      <path
        data-part="leg"
        fill="none"
        stroke="var(--ink)"
        strokeWidth={16}
        strokeLinecap="round"
        strokeLinejoin="round"
      />
      <path
        data-part="leg-inside"
        fill="none"
        stroke="var(--raised)"
        strokeWidth={9}
        strokeLinecap="round"
        strokeLinejoin="round"
      />
      <path data-part="hoof" d="M-9 -9h18l4 9h-24z" fill="var(--ink)" />
      <path data-part="neck" fill="var(--raised)" />
      <path data-part="neck-lines" fill="none" {...INK} strokeLinecap="round" />
      {!isGoat && <path data-part="mane" fill="none" stroke="var(--soft)" strokeWidth={9} />}
      <g data-part="head">
        <g data-part="side">
          {isGoat ? (
            <>
              <path d="M-8 -16q-26 -14 -24 -46" fill="none" {...INK} strokeWidth={7} />
              <path d="M-6 -6q-26 2 -36 16q20 8 38 0z" fill="var(--raised)" {...INK} />
              <path
                d="M-16 -16q16 -10 38 2l34 22q10 10 0 18q-30 8 -56 -4q-22 -10 -16 -38z"
                fill="var(--raised)"
                {...INK}
              />
              <path
                d="M34 26q2 20 -8 28q-6 -12 -4 -26z"
                fill="var(--soft)"
                {...INK}
                strokeWidth={2.5}
              />
              <circle cx={12} cy={-2} r={3.6} fill="var(--ink)" />
            </>
          ) : (
            <>
              <path d="M-12 -18l-4 -28l18 20z" fill="var(--raised)" {...INK} />
              <path
                d="M-18 -18q18 -12 38 0l36 26q12 12 0 22q-28 8 -54 -6q-26 -12 -20 -42z"
                fill="var(--raised)"
                {...INK}
              />
              <circle cx={10} cy={-2} r={4} fill="var(--ink)" />
              <circle cx={50} cy={18} r={2.4} fill="var(--ink)" />
            </>
          )}
        </g>
        {/* Turned to whoever looks on. */}
        <g data-part="front">
          {isGoat ? (
            <>
              <path
                d="M-12 -26q-18 -14 -14 -42M12 -26q18 -14 14 -42"
                fill="none"
                {...INK}
                strokeWidth={7}
              />
              <path
                d="M-18 -8q-26 0 -32 12q16 10 32 0zM18 -8q26 0 32 12q-16 10 -32 0z"
                fill="var(--raised)"
                {...INK}
              />
            </>
          ) : (
            <path d="M-20 -22l-8 -28l20 16zM20 -22l8 -28l-20 16z" fill="var(--raised)" {...INK} />
          )}
          <path
            d="M-22 -26q22 -14 44 0q6 26 -6 50q-4 14 -16 14t-16 -14q-12 -24 -6 -50z"
            fill="var(--raised)"
            {...INK}
          />
          <circle cx={-11} cy={-6} r={4.4} fill="var(--ink)" />
          <circle cx={11} cy={-6} r={4.4} fill="var(--ink)" />
          <path d="M-6 26q6 5 12 0" fill="none" {...INK} strokeWidth={2.5} />
        </g>
      </g>
      <circle
        data-part="ring"
        cx={340}
        cy={62}
        r={20}
        fill="none"
        stroke="var(--marker)"
        strokeWidth={7}
        opacity={0}
      />
    </svg>
  );
}

function Leg({ x, isNear }: { x: number; isNear?: boolean }) {
  return (
    <>
      <path
        d={`M${x} 186V${GROUND - 6}`}
        stroke="var(--ink)"
        strokeWidth={16}
        strokeLinecap="round"
      />
      <path
        d={`M${x} 186V${GROUND - 8}`}
        stroke={isNear ? "var(--raised)" : "var(--hair)"}
        strokeWidth={9}
        strokeLinecap="round"
      />
      <path d={`M${x - 9} ${GROUND - 6}h18l4 9h-26z`} fill="var(--ink)" />
    </>
  );
}

function part(svg: SVGSVGElement | null, name: string): SVGElement | null {
  return svg?.querySelector<SVGElement>(`[data-part="${name}"]`) ?? null;
}

/** Between two places, `share` of the way. */
function between(a: { x: number; y: number }, b: { x: number; y: number }, share: number) {
  return { x: a.x + share * (b.x - a.x), y: a.y + share * (b.y - a.y) };
}

function move(svg: SVGSVGElement, pose: Pose) {
  // What is there and what is not, for whoever cannot see the lines: a test, a script.
  for (const [name, share] of Object.entries(pose)) {
    svg.dataset[name] = share >= 1 ? "1" : "0";
  }
  const foot = between(AT_REST, ON_STAND, pose.lift);
  // Up and over the edge of the stand.
  foot.y -= 34 * Math.sin(Math.PI * Math.min(1, pose.lift));
  const press = pose.lift >= 1 ? 4 : 0;
  foot.y += press;
  const knee = kneeOf(foot);
  const leg = `M${HIP.x} ${HIP.y}L${knee.x} ${knee.y}L${foot.x} ${foot.y - 8}`;
  part(svg, "leg")?.setAttribute("d", leg);
  part(svg, "leg-inside")?.setAttribute("d", leg);
  part(svg, "hoof")?.setAttribute("transform", `translate(${foot.x} ${foot.y})`);
  part(svg, "stand")?.setAttribute("transform", `translate(0 ${press})`);
  const isTouching = pose.touch >= 1;
  part(svg, "knob")?.setAttribute("transform", isTouching ? `rotate(-2 ${KNOB.x} 24)` : "");
  // The head hangs on the neck's end; the nose is 62 further on, and down by the turn of it.
  const head = between({ x: 446, y: 90 }, { x: 486, y: 148 }, pose.touch);
  const turn = 34 - 30 * pose.touch;
  const look = pose.look;
  const poll = { x: head.x - 16, y: head.y - 16 };
  const throat = { x: head.x - 2, y: head.y + 20 };
  const crest = between(WITHERS, poll, 0.5);
  const top = `M${WITHERS.x} ${WITHERS.y}Q${crest.x - 4} ${crest.y - 8} ${poll.x} ${poll.y}`;
  const under = `${throat.x} ${throat.y}Q${CHEST.x - 2} ${CHEST.y - 26} ${CHEST.x} ${CHEST.y}`;
  part(svg, "neck")?.setAttribute("d", `${top}L${under}L${CHEST.x - 40} ${CHEST.y + 4}z`);
  part(svg, "neck-lines")?.setAttribute("d", `${top}M${under}`);
  part(svg, "mane")?.setAttribute(
    "d",
    `M${WITHERS.x - 4} ${WITHERS.y - 2}Q${crest.x - 10} ${crest.y - 12} ${poll.x + 4} ${poll.y - 6}`,
  );
  part(svg, "head")?.setAttribute("transform", `translate(${head.x} ${head.y})`);
  part(svg, "side")?.setAttribute("transform", `rotate(${turn}) scale(${1 - 0.45 * look} 1)`);
  part(svg, "side")?.setAttribute("visibility", look >= 1 ? "hidden" : "visible");
  part(svg, "front")?.setAttribute("visibility", look >= 1 ? "visible" : "hidden");
}

/** The knee of a leg of two bones that bends forward. */
function kneeOf(foot: { x: number; y: number }): { x: number; y: number } {
  const dx = foot.x - HIP.x;
  const dy = foot.y - 8 - HIP.y;
  const far = Math.min(Math.hypot(dx, dy), UPPER + LOWER - 0.5);
  const along = (far * far + UPPER * UPPER - LOWER * LOWER) / (2 * far);
  const aside = Math.sqrt(Math.max(0, UPPER * UPPER - along * along));
  const [ux, uy] = [dx / Math.hypot(dx, dy), dy / Math.hypot(dx, dy)];
  return { x: HIP.x + along * ux + aside * uy, y: HIP.y + along * uy - aside * ux };
}
