import { longDay } from "../../format/dates";
import { Button, Key, Trouble } from "../../ui/controls";
import { Dialog } from "../../ui/Dialog";
import { useState } from "react";

import { useDryRun, type Clue, type Desk, type PassName, type Spine } from "./api";
import { DateForm } from "./DateForm";
import type { Items } from "./rows";
import { useWriting } from "./writing";

interface PassesDialogProps {
  desk: Desk;
  items: Items;
  sealed: string;
  onClose: () => void;
  onLessons: () => void;
  onDate: (entry: number, date: string) => void;
  onApply: (only: PassName[]) => void;
}

/** The dry run: what the passes would match, by pass, odd ones first. */
export function PassesDialog({ desk, items, sealed, onClose, onLessons, onDate, onApply }: PassesDialogProps) {
  const write = useWriting();
  const run = useDryRun(desk);
  const [off, setOff] = useState<ReadonlySet<string>>(new Set());
  const passes = Object.keys(run.data?.counts ?? {}) as PassName[];
  const wanted = passes.filter((name) => !off.has(name));
  const matches = (run.data?.matches ?? []).filter((match) => !off.has(match.by));
  const turn = (name: string) => {
    const next = new Set(off);
    if (!next.delete(name)) next.add(name);
    setOff(next);
  };
  return (
    <Dialog title="Run the passes" open onClose={onClose} wide>
      {run.error && <Trouble>{run.error.message}</Trouble>}
      {run.data && (
        <>
          <ul className="mb-3 grid grid-cols-[1fr_5rem] gap-y-1">
            {Object.entries(run.data.counts).map(([name, count]) => (
              <li key={name} className="contents">
                <label className="flex items-center gap-2">
                  <input type="checkbox" className="accent-wine" checked={!off.has(name)} onChange={() => turn(name)} />
                  {name}
                </label>
                <span className="figure text-right">{count}</span>
              </li>
            ))}
            <li className="contents text-muted">
              <span>
                left for you: proposals {run.data.proposals}, questions {run.data.questions}, lines without a partner
              </span>
              <span className="figure text-right">{run.data.left_lines}</span>
            </li>
          </ul>
          <div className="max-h-[44vh] overflow-auto border-y border-line">
            <table className="w-full border-collapse">
              <tbody>
                {matches.map((match) => {
                  const line = items.lines.get(match.lines[0] ?? -1);
                  const entry = items.entries.get(match.entries[0] ?? -1);
                  return (
                    <tr key={`${match.lines.join()}/${match.entries.join()}`} className="h-7 border-b border-hair">
                      <td className="w-16 text-muted">{write.day((line ?? entry)?.date ?? "")}</td>
                      <td className="max-w-44 truncate">{entry?.payee || line?.description}</td>
                      <td className="figure pr-4 text-right">{write.amount((line ?? entry)?.amount ?? 0)}</td>
                      <td className="text-muted">
                        {match.far && <b className="text-slate">dates far apart · </b>}
                        {match.why}
                        {match.far && line && entry && match.entries.length === 1 && entry.date > sealed && (
                          <DateForm
                            key={entry.date}
                            from={entry.date}
                            to={line.date}
                            inDialog
                            busy={false}
                            onSave={(date) => onDate(entry.id, date)}
                          />
                        )}
                      </td>
                    </tr>
                  );
                })}
              </tbody>
            </table>
            {!matches.length && (
              <p className="py-4 text-muted">The passes find nothing more. What is left needs a person.</p>
            )}
          </div>
          <div className="mt-4 flex justify-end gap-2">
            <Button weight="quiet" className="mr-auto" onClick={onLessons}>
              Teach it to read references
            </Button>
            <Button onClick={onClose}>Not now</Button>
            <Button
              weight="main"
              shortcut="Enter"
              autoFocus
              disabled={!matches.length}
              onClick={() => onApply(off.size ? wanted : [])}
            >
              {matches.length === 1 ? "Make this match" : `Make these ${matches.length} matches`}
            </Button>
          </div>
        </>
      )}
    </Dialog>
  );
}

interface CluesDialogProps {
  spine: Spine;
  onShow: (clue: Clue) => void;
  onClose: () => void;
}

