import { createContext, use, useCallback, useMemo, useState, type ReactNode } from "react";

import { ApiError } from "../api/client";

interface Said {
  id: number;
  text: string;
  trouble: boolean;
}

interface Notices {
  say: (text: string) => void;
  fail: (error: unknown) => void;
}

const Context = createContext<Notices | null>(null);

/** Short words on what was done or refused, at the foot of the page and to screen readers. */
export function NoticesProvider({ children }: { children: ReactNode }) {
  const [said, setSaid] = useState<Said[]>([]);
  const add = useCallback((text: string, trouble: boolean) => {
    const id = Date.now() + Math.random();
    setSaid((before) => [...before.slice(-2), { id, text, trouble }]);
    setTimeout(() => setSaid((before) => before.filter((item) => item.id !== id)), trouble ? 9000 : 3500);
  }, []);
  const notices = useMemo<Notices>(
    () => ({
      say: (text) => add(text, false),
      fail: (error) =>
        add(error instanceof ApiError ? error.problem.detail : "Something went wrong. Nothing was changed.", true),
    }),
    [add],
  );
  return (
    <Context value={notices}>
      {children}
      <div className="no-print fixed bottom-32 left-6 z-50 flex max-w-md flex-col gap-2" aria-live="polite">
        {said.map((item) => (
          <p
            key={item.id}
            className={`rounded-md border px-3 py-2 shadow-md ${item.trouble ? "border-ember bg-ember-soft" : "border-line bg-sheet"}`}
          >
            {item.text}
          </p>
        ))}
      </div>
    </Context>
  );
}

export function useNotices(): Notices {
  const found = use(Context);
  if (!found) throw new Error("NoticesProvider is missing");
  return found;
}
