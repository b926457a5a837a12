import { useState } from "react";

import { Button } from "../../ui/controls";

interface DateFormProps {
  from: string;
  /** The bank's date: what a mistyped date most likely should have been near. */
  to: string;
  busy: boolean;
  /** Among many others, where no key leads to it. */
  inDialog?: boolean;
  onSave: (date: string) => void;
}

/** A wrong date on an otherwise right match, corrected in place. */
export function DateForm({ from, to, busy, inDialog = false, onSave }: DateFormProps) {
  const [date, setDate] = useState(to);
  return (
    <form
      {...(inDialog ? {} : { "data-date": true })}
      className="mt-2 flex items-center gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        onSave(date);
      }}
    >
      <input
        type="date"
        required
        aria-label="Date of the entry"
        value={date}
        onChange={(event) => setDate(event.target.value)}
        className="min-w-0 flex-1 rounded-md border border-line bg-sheet px-2 py-0.5"
      />
      <Button type="submit" {...(inDialog ? {} : { shortcut: "D" })} disabled={busy || date === from}>
        Correct the date
      </Button>
    </form>
  );
}