/** What would explain what is left, the most telling first; each leads to its items. */
export function CluesDialog({ spine, onShow, onClose }: CluesDialogProps) {
  const write = useWriting();
  const { strip, clues } = spine;
  const asked = strip.ticking ? strip.difference : strip.residual;
  return (
    <Dialog title={`What would explain ${write.amount(asked ?? 0)}`} open wide onClose={onClose}>
      <ol>
        {clues.map((clue, n) => (
          <li key={clue.text}>
            <button
              type="button"
              autoFocus={n === 0}
              className="flex w-full items-baseline gap-3 rounded-md px-2 py-1.5 text-left hover:bg-wine-soft"
              onClick={() => onShow(clue)}
            >
              <span className="w-32 shrink-0 font-semibold text-wine">{clue.kind}</span>
              <span className="flex-1">{clue.text}</span>
              <span className="figure">{write.amount(clue.explains)}</span>
            </button>
          </li>
        ))}
      </ol>
      <p className="mt-3 text-muted">
        {clues.some((clue) => clue.explains === asked)
          ? "Each of the first explains the whole amount; look before you mend."
          : `No single mistake explains it: not one entry, no swapped or slipped digits, no wrong side, no two of them together${clues.length ? "; these are its parts" : ""}.`}
      </p>
    </Dialog>
  );
}

interface SealDialogProps {
  spine: Spine;
  locale: string;
  review: boolean;
  onClose: () => void;
  onSeal: () => void;
}

/** The last look before sealing: what it will hold. Nothing is asked that is known. */
export function SealDialog({ spine, locale, review, onClose, onSeal }: SealDialogProps) {
  const write = useWriting();
  const { strip } = spine;
  const rows: [string, string][] = [
    ["Opening", write.amount(strip.opening)],
    ["Counted", write.amount(strip.counted_so_far)],
    ["Closing", write.amount(strip.closing ?? 0)],
    ["Difference", write.amount(strip.difference ?? 0)],
    ["Carried to the next period", `${strip.outstanding_in.count + strip.outstanding_out.count} entries`],
  ];
  return (
    <Dialog
      title={`${review ? "Hand in" : "Seal"} ${spine.account.name} to ${longDay(spine.closing_date, locale)}`}
      open
      onClose={onClose}
    >
      <dl className="mb-3 grid grid-cols-[1fr_auto] gap-y-1">
        {rows.map(([name, value]) => (
          <div key={name} className="contents">
            <dt className="text-muted">{name}</dt>
            <dd className="figure text-right">{value}</dd>
          </div>
        ))}
      </dl>
      <p className="text-muted">
        {review
          ? "It is frozen until another person approves it, which seals it, or returns it with a note."
          : "The report is kept as it stands, and whatever moves in it later is named. The closing becomes the next opening."}
      </p>
      <div className="mt-4 flex justify-end gap-2">
        <Button onClick={onClose}>Not yet</Button>
        <Button weight="main" shortcut="Enter" autoFocus onClick={onSeal}>
          {review ? "Hand in" : "Seal"}
        </Button>
      </div>
    </Dialog>
  );
}

const KEYS: [string, string][] = [
  ["↑ ↓", "row by row; Page Up, Page Down, Home, End"],
  ["Enter", "accept what is offered: match, correct, record, pair, tick"],
  ["Space", "select; then M matches what is selected"],
  ["← →", "only the bank's side, only the books' side"],
  ["M", "match or wash the selection, when it comes to zero"],
  ["U", "unmatch, untick"],
  ["R", "record the line in the books"],
  ["E", "change the entry"],
  ["O", "unfold or fold matched rows"],
  ["P", "run the passes"],
  ["A", "post the difference of a near pair"],
  ["B", "keep the line as a bank error"],
  ["D", "correct the date of a match whose dates are far apart"],
  ["C", "clues: what would explain what is left"],
  ["X", "in a question: the entry pointed at is a mistake"],
  ["V", "the statement's original beside the Spine"],
  ["N", "next row that needs you"],
  ["Z  Y", "undo, do again"],
  ["/", "search: text, 48.30, >100, 100..200, <=2026-10-15"],
  ["1 … 6", "views"],
  ["S", "seal, at naught"],
  ["Esc", "clear the selection"],
];

/** The keys of the Spine. */
export function KeysDialog({ onClose }: { onClose: () => void }) {
  return (
    <Dialog title="Keys" open onClose={onClose}>
      <dl className="grid grid-cols-[5.5rem_1fr] gap-y-1.5">
        {KEYS.map(([key, about]) => (
          <div key={key} className="contents">
            <dt>
              <Key>{key}</Key>
            </dt>
            <dd>{about}</dd>
          </div>
        ))}
      </dl>
    </Dialog>
  );
}
