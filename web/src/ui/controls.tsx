import type { ButtonHTMLAttributes, InputHTMLAttributes, ReactNode } from "react";

type Weight = "main" | "plain" | "quiet";

const WEIGHTS: Record<Weight, string> = {
  main: "bg-wine text-on-wine border-wine font-semibold hover:brightness-110",
  plain: "bg-sheet text-ink border-line hover:border-muted",
  quiet: "bg-transparent text-wine border-transparent font-semibold hover:bg-wine-soft",
};

interface ButtonProps extends ButtonHTMLAttributes<HTMLButtonElement> {
  weight?: Weight;
  shortcut?: string;
}

/** A button, with the key that does the same shown on it. */
export function Button({ weight = "plain", shortcut, children, className = "", ...rest }: ButtonProps) {
  return (
    <button
      type="button"
      className={`inline-flex min-h-7 items-center justify-between gap-2 rounded-md border px-2.5 py-1 text-left whitespace-nowrap disabled:opacity-50 ${WEIGHTS[weight]} ${className}`}
      {...rest}
    >
      <span className={shortcut ? "" : "w-full text-center"}>{children}</span>
      {shortcut && <Key onDark={weight === "main"}>{shortcut}</Key>}
    </button>
  );
}

/** A key as it stands on the keyboard. */
export function Key({ children, onDark = false }: { children: ReactNode; onDark?: boolean }) {
  return (
    <kbd
      className={`rounded border px-1 font-mono text-[0.6875rem] leading-4 ${onDark ? "border-on-wine/60 text-on-wine" : "border-line bg-sheet text-muted"}`}
    >
      {children}
    </kbd>
  );
}

interface FieldProps extends InputHTMLAttributes<HTMLInputElement> {
  label: string;
  error?: string | undefined;
  figure?: boolean;
}

/** A labelled input; what is wrong with it stands below it. */
export function Field({ label, error, figure = false, className = "", ...rest }: FieldProps) {
  return (
    <label className={`block ${className}`}>
      <span className="text-xs text-muted">{label}</span>
      <input
        className={`mt-0.5 block w-full rounded-md border bg-sheet px-2 py-1 text-base ${figure ? "figure text-right" : ""} ${error ? "border-ember" : "border-line"}`}
        aria-invalid={error ? true : undefined}
        {...rest}
      />
      {error && (
        <span role="alert" className="mt-0.5 block text-xs text-ember">
          {error}
        </span>
      )}
    </label>
  );
}

/** A sentence that tells what is wrong, and what blocks. */
export function Trouble({ children }: { children: ReactNode }) {
  return (
    <div role="alert" className="rounded-md border border-ember/40 bg-ember-soft px-3 py-2 text-ink">
      {children}
    </div>
  );
}

/** An empty state: what is not there, and what to do next. */
export function Empty({ title, children }: { title: string; children?: ReactNode }) {
  return (
    <div className="mx-auto max-w-md px-6 py-16 text-center">
      <p className="text-base font-semibold">{title}</p>
      <div className="mt-2 text-muted">{children}</div>
    </div>
  );
}

interface SelectProps {
  label: string;
  value: string;
  /** Label and choice on one line of running controls. */
  inline?: boolean;
  options: readonly (readonly [string, string])[];
  onChange: (value: string) => void;
}

export function Select({ label, value, inline = false, options, onChange }: SelectProps) {
  return (
    <label className={inline ? "flex items-center gap-1.5" : "block"}>
      <span className={inline ? "text-muted" : "text-xs text-muted"}>{label}</span>
      <select
        value={value}
        onChange={(event) => onChange(event.target.value)}
        className={
          inline
            ? "rounded border border-line bg-sheet px-1 py-0.5"
            : "mt-0.5 block w-full rounded-md border border-line bg-sheet px-2 py-1 text-base"
        }
      >
        {options.map(([option, words]) => (
          <option key={option} value={option}>
            {words}
          </option>
        ))}
      </select>
    </label>
  );
}
