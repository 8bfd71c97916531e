import { type ComponentProps, cloneElement, type ReactElement, useId } from "react";

interface Props {
  label: string;
  error?: string | undefined;
  hint?: string;
  children: ReactElement<{ id?: string; "aria-invalid"?: boolean; "aria-describedby"?: string }>;
}

/** A labelled input with its hint and its problem, tied together for screen readers. */
export function Field({ label, error, hint, children }: Props) {
  const id = useId();
  return (
    <div className="flex flex-col gap-1">
      <label htmlFor={id} className="font-bold">
        {label}
      </label>
      {cloneElement(children, { id, "aria-invalid": Boolean(error), "aria-describedby": `${id}-note` })}
      <p id={`${id}-note`} className={`text-sm ${error ? "font-bold text-felt" : "text-quiet"}`}>
        {error ?? hint ?? ""}
      </p>
    </div>
  );
}

type TextProps = Omit<Props, "children"> & Omit<ComponentProps<"input">, "className" | "id">;

/** A labelled line of text. */
export function TextField({ label, error, hint, ...input }: TextProps) {
  return (
    <Field label={label} error={error} {...(hint ? { hint } : {})}>
      <input className="input w-full border-neutral" {...input} />
    </Field>
  );
}
