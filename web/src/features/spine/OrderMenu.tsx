import { DropdownMenu } from "radix-ui";

import { GROUPS, SORTS, type Group, type Sort } from "./rows";
import type { Place } from "./state";

interface OrderMenuProps {
  place: Place;
  onSort: (sort: Sort) => void;
  onGroups: (groups: readonly Group[]) => void;
}

const ITEM = "flex cursor-pointer items-center gap-2 rounded px-2.5 py-1 outline-none data-[highlighted]:bg-wine-soft";
const WORDS: Partial<Record<Sort, string>> = { size: "size, in or out", amount: "amount, in first" };

/** How the rows are ordered: sorted, and grouped by one thing or by two. */
export function OrderMenu({ place, onSort, onGroups }: OrderMenuProps) {
  const [first, second] = place.groups;
  const label = first ? `by ${first}${second ? `, ${second}` : ""}` : `by ${place.sort}`;
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        aria-label={`Order: sorted by ${place.sort}${first ? `, grouped ${label}` : ""}`}
        className="shrink-0 rounded-md px-1.5 py-1 whitespace-nowrap text-muted hover:bg-hair hover:text-ink"
      >
        {label} ▾
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={4}
          className="z-50 grid grid-cols-2 gap-x-3 rounded-lg border border-line bg-sheet p-2 shadow-lg"
          onCloseAutoFocus={(event) => {
            // The keys go on working on the rows, not on the menu.
            event.preventDefault();
            if (document.activeElement instanceof HTMLElement) document.activeElement.blur();
          }}
        >
          <Choices title="Sort by" value={place.sort} options={SORTS} onChoose={(sort) => onSort(sort)} />
          <div>
            <Choices
              title="Group by"
              value={first ?? "nothing"}
              options={["nothing", ...GROUPS] as const}
              onChoose={(group) => onGroups(group === "nothing" ? [] : [group])}
            />
            {first && (
              <Choices
                title="then by"
                value={second ?? "nothing"}
                options={["nothing" as const, ...GROUPS.filter((group) => group !== first)]}
                onChoose={(group) => onGroups(group === "nothing" ? [first] : [first, group])}
              />
            )}
          </div>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

interface ChoicesProps<T extends string> {
  title: string;
  value: T;
  options: readonly T[];
  onChoose: (option: T) => void;
}

function Choices<T extends string>({ title, value, options, onChoose }: ChoicesProps<T>) {
  return (
    <DropdownMenu.RadioGroup value={value} onValueChange={(next) => onChoose(next as T)}>
      <DropdownMenu.Label className="px-2.5 pt-1 pb-0.5 text-xs text-muted">{title}</DropdownMenu.Label>
      {options.map((option) => (
        <DropdownMenu.RadioItem key={option} value={option} className={ITEM}>
          <span className="w-3 text-wine">{option === value ? "•" : ""}</span>
          {WORDS[option as Sort] ?? option}
        </DropdownMenu.RadioItem>
      ))}
    </DropdownMenu.RadioGroup>
  );
}
