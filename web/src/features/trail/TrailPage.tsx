import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { answer, client, type Schemas } from "../../api/client";
import { useMe } from "../../app/session";
import { Shell } from "../../app/Shell";
import { moment } from "../../format/dates";
import { money } from "../../format/money";
import { Button, Empty, Select, Trouble } from "../../ui/controls";

type TrailEvent = Schemas["TrailEventOut"];

interface Wanted {
  person: string;
  what: string;
  start: string;
  end: string;
  entity_id: string;
}

const NOTHING: Wanted = { person: "", what: "", start: "", end: "", entity_id: "" };

/** Who did what, when, to which thing; what it was before and after; from where. */
export function TrailPage() {
  const me = useMe();
  const [companyId, setCompanyId] = useState(me.companies[0]?.id ?? 0);
  const [wanted, setWanted] = useState(NOTHING);
  const [before, setBefore] = useState<number[]>([]);
  const company = me.companies.find(({ id }) => id === companyId);
  const filters = Object.fromEntries(Object.entries(wanted).filter(([, value]) => value !== ""));
  const cursor = before.at(-1);
  const found = useQuery({
    queryKey: ["trail", companyId, wanted, cursor],
    placeholderData: (last) => last,
    queryFn: () =>
      answer(
        client.GET("/api/companies/{company_id}/trail", {
          params: { path: { company_id: companyId }, query: { ...filters, ...(cursor ? { before: cursor } : {}) } },
        }),
      ),
  });
  const set = (some: Partial<Wanted>) => {
    setBefore([]);
    setWanted({ ...wanted, ...some });
  };
  const events = found.data?.events ?? [];
  const choices = (names: string[] | undefined, all: string) =>
    [["", all] as const, ...(names ?? []).map((name) => [name, name] as const)] as const;
  const day = (name: "start" | "end", words: string) => (
    <label className="flex items-center gap-1.5">
      <span className="text-muted">{words}</span>
      <input
        type="date"
        value={wanted[name]}
        onChange={(event) => set({ [name]: event.target.value })}
        className="rounded border border-line bg-sheet px-1 py-0.5"
      />
    </label>
  );
  return (
    <Shell>
      <main className="flex h-full flex-col px-6 pt-4">
        <div className="mb-3 flex flex-wrap items-center gap-x-4 gap-y-2">
          <h1 className="text-xl font-bold">Audit trail</h1>
          <Select
            inline
            label="of"
            value={String(companyId)}
            options={me.companies.map(({ id, name }) => [String(id), name] as const)}
            onChange={(id) => {
              setBefore([]);
              setCompanyId(Number(id));
            }}
          />
          <Select
            inline
            label="by"
            value={wanted.person}
            options={choices(found.data?.people, "everyone")}
            onChange={(person) => set({ person })}
          />
          <Select
            inline
            label="what"
            value={wanted.what}
            options={choices(found.data?.kinds, "everything")}
            onChange={(what) => set({ what })}
          />
          {day("start", "from")}
          {day("end", "to")}
          <a
            className="ml-auto font-semibold text-wine"
            href={`/api/companies/${companyId}/trail/export.csv?${new URLSearchParams(filters).toString()}`}
          >
            Export
          </a>
        </div>
        {found.error && <Trouble>{found.error.message}</Trouble>}
        <div className="min-h-0 flex-1 overflow-auto bg-sheet" tabIndex={0} aria-label="Events">
          {events.length === 0 && found.data && <Empty title="No event fits this choice." />}
          <table className="w-full border-collapse">
            <thead>
              <tr className="border-b border-line text-left text-xs text-muted">
                <th className="w-44 py-1 pl-3 font-normal">When</th>
                <th className="w-28 font-normal">Who</th>
                <th className="w-52 font-normal">What</th>
                <th className="w-36 font-normal">On</th>
                <th className="font-normal">Before and after</th>
              </tr>
            </thead>
            <tbody>
              {events.map((event) => (
                <EventRow
                  key={event.id}
                  event={event}
                  locale={company?.locale ?? "en-US"}
                  currency={company?.currency ?? "USD"}
                  onThing={set}
                />
              ))}
            </tbody>
          </table>
        </div>
        <div className="flex items-center gap-2 py-2">
          {wanted.entity_id && (
            <Button weight="quiet" onClick={() => set({ entity_id: "" })}>
              Events of every entry again
            </Button>
          )}
          <span className="ml-auto text-muted">{events.length} shown, newest first</span>
          <Button disabled={!before.length} onClick={() => setBefore(before.slice(0, -1))}>
            Newer
          </Button>
          <Button
            disabled={events.length < (found.data?.page ?? Infinity)}
            onClick={() => setBefore([...before, events.at(-1)?.id ?? 0])}
          >
            Older
          </Button>
        </div>
      </main>
    </Shell>
  );
}

interface EventRowProps {
  event: TrailEvent;
  locale: string;
  currency: string;
  onThing: (some: Partial<Wanted>) => void;
}

function EventRow({ event, locale, currency, onThing }: EventRowProps) {
  const write = (minor: number) => money(minor, currency, locale);
  const id = event.entity_id;
  return (
    <tr className="border-b border-hair align-top">
      <td className="py-1 pl-3 text-muted">{moment(event.at, locale)}</td>
      <td className="py-1">{event.person}</td>
      <td className="py-1 font-semibold">{event.what}</td>
      <td className="py-1">
        {id === null ? (
          event.entity
        ) : (
          <button type="button" className="text-wine" onClick={() => onThing({ entity_id: String(id) })}>
            {event.entity.replace("_", " ")} {id}
          </button>
        )}
      </td>
      <td className="py-1 pr-3">
        <Values text={event.before} write={write} struck />
        <Values text={event.after} write={write} />
      </td>
    </tr>
  );
}

/** The values of an event as names and values, in one line. */
function Values({ text, write, struck = false }: { text: string; write: (minor: number) => string; struck?: boolean }) {
  if (!text) return null;
  const values = JSON.parse(text) as Record<string, unknown>;
  const told = (name: string, value: unknown) => {
    if (name === "amount" && typeof value === "number") return write(value);
    return typeof value === "string" ? value : JSON.stringify(value);
  };
  const shown = Object.entries(values)
    .filter(([, value]) => value !== "" && value !== null && !(Array.isArray(value) && value.length === 0))
    .map(([name, value]) => `${name.replaceAll("_", " ")} ${told(name, value)}`)
    .join(" · ");
  return <p className={`max-w-3xl break-words ${struck ? "text-muted line-through" : ""}`}>{shown}</p>;
}
