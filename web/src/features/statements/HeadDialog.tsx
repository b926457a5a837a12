import { useMutation } from "@tanstack/react-query";
import { useState, type SyntheticEvent } from "react";

import { ApiError } from "../../api/client";
import { parseMoney, plain } from "../../format/money";
import { Button, Field, Trouble } from "../../ui/controls";
import { Dialog } from "../../ui/Dialog";

/** The head of a statement as a person types it. */
export interface TypedHead {
  start: string;
  end: string;
  opening: number | null;
  closing: number | null;
  total_in: number | null;
  total_out: number | null;
}

interface HeadDialogProps {
  title: string;
  currency: string;
  counted?: boolean;
  known: Partial<TypedHead>;
  onClose: () => void;
  /** `confirmed` are the notices the person has agreed to. */
  onSave: (head: TypedHead, confirmed: string[]) => Promise<void>;
}

/** Dates, balances and printed totals of a statement: typed from paper, or corrected. */
export function HeadDialog({ title, currency, counted = false, known, onClose, onSave }: HeadDialogProps) {
  const write = (amount: number | null | undefined) => (amount == null ? "" : plain(amount, currency));
  const [start, setStart] = useState(known.start ?? "");
  const [end, setEnd] = useState(known.end ?? "");
  const [texts, setTexts] = useState({
    opening: write(known.opening),
    closing: write(known.closing),
    total_in: write(known.total_in),
    total_out: write(known.total_out == null ? null : Math.abs(known.total_out)),
  });
  const read = (text: string) => (text.trim() ? parseMoney(text, currency) : null);
  const wrong = (text: string) => (text.trim() && read(text) === null ? `is no amount in ${currency}` : undefined);
  const save = useMutation({
    mutationFn: async (confirmed: string[]) => {
      const out = read(texts.total_out);
      const head = {
        start,
        end,
        opening: read(texts.opening),
        closing: read(texts.closing),
        total_in: read(texts.total_in),
        total_out: out === null ? null : -Math.abs(out),
      };
      await onSave(head, confirmed);
    },
    onSuccess: onClose,
  });
  const notices = save.error instanceof ApiError ? save.error.problem.notices : [];
  const submit = (event: SyntheticEvent) => {
    event.preventDefault();
    save.mutate(notices.map((notice) => notice.kind));
  };
  const amount = (name: keyof typeof texts, label: string) => (
    <Field
      label={label}
      figure
      inputMode="decimal"
      value={texts[name]}
      error={wrong(texts[name])}
      onChange={(event) => setTexts({ ...texts, [name]: event.target.value })}
    />
  );
  return (
    <Dialog title={title} open onClose={onClose}>
      <form onSubmit={submit} className="space-y-3">
        <div className="grid grid-cols-2 gap-3">
          <Field label="First day" type="date" required value={start} onChange={(e) => setStart(e.target.value)} />
          <Field label="Last day" type="date" required value={end} onChange={(e) => setEnd(e.target.value)} />
          {!counted && amount("opening", "Opening balance, as printed")}
          {amount("closing", counted ? "Counted balance" : "Closing balance")}
          {!counted && amount("total_in", "Total in, if printed")}
          {!counted && amount("total_out", "Total out, if printed")}
        </div>
        {save.error && (
          <Trouble>
            {save.error.message}
            <ul className="mt-1 list-disc pl-4">
              {notices.map((notice) => (
                <li key={notice.text}>{notice.text}</li>
              ))}
            </ul>
          </Trouble>
        )}
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button weight="main" type="submit" disabled={save.isPending || Object.values(texts).some((t) => !!wrong(t))}>
            {notices.length ? "I have checked this: store it" : "Save"}
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
