import type { ReactNode } from "react";

import { counted } from "../../format/dates";
import { Button, Trouble } from "../../ui/controls";
import type { Absent } from "./books";
import { ColumnsForm, TableSample, type Columns, type TableFound } from "./ColumnsForm";

/** What becomes of entries that the file lacks; no question where there are none. */
export interface AbsentQuestion {
  number: number;
  words: string;
  value: Absent | null;
  onChange: (value: Absent) => void;
}

interface ComparedFileProps {
  file: File;
  /** What it was compared with, such as "the bank book". */
  against: string;
  /** Undefined until the file has been read; null where its columns need not be told. */
  table: TableFound | null | undefined;
  columns: Columns | null;
  onColumns: (columns: Columns) => void;
  troubles: string[];
  facts: (readonly [string, string])[];
  questions: AbsentQuestion[];
  /** How many differences would be taken over, and how many of them change what is sealed. */
  taken: number;
  altering: number;
  mayAlter: boolean;
  alters: string;
  busy: boolean;
  failed: string | undefined;
  onStore: () => void;
  onClose: () => void;
  /** What else must be said before it is taken over. */
  asking?: ReactNode;
  /** The differences. */
  children: ReactNode;
}

/** A file compared with the books: what it holds and asks on the left, every difference on the right. */
export function ComparedFile(props: ComparedFileProps) {
  const { file, table, columns, taken, altering } = props;
  const read = table !== undefined;
  const untold = !!table && table.missing.length > 0;
  const questions = props.questions.filter(({ number }) => number > 0);
  const asked = questions.some(({ value }) => value === null);
  const barred = altering > 0 && !props.mayAlter;
  return (
    <div className="grid h-full grid-cols-[23rem_1fr]">
      <section className="flex min-h-0 flex-col border-r border-line bg-sheet p-5" aria-label="What was understood">
        <div className="flex min-h-0 flex-1 flex-col gap-4 overflow-auto pb-4">
          <div>
            <h1 className="text-base font-bold break-all">{file.name}</h1>
            <p className="text-muted">Compared with {props.against}. Nothing is stored yet.</p>
          </div>
          {props.troubles.map((words) => (
            <Trouble key={words}>{words}</Trouble>
          ))}
          {table && <ColumnsForm table={table} stated={columns} onChange={props.onColumns} />}
          {read && !untold && (
            <>
              <dl className="grid grid-cols-[1fr_auto] gap-y-1.5">
                {props.facts.map(([name, value]) => (
                  <div key={name} className="contents">
                    <dt className="text-muted">{name}</dt>
                    <dd className="figure text-right">{value}</dd>
                  </div>
                ))}
              </dl>
              {questions.map((question) => (
                <Question key={question.words} {...question} />
              ))}
              {props.asking}
              {altering > 0 && (
                <p className="rounded-md border border-line bg-ember-soft px-3 py-2">
                  {counted(altering, "difference changes", "differences change")} {props.alters}
                  {barred && " You do not have the right to alter sealed entries."}
                </p>
              )}
            </>
          )}
        </div>
        {props.failed && <Trouble>{props.failed}</Trouble>}
        <div className="mt-3 flex gap-2">
          <Button
            weight="main"
            className="flex-1"
            disabled={!read || untold || props.troubles.length > 0 || props.busy || asked || barred || !taken}
            onClick={props.onStore}
          >
            {read && !untold && !taken && !asked ? "Nothing to take over" : `Take over ${taken || ""}`}
          </Button>
          <Button onClick={props.onClose}>Cancel</Button>
        </div>
      </section>
      {table && untold ? <TableSample table={table} /> : props.children}
    </div>
  );
}

function Question({ words, value, onChange }: AbsentQuestion) {
  return (
    <fieldset className="rounded-md border border-line bg-paper px-3 py-2">
      <legend className="sr-only">{words}</legend>
      <p>{words}</p>
      {(
        [
          ["keep", "just not in the file: keep them"],
          ["remove", "removed there: remove them here"],
        ] as const
      ).map(([answer, label]) => (
        <label key={answer} className="mt-1 flex items-center gap-2">
          <input type="radio" className="accent-wine" checked={value === answer} onChange={() => onChange(answer)} />
          {label}
        </label>
      ))}
    </fieldset>
  );
}

interface Difference {
  change: string;
  alters: boolean;
}

/** The differences that are taken over, once it is said what becomes of those the file lacks. */
export function takenOf<Row extends Difference>(rows: Row[], gone: Absent | null, outside: Absent | null): Row[] {
  return rows.filter(
    ({ change }) =>
      ["new", "changed", "back", "returned"].includes(change) ||
      (change === "gone" && gone === "remove") ||
      (change === "outside" && outside === "remove"),
  );
}

/** What a fresh export lacks, inside its days and outside them, as questions. */
export function absentQuestions(
  noun: string,
  plural: string,
  gone: { number: number; value: Absent | null; onChange: (value: Absent) => void },
  outside: { number: number; value: Absent | null; onChange: (value: Absent) => void },
): AbsentQuestion[] {
  return [
    {
      ...gone,
      words: `${counted(gone.number, noun, plural)} known here ${gone.number === 1 ? "is" : "are"} no longer in the file.`,
    },
    {
      ...outside,
      words: `The file covers fewer days than are known here: ${counted(outside.number, noun, plural)} outside them.`,
    },
  ];
}
