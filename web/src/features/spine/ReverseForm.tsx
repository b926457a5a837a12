import { useState, type SyntheticEvent } from "react";

import { Button, Field } from "../../ui/controls";
import type { Entry } from "./api";

export interface Reversal {
  entry: number;
  date: string;
  reason: string;
  new_reference: string;
}

interface ReverseFormProps {
  entry: Entry;
  /** The last day of the period in work. */
  end: string;
  busy: boolean;
  onReverse: (reversal: Reversal) => void;
}

/** Takes an entry that never reached the bank back with one of the opposite amount; a check may be written anew. */
export function ReverseForm({ entry, end, busy, onReverse }: ReverseFormProps) {
  const [open, setOpen] = useState(false);
  const [date, setDate] = useState(end);
  const [reason, setReason] = useState("");
  const [number, setNumber] = useState("");
  if (!open) {
    return (
      <Button className="mt-2 w-full" onClick={() => setOpen(true)}>
        {entry.age_kind === "check" ? "Reverse it, or void and reissue" : "Reverse it"}
      </Button>
    );
  }
  const submit = (event: SyntheticEvent) => {
    event.preventDefault();
    onReverse({ entry: entry.id, date, reason, new_reference: number });
  };
  return (
    <form aria-label="Reverse" onSubmit={submit} className="mt-2 space-y-2 border-t border-hair pt-2">
      <Field label="Why" required autoFocus value={reason} onChange={(event) => setReason(event.target.value)} />
      <div className="grid grid-cols-2 gap-2">
        <Field label="On" type="date" required value={date} onChange={(event) => setDate(event.target.value)} />
        <Field label="New check, if any" value={number} onChange={(event) => setNumber(event.target.value)} />
      </div>
      <p className="text-xs text-muted">
        The entry stays as it was; one of the opposite amount is posted and washed with it.
      </p>
      <div className="flex gap-2">
        <Button weight="main" type="submit" className="flex-1" disabled={busy || !reason.trim()}>
          {number.trim() ? `Void, and write ${number.trim()}` : "Reverse it"}
        </Button>
        <Button onClick={() => setOpen(false)}>Not now</Button>
      </div>
    </form>
  );
}
