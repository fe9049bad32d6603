import type { ButtonHTMLAttributes } from "react";

const LOOKS = {
  main: "bg-ink text-paper border-ink hover:opacity-90",
  plain: "bg-raised border-line hover:border-ink",
  quiet:
    "border-transparent text-soft hover:text-ink underline underline-offset-3 decoration-line px-1",
} as const;

/** A button in one of the house's three looks: the next thing to do, another thing, an aside. */
export function Button({
  look = "plain",
  className = "",
  type = "button",
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & { look?: keyof typeof LOOKS }) {
  return (
    <button
      type={type}
      className={`inline-flex items-center gap-2 rounded border px-3 py-1 leading-6 disabled:opacity-50 ${LOOKS[look]} ${className}`}
      {...rest}
    />
  );
}
