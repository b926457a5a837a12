import { useState } from "react";

import { Button, Trouble } from "../../ui/controls";
import { useOriginal } from "./evidence";

/** The original file of a statement, as the bank handed it out: pages as pictures, text as text. */
export function OriginalView({ companyId, statementId }: { companyId: number; statementId: number }) {
  const original = useOriginal(companyId, statementId);
  const [large, setLarge] = useState(false);
  const base = `/api/companies/${companyId}/statements/${statementId}`;
  if (original.error) return <Trouble>{original.error.message}</Trouble>;
  if (!original.data) return <p className="text-muted">Opening the original …</p>;
  const { name, sha256, text, pages } = original.data;
  return (
    <div className="space-y-2">
      <p className="flex items-baseline justify-between gap-3">
        <b className="break-all">{name}</b>
        <a className="font-semibold whitespace-nowrap text-wine" href={`${base}/file`}>
          download
        </a>
      </p>
      <p className="font-mono text-[0.6875rem] break-all text-muted">SHA-256 {sha256}</p>
      {pages > 0 && (
        <Button className="w-full" onClick={() => setLarge(!large)}>
          {large ? "Fit the page" : "Enlarge the page"}
        </Button>
      )}
      <div className="overflow-x-auto" tabIndex={pages ? 0 : -1}>
        {Array.from({ length: pages }, (_, n) => (
          <img
            key={n}
            src={`${base}/original/pages/${n + 1}`}
            alt={`Page ${n + 1} of ${name}`}
            className={`rounded border border-line bg-white ${large ? "w-[56rem] max-w-none" : "w-full"}`}
            loading="lazy"
          />
        ))}
      </div>
      {text !== null && (
        <pre
          tabIndex={0}
          className="overflow-auto rounded border border-line bg-sheet p-2 font-mono text-[0.6875rem] leading-4"
        >
          {text.slice(0, 200_000)}
        </pre>
      )}
    </div>
  );
}
