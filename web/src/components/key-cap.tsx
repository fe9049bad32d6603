/** A key as it looks on a keyboard. */
export function KeyCap({ children }: { children: string }) {
  return (
    <kbd className="num rounded-[3px] border border-b-2 border-line bg-paper px-1 text-[11px] text-ink">
      {children}
    </kbd>
  );
}
