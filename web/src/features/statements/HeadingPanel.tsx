import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import type { Place } from "../../app/places";
import { Button, Select, Trouble } from "../../ui/controls";
import { tableInFile, type Layout } from "./statements";

const SIGNS: [string, string][] = [
  [",", "a comma"],
  [";", "a semicolon"],
  ["\t", "a tab"],
  ["|", "a bar"],
];

interface HeadingPanelProps {
  place: Place;
  file: File;
  onPoint: (draft: Layout) => void;
}

/** The table as it stands in the file: the person points at the row that names its columns. */
export function HeadingPanel({ place, file, onPoint }: HeadingPanelProps) {
  const [taken, setTaken] = useState({ delimiter: "", encoding: "" });
  const [failed, setFailed] = useState("");
  const raw = useQuery({
    queryKey: ["table in file", place.companyId, place.account.id, file.name, file.lastModified, file.size, taken],
    queryFn: () => tableInFile(place, file, { ...taken, heading: null }),
    placeholderData: (before) => before,
    retry: false,
    gcTime: 0,
  });
  const point = async (heading: number) => {
    try {
      const { draft } = await tableInFile(place, file, { ...taken, heading });
      if (draft) onPoint(draft);
    } catch (error) {
      setFailed((error as Error).message);
    }
  };
  // Where the file is no table at all, the refusal above says all there is.
  if (!raw.data) return null;
  const { form, rows, delimiter, encoding, encodings } = raw.data;
  const wide = Math.max(...rows.map((row) => row.cells.length));
  return (
    <section aria-label="The table in the file" className="flex min-h-0 flex-1 flex-col bg-paper p-4">
      <h2 className="text-base font-bold">Which row names the columns?</h2>
      <p className="mb-2 text-muted">Point at it; what stands above it is skipped. The columns are named next.</p>
      <div className="mb-2 flex flex-wrap items-center gap-x-5 gap-y-1">
        {form === "delimited" && (
          <>
            <Select
              inline
              label="Fields are parted by"
              value={delimiter}
              options={SIGNS}
              onChange={(sign) => setTaken({ ...taken, delimiter: sign })}
            />
            <Select
              inline
              label="Text is"
              value={encoding}
              options={encodings.map((name) => [name, name] as const)}
              onChange={(name) => setTaken({ ...taken, encoding: name })}
            />
          </>
        )}
        <Button onClick={() => void point(0)}>No row names them</Button>
      </div>
      {(raw.error ?? failed) && <Trouble>{raw.error?.message ?? failed}</Trouble>}
      <div className="min-h-0 flex-1 overflow-auto rounded-md border border-line bg-sheet">
        <table className="w-full border-collapse font-mono text-xs">
          <tbody>
            {rows.map((row) => (
              <tr
                key={row.line}
                className="cursor-pointer border-b border-hair last:border-0 hover:bg-wine-soft"
                onClick={() => void point(row.line)}
              >
                <td className="w-16 px-2 py-1">
                  <button type="button" className="text-wine" aria-label={`Line ${row.line} names the columns`}>
                    {row.line}
                  </button>
                </td>
                {Array.from({ length: wide }, (_, column) => (
                  <td key={column} className="max-w-72 truncate px-2 py-1 whitespace-nowrap">
                    {row.cells[column] ?? ""}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}
