import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";

import { placeOf, spinePath, useBoard, type Place } from "../../app/places";
import { Button, Trouble } from "../../ui/controls";
import { HeadingPanel } from "./HeadingPanel";
import { InFile } from "./InFile";
import { LayoutPanel } from "./LayoutPanel";
import { ReadingProgress } from "./ReadingProgress";
import {
  AS_FOUND,
  NOTHING_GIVEN,
  previewFile,
  stopReading,
  storeFile,
  useRefresh,
  type HeadGiven,
  type How,
  type Layout,
  type Reading,
} from "./statements";
import { Given, Lines, Understood } from "./Understood";

interface ReadingPanelProps {
  place: Place;
  file: File;
  onClose: () => void;
}

/** One reading of the file: for which account, how, and what the person states and confirms about it. */
interface Asked {
  at: Place;
  how: How;
  given: HeadGiven;
  agreed: string[];
  /** Counts the changes: each reading has a name of its own, by which it is stopped. */
  turn: number;
}

function fresh(at: Place, place: number | null): Asked {
  return { at, how: { ...AS_FOUND, place }, given: NOTHING_GIVEN, agreed: [], turn: 0 };
}

/** What was understood of a statement file, before anything is stored; several statements in it one after the other. */
export function ReadingPanel({ place, file, onClose }: ReadingPanelProps) {
  const [asked, setAsked] = useState(() => fresh(place, null));
  const change = (part: Partial<Asked>) => setAsked({ ...asked, ...part, turn: asked.turn + 1 });
  const { at, how, given, agreed } = asked;
  const [pointing, setPointing] = useState(false);
  const [stored, setStored] = useState<number[]>([]);
  const [name] = useState(() => Date.now().toString(36) + Math.random().toString(36).slice(2));
  const job = `${name}-${asked.turn}-${stored.length}`;
  const board = useBoard();
  const navigate = useNavigate();
  const refresh = useRefresh();
  const about = [at.companyId, at.account.id, file.name, file.lastModified, file.size, given, how, stored.length];
  const reading = useQuery({
    queryKey: ["reading", ...about],
    queryFn: ({ signal }) => previewFile(at, file, given, how, `${job}-read`, signal),
    placeholderData: (before, query) => (query?.queryKey[2] === at.account.id ? before : undefined),
    gcTime: 0,
  });
  const store = useMutation({
    mutationFn: (found: Reading) => storeFile(at, file, given, { ...how, place: found.place }, agreed, `${job}-store`),
    onSuccess: async ({ reconciliation_id }, found) => {
      await refresh();
      const done = [...stored, found.place];
      const next = found.in_file.find((item) => item.bank_account_id !== null && !done.includes(item.place));
      const to = next && placeOf(board.data, at.companyId, next.bank_account_id ?? 0);
      setStored(done);
      if (next && to) change(fresh(to, next.place));
      else await navigate(spinePath(at.companyId, reconciliation_id));
    },
  });
  const size = `${file.name}, ${Math.ceil(file.size / 1024).toLocaleString()} KB`;
  if (reading.isPending) {
    return (
      <ReadingProgress companyId={at.companyId} job={`${job}-read`} title={`Reading ${size}`} onCancel={onClose} />
    );
  }
  if (store.isPending) {
    return (
      <ReadingProgress
        companyId={at.companyId}
        job={`${job}-store`}
        title={`Storing ${size}`}
        onCancel={() => stopReading(at.companyId, `${job}-store`)}
      />
    );
  }
  const setHow = (layout: Layout, settles: string[]) =>
    change({ how: { ...how, layout, settled: [...new Set([...how.settled, ...settles])] } });
  const point = (draft: Layout) => {
    setPointing(false);
    change({ how: { ...how, layout: draft, settled: [] } });
  };
  if (reading.error) {
    return (
      <div className="flex h-full flex-col">
        <div className="max-w-3xl space-y-3 p-6">
          <Trouble>{reading.error.message}</Trouble>
          <div className="flex gap-2">
            {how.layout && <Button onClick={() => change(fresh(at, how.place))}>Read it as it was found</Button>}
            <Button onClick={onClose}>Choose another file</Button>
          </div>
        </div>
        {how.layout && <LayoutPanel layout={how.layout} onChange={setHow} />}
        <HeadingPanel place={at} file={file} onPoint={point} />
      </div>
    );
  }
  const found = reading.data;
  const kinds = [...new Set(found.notices.map((notice) => notice.kind))];
  const unconfirmed = kinds.filter((kind) => !agreed.includes(kind));
  const questions = found.table?.questions.length ?? 0;
  return (
    <div className="grid h-full grid-cols-[23rem_1fr]">
      <section
        className="flex flex-col gap-4 overflow-auto border-r border-line bg-sheet p-5"
        aria-label="What was understood"
      >
        <div>
          <h1 className="text-base font-bold break-all">{file.name}</h1>
          <p className="text-muted">
            {at.account.id === place.account.id ? "Nothing is stored yet." : `For ${at.account.name}.`}
          </p>
        </div>
        <Understood found={found} place={at} />
        <Given
          key={`${at.account.id} ${found.place}`}
          found={found}
          given={given}
          currency={at.account.currency}
          onChange={(stated) => change({ given: stated })}
        />
        {found.problems.map((problem) => (
          <Trouble key={problem}>{problem}</Trouble>
        ))}
        {found.notices.map((notice) => (
          <label key={notice.text} className="flex gap-2 rounded-md border border-ember/40 bg-ember-soft px-3 py-2">
            <input
              type="checkbox"
              className="mt-0.5 accent-wine"
              checked={agreed.includes(notice.kind)}
              onChange={(event) =>
                change({
                  agreed: event.target.checked
                    ? [...agreed, notice.kind]
                    : agreed.filter((kind) => kind !== notice.kind),
                })
              }
            />
            <span>
              {notice.text}
              <span className="block text-xs text-muted">
                Store it all the same; it is to be settled before sealing.
              </span>
            </span>
          </label>
        ))}
        {store.error && <Trouble>{store.error.message}</Trouble>}
        <div className="mt-auto flex gap-2">
          <Button
            weight="main"
            className="flex-1"
            autoFocus
            disabled={unconfirmed.length > 0 || found.nothing_new || questions > 0}
            onClick={() => store.mutate(found)}
          >
            {questions ? "Answer the question first" : storeWords(found, stored)}
          </Button>
          <Button onClick={onClose}>{stored.length ? "Done" : "Cancel"}</Button>
        </div>
      </section>
      <div className="flex min-h-0 flex-col">
        {found.table && (
          <LayoutPanel
            layout={found.table.layout}
            table={found.table}
            onChange={setHow}
            onPoint={() => setPointing(!pointing)}
          />
        )}
        {found.in_file.length > 1 && (
          <InFile
            found={found}
            at={at}
            stored={stored}
            onChoose={(item, accountId) => {
              const to = placeOf(board.data, at.companyId, accountId);
              if (to) change(fresh(to, item.place));
            }}
          />
        )}
        {pointing ? <HeadingPanel place={at} file={file} onPoint={point} /> : <Lines found={found} place={at} />}
      </div>
    </div>
  );
}

function storeWords(found: Reading, stored: number[]): string {
  if (found.nothing_new) return "Nothing new to store";
  const others = found.in_file.filter(
    (item) => item.place !== found.place && item.bank_account_id !== null && !stored.includes(item.place),
  );
  const then = others.length ? "show the next" : "go to the Spine";
  const lines = found.new_count === 1 ? "1 new line" : `${found.new_count} new lines`;
  if (found.line_count && !found.new_count) return `Store the statement and ${then}`;
  return found.line_count ? `Store ${lines} and ${then}` : `Store and ${then}`;
}
