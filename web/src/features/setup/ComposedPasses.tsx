import { kindOptions } from "../../format/kinds";
import { Button, Select } from "../../ui/controls";
import type { PassSettings } from "./setup";

type Composed = PassSettings["composed"][number];

const REFERENCES: Composed["reference"][] = ["no matter", "equal", "same digits", "one ends in the other"];
const TEXTS: Composed["text"][] = ["no matter", "same party", "every word of one in the other"];
const SIGNS: Composed["sign"][] = ["in or out", "in", "out"];
const KINDS = kindOptions("any");

const FRESH: Composed = {
  active: true,
  title: "",
  reference: "equal",
  text: "no matter",
  before: 30,
  after: 10,
  sign: "in or out",
  kind: null,
};

interface ComposedPassesProps {
  composed: Composed[];
  onChange: (composed: Composed[]) => void;
}

/** Passes composed by the person: what must agree beside the amount; they run after the fixed ones. */
export function ComposedPasses({ composed, onChange }: ComposedPassesProps) {
  const change = (place: number, part: Partial<Composed>) =>
    onChange(composed.map((item, n) => (n === place ? { ...item, ...part } : item)));
  const listed = (options: readonly string[]) => options.map((name) => [name, name] as const);
  return (
    <section aria-label="Composed passes" className="space-y-2">
      {composed.map((item, place) => (
        <fieldset key={place} className="rounded-md border border-line p-3">
          <legend className="px-1 text-xs text-muted">Composed pass, after the fixed ones</legend>
          <div className="mb-2 flex items-center gap-3">
            <input
              type="checkbox"
              className="accent-wine"
              aria-label={`Run ${item.title || "this pass"}`}
              checked={item.active}
              onChange={(event) => change(place, { active: event.target.checked })}
            />
            <input
              required
              maxLength={60}
              aria-label="Title"
              placeholder="title, e.g. Slip ends in our number"
              value={item.title}
              onChange={(event) => change(place, { title: event.target.value })}
              className="flex-1 rounded-md border border-line bg-sheet px-2 py-0.5"
            />
            <Button weight="quiet" onClick={() => onChange(composed.filter((_, n) => n !== place))}>
              Remove
            </Button>
          </div>
          <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
            <span className="text-muted">Amount agrees exactly, and</span>
            <Select
              inline
              label="reference"
              value={item.reference}
              options={listed(REFERENCES)}
              onChange={(value) => change(place, { reference: value as Composed["reference"] })}
            />
            <Select
              inline
              label="text"
              value={item.text}
              options={listed(TEXTS)}
              onChange={(value) => change(place, { text: value as Composed["text"] })}
            />
            <Select
              inline
              label="money"
              value={item.sign}
              options={listed(SIGNS)}
              onChange={(value) => change(place, { sign: value as Composed["sign"] })}
            />
            <Select
              inline
              label="kind of line"
              value={item.kind ?? ""}
              options={KINDS}
              onChange={(value) => change(place, { kind: (value || null) as Composed["kind"] & null })}
            />
            {(["before", "after"] as const).map((side) => (
              <label key={side} className="flex items-center gap-1.5 text-muted">
                {side === "before" ? "entry at most" : "or"}
                <input
                  type="number"
                  min={0}
                  max={3660}
                  required
                  value={item[side]}
                  onChange={(event) => change(place, { [side]: Number(event.target.value) })}
                  className="figure w-16 rounded-md border border-line bg-sheet px-2 py-0.5 text-right text-ink"
                />
                days {side}
              </label>
            ))}
          </div>
        </fieldset>
      ))}
      <Button onClick={() => onChange([...composed, FRESH])}>Compose a pass</Button>
    </section>
  );
}
