import { useId, type ReactNode } from "react";

/** One part of the logbook: its name, its main number, and what is behind it. */
export function Section({
  id,
  title,
  value,
  wide,
  children,
}: {
  id: string;
  title: string;
  value?: ReactNode;
  wide?: boolean;
  children: ReactNode;
}) {
  // Two logbooks may stand side by side.
  const own = useId();
  return (
    <section
      id={id}
      aria-labelledby={own}
      className={`far min-w-0 break-inside-avoid border-t border-ink pt-3 pb-6 ${wide ? "col-span-full" : ""}`}
    >
      <div className="flex items-baseline justify-between gap-4">
        <h2 id={own} className="text-[16px] font-semibold">
          {title}
        </h2>
        <span className="num text-[24px] tracking-tight whitespace-nowrap">{value}</span>
      </div>
      {children}
    </section>
  );
}
