import { useRef, useState } from "react";

import { moment } from "../../format/dates";
import { Button } from "../../ui/controls";
import { Dialog } from "../../ui/Dialog";
import { contentOf, useEvidence, useKeeping, type Evidence, type Holder } from "./evidence";

interface EvidenceCardProps {
  holder: Holder;
  locale: string;
  may: boolean;
}

/** Receipts, images and notes of a line, an entry or a reconciliation. */
export function EvidenceCard({ holder, locale, may }: EvidenceCardProps) {
  const found = useEvidence(holder);
  const keeping = useKeeping(holder);
  const chooser = useRef<HTMLInputElement>(null);
  const [note, setNote] = useState<string | null>(null);
  const [large, setLarge] = useState<Evidence | null>(null);
  const pieces = found.data ?? [];
  if (!pieces.length && !may) return null;
  return (
    <section className="rounded-lg border border-line bg-sheet px-3 py-2.5">
      <h3 className="mb-1 text-xs font-semibold text-muted">Evidence</h3>
      {pieces.map((piece) => (
        <Piece
          key={piece.id}
          piece={piece}
          companyId={holder.companyId}
          locale={locale}
          onLarge={() => setLarge(piece)}
          onAside={may ? () => keeping.mutate({ aside: piece.id }) : undefined}
        />
      ))}
      {may && note === null && (
        <div className="mt-1 flex gap-2">
          <Button weight="quiet" className="px-1" onClick={() => chooser.current?.click()}>
            Add a file
          </Button>
          <Button weight="quiet" className="px-1" onClick={() => setNote("")}>
            Add a note
          </Button>
        </div>
      )}
      {note !== null && (
        <form
          className="mt-1 space-y-1.5"
          onSubmit={(event) => {
            event.preventDefault();
            keeping.mutate({ note });
            setNote(null);
          }}
        >
          <textarea
            autoFocus
            aria-label="Note"
            rows={3}
            value={note}
            onChange={(event) => setNote(event.target.value)}
            className="block w-full rounded-md border border-line bg-sheet px-2 py-1"
          />
          <div className="flex gap-2">
            <Button weight="main" type="submit" disabled={!note.trim()}>
              Keep the note
            </Button>
            <Button onClick={() => setNote(null)}>Cancel</Button>
          </div>
        </form>
      )}
      <input
        ref={chooser}
        type="file"
        className="sr-only"
        tabIndex={-1}
        aria-label="Evidence file"
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) keeping.mutate({ file });
          event.target.value = "";
        }}
      />
      {large && (
        <Dialog title={large.name} open wide onClose={() => setLarge(null)}>
          <img src={contentOf(holder.companyId, large.id)} alt={large.name} className="w-full" />
        </Dialog>
      )}
    </section>
  );
}

interface PieceProps {
  piece: Evidence;
  companyId: number;
  locale: string;
  onLarge: () => void;
  onAside: (() => void) | undefined;
}

function Piece({ piece, companyId, locale, onLarge, onAside }: PieceProps) {
  const picture = piece.media_type.startsWith("image/");
  return (
    <div className="border-b border-hair py-1.5 last:border-0">
      {picture && (
        <button type="button" onClick={onLarge} aria-label={`Enlarge ${piece.name}`} className="block w-full">
          <img src={contentOf(companyId, piece.id)} alt={piece.name} className="w-full rounded border border-line" />
        </button>
      )}
      {piece.sha256 === null ? (
        <p className="whitespace-pre-wrap">{piece.note}</p>
      ) : (
        <p className="flex justify-between gap-2">
          <a
            className="font-semibold break-all text-wine"
            href={contentOf(companyId, piece.id)}
            target="_blank"
            rel="noreferrer"
            title={`SHA-256 ${piece.sha256}`}
          >
            {piece.name}
          </a>
          {piece.note && <span className="text-muted">{piece.note}</span>}
        </p>
      )}
      <p className="flex justify-between text-xs text-muted">
        <span>
          {piece.created_by}, {moment(piece.created_at, locale)}
        </span>
        {onAside && (
          <button type="button" className="min-h-6 min-w-6 hover:text-ink" onClick={onAside}>
            set aside
          </button>
        )}
      </p>
    </div>
  );
}
