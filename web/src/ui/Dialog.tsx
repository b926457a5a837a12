import { Dialog as Radix } from "radix-ui";
import type { ReactNode } from "react";

interface DialogProps {
  title: string;
  open: boolean;
  onClose: () => void;
  children: ReactNode;
  wide?: boolean;
}

/** A dialog over the page; Escape closes it, nothing is lost by that. */
export function Dialog({ title, open, onClose, children, wide = false }: DialogProps) {
  return (
    <Radix.Root open={open} onOpenChange={(next) => !next && onClose()}>
      <Radix.Portal>
        <Radix.Overlay className="fixed inset-0 z-40 bg-ink/25" />
        <Radix.Content
          aria-describedby={undefined}
          className={`fixed top-[9vh] left-1/2 z-50 max-h-[82vh] -translate-x-1/2 overflow-auto rounded-lg border border-line bg-sheet p-5 shadow-xl ${wide ? "w-[46rem]" : "w-[29rem]"} max-w-[94vw]`}
        >
          <Radix.Title className="mb-3 text-base font-bold">{title}</Radix.Title>
          {children}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}
