import { useId, type InputHTMLAttributes, type Ref } from "react";

interface FieldProps extends InputHTMLAttributes<HTMLInputElement> {
  label: string;
  /** What is wrong with what stands in it. */
  fault: string | undefined;
  hint?: string;
  ref?: Ref<HTMLInputElement>;
}

/** A field with its name above it, and what is wrong with it below. */
export function Field({ label, fault, hint, ...input }: FieldProps) {
  const id = useId();
  const said = fault ?? hint;
  return (
    <div>
      <label htmlFor={id}>{label}</label>
      <input
        id={id}
        aria-invalid={fault !== undefined}
        aria-describedby={said ? `${id}-said` : undefined}
        className={`mt-1 block w-full rounded border bg-raised px-3 py-2 ${fault ? "border-fault" : "border-line"}`}
        {...input}
      />
      {said && (
        <p
          id={`${id}-said`}
          role={fault ? "alert" : undefined}
          className={`mt-1 text-[13px] ${fault ? "text-fault" : "text-soft"}`}
        >
          {said}
        </p>
      )}
    </div>
  );
}

interface WrongProps {
  fault: string | undefined;
  /** Below a field that stands beside its name, which is 7rem wide. */
  beside?: boolean;
}

/** What is wrong, below the field or the form it belongs to. */
export function Wrong({ fault, beside = false }: WrongProps) {
  if (!fault) return null;
  return (
    <p role="alert" className={`-mt-1 text-[13px] text-fault ${beside ? "pl-[7rem]" : ""}`}>
      {fault}
    </p>
  );
}
