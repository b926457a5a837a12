import { useState } from "react";

import type { Account } from "../../app/places";
import { Button, Select, Trouble } from "../../ui/controls";
import { Dialog } from "../../ui/Dialog";
import { useLessons, useTeaching, type Lessons, type Yields } from "./lessons";
import { TeachForm } from "./TeachForm";

interface LessonsDialogProps {
  companyId: number;
  account: Account;
  onClose: () => void;
}

/** What an account has been taught: its readers, the names of its payees, and how to teach it another. */
export function LessonsDialog({ companyId, account, onClose }: LessonsDialogProps) {
  const whose = { companyId, accountId: account.id };
  const lessons = useLessons(whose);
  const teaching = useTeaching(whose);
  const [form, setForm] = useState(false);
  const { data } = lessons;
  return (
    <Dialog title={`What ${account.name} has been taught`} open wide onClose={onClose}>
      {lessons.isPending && <p className="text-muted">Reading the account's own texts …</p>}
      {lessons.error && <Trouble>{lessons.error.message}</Trouble>}
      {data && form && <TeachForm whose={whose} lessons={data} onDone={() => setForm(false)} />}
      {data && !form && (
        <div className="space-y-4">
          {data.suggestions.map((offered) => (
            <div
              key={offered.sentence}
              className="flex items-center gap-3 rounded-md border border-wine/40 bg-wine-soft px-3 py-2"
            >
              <div className="flex-1">
                <p className="font-semibold">{offered.sentence}</p>
                <p className="text-muted">
                  Found by itself: {offered.yields.gain} more would agree in reference and amount.
                </p>
              </div>
              <Button
                weight="main"
                onClick={() => teaching.mutate({ change: "keep", body: { values: offered.values } })}
              >
                Use it
              </Button>
            </div>
          ))}
          <Readers data={data} onForget={(id) => teaching.mutate({ change: "forget reader", id })} />
          <Names data={data} onForget={(key) => teaching.mutate({ change: "forget name", key })} />
          <Reversals data={data} onWords={(words) => teaching.mutate({ change: "reversals", words })} />
          {teaching.error && <Trouble>{teaching.error.message}</Trouble>}
          <div className="flex justify-end gap-2">
            <Button onClick={onClose}>Close</Button>
            <Button weight="main" onClick={() => setForm(true)}>
              Teach by example
            </Button>
          </div>
        </div>
      )}
    </Dialog>
  );
}

function Readers({ data, onForget }: { data: Lessons; onForget: (id: number) => void }) {
  return (
    <section aria-label="Readers">
      <h2 className="mb-1 font-bold text-wine">Readers</h2>
      {!data.readers.length && (
        <p className="text-muted">
          None yet. References are found by the usual rules: in their own field, as a check number, or in the text.
        </p>
      )}
      <ul>
        {data.readers.map((known) => (
          <li key={known.id} className="flex items-start gap-3 border-b border-hair py-1.5">
            <div className="flex-1">
              <p>{known.sentence}</p>
              <p className="text-xs text-muted">
                {yieldWords(known.yields)} · taught by {known.taught_by}
              </p>
            </div>
            <Button weight="quiet" onClick={() => onForget(known.id ?? 0)}>
              Remove
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Names({ data, onForget }: { data: Lessons; onForget: (key: string) => void }) {
  return (
    <section aria-label="Names">
      <h2 className="mb-1 font-bold text-wine">Names learned from your matches</h2>
      {!data.names.length && (
        <p className="text-muted">
          None yet. Where you match a text with a payee it does not name, the next such text is taken for them.
        </p>
      )}
      <ul>
        {data.names.map((name) => (
          <li key={name.key} className="flex items-center gap-3 border-b border-hair py-1">
            <span className="flex-1">
              <span className="font-mono text-xs">{name.sample}</span> is <b>{name.payee}</b>
              <span className="text-xs text-muted">
                {" "}
                · {name.times === 1 ? "one match" : `${name.times} matches`}, last by {name.made_by}
              </span>
            </span>
            <Button weight="quiet" onClick={() => onForget(name.key)}>
              Remove
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}

const SIDES = [
  ["bank", "the bank"],
  ["books", "the books"],
] as const;

/** Words by which this account's bank and clerks say that something is taken back. */
function Reversals({ data, onWords }: { data: Lessons; onWords: (words: Lessons["reversals"]) => void }) {
  const [word, setWord] = useState("");
  const [side, setSide] = useState<"bank" | "books">("bank");
  return (
    <section aria-label="Words of reversal">
      <h2 className="mb-1 font-bold text-wine">Words that take something back</h2>
      <p className="text-muted">
        Reversed, void, cancelled, backed out, in error and the like are known. Say here what this bank or your clerks
        write instead.
      </p>
      <div className="mt-1 flex flex-wrap items-center gap-2">
        {data.reversals.map((item) => (
          <span key={`${item.side}/${item.word}`} className="rounded-md border border-line bg-paper py-0.5 pl-2">
            “{item.word}” <span className="text-xs text-muted">{item.side}</span>
            <button
              type="button"
              aria-label={`Remove ${item.word}`}
              className="px-2 text-wine"
              onClick={() => onWords(data.reversals.filter((other) => other !== item))}
            >
              ×
            </button>
          </span>
        ))}
        <form
          className="flex items-center gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            onWords([...data.reversals, { side, word }]);
            setWord("");
          }}
        >
          <input
            required
            minLength={2}
            maxLength={40}
            aria-label="Word of reversal"
            value={word}
            onChange={(event) => setWord(event.target.value)}
            className="w-36 rounded-md border border-line bg-sheet px-2 py-0.5"
          />
          <Select inline label="of" value={side} options={SIDES} onChange={(next) => setSide(next as typeof side)} />
          <Button type="submit">Add</Button>
        </form>
      </div>
    </section>
  );
}

/** What a rule reads, in words. */
export function yieldWords({ reads, of, agree, gain }: Yields): string {
  const newly = gain ? `, ${gain} of them only through it` : "";
  return `reads ${reads} of ${of}; ${agree} agree in reference and amount${newly}`;
}
