import { Button } from "../../ui/controls";
import { useProgress } from "./statements";

interface ReadingProgressProps {
  companyId: number;
  job: string;
  title: string;
  onCancel: () => void;
}

/** What the server is doing with the file, how much of that is done, and the way out. */
export function ReadingProgress({ companyId, job, title, onCancel }: ReadingProgressProps) {
  const progress = useProgress(companyId, job).data;
  const percent = progress?.share === null || progress === undefined ? null : Math.floor(progress.share * 100);
  return (
    <div className="max-w-3xl space-y-3 p-6" role="status">
      <p className="text-base font-semibold">{title}</p>
      <div
        role="progressbar"
        aria-label={title}
        aria-valuenow={percent ?? undefined}
        className="h-1.5 w-96 overflow-hidden rounded bg-line"
      >
        <div className="h-full rounded bg-wine" style={{ width: `${percent ?? 0}%` }} />
      </div>
      <p className="text-muted">
        {percent === null ? "handing it to the server …" : `${progress?.phase} · ${percent} %`}
      </p>
      <Button onClick={onCancel}>Cancel</Button>
    </div>
  );
}
