import { useBoard, type Place } from "../../app/places";
import { useCompany } from "../../app/session";
import { counted, longDay } from "../../format/dates";
import type { Reading } from "./statements";

interface InFileProps {
  found: Reading;
  at: Place;
  stored: readonly number[];
  onChoose: (item: Reading["in_file"][number], accountId: number) => void;
}

/** Every statement in the file and the bank account it belongs to; whose is not known can be said here. */
export function InFile({ found, at, stored, onChoose }: InFileProps) {
  const board = useBoard();
  const { locale } = useCompany(at.companyId);
  const accounts = board.data?.companies.find((c) => c.id === at.companyId)?.accounts ?? [];
  return (
    <section aria-label="Statements in the file" className="border-b border-line bg-paper p-4">
      <h2 className="text-base font-bold">This file holds {found.in_file.length} statements</h2>
      <table className="mt-1 w-full">
        <tbody>
          {found.in_file.map((item) => {
            const here = item.place === found.place;
            const owner = here ? at.account.id : item.bank_account_id;
            const fitting = accounts.filter(({ account }) => !item.currency || account.currency === item.currency);
            const name = accounts.find(({ account }) => account.id === owner)?.account.name;
            return (
              <tr key={item.place} className={here ? "font-semibold" : ""}>
                <td className="figure py-1 pr-4">{item.number || "no number"}</td>
                <td className="pr-4">
                  {longDay(item.start, locale)} – {longDay(item.end, locale)}
                </td>
                <td className="pr-4 text-muted">{counted(item.lines, "line")}</td>
                <td className="w-56">
                  {item.bank_account_id !== null || here ? (
                    name
                  ) : (
                    <select
                      aria-label={`Account of ${item.number}`}
                      value=""
                      onChange={(event) => onChoose(item, Number(event.target.value))}
                      className="rounded border border-line bg-sheet px-1 py-0.5 text-wine"
                    >
                      <option value="">belongs to …</option>
                      {fitting.map(({ account }) => (
                        <option key={account.id} value={account.id}>
                          {account.name}
                        </option>
                      ))}
                    </select>
                  )}
                </td>
                <td className="w-28 text-right">
                  {here ? (
                    "shown here"
                  ) : stored.includes(item.place) ? (
                    <span className="text-moss">stored</span>
                  ) : (
                    owner !== null && (
                      <button
                        type="button"
                        className="font-semibold text-wine"
                        aria-label={`Show ${item.number} of ${longDay(item.end, locale)}`}
                        onClick={() => onChoose(item, owner)}
                      >
                        show
                      </button>
                    )
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </section>
  );
}
