import { percent } from "../domain/times";

interface ProgressProps {
  label: string;
  /** Part done, 0 to 1. */
  share: number;
  className?: string;
}

/** How far something has come. */
export function Progress({ label, share, className = "" }: ProgressProps) {
  return (
    <div
      role="progressbar"
      aria-label={label}
      aria-valuenow={Math.round(share * 100)}
      aria-valuemin={0}
      aria-valuemax={100}
      className={`h-1.5 rounded bg-hair ${className}`}
    >
      <div
        className="h-full rounded bg-reward"
        style={{ width: percent(share).replace(" ", "") }}
      />
    </div>
  );
}
