import { BehaviourStep, MarkerRing, RewardSeed } from "../../components/glyphs";
import {
  inRows,
  isAlike,
  kindInWords,
  pairKey,
  rowLength,
  type Mark,
  type Pair,
} from "../../domain/second-look";
import { shortClock } from "../../domain/times";
import { t } from "../../words";

/** No more rows than these, so that a long session can still be seen as a whole. */
const MOST_ROWS = 24;
const ROW_PX = 78;
const LABEL_PX = 46;
const [FIRST_Y, AXIS_Y, SECOND_Y] = [18, 36, 54];

interface FacingLaddersProps {
  pairs: Pair[];
  lengthS: number;
  /** Whose marks lie above and below the axis. */
  names: { first: string; second: string };
  width: number;
  chosen: string | null;
  onChoose: (pair: Pair) => void;
}

/**
 * Both codings on one time axis, row after row: the first above it, the second below.
 *
 * A line joins what both have; one that leans joins what lies on two frames. What only one has
 * leaves a hollow place with the other.
 */
export function FacingLadders(props: FacingLaddersProps) {
  const { pairs, lengthS, names, width, chosen, onChoose } = props;
  const rowS = rowLength(lengthS, MOST_ROWS);
  const rows = inRows(pairs, lengthS, rowS);
  const room = width - LABEL_PX - 12;
  const x = (s: number, row: number) => LABEL_PX + ((s - row * rowS) / rowS) * room;
  return (
    <figure aria-labelledby="facing" className="mt-9 border-t border-ink pt-3">
      <figcaption id="facing" className="flex flex-wrap items-baseline gap-x-4">
        <span className="text-[16px] font-semibold">
          {t("second_look:facing_ladders.both_on_one_time")}
        </span>
        <span className="text-[13px] text-soft">
          {t("second_look:facing_ladders.above_and_below", names)}
        </span>
      </figcaption>
      <svg
        width={width}
        height={rows.length * ROW_PX}
        viewBox={`0 0 ${width} ${rows.length * ROW_PX}`}
        className="mt-1 block max-w-full"
        role="img"
        aria-label={t("second_look:facing_ladders.drawn_again_in_the_list")}
      >
        {rows.map((found, row) => (
          <g key={row} transform={`translate(0 ${row * ROW_PX})`}>
            <text x={0} y={AXIS_Y + 4} fontSize={12} fill="var(--soft)" className="num">
              {shortClock(row * rowS)}
            </text>
            <path d={`M${LABEL_PX} ${AXIS_Y}H${width - 12}`} stroke="var(--line)" />
            {Array.from({ length: Math.min(60, Math.ceil(rowS)) }, (_, n) => (
              <path
                key={n}
                d={`M${x(row * rowS + (n * rowS) / Math.min(60, Math.ceil(rowS)), row)} ${AXIS_Y - 2}v4`}
                stroke="var(--line)"
              />
            ))}
            {found.map((pair) => (
              <Facing
                key={pairKey(pair)}
                pair={pair}
                x={(s) => x(s, row)}
                isChosen={pairKey(pair) === chosen}
                onChoose={onChoose}
              />
            ))}
          </g>
        ))}
      </svg>
    </figure>
  );
}

interface FacingProps {
  pair: Pair;
  x: (s: number) => number;
  isChosen: boolean;
  onChoose: (pair: Pair) => void;
}

/** One mark of the two, and what joins it. */
function Facing({ pair, x, isChosen, onChoose }: FacingProps) {
  const { first, second } = pair;
  const [above, below] = [x((first ?? second)?.t_s ?? 0), x((second ?? first)?.t_s ?? 0)];
  const alike = isAlike(pair);
  return (
    <g
      data-pair={pairKey(pair)}
      className={alike ? undefined : "cursor-pointer"}
      onClick={alike ? undefined : () => onChoose(pair)}
    >
      <title>{kindInWords(pair)}</title>
      {isChosen && (
        <rect
          x={Math.min(above, below) - 11}
          y={3}
          width={Math.abs(above - below) + 22}
          height={66}
          rx={4}
          fill="var(--hair)"
          stroke="var(--ink)"
        />
      )}
      <path
        d={`M${above} ${FIRST_Y + 6}L${below} ${SECOND_Y - 6}`}
        stroke={alike ? "var(--line)" : "var(--ink)"}
        strokeWidth={alike ? 1 : 1.6}
        strokeDasharray={first && second ? undefined : "2 3"}
      />
      <Glyph kind={pair.kind} mark={first} x={above} y={FIRST_Y} />
      <Glyph kind={pair.kind} mark={second} x={below} y={SECOND_Y} />
      {/* A place for the finger. */}
      <rect x={above - 9} y={4} width={18} height={64} fill="transparent" />
    </g>
  );
}

function Glyph({ kind, mark, x, y }: { kind: string; mark: Mark | null; x: number; y: number }) {
  const hollow = mark === null;
  if (kind === "marker") return <MarkerRing x={x} y={y} hollow={hollow} />;
  if (kind === "reward") return <RewardSeed x={x} y={y} hollow={hollow} />;
  if (kind === "onset" && !hollow) return <BehaviourStep from={x} to={x + 5} y={y} />;
  return (
    <path
      d={`M${x} ${y - 6}v12`}
      stroke={kind === "onset" ? "var(--behaviour)" : "var(--ink)"}
      strokeWidth={hollow ? 1.2 : 2.2}
      strokeDasharray={hollow ? "2 2.2" : undefined}
    />
  );
}
