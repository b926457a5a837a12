import { useState } from "react";

import { kindOptions } from "../../format/kinds";
import { Button, Select, Trouble } from "../../ui/controls";
import { useTeaching, useTrial, type Lesson, type Lessons } from "./lessons";
import { yieldWords } from "./LessonsDialog";

const SIDES: [Lesson["side"], string][] = [
  ["bank", "the bank's"],
  ["books", "the books'"],
];
const FIELDS: [Lesson["of"], string][] = [
  ["text", "text"],
  ["reference", "reference"],
];
const KINDS = kindOptions("left open");
const SHOWN = 9;

interface TeachFormProps {
  whose: { companyId: number; accountId: number };
  lessons: Lessons;
  onDone: () => void;
}

type Marks = Record<string, [number, number]>;

/** Teaching a reader: the person marks the reference in a few texts, and sees the rule and what it yields. */
export function TeachForm({ whose, lessons, onDone }: TeachFormProps) {
  const [side, setSide] = useState<Lesson["side"]>("bank");
  const [of, setOf] = useState<Lesson["of"]>("text");
  const [kind, setKind] = useState("");
  const [find, setFind] = useState("");
  const [marks, setMarks] = useState<Marks>({});
  const teaching = useTeaching(whose);
  const pool = side === "bank" ? lessons.bank_texts : lessons.book_texts;
  const texts = [...new Set(pool.map((pair) => pair[of]))].filter((text) => text.trim() !== "");
  const wanted = texts.filter((text) => text.toLowerCase().includes(find.toLowerCase()));
  const shown = [...new Set([...Object.keys(marks), ...wanted])].slice(0, Math.max(SHOWN, Object.keys(marks).length));
  const examples = Object.entries(marks).map(([text, [start, end]]) => ({ text, start, end }));
  const lesson: Lesson = { side, of, kind: (kind || null) as Lesson["kind"] & null, examples };
  const trial = useTrial(whose, lesson);
  const restart = () => setMarks({});
  return (
    <form
      className="space-y-3"
      onSubmit={(event) => {
        event.preventDefault();
        teaching.mutate({ change: "keep", body: { lesson } }, { onSuccess: onDone });
      }}
    >
      <div className="flex flex-wrap items-center gap-x-5 gap-y-1">
        <Select
          inline
          label="Read"
          value={side}
          options={SIDES}
          onChange={(next) => {
            setSide(next as Lesson["side"]);
            restart();
          }}
        />
        <Select
          inline
          label="in its"
          value={of}
          options={FIELDS}
          onChange={(next) => {
            setOf(next as Lesson["of"]);
            restart();
          }}
        />
        <Select inline label="Such items are" value={kind} options={KINDS} onChange={setKind} />
        <input
          type="search"
          aria-label="Find texts"
          placeholder="find texts …"
          value={find}
          onChange={(event) => setFind(event.target.value)}
          className="ml-auto w-36 rounded-md border border-line bg-sheet px-2 py-0.5"
        />
      </div>
      <p className="text-muted">
        Select the reference in two or three texts, with the mouse or with Shift and the arrow keys. To tell only the
        kind, tick the texts.
      </p>
      <ul className="rounded-md border border-line">
        {shown.map((text) => (
          <Sample
            key={text}
            text={text}
            mark={marks[text]}
            onMark={(mark) => {
              const others = Object.entries(marks).filter(([other]) => other !== text);
              setMarks(Object.fromEntries(mark ? [...others, [text, mark]] : others));
            }}
          />
        ))}
        {!shown.length && <li className="px-3 py-2 text-muted">No text of this kind.</li>}
      </ul>
      <div aria-live="polite" className="min-h-24 rounded-md border border-line bg-paper p-3">
        {!examples.length && <p className="text-muted">The rule appears here, with what it yields.</p>}
        {trial.error && <Trouble>{trial.error.message}</Trouble>}
        {trial.data && !trial.error && (
          <>
            <p className="font-semibold">{trial.data.sentence}</p>
            <p className="mb-1 text-muted">It {yieldWords(trial.data.yields)}.</p>
            <table className="w-full font-mono text-xs">
              <tbody>
                {trial.data.yields.samples.slice(0, 4).map((sample, n) => (
                  <tr key={n}>
                    <td className="max-w-[28rem] truncate">{sample.text}</td>
                    <td className="pl-3 font-bold text-wine">{sample.read}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </>
        )}
      </div>
      {teaching.error && <Trouble>{teaching.error.message}</Trouble>}
      <div className="flex justify-end gap-2">
        <Button onClick={onDone}>Back</Button>
        <Button weight="main" type="submit" disabled={!trial.data || !!trial.error || !examples.length}>
          Use this reader
        </Button>
      </div>
    </form>
  );
}

interface SampleProps {
  text: string;
  mark: [number, number] | undefined;
  onMark: (mark: [number, number] | undefined) => void;
}

/** A sample text in which a part can be selected, and the part that is. */
function Sample({ text, mark, onMark }: SampleProps) {
  return (
    <li className="flex items-center gap-2 border-b border-hair px-2 last:border-0">
      <input
        type="checkbox"
        className="accent-wine"
        aria-label={`Use ${text} as an example`}
        checked={mark !== undefined}
        onChange={(event) => onMark(event.target.checked ? [0, 0] : undefined)}
      />
      <input
        // Not read-only to the browser, which would leave the keyboard without a caret; what is typed is not taken.
        aria-readonly
        onChange={() => undefined}
        aria-label={`Sample ${text}`}
        value={text}
        className="min-w-0 flex-1 bg-transparent py-1 font-mono text-xs outline-offset-0"
        onSelect={(event) => {
          const { selectionStart, selectionEnd } = event.currentTarget;
          if (selectionStart !== null && selectionEnd !== null && selectionEnd > selectionStart)
            onMark([selectionStart, selectionEnd]);
        }}
      />
      <span className="w-32 truncate text-right font-mono text-xs font-bold text-wine">
        {mark ? text.slice(...mark) || "kind only" : ""}
      </span>
    </li>
  );
}
