import { useState, type SyntheticEvent } from "react";
import { Link } from "react-router";

import { spinePath, type Place } from "../../app/places";
import { useCompany } from "../../app/session";
import { longDay } from "../../format/dates";
import { money } from "../../format/money";
import { Button, Field, Select } from "../../ui/controls";
import { AccountChoice } from "../books/AccountChoice";
import { useGlAccounts } from "../books/books";
import { EvidenceCard } from "../evidence/EvidenceCard";
import { useDeed, type Item, type Lingering } from "./outstanding";

type Way = "reverse" | "reissue" | "write off" | "void";

/** The chosen item: what can be done with it, and the notes kept with it. */
export function ItemPanel({ place, item, list }: { place: Place; item: Item; list: Lingering }) {
  const { locale, rights } = useCompany(place.companyId);
  const may = rights.includes("prepare") && !list.sealed;
  return (
    <section aria-label="Chosen entry">
      <h2 className="text-base font-bold">
        {[item.reference, item.payee || item.memo].filter(Boolean).join(" ") || "Entry"}
      </h2>
      <p>
        <span className="figure">{money(item.amount, place.account.currency, locale)}</span>, {item.days} days old
        {item.listed_since && (
          <span className="text-muted">, listed since the seal to {longDay(item.listed_since, locale)}</span>
        )}
      </p>
      {list.sealed && (
        <p className="mt-1 text-muted">
          This list is sealed. Get the next statement: there it can be reversed, reissued or written off.
        </p>
      )}
      {may && !item.reversed && <DeedForm place={place} item={item} list={list} />}
      <Link
        className="my-2 block font-semibold text-wine"
        to={`${spinePath(place.companyId, list.reconciliation_id)}?entry=${item.id}`}
      >
        Look at it on the Spine
      </Link>
      <EvidenceCard
        holder={{ companyId: place.companyId, entity: "entry", id: item.id }}
        locale={locale}
        may={rights.includes("prepare")}
      />
    </section>
  );
}

const WORDS: Record<Way, string> = {
  reverse: "Reverse",
  reissue: "Void and reissue",
  "write off": "Write off",
  void: "Void",
};
const TELLS: Record<Way, string> = {
  reverse: "Posts the opposite to the same account and washes the two.",
  reissue: "Posts the opposite, washes the two, and writes a new check in its place.",
  "write off": "Posts the opposite against another account, such as unclaimed property, and washes the two.",
  void: "Takes the entry itself out of the books, as if it had never been.",
};

function DeedForm({ place, item, list }: { place: Place; item: Item; list: Lingering }) {
  const { rights } = useCompany(place.companyId);
  const accounts = useGlAccounts(place.companyId);
  const deed = useDeed(place, list.reconciliation_id);
  const [way, setWay] = useState<Way | null>(null);
  const [reason, setReason] = useState("");
  const [date, setDate] = useState(list.closing_date);
  const [number, setNumber] = useState("");
  const [account, setAccount] = useState<number | null>(null);
  const ways: Way[] =
    item.kind === "check" ? ["reverse", "reissue", "write off", "void"] : ["reverse", "write off", "void"];
  if (way === null) {
    return (
      <Button className="mt-2 w-full" onClick={() => setWay("reverse")}>
        {item.kind === "check" ? "Reverse, reissue, write off …" : "Reverse, write off …"}
      </Button>
    );
  }
  const listed = way === "void" && item.listed_since !== null;
  const ready =
    reason.trim() !== "" &&
    (way !== "reissue" || number.trim() !== "") &&
    (way !== "write off" || account !== null) &&
    (!listed || rights.includes("alter"));
  const submit = (event: SyntheticEvent) => {
    event.preventDefault();
    if (way === "void") deed.mutate({ do: "void", entry: item.id, reason: listed ? reason : "" });
    else {
      const reversal = {
        entry: item.id,
        date,
        reason,
        new_reference: way === "reissue" ? number : "",
        against: way === "write off" ? account : null,
      };
      deed.mutate({ do: "reverse", reversal });
    }
  };
  return (
    <form
      aria-label={WORDS[way]}
      onSubmit={submit}
      className="mt-2 space-y-2 rounded-md border border-line bg-paper p-3"
    >
      <Select
        label="What to do"
        value={way}
        options={ways.map((name) => [name, WORDS[name]] as const)}
        onChange={(name) => setWay(name as Way)}
      />
      <p className="text-xs text-muted">{TELLS[way]}</p>
      {listed && (
        <p className="text-ember">
          A seal lists this entry: voiding it shows as a disturbance.
          {!rights.includes("alter") && " You do not have the right to alter sealed entries: reverse it instead."}
        </p>
      )}
      <Field label="Why" required autoFocus value={reason} onChange={(event) => setReason(event.target.value)} />
      {way !== "void" && (
        <Field label="On" type="date" required value={date} onChange={(event) => setDate(event.target.value)} />
      )}
      {way === "reissue" && (
        <Field label="New check number" required value={number} onChange={(event) => setNumber(event.target.value)} />
      )}
      {way === "write off" && (
        <AccountChoice label="Against" accounts={accounts.data ?? []} value={account} onChange={setAccount} />
      )}
      <div className="flex gap-2">
        <Button weight="main" type="submit" className="flex-1" disabled={!ready || deed.isPending}>
          {WORDS[way]}
        </Button>
        <Button onClick={() => setWay(null)}>Not now</Button>
      </div>
    </form>
  );
}
